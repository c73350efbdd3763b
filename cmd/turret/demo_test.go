package main

import (
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
)

// The made-up portfolio is written to a new file alone, from which it can be served; what is there already stays.
func TestTheDemonstrationIsKeptInAFile(t *testing.T) {
	file := filepath.Join(t.TempDir(), "demo.db")
	_, errs, code := run(t, "demo", "--save", file)
	assert.Zero(t, code, errs)
	out, errs, code := run(t, "measures", "--db", file, "--as-of", "2026-10-31", "--format", "csv")
	assert.Zero(t, code, errs)
	assert.Contains(t, out, "\nLW-07,2026-10-31,EUR,")
	_, errs, code = run(t, "demo", "--save", file)
	assert.NotZero(t, code)
	assert.Contains(t, errs, "exists")
	_, errs, code = run(t, "demo", "--from", file+".none", "--addr", "127.0.0.1:0")
	assert.NotZero(t, code)
	assert.Contains(t, errs, "no such file")
	_, errs, _ = run(t, "demo", "--from", file, "--save", file)
	assert.Contains(t, errs, "none of the others can be")
}
