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

// Time comes in from outside, through a clock that cmd/turret hands on, so that what is shown, stamped and tested is the same on any
// day. These files read the machine's clock, each for the reason given.
var machineTime = map[string]string{
	"internal/web/observe.go":             "how long a request took, for the metrics",
	"internal/web/server.go":              "how long a request took, for the log",
	"internal/web/body_test.go":           "a connection's deadline",
	"internal/draft/draft_test.go":        "the age of a file, which the file system stamps",
	"internal/signon/signon_test.go":      "a token's lifetime, which the library checks",
	"internal/web/account/signon_test.go": "a token's lifetime, which the library checks",
	"cmd/turret/entry_test.go":            "a certificate's lifetime, which TLS checks",
	"cmd/turret/clock.go":                 "the one clock that is handed on",
	"cmd/turret/files.go":                 "the age of drafts, which the file system stamps",
	"cmd/turret/operate.go":               "backups, which are made while the machine runs",
	"cmd/turret/serve.go":                 "sessions and letters under way, and how long the demonstration took to load",
}

// clocks are what package time tells the hour by; timers only a program or a test that waits may set.
var (
	clocks = []string{"Now", "Since", "Until"}
	timers = []string{"After", "AfterFunc", "NewTimer", "NewTicker", "Tick", "Sleep"}
)

func TestTimeComesFromOutside(t *testing.T) {
	set, used := token.NewFileSet(), map[string]bool{}
	for _, root := range []string{"../../internal", "../../cmd"} {
		require.NoError(t, filepath.WalkDir(root, func(path string, _ fs.DirEntry, err error) error {
			if err != nil || !strings.HasSuffix(path, ".go") {
				return err
			}
			f, err := parser.ParseFile(set, path, nil, parser.SkipObjectResolution)
			if err != nil {
				return err
			}
			name := strings.TrimPrefix(filepath.ToSlash(path), "../../")
			refused := clocks
			if !strings.HasPrefix(name, "cmd/") && !strings.HasSuffix(name, "_test.go") {
				refused = append(slices.Clip(clocks), timers...)
			}
			for _, at := range selected(f, "time", refused) {
				used[name] = true
				_, known := machineTime[name]
				assert.True(t, known, "%s reads the machine's clock; take the time from outside", set.Position(at))
			}
			return nil
		}))
	}
	for name := range machineTime {
		assert.True(t, used[name], "%s reads no clock any more: take it off the list", name)
	}
}

// selected is where a file names one of a package's functions.
func selected(f *ast.File, pkg string, names []string) (list []token.Pos) {
	if !slices.ContainsFunc(f.Imports, func(i *ast.ImportSpec) bool { return i.Path.Value == `"`+pkg+`"` && i.Name == nil }) {
		return nil
	}
	ast.Inspect(f, func(n ast.Node) bool {
		if s, ok := n.(*ast.SelectorExpr); ok && slices.Contains(names, s.Sel.Name) {
			if x, ok := s.X.(*ast.Ident); ok && x.Name == pkg {
				list = append(list, s.Pos())
			}
		}
		return true
	})
	return list
}
