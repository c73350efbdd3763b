package workbook_test

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/calctest"
	"turret/internal/core/measure"
	"turret/internal/workbook"

	appmoney "turret/internal/app/money"
	"turret/internal/core/breakdown"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/money"
	"turret/internal/demotest"
	"turret/internal/ingest"
	"turret/internal/record"
	"turret/internal/store"
)

var ctx = access.As(context.Background(), access.Operator("a test"))

// till is an office with two projects whose money has cents, kronor, credits, spans and texts that a spreadsheet might run.
func till(t *testing.T) (*app.Office, *store.Store, *assess.Assessment) {
	t.Helper()
	s, err := demotest.Create(ctx, filepath.Join(t.TempDir(), "x.db"))
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	o := app.NewOffice(s, demotest.Now, app.Parts{Reader: ingest.Reader{}})
	var list []*kept.File
	for _, f := range []struct {
		kind record.Kind
		text string
	}{
		{record.Structure, "code,name,level\nPG,\"Programme, first\",programme\n"},
		{record.CostCodes, "code,name,parent,type\n1,Works,,capital\n11,=SUM(A1),1,\n2,Staff,,operating\n"},
		{record.Rates, "currency,month,rate,kind\nSEK,2026-01,0.0891,plan\nSEK,2026-10,0.0937,month\n"},
		{record.Projects, "code,name,parent\nA-1,Gate,PG\nB-1,Bank,\n"},
		{record.Budget,
			"project,cost_code,amount,month,cost_centre\nA-1,11,1000.10,2026-10,N\nA-1,2,0.33,2026-11,S\nB-1,2,77777.77,2026-12,\n"},
		{record.Forecast,
			"project,cost_code,amount,month,from,to,profile,currency,cost_centre,note\nA-1,11,100.05,2026-11,,,,,N,\nA-1,11,1234.56,,2026-11-03,2027-02-17,bell,,N,@later\n" +
				"A-1,2,999.99,2026-12,,,,SEK,,\nA-1,2,-12.34,2027-01,,,,,,\nB-1,2,5.00,2026-11,,,,,,\n"},
		{record.Actuals,
			"project,cost_code,date,amount,currency,cost_centre\nA-1,11,2026-10-05,400.40,,N\nA-1,2,2026-10-06,1000.01,SEK,\nA-1,2,2026-10-07,-0.02,,\n"},
	} {
		r, problems, err := ingest.CSV(string(f.kind), f.kind, strings.NewReader(f.text))
		require.NoError(t, err)
		require.Empty(t, problems)
		list = append(list, r)
	}
	_, err = o.Intake.Import(ctx, list, intake.Origin{})
	require.NoError(t, err)
	a, err := o.Assess.Day(ctx, calendar.On(2026, 10, 31))
	require.NoError(t, err)
	return o, s, a
}

func sheetFile(t *testing.T, o *app.Office, a *assess.Assessment, show, name string) []byte {
	t.Helper()
	m, err := o.Money.Sheet(ctx, a, "A-1", show)
	require.NoError(t, err)
	var b bytes.Buffer
	require.NoError(t, workbook.Lines(&b, name, a, m))
	return b.Bytes()
}

// byMonth is what the lines of a file come to by code, centre, currency, note and month.
func byMonth(f *kept.File, days *calendar.Calendar) map[string]money.Amount {
	sum := map[string]money.Amount{}
	for _, l := range f.Lines {
		months, amounts := spreadOf(l, days)
		for i, m := range months {
			sum[strings.Join([]string{l.CostCode, l.Centre, string(l.Currency), l.Note, m.String()}, "|")] += amounts[i]
		}
	}
	return sum
}

