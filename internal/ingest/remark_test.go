package ingest

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/intake"
	"turret/internal/app/kept"
)

// read reads a ledger with a mapping changed from what was recognised; the remarks as they are told.
func remarked(t *testing.T, name, text string, change func(*intake.Mapping)) (*kept.File, []string) {
	t.Helper()
	list, at := recognised(t, name, []byte(text))
	require.Len(t, list, 1)
	m := list[0].Mapping
	if change != nil {
		change(&m)
	}
	f, problems, err := Reader{}.Read(at, name, list[0].Name, m)
	require.NoError(t, err)
	require.Empty(t, problems)
	var says []string
	for _, r := range f.Remarks {
		if r.Odd {
			says = append(says, "odd: "+r.Says)
		} else {
			says = append(says, r.Says)
		}
	}
	return f, says
}

const ledgerHead = "project,cost_code,date,amount\n"

// Totals that a file states agree with all rows above or with those since a total before; others are told with both sums.
func TestStatedTotals(t *testing.T) {
	for _, c := range []struct {
		name, rows string
		want       []string
	}{
		{"agrees", "A,C,2026-10-01,10.50\nA,C,2026-10-02,-0.50\nTotal,,,10\n",
			[]string{"1 row of totals left out (row 4)", "the totals in row 4 agree with the rows read"}},
		{"subtotals and all", "A,C,2026-10-01,10\nsubtotal,,,10\nA,C,2026-10-02,5\nA,C,2026-10-02,1\nsubtotal,,,6\ntotal,,,16\n",
			[]string{"3 rows of totals left out (row 3, row 6, row 7)", "the totals in row 3, row 6, row 7 agree with the rows read"}},
		{"a row is missing", "A,C,2026-10-01,10\nTotal,,,12.25\n",
			[]string{"1 row of totals left out (row 3)", "odd: row 3 states 12.25 in amount, the rows above come to 10.00"}},
		{"to the cent", "A,C,2026-10-01,10.00\nTotal,,,10.01\n",
			[]string{"1 row of totals left out (row 3)", "odd: row 3 states 10.01 in amount, the rows above come to 10.00"}},
		{"says nothing", "A,C,2026-10-01,10\nTotal,,,\n", []string{"1 row of totals left out (row 3)"}},
		{"no row at all", "Total,,,0\n",
			[]string{"1 row of totals left out (row 2)", "the totals in row 2 agree with the rows read"}},
		{"none stated", "A,C,2026-10-01,10\n", nil},
	} {
		_, says := remarked(t, "actuals.csv", ledgerHead+c.rows, nil)
		assert.Equal(t, c.want, says, c.name)
	}
	_, says := remarked(t, "actuals.csv", "project,cost_code,date,amount,currency\nA,C,2026-10-01,10,EUR\nA,C,2026-10-01,10,GBP\nTotal,,,10,\n",
		nil)
	assert.Equal(t, []string{"1 row of totals left out (row 4)"}, says, "pounds and euros have no sum")
}

// Where months have columns, each is held against its own total.
func TestStatedTotalsOfMonths(t *testing.T) {
	_, says := remarked(t, "forecast.csv", "project,cost_code,2026-10,2026-11\nA,C,1,2\nA,D,10,\nTotal,,11,3\n", nil)
	assert.Equal(t, []string{"1 row of totals left out (row 4)", "odd: row 4 states 3.00 in 2026-11, the rows above come to 2.00"}, says)
}

// A factor is told with the first number that it multiplies, once for each column.
func TestFactorsAreToldWithAnExample(t *testing.T) {
	f, says := remarked(t, "actuals.csv", "project,cost_code,date,amount k€\nA,C,2026-10-01,1.25\nA,C,2026-10-01,2\nTotal,,,3.25\n", nil)
	assert.Equal(t, []int64{12_500_000, 20_000_000}, []int64{f.Postings[0].Units, f.Postings[1].Units})
	assert.Equal(t, []string{"amount times 1000: “1.25” in row 2 is read as 1250", "1 row of totals left out (row 4)",
		"the totals in row 4 agree with the rows read"}, says)
	assert.Contains(t, f.Recognised, "“1.25” in row 2 is read as 1250", "it stays with the load")
}

// A row left out is not read, one corrected is read as corrected; both stay with the load.
func TestRowsByHandAreRead(t *testing.T) {
	f, says := remarked(t, "actuals.csv", ledgerHead+"A,C,2026-10-01,x\nA,C\nA,C,2026-10-03,3\n", func(m *intake.Mapping) {
		m.Cells = map[int32]map[string]string{2: {"amount": "7.50"}}
		m.Without = map[int32]string{3: "it ends in the middle"}
	})
	require.Len(t, f.Postings, 2)
	assert.Equal(t, []any{int64(75_000), int32(2), int32(4), 2}, []any{f.Postings[0].Units, f.Postings[0].Row, f.Postings[1].Row, f.Rows})
	assert.Equal(t, []string{"row 2: amount was set to “7.50” by hand", "row 3 was left out: it ends in the middle"}, says)
	assert.Contains(t, f.Recognised, "row 3 was left out")
}
