package edit

import (
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/edit"
	"turret/internal/record"
)

// row is a row of a kind with some cells, by their columns.
func row(kind record.Kind, cells map[string]string) []string {
	list := make([]string, len(kind.Input().Columns))
	for name, text := range cells {
		list[kind.Input().At(name)] = text
	}
	return list
}

func line(code, centre, month, amount string) []string {
	return row(record.Forecast, map[string]string{"project": "A", "cost_code": code, "cost_centre": centre, "month": month,
		"amount": amount})
}

// Amounts of single months stand as lines by months: those of one code in two centres apart, a month that a line lacks empty, and each cell
// is sent as the row that it is.
func TestAPartByMonth(t *testing.T) {
	g := &edit.Grid{Kind: record.Forecast, Project: "A", Input: record.Forecast.Input(), Rows: [][]string{line("C", "X", "2026-12", "5"),
		line("C", "Y", "2026-12", "7"), line("C", "X", "2026-11", "3"), line("D", "", "2027-01", "9")}}
	p := PartOf(g, []string{"month", "cost_code", "amount"}, []string{"month", "cost_code"},
		func(cell func(string) string) bool { return cell("cost_code") != "D" && cell("no such column") == "" }, nil, nil)
	require.Len(t, p.Rows, 3)
	p.ByMonth(g, map[string]string{"C": "Concrete"})
	assert.Equal(t, []string{"Cost code", "November 2026", "December 2026"}, p.Heads)
	var said []string
	for _, r := range p.Rows {
		words := []string{}
		for _, c := range r.Cells {
			words = append(words, c.Value)
		}
		said = append(said, strings.Join(words, " | "))
	}
	assert.Equal(t, []string{"C Concrete X | 3 | 5", "C Concrete Y | – | 7"}, said)
	sent := p.Rows[0].Cells[1]
	edits := PartEdits(url.Values{"was-" + sent.N: {sent.Was}, sent.Name: {"4"}}, record.Forecast, "A")
	require.Len(t, edits, 1)
	assert.Equal(t, line("C", "X", "2026-11", "4"), edits[0].New)
	assert.Equal(t, g.Rows[2], edits[0].Old)
}

// Whatever number a row has, what was typed into it is taken, and rows of other kinds and of no number are not.
func TestEditsOfRowsFarDown(t *testing.T) {
	was := strings.Join(line("C", "", "2026-12", "5"), "\x1f")
	at := record.Forecast.Input().At("amount")
	q := url.Values{}
	for _, n := range []string{"forecast.0", "forecast.7000", "budget.1", "forecast.x"} {
		q.Set("was-"+n, was)
		q.Set("c-"+n+"-"+strings.TrimSpace(string(rune('0'+at))), "6")
	}
	edits := PartEdits(q, record.Forecast, "A")
	require.Len(t, edits, 2)
	assert.Equal(t, "6", edits[1].New[at])
}
