package ledger

import (
	"context"
	"database/sql"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/money"

	_ "modernc.org/sqlite"
)

var ctx = context.Background()

var january = calendar.On(2026, 1, 1).Month()

// file is a ledger of two projects, 1 with loads 5 and 6, 2 with load 5; load 9 is withdrawn.
func file(t *testing.T) *sql.DB {
	t.Helper()
	db, err := sql.Open("sqlite", "file:"+filepath.Join(t.TempDir(), "l.db"))
	require.NoError(t, err)
	t.Cleanup(func() { _ = db.Close() })
	db.SetMaxOpenConns(1)
	day := func(d int) int64 { return int64(calendar.On(2026, 1, d)) }
	_, err = db.ExecContext(ctx, `CREATE TABLE postings (project_id INTEGER, load_id INTEGER, row INTEGER, cost_code_id INTEGER, day INTEGER,
			amount INTEGER, currency TEXT, cost_centre TEXT, document TEXT, supplier TEXT, activity TEXT, PRIMARY KEY (project_id,
				load_id, row)) WITHOUT ROWID;
		CREATE TABLE ledger_sums (project_id INTEGER, load_id INTEGER, sums BLOB, PRIMARY KEY (project_id, load_id)) WITHOUT ROWID;
		CREATE TABLE gone_loads (id INTEGER); INSERT INTO gone_loads VALUES (9);
		INSERT INTO postings VALUES (1, 5, 2, 11, ?1, 100, 'EUR', 'OPS', 'D1', '', ''), (1, 5, 3, 11, ?2, 30, 'EUR', 'OPS', 'D2', '', ''),
			(1, 5, 4, 11, ?1, 7, 'SEK', 'OPS', 'D3', '', ''), (1, 6, 2, 12, ?1, 4, 'EUR', '', '', '', ''), (1, 9, 2, 11, ?1, 1000, 'EUR',
				'', 'D9', '', ''),
			(2, 5, 9, 11, ?1, 2, 'EUR', '', 'D4', '', '')`, day(5), day(6))
	require.NoError(t, err)
	tx, err := db.BeginTx(ctx, nil)
	require.NoError(t, err)
	require.NoError(t, Fill(ctx, tx))
	require.NoError(t, tx.Commit())
	return db
}

// What is taken by sums is not passed by rows, and the other way round: together it is the ledger that stands.
func TestSumsThatAreNotTakenComeAsRows(t *testing.T) {
	db := file(t)
	read := func(projects []int64, takes func(*cost.MonthSum) bool) (sums, rows []money.Amount) {
		require.NoError(t, In(db).Ledger(ctx, projects, func(_, _ int64, s *cost.MonthSum) bool {
			if takes(s) {
				sums = append(sums, s.Amount)
				return true
			}
			return false
		}, func(_ int64, x *cost.Posting) { rows = append(rows, x.Amount) }))
		return sums, rows
	}
	sums, rows := read(nil, func(*cost.MonthSum) bool { return true })
	assert.Equal(t, []money.Amount{130, 7, 4, 2}, sums)
	assert.Empty(t, rows)
	sums, rows = read(nil, func(*cost.MonthSum) bool { return false })
	assert.Empty(t, sums)
	assert.Equal(t, []money.Amount{100, 30, 7, 4, 2}, rows, "in the order of projects, loads and rows")
	sums, rows = read(nil, func(s *cost.MonthSum) bool { return s.Currency == "EUR" })
	assert.Equal(t, []money.Amount{130, 4, 2}, sums)
	assert.Equal(t, []money.Amount{7}, rows, "of a load of which the rest was taken")
	sums, rows = read([]int64{2}, func(*cost.MonthSum) bool { return true })
	assert.Equal(t, []money.Amount{2}, sums)
	assert.Empty(t, rows)
}

