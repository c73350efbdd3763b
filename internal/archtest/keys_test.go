package archtest

import (
	"go/ast"
	"go/token"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/core/measure"
)

// asked are the functions that take the key of a measure, by which of their arguments it is; those with a dot only as
// methods.
var asked = map[string]int{"Value": 0, "Lookup": 0, "RollOf": 0, "CountOf": 0, ".ratio": 0, "measured": 1, "ShortFigure": 0, "FigureOf": 1}

// A key of a measure that is written out is one of the catalogue: mistyped, it would be a figure that is never there.
func TestMeasuresAskedForAreInTheCatalogue(t *testing.T) {
	found := 0
	check := func(set *token.FileSet, lit ast.Expr) {
		l, ok := lit.(*ast.BasicLit)
		if !ok || l.Kind != token.STRING {
			return
		}
		key, err := strconv.Unquote(l.Value)
		require.NoError(t, err)
		_, known := measure.Lookup(key)
		assert.True(t, known, "%s: %q is no measure", set.Position(l.Pos()), key)
		found++
	}
	eachSource(t, func(set *token.FileSet, _ string, f *ast.File) {
		ast.Inspect(f, func(n ast.Node) bool {
			switch n := n.(type) {
			case *ast.CallExpr:
				name, method := nameOf(n.Fun)
				at, ok := asked[name]
				if method && !ok {
					at, ok = asked["."+name]
				}
				if ok && at < len(n.Args) {
					check(set, n.Args[at])
				}
			case *ast.KeyValueExpr:
				if k, ok := n.Key.(*ast.Ident); ok && k.Name == "Measure" {
					check(set, n.Value)
				}
			}
			return true
		})
	})
	assert.Greater(t, found, 200)
}

// nameOf is the name of a function that is called, without what it belongs to.
func nameOf(x ast.Expr) (name string, method bool) {
	switch x := x.(type) {
	case *ast.Ident:
		return x.Name, false
	case *ast.SelectorExpr:
		return x.Sel.Name, true
	}
	return "", false
}
