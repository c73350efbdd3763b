package store_test

import (
	"fmt"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/apptest"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/app/publish"
	"turret/internal/core/calendar"
	"turret/internal/core/check"
	"turret/internal/record"
	"turret/internal/store"
)

// oneOfEach are files of every kind with a row or two.
var oneOfEach = []struct {
	kind record.Kind
	text string
}{
	{record.Structure, "code,name,level,parent,owner\nPF,Portfolio,portfolio,,Ann\nPG,Programme,programme,PF,Bob\n"},
	{record.Calendars, "calendar,date,weekday,working,name\ndefault,,sat,no,\ndefault,,sun,no,\ndefault,2026-10-05,,no,Fair\n"},
	{record.CostCodes, "code,name,parent,type,closed,contingency\nC,Cost,,capital,no,no\nR,Reserve,C,operating,yes,yes\n"},
	{record.Rates, "currency,month,rate,kind\nSEK,2026-01,0.1,plan\nSEK,2026-10,0.11,month\n"},
	{record.Projects,
		"code,name,parent,lead,sponsor,category,stage,currency,planned_start,planned_finish,required_finish,schedule_mode,earned_value,business_unit,status\n" +
			"A,First,PG,Ann,Bob,new,build,EUR,2026-01-05,2026-12-18,2026-12-31,driven,yes,north,open\nB,Second,PG,,,,,,,,,,,,\n"},
	{record.Activities,
		"project,code,name,parent,kind,baseline_start,baseline_finish,start,finish,actual_start,actual_finish,duration,remaining,percent_complete,weight,ev_method,report_to,owner,party,calendar,not_before,not_after,low,likely,high\n" +
			"A,S,Phase,,summary,,,,,,,,,,,,,,,,,,,,\nA,W,Work,S,activity,2026-01-05,2026-03-31,2026-01-05,2026-12-01,2026-01-07,,200,30,50,2,percent,project,Ann,Firm,default,2026-01-02,2027-01-29,1,2,3\n" +
			"A,D,Thing,S,deliverable,2026-02-02,2026-02-27,,,2026-02-02,2026-02-20,,,,,,programme,,,,,,,,\nB,M,Gate,,milestone,,2026-12-01,,2026-12-01,,,,,,,,portfolio,Ann,,,,,,,\n"},
	{record.Links, "project,from,to,type,lag,from_project,to_project\nA,W,M,SS,2,A,B\n"},
	{record.Budget,
		"project,cost_code,amount,month,from,to,profile,currency,cost_centre,change,note\nA,C,100,2026-09,,,,SEK,N,C1,why\nA,C,900,,2026-01-05,2026-12-18,bell,,,,\n"},
	{record.Forecast, "project,cost_code,amount,month\nA,C,300,2026-11\n"},
	{record.Actuals,
		"project,cost_code,date,amount,currency,cost_centre,document,supplier,note\nA,C,2026-09-07,400.25,SEK,N,D1,Firm,why\nA,C,2026-09-08,30,,,D2,,\n"},
	{record.Statuses,
		"project,overall,schedule,cost,scope,risk,benefit,percent_complete,commentary\nA,watch,watch,act,watch,act,watch,40,Late.\n"},
	{record.Commitments, "project,cost_code,document,amount,due,currency,supplier\nA,C,PO,50,2026-11-30,SEK,Firm\n"},
	{record.Changes,
		"project,change,title,state,amount,currency,days,cost_code,from,to,profile,reason,requested_by,requested_on,decided_by,decided_on,answer\n" +
			"A,C1,More,approved,10,SEK,3,C,2026-09-01,2026-09-30,late,why,Ann,2026-08-01,Bob,2026-08-10,yes\n"},
	{record.Funding, "project,funder,percent,from,cost_centre,granted,received,currency\nA,Town,100,2026-02,N,70,60,SEK\n"},
	{record.Revenue,
		"project,code,name,month,planned,billed,billed_on,client,type,milestone,currency\nA,R,Fee,2026-09,9,8,2026-09-30,Owner,time-based,W,SEK\n"},
	{record.People,
		"code,name,role,team,cost_centre,from,to,hours_per_day,utilisation_target,cost_rate,billing_rate,currency\nP,Pat,mason,Team,N,2026-01-01,2027-01-01,8,80,40,60,SEK\n"},
	{record.LabourRates,
		"person,role,cost_code,from,cost_rate,billing_rate,currency\nP,,,2026-02-02,41,61,SEK\n,,C,,30,50,SEK\n,mason,,,31,51,SEK\n"},
	{record.Timesheets, "person,project,date,hours,activity,billable,cost_code\nP,A,2026-09-08,7.5,W,yes,C\n"},
	{record.Allocations, "node,year,amount,currency,note\nPG,2026,500,SEK,why\n"},
	{record.Risks,
		"project,code,title,likelihood,consequence,probability,cost_impact,days_impact,cost_code,activity,owner,response,review,due,state,currency\nA,R,Flood,3,4,20,70,5,C,W,Ann,Pump,2026-12-01,2026-12-02,open,SEK\n"},
	{record.Issues, "project,code,title,priority,owner,due,state,from_risk\nA,I,Road,high,Ann,2026-10-01,open,R\n"},
	{record.Actions, "project,code,title,owner,due,state,percent_complete,source\nA,T,Ask,Ann,2026-10-02,open,10,I\n"},
	{record.Backlog,
		"project,code,title,points,state,iteration,added,accepted,rank,owner,blocked\nA,B,Page,5,accepted,1,2026-02-02,2026-09-01,1,Ann,rain\n"},
	{record.Benefits, "project,code,name,month,planned,forecast,achieved,currency\nA,V,Calm,2026-09,7,6,5,SEK\n"},
	{record.Absences,
		"person,from,to,hours,reason\nP,2026-12-21,2026-12-22,4,Rest\n"},
	{record.Assignments,
		"person,role,project,from,to,percent,activity\nP,,A,2026-09-01,2026-12-31,50,W\n,mason,A,2026-09-01,2026-12-31,50,\n"},
}

