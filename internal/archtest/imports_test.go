// Package archtest holds the import rules: what may know of what.
package archtest

import (
	"go/parser"
	"go/token"
	"io/fs"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// core packages in order: each imports only those before it.
var core = []string{"fact", "calendar", "money", "schedule", "cost", "earned", "forecast", "risk", "backlog", "benefit", "health",
	"check", "measure"}

// side packages import core, record and what is listed, never one another. Within app imports go to the left: whoever is named before.
var allowed = map[string][]string{
	"record": {}, "app/fault": {}, "app/job": {}, "app/access": {"app/fault"}, "app": {"app/fault", "app/access", "app/job"},
	"scene": {}, "chart": {"scene"}, "prose": {}, "archtest": {},
	"store": apps, "ingest": apps, "feed": apps, "draft": apps, "outbox": apps, "session": apps,
	"report": append([]string{"scene", "chart", "prose"}, apps...),
	"web":    append([]string{"chart", "prose", "scene", "session"}, apps...),
	"demo":   append([]string{"ingest"}, apps...), "simulate": append([]string{"demo"}, apps...),
	"demotest": append([]string{"demo", "store"}, apps...),
}

// apps are the capabilities.
var apps = []string{"app", "app/fault", "app/access", "app/job"}

func TestImportsPointOneWay(t *testing.T) {
	root := "../.."
	err := filepath.WalkDir(filepath.Join(root, "internal"), func(path string, e fs.DirEntry, err error) error {
		if err != nil || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
			return err
		}
		rel, _ := filepath.Rel(filepath.Join(root, "internal"), path)
		parts := strings.Split(filepath.ToSlash(rel), "/")
		f, err := parser.ParseFile(token.NewFileSet(), path, nil, parser.ImportsOnly)
		if err != nil {
			return err
		}
		for _, i := range f.Imports {
			name := strings.Trim(i.Path.Value, `"`)
			if parts[0] == "core" {
				checkCore(t, rel, parts[1], name)
			} else if to, ok := strings.CutPrefix(name, "turret/internal/"); ok && !strings.HasPrefix(to, "core/") && to != "record" &&
				!slices.Contains(allowed[roomOf(parts)], to) {
				t.Errorf("%s imports %s", rel, name)
			}
		}
		return nil
	})
	require.NoError(t, err)
}

// roomOf is the package that the rules know a file by: of a capability with packages of its own, each by its name.
func roomOf(parts []string) string {
	if parts[0] == "app" && len(parts) > 2 {
		return parts[0] + "/" + parts[1]
	}
	return parts[0]
}

// checkCore lets the core import the standard library, gonum and core packages to its left, and no I/O.
func checkCore(t *testing.T, file, pkg, name string) {
	if to, ok := strings.CutPrefix(name, "turret/internal/core/"); ok {
		if slices.Index(core, to) < 0 || slices.Index(core, to) >= slices.Index(core, pkg) {
			t.Errorf("%s imports %s, which is not to its left", file, to)
		}
		return
	}
	outside := strings.Contains(strings.Split(name, "/")[0], ".") && !strings.HasPrefix(name, "gonum.org/")
	if outside || strings.HasPrefix(name, "turret/") || slices.Contains([]string{"os", "io", "net", "net/http", "database/sql", "log",
		"log/slog", "time"}, name) {
		t.Errorf("%s imports %s, which the core must not", file, name)
	}
}
