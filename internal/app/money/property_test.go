package money_test

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"turret/internal/app"
	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/app/intake"
	"turret/internal/app/kept"

	appmoney "turret/internal/app/money"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/curve"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/demotest"
	"turret/internal/ingest"
	"turret/internal/record"
	"turret/internal/store"
)

// someMoney draws the files of a small portfolio: lines by month and over spans, in three currencies, on four codes and three centres,
// changes in every state, orders, hours, bills and funders.
func someMoney(t *rapid.T) map[record.Kind]string {
	pick := func(name string, of ...string) string { return rapid.SampledFrom(of).Draw(t, name) }
	n := func(name string, lo, hi int) int { return rapid.IntRange(lo, hi).Draw(t, name) }
	text := map[record.Kind]string{
		record.Structure:   "code,name,level,parent\nPF,Portfolio,portfolio,\nG,G,programme,PF\nH,H,programme,PF\n",
		record.CostCodes:   "code,name,parent,type,contingency\n1,Works,,capital,\n11,Walls,1,,\n2,Staff,,operating,\n3,Reserve,,,yes\n",
		record.Projects:    "code,name,parent,category,business_unit,currency,planned_start,planned_finish\n",
		record.Budget:      "project,cost_code,amount,month,from,to,profile,currency,cost_centre,change\n",
		record.Forecast:    "project,cost_code,amount,month,from,to,profile,currency,cost_centre,change\n",
		record.Actuals:     "project,cost_code,date,amount,currency,cost_centre,supplier\n",
		record.Commitments: "project,cost_code,document,amount,currency\n",
		record.Changes:     "project,change,title,state,amount\n",
		record.Funding:     "project,funder,percent,cost_centre,received\n",
		record.Revenue:     "project,code,name,month,planned,billed,client,currency\n",
		record.Allocations: "node,year,amount\nPF,2026,5000\nG,2026,2000\n",
		record.Rates:       "currency,month,rate,kind\n",
	}
	for i, c := range []string{"SEK", "GBP"} {
		text[record.Rates] += fmt.Sprintf("%s,2025-01,%d.%04d,plan\n", c, i, n("plan", 500, 9999))
		for m := 1; m <= 12; m++ {
			text[record.Rates] += fmt.Sprintf("%s,2026-%02d,%d.%04d,month\n", c, m, i, n("rate", 500, 9999))
		}
	}
	amount := func() string { return fmt.Sprintf("%d.%02d", n("major", -500, 90000), n("minor", 0, 99)) }
	currency := func() string { return pick("currency", "", "EUR", "SEK", "GBP") }
	for p := range n("projects", 1, 4) {
		code := fmt.Sprintf("P%d", p)
		text[record.Projects] += fmt.Sprintf("%s,%s,%s,%s,%s,%s,2026-01-05,2026-12-18\n", code, code, pick("parent", "G", "H", ""),
			pick("category", "a", "b", ""), pick("unit", "x", ""), pick("own", "EUR", "SEK"))
		line := func(kind record.Kind) {
			when := fmt.Sprintf("2026-%02d,,,", n("month", 1, 12))
			if rapid.Bool().Draw(t, "span") {
				from := calendar.On(2026, 1, 1) + calendar.Date(n("from", 0, 300))
				when = fmt.Sprintf(",%s,%s,%s", from, from+calendar.Date(n("days", 0, 200)), pick("profile", "even", "early", "late",
					"bell"))
			}
			text[kind] += fmt.Sprintf("%s,%s,%s,%s,%s,%s,%s\n", code, pick("code", "11", "2", "3"), amount(), when, currency(),
				pick("centre", "", "N", "S"), pick("change", "", "", "C1", "C2", "C3"))
		}
		for range n("budget", 1, 6) {
			line(record.Budget)
		}
		for range n("forecast", 1, 6) {
			line(record.Forecast)
		}
		for k := range n("postings", 1, 8) {
			text[record.Actuals] += fmt.Sprintf("%s,%s,2026-%02d-%02d,%s,%s,%s,S%d\n", code, pick("code", "11", "2", "3"),
				n("month", 1, 12),
				n("day", 1, 28), amount(), currency(), pick("centre", "", "N", "S"), k%2)
		}
		text[record.Commitments] += fmt.Sprintf("%s,11,PO,%s,%s\n", code, amount(), currency())
		text[record.Changes] += fmt.Sprintf("%[1]s,C1,one,approved,1\n%[1]s,C2,two,refused,%[2]s\n%[1]s,C3,three,requested,%[2]s\n", code,
			amount())
		text[record.Funding] += fmt.Sprintf("%[1]s,A,%[2]d,,%[4]s\n%[1]s,B,%[3]d,,\n%[1]s,C,100,N,\n", code, 100-33, 33, amount())
		text[record.Revenue] += fmt.Sprintf("%s,R,fee,2026-%02d,%s,%s,%s,%s\n", code, n("month", 1, 12), amount(), amount(),
			pick("client", "c", "d", ""), currency())
	}
	return text
}