// filled is a file with something in every table that a digest covers, of which a period is closed twice.
func filled(t *testing.T) (*store.Store, *app.Office, *sqlx.DB) {
	t.Helper()
	path := filepath.Join(t.TempDir(), "s.db")
	s, err := store.Create(ctx, path, "EUR")
	require.NoError(t, err)
	o := app.NewOffice(s, func() time.Time { return at }, app.Parts{})
	for _, x := range oneOfEach {
		_, err := o.Intake.Import(ctx, []*kept.File{apptest.Read(t, x.kind, x.text)}, intake.Origin{Source: "Sender", Period: october})
		require.NoError(t, err, x.kind)
	}
	raw, err := sqlx.Open("sqlite", path+"?_pragma=busy_timeout(10000)")
	require.NoError(t, err)
	t.Cleanup(func() { _, _ = raw.Close(), s.Close() })
	set, err := o.Setting.Get(ctx)
	require.NoError(t, err)
	set.LookAhead = 30
	require.NoError(t, o.Setting.Save(ctx, set))
	for _, table := range []string{"waivers", "overrides", "acceptances", "commentaries", "agreements", "baselines", "money_names",
		"rehearsals", "remarks", "reviews", "refusals", "marks", "notices", "mailings", "accounts", "tokens"} {
		insertOne(t, raw, table)
	}
	_, err = o.Intake.Import(ctx, []*kept.File{apptest.Read(t, record.Allocations, "node,year,amount\nPG,2027,1\n")}, intake.Origin{Period: october})
	require.NoError(t, err)
	_, err = raw.Exec(
		`UPDATE loads SET withdrawn_at = received_at, withdrawn_by = 'Ann', reason = 'wrong' WHERE id = (SELECT max(id) FROM loads)`)
	require.NoError(t, err)
	_, err = o.Publish.Close(ctx, october) // the act that seals the rows put in
	require.NoError(t, err)
	require.NoError(t, o.Publish.Reopen(ctx, october, "once more"))
	_, err = o.Publish.Close(ctx, october)
	require.NoError(t, err)
	return s, o, raw
}

type column struct{ Name, Type string }

func columnsOf(t *testing.T, raw *sqlx.DB, table string) (list []column) {
	t.Helper()
	require.NoError(t, raw.Select(&list, `SELECT name, type FROM pragma_table_info(?)`, table))
	return list
}