// Sums name the project, load and rows that they are of, and a document is found by its row.
func TestSumsLeadToTheirRows(t *testing.T) {
	r := In(file(t))
	var at []kept.PostingAt
	require.NoError(t, r.Ledger(ctx, nil, func(project, load int64, s *cost.MonthSum) bool {
		assert.Equal(t, january, s.Month)
		for _, e := range s.Entries {
			at = append(at, kept.PostingAt{Project: project, Ref: fact.Ref{Load: load, Row: e.Row}})
		}
		return true
	}, nil))
	documents, err := r.Documents(ctx, at)
	require.NoError(t, err)
	of := func(project, load int64, row int32) kept.PostingAt {
		return kept.PostingAt{Project: project, Ref: fact.Ref{Load: load, Row: row}}
	}
	assert.Equal(t, map[kept.PostingAt]string{of(1, 5, 2): "D1", of(1, 5, 3): "D2", of(1, 5, 4): "D3", of(2, 5, 9): "D4"}, documents)
}

// Whatever is done to postings or to what is kept of them is found.
func TestKeptSumsAreHeldAgainstPostings(t *testing.T) {
	const differ = ": the monthly sums kept are not those of its postings"
	for change, says := range map[string]string{
		"": "",
		"UPDATE postings SET amount = amount + 1 WHERE project_id = 2": "load 5, project number 2" + differ,
		"UPDATE postings SET document = 'D7' WHERE load_id = 9":        "load 9, project number 1" + differ,
		"DELETE FROM ledger_sums WHERE load_id = 6": "load 6, project number 1" +
			": no monthly sums are kept of its postings",
		"DELETE FROM postings WHERE load_id = 6": "load 6, project number 1" +
			": monthly sums are kept of postings that are not there",
	} {
		db := file(t)
		_, err := db.ExecContext(ctx, change)
		require.NoError(t, err)
		wrong, err := In(db).Hold(ctx)
		require.NoError(t, err)
		if says == "" {
			assert.Empty(t, wrong)
		} else {
			assert.Equal(t, []string{says}, wrong)
		}
	}
}

// Any sums come back as they were kept, and no byte of what is kept can be left out or added without being told.
func TestSumsComeBackAsTheyWereKept(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		list := rapid.SliceOfN(rapid.Custom(func(t *rapid.T) cost.MonthSum {
			return cost.MonthSum{Code: rapid.Int32().Draw(t, "code"), Centre: rapid.String().Draw(t, "centre"),
				Currency: money.Currency(rapid.SampledFrom([]string{"EUR", "SEK"}).Draw(t, "currency")),
				Month:    calendar.Month(rapid.Int32().Draw(t, "month")), Amount: money.Amount(rapid.Int64().Draw(t, "amount")),
				Rows: rapid.IntRange(1, 9).Draw(t, "rows"), Last: calendar.Date(rapid.Int32().Draw(t, "last")),
				Entries: rapid.SliceOfN(rapid.Custom(func(t *rapid.T) cost.Entry {
					return cost.Entry{Key: rapid.Uint64().Draw(t, "key"), Row: rapid.Int32Range(0, 1<<30).Draw(t, "row")}
				}), 1, 4).Draw(t, "entries")}
		}), 0, 5).Draw(t, "sums")
		b := Encode(list)
		var back []cost.MonthSum
		require.NoError(t, decode(b, func(s *cost.MonthSum) {
			own := *s
			own.Entries = append([]cost.Entry(nil), s.Entries...)
			back = append(back, own)
		}))
		assert.Equal(t, len(list), len(back))
		for i := range back {
			assert.Equal(t, list[i], back[i])
		}
		ignore := func(*cost.MonthSum) {}
		cut := rapid.IntRange(0, len(b)-1).Draw(t, "cut")
		assert.ErrorIs(t, decode(b[:cut], ignore), ErrSums)
		assert.ErrorIs(t, decode(append(b, 0), ignore), ErrSums)
	})
	assert.ErrorIs(t, decode([]byte{layout + 1, 0}, nil), ErrSums)
}

// A file may be damaged in any way: it is told, never more read than there is.
func FuzzDecode(f *testing.F) {
	f.Add([]byte{layout, 1, 2, 0xff, 0xff, 0xff, 0xff, 0x0f})
	f.Add(Encode([]cost.MonthSum{{Code: 1, Centre: "OPS", Currency: "EUR", Month: january, Amount: 5, Rows: 1, Last: 9,
		Entries: []cost.Entry{{Key: 1, Row: 2}}}}))
	f.Fuzz(func(_ *testing.T, b []byte) { _ = decode(b, func(*cost.MonthSum) {}) })
}