// Every total of the pages of money is the sum of its rows: by project, by every grouping, by month, by line, by funder and by client,
// in the reporting currency and in another one.
func TestEveryTotalIsTheSumOfItsRows(t *testing.T) {
	dir := t.TempDir()
	empty, err := demotest.Create(ctx, filepath.Join(dir, "empty.db"))
	require.NoError(t, err)
	require.NoError(t, empty.Close())
	made, err := os.ReadFile(filepath.Join(dir, "empty.db"))
	require.NoError(t, err)
	n := 0
	rapid.Check(t, func(rt *rapid.T) {
		n++
		path := filepath.Join(dir, fmt.Sprintf("%d.db", n))
		require.NoError(rt, os.WriteFile(path, made, 0o600))
		s, err := store.Open(ctx, path)
		require.NoError(rt, err)
		defer func() {
			_ = s.Close()
			for _, end := range []string{"", "-wal", "-shm"} {
				_ = os.Remove(path + end)
			}
		}()
		o := app.NewOffice(s, func() time.Time { return apptest.At }, app.Parts{Reader: ingest.Reader{}})
		var files []*kept.File
		text := someMoney(rt)
		for _, kind := range record.Kinds() {
			if text[kind] == "" {
				continue
			}
			f, problems, err := ingest.CSV(string(kind)+".csv", kind, strings.NewReader(text[kind]))
			require.NoError(rt, err)
			require.Empty(rt, problems)
			files = append(files, f)
		}
		_, err = o.Intake.Import(ctx, files, intake.Origin{})
		require.NoError(rt, err)
		asOf := calendar.On(2026, rapid.IntRange(1, 12).Draw(rt, "as of"), 1).Month().Last()
		for _, c := range []money.Currency{"", "GBP"} {
			a, err := o.Assess.Day(assess.In(ctx, c), asOf)
			require.NoError(rt, err)
			scope, err := a.Scope("")
			require.NoError(rt, err)
			groupsAddUp(rt, a, scope)
			monthsAddUp(rt, o, a, scope)
			sharesAddUp(rt, o, a, scope)
		}
	})
}