// What the workbook holds of a plan comes back without a difference when it is loaded again; so does the CSV of a budget.
func TestWhatIsExportedComesBack(t *testing.T) {
	o, s, a := till(t)
	dir := t.TempDir()
	for _, c := range []struct {
		show, name string
		kind       record.Kind
	}{{"estimate", "money.xlsx", record.Forecast}, {"budget", "money.xlsx", record.Budget}, {"budget", "money.csv", record.Budget},
		{"budget", "money.json", record.Budget}} {
		before, err := s.Rows(ctx, c.kind, kept.Selection{Projects: []int64{1}})
		require.NoError(t, err)
		want := byMonth(before, a.Env.Calendar)
		path := filepath.Join(dir, string(c.kind)+filepath.Ext(c.name))
		require.NoError(t, os.WriteFile(path, sheetFile(t, o, a, c.show, c.name), 0o600))
		files, _, err := ingest.Paths([]string{path}, c.kind)
		require.NoError(t, err, "%s as %s", c.show, c.name)
		require.NotEmpty(t, files)
		_, err = o.Intake.Import(ctx, files[:1], intake.Origin{})
		require.NoError(t, err)
		after, err := s.Rows(ctx, c.kind, kept.Selection{Projects: []int64{1}})
		require.NoError(t, err)
		got := byMonth(after, a.Env.Calendar)
		for k, v := range want {
			if v == 0 {
				delete(want, k)
			}
		}
		assert.Equal(t, want, got, "%s as %s", c.show, c.name)
	}
	b, err := o.Assess.Day(ctx, calendar.On(2026, 10, 31))
	require.NoError(t, err)
	for _, key := range []measure.Key{measure.BAC, measure.AC, measure.EAC, measure.VAC} {
		assert.Equal(t, a.Projects[0].Value(key), b.Projects[0].Value(key), key)
	}
}

func TestSheetAsTextAndJSON(t *testing.T) {
	o, _, a := till(t)
	text := string(sheetFile(t, o, a, "estimate", "money.csv"))
	assert.Contains(t, text, "project,cost_code,amount,month,currency,cost_centre,change,note,activity,kind,supplier,amount_eur\n")
	assert.Contains(t, text, "A-1,2,999.99,2026-12,SEK,,,,,forecast,,89.10\n")
	assert.Contains(t, text, "A-1,2,1000.01,2026-10,SEK,,,,,actual,,93.70\n")
	assert.Contains(t, text, ",'@later,,forecast,", "a text that a spreadsheet would run is written so that it does not")
	var rows []map[string]string
	require.NoError(t, json.Unmarshal(sheetFile(t, o, a, "estimate", "money.json"), &rows))
	var sum money.Amount
	for _, r := range rows {
		x, err := money.Parse(r["amount_eur"], "EUR")
		require.NoError(t, err)
		sum += x
	}
	assert.Equal(t, a.Projects[0].Value(measure.EAC).Amount(), sum)
	assert.Equal(t, sheetFile(t, o, a, "estimate", "money.csv"), sheetFile(t, o, a, "estimate", "money.csv"))
}

// The totals of the workbook are formulas, and another program that computes them comes to the same cents.
func TestLibreOfficeComesToTheSameTotals(t *testing.T) {
	o, _, a := till(t)
	sheets := calctest.Sheets(t, sheetFile(t, o, a, "estimate", "money.xlsx"))
	total := sheets["totals"][len(sheets["totals"])-1]
	assert.Equal(t, int64(a.Projects[0].Value(measure.EAC).Amount()), calctest.Cents(t, total[len(total)-1]), "%v", total)
	for _, row := range sheets["totals"][1 : len(sheets["totals"])-1] {
		line := map[string]int64{}
		for _, c := range breakdown.ByCode(a.Projects[0]) {
			line[strings.Fields(a.CodeName(c.Code))[0]] = int64(c.Estimate)
		}
		assert.Equal(t, line[row[0]], calctest.Cents(t, row[len(row)-1]), "cost code %s", row[0])
	}
	assert.Equal(t, "=SUM(A1)", sheets["totals"][1][1], "a name that begins like a formula stays a name")

	scope, err := a.Scope("")
	require.NoError(t, err)
	groups, all, err := appmoney.Groups(a, scope, "programme")
	require.NoError(t, err)
	var b bytes.Buffer
	table := &appmoney.Table{By: "programme", Keys: []string{"bac", "ac", "eac", "vac_share"}, Groups: groups, Total: all}
	require.NoError(t, workbook.Money(&b, "money.xlsx", a, table))
	rows := calctest.Sheets(t, b.Bytes())["Money"]
	last := rows[len(rows)-1]
	for i, key := range []measure.Key{measure.BAC, measure.AC} {
		assert.Equal(t, int64(all.Value(key).Amount()), calctest.Cents(t, last[3+i]), fmt.Sprint(key, last))
	}
	assert.Equal(t, "Total No programme", rows[2][0])
	assert.Equal(t, int64(groups[0].Value(measure.BAC).Amount()), calctest.Cents(t, rows[2][3]))
}

func spreadOf(l kept.LineRow, days *calendar.Calendar) ([]calendar.Month, []money.Amount) {
	return cost.Spread(cost.Line{Amount: l.Amount, Month: l.Month, From: l.From, To: l.To, Profile: cost.Profile(l.Profile)}, days)
}
