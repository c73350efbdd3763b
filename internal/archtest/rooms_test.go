package archtest

import (
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A package is read in an afternoon, a type at a glance.
const (
	mostLines   = 3500
	mostMethods = 25
)

// tooLarge are packages and types over these bounds, by how much they may hold, lines to the next hundred. What has come under the
// bound leaves the list.
var tooLarge = map[string]int{
	"core/measure": 3900, "report": 3900, "store": 3700,
	"core/measure.Project": 33, "demo.maker": 41, "ingest.reader": 35,
	"report.layout": 46, "report.composer": 29, "store.Store": 77, "store.reading": 41,
}

// rooms are the lines of each package without tests and comments, and the methods of each of its types; functions are the lengths of all
// functions, in lines.
func rooms(t *testing.T) (sizes map[string]int, functions map[string][]int) {
	t.Helper()
	sizes, functions = map[string]int{}, map[string][]int{}
	eachSource(t, func(set *token.FileSet, path string, f *ast.File) {
		room := strings.TrimPrefix(filepath.ToSlash(filepath.Dir(path)), "../")
		sizes[room] += set.File(f.Pos()).LineCount() - commented(set, f)
		for _, d := range f.Decls {
			if fn, ok := d.(*ast.FuncDecl); ok {
				functions[room] = append(functions[room], set.Position(fn.End()).Line-set.Position(fn.Pos()).Line+1)
				if fn.Recv != nil {
					sizes[room+"."+typeOf(fn.Recv.List[0].Type)]++
				}
			}
		}
	})
	return sizes, functions
}

// eachSource passes every file of Go that is no test.
func eachSource(t *testing.T, each func(set *token.FileSet, path string, f *ast.File)) {
	t.Helper()
	set := token.NewFileSet()
	require.NoError(t, filepath.WalkDir("..", func(path string, _ fs.DirEntry, err error) error {
		if err != nil || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
			return err
		}
		f, err := parser.ParseFile(set, path, nil, parser.ParseComments|parser.SkipObjectResolution)
		if err == nil {
			each(set, path, f)
		}
		return err
	}))
}

// commented is how many lines of a file hold nothing but a comment.
func commented(set *token.FileSet, f *ast.File) (n int) {
	code := map[int]bool{}
	ast.Inspect(f, func(x ast.Node) bool {
		switch x.(type) {
		case nil, *ast.Comment, *ast.CommentGroup:
			return false
		case *ast.File:
		default:
			code[set.Position(x.Pos()).Line] = true
		}
		return true
	})
	for _, g := range f.Comments {
		for line := set.Position(g.Pos()).Line; line <= set.Position(g.End()).Line; line++ {
			if !code[line] {
				n++
			}
		}
	}
	return n
}

func typeOf(x ast.Expr) string {
	switch x := x.(type) {
	case *ast.StarExpr:
		return typeOf(x.X)
	case *ast.IndexExpr:
		return typeOf(x.X)
	case *ast.Ident:
		return x.Name
	}
	return "?"
}

func TestRoomsStaySmall(t *testing.T) {
	sizes, functions := rooms(t)
	for name, n := range sizes {
		bound := mostLines
		if strings.Contains(name, ".") {
			bound = mostMethods
		}
		held, known := tooLarge[name]
		if known {
			assert.Greater(t, n, bound, "%s has come under the bound: take it off the list", name)
			bound = held
		}
		assert.LessOrEqual(t, n, bound, "%s holds too much; split it", name)
	}
	for name := range tooLarge {
		assert.Contains(t, sizes, name, "gone: take it off the list")
	}
	for room, list := range functions {
		slices.Sort(list)
		t.Logf("%-16s %6d lines, functions of %d at the median, %d at the 95th percentile", room, sizes[room], list[len(list)/2],
			list[len(list)*95/100])
	}
}
