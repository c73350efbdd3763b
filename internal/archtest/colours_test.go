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

// Colours stand in one table, internal/scene/colours.json, from which pages, drawings and print take theirs.
func TestColoursStandInOneTable(t *testing.T) {
	literal := map[string]*regexp.Regexp{".scss": regexp.MustCompile(`#[0-9a-fA-F]{3,8}\b`), ".go": regexp.MustCompile(
		`RGB\{(?:R: )?\d|Color\(0x|[:"]#[0-9a-fA-F]{6}\b`), ".js": regexp.MustCompile(`["'\x60 :]#(?:[0-9a-fA-F]{3}){1,2}["'\x60;]`)}
	seen := 0
	for _, room := range []string{"../web", "../report", "../scene", "../chart", "../workbook"} {
		require.NoError(t, filepath.WalkDir(room, func(path string, e fs.DirEntry, err error) error {
			is := literal[filepath.Ext(path)]
			if err != nil || is == nil || strings.HasSuffix(path, "_test.go") || strings.Contains(path, "/dist/") {
				return err
			}
			b, err := os.ReadFile(path)
			seen++
			assert.Empty(t, is.FindAllString(string(b), -1), path)
			return err
		}))
	}
	assert.Greater(t, seen, 100)
}
