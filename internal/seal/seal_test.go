package seal_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/apptest"
	"turret/internal/app/publish"
	"turret/internal/core/calendar"
	"turret/internal/core/check"
	"turret/internal/seal"
	"turret/internal/store"
)

// wrongs are all that a check of the file finds.
func wrongs(t *testing.T, o *app.Office) []string {
	t.Helper()
	list := unsealed(o)
	if err := o.Publish.Recompute(apptest.Ctx, func(r publish.Recomputed) { list = append(list, r.Differs...) }); err != nil {
		list = append(list, err.Error())
	}
	return list
}

// unsealed is what a check finds in the trail and in what is sealed, without computing.
func unsealed(o *app.Office) (list []string) {
	v, err := o.Audit.Verify(apptest.Ctx)
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
	_, o, raw := apptest.Filled(t)
	require.Empty(t, wrongs(t, o), "what Turret wrote itself")
	for _, trigger := range []string{"audit_is_kept", "audit_is_fixed"} {
		_, err := raw.Exec(`DROP TRIGGER ` + trigger)
		require.NoError(t, err)
	}
	var tables []string
	require.NoError(t, raw.Select(&tables,
		`SELECT name FROM sqlite_schema WHERE type = 'table' AND name NOT LIKE 'sqlite_%' ORDER BY name`))
	left := seal.Uncovered()
	for _, table := range tables {
		if left[table] != "" && table != "audit" {
			continue
		}
		for _, c := range apptest.ColumnsOf(t, raw, table) {
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
func changedByHand(t *testing.T, o *app.Office, raw *sqlx.DB, table string, c apptest.TableColumn) (missed []string) {
	t.Helper()
	var keys []apptest.TableColumn
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
func undo(t *testing.T, raw *sqlx.DB, table string, c apptest.TableColumn, key []any, names []string) {
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
	case "revisions", "audit", "loads":
		return ` ORDER BY id DESC LIMIT 2`
	}
	return ` LIMIT 1`
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
		_, o, raw := apptest.Filled(t)
		_, err := raw.Exec(by)
		require.NoError(t, err, by)
		assert.Contains(t, strings.Join(wrongs(t, o), "\n"), says, by)
	}
}

// A load of cost codes that no longer counts, by hand or not, leaves postings on codes that nobody knows: figures say so and nothing ends.
func TestPostingsOnCodesThatNobodyBrought(t *testing.T) {
	_, o, raw := apptest.Filled(t)
	_, err := raw.Exec(`UPDATE loads SET withdrawn_at = received_at WHERE kind = 'cost_codes'`)
	require.NoError(t, err)
	assert.NotEmpty(t, wrongs(t, o))
	again := app.NewOffice(storeOf(t, raw), func() time.Time { return apptest.At }, app.Parts{})
	a, err := again.Assess.Day(apptest.Ctx, calendar.On(2026, 11, 30))
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
	s, err := store.Open(apptest.Ctx, path)
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	return s
}
