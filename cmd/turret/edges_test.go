package main

import (
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The page of edges says what every figure is; the program says the same.
func TestEdgesAgreeWithTheCalculationByHand(t *testing.T) {
	dir := filepath.Join(example, "edges")
	page, err := os.ReadFile(filepath.Join(dir, "calculation.md"))
	require.NoError(t, err)
	db := filepath.Join(t.TempDir(), "edges.db")
	for _, args := range [][]string{{"init", "--db", db}, {"import", "--db", db, dir}} {
		_, errs, code := run(t, args...)
		require.Zero(t, code, errs)
	}
	asOf, scope, figures := "", "", map[string]map[string]string{}
	found, told := 0, map[string]bool{}
	for _, m := range regexp.MustCompile(
		"(?i:as of) (20[0-9-]{8})|as of Wednesday (18 March 2026)|(?m:^)\\*\\*([A-Z0-9-]+)\\*\\*|`([a-z_]+) = ([^`]+)`").FindAllStringSubmatch(string(page), -1) {
		switch {
		case m[1] != "":
			asOf = m[1]
		case m[2] != "":
			asOf = "2026-03-18"
		case m[3] != "":
			scope = m[3]
			figures = measured(t, db, asOf, scope)
		default:
			got := figures["*"]
			if strings.HasPrefix(scope, "E-") {
				got = figures[scope]
			}
			require.Contains(t, got, m[4])
			assert.Equal(t, m[5], blank(got[m[4]]), "%s of %s as of %s", m[4], scope, asOf)
			found, told[scope] = found+1, true
		}
	}
	assert.Greater(t, found, 70)
	assert.Len(t, told, 30)
}

// measured are the figures of a scope by project, those of all of it under a star.
func measured(t *testing.T, db, asOf, scope string) map[string]map[string]string {
	printed, errs, code := run(t, "measures", "--db", db, "--as-of", asOf, "--scope", scope, "--format", "csv")
	require.Zero(t, code, errs)
	file := filepath.Join(t.TempDir(), "measures.csv")
	require.NoError(t, os.WriteFile(file, []byte(printed), 0o600))
	by := map[string]map[string]string{}
	for _, row := range table(t, file) {
		by[row["project"]] = row
	}
	return by
}

// blank is how the page writes a figure that is not known.
func blank(figure string) string {
	if figure == "" {
		return "-"
	}
	return figure
}