func insertOne(t *testing.T, raw *sqlx.DB, table string) {
	t.Helper()
	var names, values []string
	for _, c := range columnsOf(t, raw, table) {
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

// wrongs are all that a check of the file finds.
func wrongs(t *testing.T, o *app.Office) []string {
	t.Helper()
	list := unsealed(o)
	if err := o.Publish.Recompute(ctx, func(r publish.Recomputed) { list = append(list, r.Differs...) }); err != nil {
		list = append(list, err.Error())
	}
	return list
}

// unsealed is what a check finds in the trail and in what is sealed, without computing.
func unsealed(o *app.Office) (list []string) {
	v, err := o.Audit.Verify(ctx)
	if err != nil { // something that cannot even be read
		list = append(list, err.Error())
	}
	list = append(list, v.Wrong...)
	if v.Broken != 0 {
		list = append(list, fmt.Sprintf("entry %d", v.Broken))
	}
	return list
}

// Every column of every table: changed by hand it is found, or it stands in the list of those that no digest covers, with a reason.
func TestEveryColumnIsCovered(t *testing.T) {
	_, o, raw := filled(t)
	require.Empty(t, wrongs(t, o), "what Turret wrote itself")
	for _, trigger := range []string{"audit_is_kept", "audit_is_fixed"} {
		_, err := raw.Exec(`DROP TRIGGER ` + trigger)
		require.NoError(t, err)
	}
	var tables []string
	require.NoError(t, raw.Select(&tables,
		`SELECT name FROM sqlite_schema WHERE type = 'table' AND name NOT LIKE 'sqlite_%' ORDER BY name`))
	left := store.Uncovered()
	for _, table := range tables {
		if left[table] != "" && table != "audit" {
			continue
		}
		for _, c := range columnsOf(t, raw, table) {
			if left[table+"."+c.Name] != "" {
				continue
			}
			missed := changedByHand(t, o, raw, table, c)
			assert.Empty(t, missed, "%s.%s", table, c.Name)
		}
	}
	require.Empty(t, wrongs(t, o), "all is as it was again")
}

// changedByHand changes a column of each row by itself and returns the rows of which nothing was found. A number or text that refers to
// another row is changed like any other.
func changedByHand(t *testing.T, o *app.Office, raw *sqlx.DB, table string, c column) (missed []string) {
	t.Helper()
	var keys []column
	require.NoError(t, raw.Select(&keys, `SELECT name, type FROM pragma_table_info(?) WHERE pk > 0 ORDER BY pk`, table))
	var names []string
	for _, k := range keys {
		names = append(names, `"`+k.Name+`"`)
	}
	rows, err := raw.Queryx(`SELECT ` + strings.Join(names, ", ") + ` FROM ` + table + picked(table))
	require.NoError(t, err)
	var list [][]any
	for rows.Next() {
		key, err := rows.SliceScan()
		require.NoError(t, err)
		list = append(list, key)
	}
	require.NoError(t, rows.Close())
	require.NotEmpty(t, list, "%s holds nothing", table)
	col := `"` + c.Name + `"`
	other := map[string]string{"INTEGER": "coalesce(" + col + ", 0) + 1000003", "REAL": col + " + 1", "BLOB": "x'02'"}[c.Type]
	if other == "" {
		other = "coalesce(" + col + ", '') || 'x'"
	}
	for _, key := range list {
		tx, err := raw.Beginx()
		require.NoError(t, err)
		_, err = tx.Exec(`CREATE TEMP TABLE was AS SELECT * FROM `+table+` WHERE (`+strings.Join(names, ", ")+`) IS (`+marks(len(key))+
			`)`, key...)
		require.NoError(t, err)
		_, err = tx.Exec(`UPDATE `+table+` SET `+col+` = `+other+` WHERE (`+strings.Join(names, ", ")+`) IS (`+marks(len(key))+`)`, key...)
		require.NoError(t, err, "%s.%s", table, c.Name)
		require.NoError(t, tx.Commit())
		if len(unsealed(o)) == 0 && len(wrongs(t, o)) == 0 {
			missed = append(missed, fmt.Sprint(key))
		}
		undo(t, raw, table, c, key, names)
	}
	return missed
}

// undo puts the row as it was in the place of the one that was changed.
func undo(t *testing.T, raw *sqlx.DB, table string, c column, key []any, names []string) {
	t.Helper()
	at := slices.Index(names, `"`+c.Name+`"`)
	where, args := `(`+strings.Join(names, ", ")+`) IS (`+marks(len(key))+`)`, slices.Clone(key)
	if at >= 0 {
		require.NoError(t, raw.Get(&args[at], `SELECT "`+c.Name+`" FROM `+table+` WHERE `+without(names, at)+` AND "`+c.Name+
			`" NOT IN (SELECT "`+c.Name+`" FROM temp.was)
			AND "`+c.Name+`" IN (SELECT CASE typeof("`+c.Name+`") WHEN 'text' THEN "`+c.Name+`" || 'x' ELSE "`+c.Name+`" + 1000003 END
				FROM temp.was)`, slices.Concat(key[:at], key[at+1:])...))
	}
	_, err := raw.Exec(`DELETE FROM `+table+` WHERE `+where, args...)
	require.NoError(t, err)
	_, err = raw.Exec(`INSERT INTO ` + table + ` SELECT * FROM temp.was; DROP TABLE temp.was`)
	require.NoError(t, err)
}

func without(names []string, at int) string {
	list := []string{"1"}
	for i, n := range names {
		if i != at {
			list = append(list, n+" IS ?")
		}
	}
	return strings.Join(list, " AND ")
}

func marks(n int) string { return strings.TrimSuffix(strings.Repeat("?, ", n), ", ") }

// picked keeps the tables of many rows to a few of them.
func picked(table string) string {
	switch table {
	case "settings":
		return ` WHERE key NOT IN ('head', 'trail')`
	case "period_values":
		return ` WHERE measure IN ('bac', 'cpi', 'ev') AND scope IN (0, 1) ORDER BY serial DESC LIMIT 3`
	case "revisions", "audit":
		return ` ORDER BY id DESC LIMIT 2`
	case "loads":
		return ` ORDER BY id DESC LIMIT 2`
	case "allocations":
		return ` LIMIT 1` // the second was withdrawn, and no period pins it
	}
	return ` LIMIT 2`
}

// What a person with a tool for such files might do, each named in what is found.
func TestWhatIsDoneByHandIsFound(t *testing.T) {
	for says, by := range map[string]string{
		"its end was taken out":                `DROP TRIGGER audit_is_kept; DELETE FROM audit WHERE id = (SELECT max(id) FROM audit)`,
		"periods 2 was changed, taken out":     `DELETE FROM periods WHERE serial = 2`,
		"periods: what was changed there last": `UPDATE periods SET reopened_at = at WHERE serial = 2`,
		"periods 1 was changed":                `UPDATE periods SET issue = 7 WHERE serial = 1`,
		"projects 1 to 2: one of them was": `UPDATE projects SET code = 'x' WHERE code = 'A'; UPDATE projects SET code = 'A' WHERE
			code = 'B'; UPDATE projects SET code = 'B' WHERE code = 'x'`,
		"cost_codes 1 to 2: one of them was": `UPDATE cost_codes SET code = 'x' WHERE code = 'C'; UPDATE cost_codes SET code = 'C'
			WHERE code = 'R'; UPDATE cost_codes SET code = 'R' WHERE code = 'x'`,
		"brought was changed": `UPDATE projects SET code = 'x' WHERE code = 'A'; UPDATE projects SET code = 'A' WHERE
			code = 'B'; UPDATE projects SET code = 'B' WHERE code = 'x'`,
		"waivers 1 was changed":            `UPDATE waivers SET reason = 'none'`,
		"acceptances 1 was changed":        `UPDATE acceptances SET who = 'nobody'`,
		"was changed, taken out or put in": `UPDATE loads SET author = 'nobody' WHERE kind = 'actuals'`,
		"put in by hand: no entry": `INSERT INTO loads SELECT 900, kind, file, digest, size, rows, source, author,
			received_at, recognised, withdrawn_at, period, withdrawn_by, reason, note FROM loads WHERE id = 1`,
		"loads: what was changed there last": `UPDATE loads SET withdrawn_at = received_at WHERE kind = 'status'`,
		"cannot be computed": `UPDATE calendar_rows SET working = 0, weekday = row - 2, day = 0; INSERT INTO
			calendar_rows SELECT load_id, row + 10, calendar, 0, weekday + 3, 0, '' FROM calendar_rows; INSERT INTO calendar_rows SELECT
				load_id, 90, calendar, 0, 6, 0, '' FROM calendar_rows LIMIT 1`,
		"findings that counted":                 `DELETE FROM period_findings WHERE serial = 2`,
		"settings: what was changed there last": `UPDATE settings SET value = replace(value, '30', '31') WHERE key = 'settings'`,
	} {
		_, o, raw := filled(t)
		_, err := raw.Exec(by)
		require.NoError(t, err, by)
		assert.Contains(t, strings.Join(wrongs(t, o), "\n"), says, by)
	}
}

// A load of cost codes that no longer counts, by hand or not, leaves postings on codes that nobody knows: figures say so and nothing ends.
func TestPostingsOnCodesThatNobodyBrought(t *testing.T) {
	_, o, raw := filled(t)
	_, err := raw.Exec(`UPDATE loads SET withdrawn_at = received_at WHERE kind = 'cost_codes'`)
	require.NoError(t, err)
	assert.NotEmpty(t, wrongs(t, o))
	again := app.NewOffice(storeOf(t, raw), func() time.Time { return at }, app.Parts{})
	a, err := again.Assess.Day(ctx, calendar.On(2026, 11, 30))
	require.NoError(t, err)
	p, err := a.Project("A")
	require.NoError(t, err)
	assert.True(t, slices.ContainsFunc(p.Checks.Findings, func(f check.Finding) bool {
		return f.Rule.ID == "closed_code" && strings.Contains(f.Says, "cost code 1")
	}))
}

func storeOf(t *testing.T, raw *sqlx.DB) *store.Store {
	t.Helper()
	var path string
	require.NoError(t, raw.Get(&path, `SELECT file FROM pragma_database_list WHERE name = 'main'`))
	s, err := store.Open(ctx, path)
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	return s
}
