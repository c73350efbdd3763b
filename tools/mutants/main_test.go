package main

import (
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Each fault can still be planted: what it replaces stands in its file once, and it is not planted twice.
func TestFaultsCanBePlanted(t *testing.T) {
	b, err := os.ReadFile("faults.txt")
	require.NoError(t, err)
	list, err := parse(string(b))
	require.NoError(t, err)
	seen := map[string]bool{}
	for _, f := range list {
		_, err := f.changed("../..")
		assert.NoError(t, err, f.Says)
		key := f.File + f.Old + f.New
		assert.False(t, seen[key], f.Says)
		seen[key] = true
	}
	assert.GreaterOrEqual(t, len(list), 40)
}