func groupsAddUp(t *rapid.T, a *assess.Assessment, scope *assess.Scope) {
	for _, by := range appmoney.Groupings(a) {
		groups, total, err := appmoney.Groups(a, scope, by)
		require.NoError(t, err)
		for _, d := range measure.All() {
			if d.Rollup != measure.Sum || d.Unit != measure.Money || appmoney.ByCells(by) && !d.ByParts() {
				continue
			}
			var subtotals, rows int64
			for _, g := range groups {
				subtotals += g.Value(d.Key).N
				for _, p := range g.Projects {
					rows += p.Value(d.Key).N
				}
			}
			if want := total.Value(d.Key).N; subtotals != want || rows != want {
				t.Fatalf("%s by %q: rows %d, subtotals %d, total %d", d.Key, by, rows, subtotals, want)
			}
		}
	}
	for _, p := range scope.Projects {
		var f cost.Figures
		for _, k := range p.Account.Cells {
			f = f.Add(k.Figures)
		}
		neither := p.Account.ByClass[cost.Unclassed]
		for _, x := range []struct {
			whole, capital, operating measure.Key
			rest                      money.Amount
		}{{measure.BAC, measure.BACCapital, measure.BACOperating, neither.Budget()},
			{measure.AC, measure.ACCapital, measure.ACOperating, neither.Actual},
			{measure.EAC, measure.EACCapital, measure.EACOperating, neither.Actual + neither.ForecastToGo}} {
			whole := p.Value(x.whole)
			if sum := p.Value(x.capital).N + p.Value(x.operating).N + int64(x.rest); whole.Known && sum != whole.N {
				t.Fatalf("%s: capital, operating and neither are %d, not %d", x.whole, sum, whole.N)
			}
		}
		if f != p.Account.Figures {
			t.Fatalf("cells %+v, account %+v", f, p.Account.Figures)
		}
	}
}

func monthsAddUp(t *rapid.T, o *app.Office, a *assess.Assessment, scope *assess.Scope) {
	c := curve.New(scope.Projects, a.Env)
	var budget, actual, togo, spent money.Amount
	for i := range c.Budget {
		budget += c.Budget[i]
		actual += c.Actual[i]
		togo += c.ToGo[i]
	}
	var bac, eac money.Amount
	for _, p := range scope.Projects {
		bac += p.Account.Budget()
		eac += p.Account.Actual + p.Account.ForecastToGo
		spent += p.Account.Actual
	}
	if budget != bac || actual+togo != eac || actual != spent || c.Estimate != eac {
		t.Fatalf("months: budget %d of %d, actual and forecast %d of %d", budget, bac, actual+togo, eac)
	}
	for _, p := range scope.Projects {
		if len(p.Account.Gaps) > 0 && p.Account.Problem(cost.InActual, cost.InForecast, cost.InBudget) != nil {
			continue
		}
		for show, want := range map[string]money.Amount{"estimate": p.Account.Actual + p.Account.ForecastToGo, "actual": p.Account.Actual,
			"commitment": p.Account.Committed,
			"budget":     p.Account.Budget() + p.Account.Held} {
			m, err := o.Money.Sheet(ctx, a, p.Code, show)
			require.NoError(t, err)
			if m.Total() != want {
				t.Fatalf("%s of %s in %s: the grid adds up to %d, the account to %d", show, p.Code, a.Env.Currency, m.Total(), want)
			}
		}
	}
}

func sharesAddUp(t *rapid.T, o *app.Office, a *assess.Assessment, scope *assess.Scope) {
	f, err := o.Money.Funding(ctx, a, scope)
	require.NoError(t, err)
	by := map[string]money.Amount{}
	for _, l := range f.Lines {
		require.NoError(t, l.Problem)
		by[l.Project.Code] += l.Actual + l.ToGo
	}
	var totals, rows money.Amount
	for i := range f.Totals {
		totals += f.Totals[i].Estimate()
	}
	for _, p := range scope.Projects {
		if want := p.Account.Actual + p.Account.ForecastToGo; by[p.Code] != want {
			t.Fatalf("funders of %s bear %d of %d", p.Code, by[p.Code], want)
		}
		rows += by[p.Code]
	}
	if totals != rows {
		t.Fatalf("funders bear %d, projects %d", totals, rows)
	}
	e, err := o.Money.Revenue(ctx, a, scope)
	require.NoError(t, err)
	var planned, clients, months money.Amount
	for _, p := range scope.Projects {
		planned += p.Account.Earnings.Planned
	}
	for i := range e.ByClient {
		clients += e.ByClient[i].Planned
	}
	for _, x := range e.Planned {
		months += x
	}
	if clients != planned || months != planned {
		t.Fatalf("revenue: clients %d, months %d, projects %d", clients, months, planned)
	}
}
