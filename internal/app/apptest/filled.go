package apptest

import (
	_ "embed" // for the files
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/demotest"
	"turret/internal/record"
	"turret/internal/store"
)

//go:embed filled.txt
var filledText string

// oneOfEach are files of every kind with a row or two, each behind a line with its kind.
func oneOfEach() (list []Sent) {
	for _, block := range strings.Split("\n"+filledText, "\n# ")[1:] {
		kind, text, _ := strings.Cut(block, "\n")
		list = append(list, Sent{record.Kind(kind), October, text + "\n"})
	}
	return list
}

// Filled is a file with something in every table that a digest covers, of which a period is closed twice.
func Filled(t *testing.T) (*store.Store, *app.Office, *sqlx.DB) {
	t.Helper()
	path := filepath.Join(t.TempDir(), "s.db")
	s, err := demotest.Create(Ctx, path)
	require.NoError(t, err)
	o := app.NewOffice(s, func() time.Time { return At }, app.Parts{})
	for _, x := range oneOfEach() {
		f := Read(t, x.Kind, x.Text, record.Column{Name: "own.note"})
		_, err := o.Intake.Import(Ctx, []*kept.File{f}, intake.Origin{Source: "Sender", Period: October})
		require.NoError(t, err, x.Kind)
	}
	raw, err := sqlx.Open("sqlite", path+"?_pragma=busy_timeout(10000)")
	require.NoError(t, err)
	t.Cleanup(func() { _, _ = raw.Close(), s.Close() })
	set, err := o.Setting.Get(Ctx)
	require.NoError(t, err)
	set.LookAhead = 30
	require.NoError(t, o.Setting.Save(Ctx, set))
	for _, table := range []string{"waivers", "overrides", "acceptances", "commentaries", "agreements", "baselines", "money_names",
		"rehearsals", "remarks", "reviews", "refusals", "marks", "notices", "mailings", "accounts", "tokens", "snapshots"} {
		insertOne(t, raw, table)
	}
	_, err = o.Intake.Import(Ctx, []*kept.File{Read(t, record.Allocations, "node,year,amount\nPG,2027,1\n")},
		intake.Origin{Period: October})
	require.NoError(t, err)
	_, err = raw.Exec(
		`UPDATE loads SET withdrawn_at = received_at, withdrawn_by = 'Ann', reason = 'wrong' WHERE id = (SELECT max(id) FROM loads)`)
	require.NoError(t, err)
	_, err = o.Publish.Close(Ctx, October) // the act that seals the rows put in
	require.NoError(t, err)
	require.NoError(t, o.Publish.Reopen(Ctx, October, "once more"))
	_, err = o.Publish.Close(Ctx, October)
	require.NoError(t, err)
	return s, o, raw
}

// TableColumn is a column of a table of a file.
type TableColumn struct{ Name, Type string }

// ColumnsOf are the columns of a table.
func ColumnsOf(t *testing.T, raw *sqlx.DB, table string) (list []TableColumn) {
	t.Helper()
	require.NoError(t, raw.Select(&list, `SELECT name, type FROM pragma_table_info(?)`, table))
	return list
}

func insertOne(t *testing.T, raw *sqlx.DB, table string) {
	t.Helper()
	var names, values []string
	for _, c := range ColumnsOf(t, raw, table) {
		names = append(names, `"`+c.Name+`"`)
		switch {
		case c.Name == "moves":
			values = append(values, `'[]'`)
		case c.Name == "at" || strings.HasSuffix(c.Name, "_at"):
			values = append(values, `'2026-10-05T10:00:00Z'`)
		case c.Type == "INTEGER":
			values = append(values, "1")
		case c.Type == "BLOB":
			values = append(values, "x'01'")
		default:
			values = append(values, `'`+c.Name+`'`)
		}
	}
	_, err := raw.Exec(`INSERT INTO ` + table + ` (` + strings.Join(names, ", ") + `) VALUES (` + strings.Join(values, ", ") + `)`)
	require.NoError(t, err, table)
}
