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
var core = []string{"write", "fact", "calendar", "money", "schedule", "cost", "earned", "risk", "capacity", "backlog", "benefit",
	"health", "figure",
	"check", "evidence", "measure", "forecast", "breakdown", "compare", "curve", "way", "priority", "selection"}

// apps are the capabilities in their order: each imports only those before it.
var apps = []string{"app/fault", "app/access", "app/job", "app/say", "app/kept", "app/audit", "app/account", "app/condition",
	"app/setting", "app/stage", "app/assess", "app/forecast", "app/trace", "app/letter", "app/saved", "app/intake", "app/records",
	"app/edit", "app/benefit", "app/register",
	"app/attach", "app/backlog", "app/pipeline", "app/gate", "app/closing", "app/people", "app/hours", "app/meeting", "app/judge",
	"app/plan",
	"app/money",
	"app/lookout",
	"app/explain", "app/desk",
	"app/report",
	"app/agenda", "app/gather", "app/draft", "app/load", "app/feed",
	"app/mailing", "app/publish", "app"}

// side packages import core, record, capabilities and what is listed, never one another.
var allowed = map[string][]string{
	"scene": {}, "chart": {"scene"}, "prose": {}, "archtest": {}, "seal": {}, "attach": {}, "disk": {}, "hours": {"unit"}, "unit": {},
	"prepared": {},
	"ledger":   {}, "bulk": {}, "signon": {},
	"store":  {"seal", "disk", "hours", "ledger", "bulk", "unit", "prepared"},
	"export": {}, "ingest": {},
	"feed": {}, "draft": {}, "outbox": {},
	"session": {"prepared"}, "workbook": {"export"}, "report": {"scene", "chart", "prose", "export", "workbook"}, "reference": {},
	"demo":     {"ingest"},
	"simulate": {"demo"}, "demotest": {"demo", "store"}, "calctest": {},
	"web/webtest": {"demotest", "ingest", "store", "draft", "outbox", "session", "web", "web/page"},
	"app/apptest": {"ingest", "store", "draft", "demo", "demotest", "simulate",
		"feed", "attach"},
}

// sections are the pages in their order: each imports only those before it, and web puts them together.
var sections = []string{"web/prefix", "web/page", "web/account", "web/place", "web/edit", "web/timeline", "web/plan", "web/money",
	"web/benefit",
	"web/project",
	"web/register", "web/backlog", "web/people", "web/pipeline", "web/gate", "web/closing", "web/hours", "web/desk",
	"web/assess", "web/forecast", "web/table", "web/check", "web/explain", "web/lookout", "web/feed", "web/gather", "web/draft",
	"web/load", "web/report",
	"web/mailing", "web/publish", "web/setup", "web/api", "web"}

// mayImport tells whether a package of a room may import another that is neither of the core nor record.
func mayImport(room, other string) bool {
	if at := slices.Index(apps, room); at >= 0 || room == "record" {
		return slices.Contains(apps[:max(at, 0)], other)
	}
	if at := slices.Index(sections, room); at >= 0 {
		shown := []string{"chart", "prose", "scene", "session"}
		return slices.Contains(sections[:at], other) || slices.Contains(apps, other) || slices.Contains(shown, other)
	}
	low := []string{"scene", "chart", "prose", "archtest"}
	return slices.Contains(allowed[room], other) || slices.Contains(apps, other) && !slices.Contains(low, room)
}

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
				!mayImport(roomOf(parts), to) {
				t.Errorf("%s imports %s", rel, name)
			}
		}
		return nil
	})
	require.NoError(t, err)
}

// roomOf is the package that the rules know a file by: of a capability, and of a section of pages, each by its name.
func roomOf(parts []string) string {
	if (parts[0] == "app" || parts[0] == "web") && len(parts) > 2 {
		return parts[0] + "/" + parts[1]
	}
	return parts[0]
}

// checkCore lets the core import the standard library, gonum, x/text and core packages to its left, and no I/O.
func checkCore(t *testing.T, file, pkg, name string) {
	if to, ok := strings.CutPrefix(name, "turret/internal/core/"); ok {
		if slices.Index(core, to) < 0 || slices.Index(core, to) >= slices.Index(core, pkg) {
			t.Errorf("%s imports %s, which is not to its left", file, to)
		}
		return
	}
	outside := strings.Contains(strings.Split(name, "/")[0], ".") && !strings.HasPrefix(name, "gonum.org/") &&
		!strings.HasPrefix(name, "golang.org/x/text/")
	if outside || strings.HasPrefix(name, "turret/") || slices.Contains([]string{"os", "io", "net", "net/http", "database/sql", "log",
		"log/slog", "time"}, name) {
		t.Errorf("%s imports %s, which the core must not", file, name)
	}
}
