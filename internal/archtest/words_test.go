package archtest

import (
	"bytes"
	"go/ast"
	"go/token"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// leastWords is how many lines with a comment core has at least for each hundred lines of code.
const leastWords = 20

// The rules are read by those who answer for the figures: whatever stands in core says what it is, in what unit and within what bounds.
func TestCoreIsExplained(t *testing.T) {
	words, code := 0, 0
	eachSource(t, func(set *token.FileSet, path string, f *ast.File) {
		if !strings.Contains(path, "core/") {
			return
		}
		for _, d := range f.Decls {
			if fn, ok := d.(*ast.FuncDecl); ok && fn.Doc == nil && fn.Name.Name != "init" && !inOneLine(set, fn) {
				t.Errorf("%s says nothing of itself", set.Position(fn.Pos()))
			}
		}
		alone := commented(set, f)
		told := map[int]bool{}
		for _, g := range f.Comments {
			for line := set.Position(g.Pos()).Line; line <= set.Position(g.End()).Line; line++ {
				told[line] = true
			}
		}
		words += len(told)
		code += filled(t, path) - alone
	})
	t.Logf("%d lines with a comment for %d of code: %d %%", words, code, 100*words/code)
	assert.GreaterOrEqual(t, 100*words, leastWords*code)
}

func inOneLine(set *token.FileSet, fn *ast.FuncDecl) bool {
	return set.Position(fn.Pos()).Line == set.Position(fn.End()).Line
}

// filled is how many lines of a file are not blank.
func filled(t *testing.T, path string) (n int) {
	t.Helper()
	b, err := os.ReadFile(path)
	require.NoError(t, err)
	for line := range bytes.Lines(b) {
		if len(bytes.TrimSpace(line)) > 0 {
			n++
		}
	}
	return n
}
