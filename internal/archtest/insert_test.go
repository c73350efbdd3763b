package archtest

import (
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A row is written by the names of its columns, so that a table may gain one.
func TestEveryInsertNamesItsColumns(t *testing.T) {
	nameless := regexp.MustCompile(`(?i)INSERT (?:OR \w+ )?INTO \w+ (?:VALUES|SELECT)`)
	seen := 0
	require.NoError(t, filepath.WalkDir("../store", func(path string, e fs.DirEntry, err error) error {
		if err != nil || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
			return err
		}
		b, err := os.ReadFile(path)
		seen += strings.Count(string(b), "INSERT INTO")
		assert.Empty(t, nameless.FindAllString(string(b), -1), path)
		return err
	}))
	assert.Greater(t, seen, 20)
}

// A page leads on by one function, which keeps the place; only whoever is not signed in is led elsewhere.
func TestPagesLeadOnByOneFunction(t *testing.T) {
	require.NoError(t, filepath.WalkDir("../web", func(path string, e fs.DirEntry, err error) error {
		if err != nil || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") || strings.HasPrefix(path, "../web/page/") {
			return err
		}
		b, err := os.ReadFile(path)
		assert.NotContains(t, string(b), ".Redirect()", path)
		return err
	}))
}
