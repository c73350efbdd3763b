package money_test

import (
	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/app/audit"

	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	appedit "turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"

	appmoney "turret/internal/app/money"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/demotest"
	"turret/internal/ingest"
	"turret/internal/record"
	"turret/internal/store"
)

// moneyHouse is a store with money in every kind, on which edits can be typed.
func moneyHouse(t *testing.T) (*store.Store, *app.Office) {
	t.Helper()
	s, err := demotest.Create(ctx, t.TempDir()+"/m.db")
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	o := app.NewOffice(s, func() time.Time { return apptest.At }, app.Parts{Reader: ingest.Reader{}})
	_, err = o.Intake.Import(ctx, []*kept.File{
		apptest.Read(t, record.Structure, "code,name,level,parent\nPF,Portfolio,portfolio,\nPG,Programme,programme,PF\n"),
		apptest.Read(t, record.CostCodes,
			"code,name,parent,type,closed,contingency\n1,Works,,capital,,\n11,Walls,1,,,\n12,Old,1,,yes,\n3,Reserve,,operating,,yes\n"),
		apptest.Read(t, record.Rates, "currency,month,rate,kind\nSEK,2026-01,0.1,plan\nSEK,2026-10,0.11,month\n"),
		apptest.Read(t, record.Projects, "code,name,parent,currency\nA,First,PG,EUR\nB,Second,PG,SEK\n"),
		apptest.Read(t, record.Budget,
			"project,cost_code,amount,month,cost_centre\nA,11,1000,2026-10,N\nA,11,500,2026-11,S\nB,11,3000,2026-11,\n"),
		apptest.Read(t, record.Forecast,
			"project,cost_code,amount,month,from,to,currency\nA,11,100,2026-11,,,\nA,11,200,2026-12,,,\nA,3,300,,2026-11-02,2027-01-29,\nA,11,900,2026-11,,,SEK\n"),
		apptest.Read(t, record.Actuals,
			"project,cost_code,date,amount,currency,cost_centre\nA,11,2026-10-10,400,,N\nA,11,2026-10-12,1000,SEK,\n"),
	}, intake.Origin{})
	require.NoError(t, err)
	return s, o
}

var lastOfOctober = calendar.On(2026, 10, 31)

func forecastOf(t *testing.T, o *app.Office, project string) map[string]string {
	t.Helper()
	a, err := o.Assess.Day(ctx, lastOfOctober)
	require.NoError(t, err)
	m, err := o.Money.Sheet(ctx, a, project, "")
	require.NoError(t, err)
	got := map[string]string{}
	codes := map[int32]string{}
	for _, c := range a.Masters.CostCodes {
		codes[int32(c.ID)] = c.Code
	}
	for _, r := range m.Rows {
		for i, x := range r.Own {
			if x != 0 {
				got[codes[r.Code]+" "+string(r.Currency)+" "+(m.First+calendar.Month(i)).String()] = x.Text(r.Currency)
			}
		}
	}
	return got
}

// Cells typed into the grid become a revision with its reason: a changed month, a new one, one taken away, a new line, and a line that
// was spread over a span, which is written month by month from then on. What was there is still in the revision before.
func TestMoneyTypedIntoTheGrid(t *testing.T) {
	s, o := moneyHouse(t)
	cell := func(code, currency, month, old, now string) appmoney.Cell {
		return appmoney.Cell{Code: code, Currency: currency, Month: month, Old: old, New: now}
	}
	// 300.00 over 65 working days of which 21, 23 and 21: 96.92, 106.16, 96.92.
	before := forecastOf(t, o, "A")
	assert.Equal(t, "96.92", before["3 EUR 2026-11"])
	r, err := o.Money.Save(ctx, "A", record.Forecast, []appmoney.Cell{cell("11", "EUR", "2026-11", "100.00", "150.5"),
		cell("11", "EUR", "2026-12", "200", ""),
		cell("11", "", "2027-02", "", "70.00"), cell("3", "EUR", "2026-12", "106.16", "0"), cell("1", "SEK", "2027-01", "", "1000")},
		"prices rose")
	require.NoError(t, err)
	require.Len(t, r.Loads, 1)
	assert.Equal(t, map[string]string{"11 EUR 2026-11": "150.50", "11 EUR 2027-02": "70.00", "11 SEK 2026-11": "900.00",
		"3 EUR 2026-11": "96.92", "3 EUR 2027-01": "96.92",
		"1 SEK 2027-01": "1000.00"}, forecastOf(t, o, "A"))
	loads, err := s.Loads(ctx)
	require.NoError(t, err)
	assert.Equal(t, []string{"prices rose", "typed in"}, []string{loads[0].Note, loads[0].Source})
	a, err := o.Assess.Day(ctx, lastOfOctober)
	require.NoError(t, err)
	versions, err := o.Money.Versions(ctx, a, record.Forecast, "A")
	require.NoError(t, err)
	assert.Len(t, versions, 2)
	trail, err := o.Audit.List(ctx, audit.Query{})
	require.NoError(t, err)
	assert.Contains(t, trail[0].Before, "11 2026-11: 100.00; 11 2026-12: 200.00")
	assert.Contains(t, trail[0].After, "11 2026-11: 150.50; 11 2026-12: ; 11 2027-02: 70.00")

	r, err = o.Money.Save(ctx, "A", record.Forecast, []appmoney.Cell{cell("11", "EUR", "2026-11", "150.50", "150.50")}, "nothing")
	require.NoError(t, err)
	assert.Empty(t, r.Loads, "nothing changed, so nothing was saved")
}

// What cannot be taken is refused whole, each cell with what was expected.
func TestMoneyThatCannotBeTaken(t *testing.T) {
	_, o := moneyHouse(t)
	before := forecastOf(t, o, "A")
	for _, c := range []struct {
		cell     appmoney.Cell
		expected string
	}{
		{appmoney.Cell{Code: "11", Month: "2026-11", Old: "100.00", New: "soon"}, "an amount with at most 2 decimals"},
		{appmoney.Cell{Code: "11", Month: "2026-11", Old: "100.00", New: "1.005"}, "an amount with at most 2 decimals"},
		{appmoney.Cell{Code: "11", Month: "2026-11", Old: "100.00", New: "100000000000000"}, "up to €100,000,000,000.00"},
		{appmoney.Cell{Code: "12", Month: "2026-11", New: "5"}, "this one is closed"},
		{appmoney.Cell{Code: "99", Month: "2026-11", New: "5"}, "a cost code"},
		{appmoney.Cell{Code: "11", Currency: "XYZ", Month: "2026-11", New: "5"}, "ISO 4217"},
		{appmoney.Cell{Code: "11", Month: "soon", New: "5"}, "YYYY-MM"},
		{appmoney.Cell{Code: "11", Month: "9999-12", New: "5"}, "a month from 1980 to 2119"},
	} {
		_, err := o.Money.Save(ctx, "A", record.Forecast, []appmoney.Cell{{Code: "11", Month: "2026-12", Old: "200.00", New: "1.00"},
			c.cell},
			"why")
		var edit *appedit.Error
		require.ErrorAs(t, err, &edit, "%+v", c.cell)
		require.Len(t, edit.Problems, 1)
		assert.Contains(t, edit.Problems[0].Expected, c.expected)
		assert.EqualValues(t, 1, edit.Problems[0].Row)
	}
	_, err := o.Money.Save(ctx, "A", record.Forecast, []appmoney.Cell{{Code: "11", Month: "2026-11", Old: "100.00", New: "1"}}, " ")
	var field *fault.FieldError
	assert.ErrorAs(t, err, &field, "a reason is needed")
	_, err = o.Money.Save(ctx, "B", record.Budget, []appmoney.Cell{{Code: "11", Currency: "SEK", Month: "2026-11", Old: "3000", New: ""}},
		"gone")
	var edit *appedit.Error
	require.ErrorAs(t, err, &edit)
	assert.Contains(t, edit.Problems[0].Expected, "at least one amount left")
	assert.Equal(t, before, forecastOf(t, o, "A"))
}

// Two people at the same grid: cells that only one of them touched are merged, the same cell is a clash that says both values.
func TestTwoPeopleAtTheSameGrid(t *testing.T) {
	_, o := moneyHouse(t)
	save := func(month, old, now string) error {
		_, err := o.Money.Save(ctx, "A", record.Forecast, []appmoney.Cell{{Code: "11", Month: month, Old: old, New: now}}, "why")
		return err
	}
	require.NoError(t, save("2026-11", "100.00", "110.00"))
	require.NoError(t, save("2026-12", "200.00", "220.00"), "the other has not seen the first change, and need not")
	var edit *appedit.Error
	require.ErrorAs(t, save("2026-11", "100.00", "120.00"), &edit)
	require.Len(t, edit.Clashes, 1)
	assert.Equal(t, appedit.Clash{Index: 0, Column: "2026-11", Yours: "120.00", Theirs: "110.00"}, edit.Clashes[0])
	assert.ErrorIs(t, edit, fault.ErrConflict)
	require.NoError(t, save("2026-11", "100.00", "110.00"), "both mean the same")
	got := forecastOf(t, o, "A")
	assert.Equal(t, []string{"110.00", "220.00"}, []string{got["11 EUR 2026-11"], got["11 EUR 2026-12"]})
}

// The sum of the grid is the estimate at completion of the catalogue, in the reporting currency and in any other.
func TestGridIsTheEstimate(t *testing.T) {
	_, o := moneyHouse(t)
	// 400.00 + 1000 SEK at 0.11 = 110.00 spent; 100 + 200 + 300 + 900 SEK at plan 0.1 = 90 to go. In kronor: 400 / 0.11 = 3,636.36 and
	// 1,000.00; at plan 1,000 + 2,000 + 3,000 + 900.
	for c, want := range map[money.Currency]string{"": "1200.00", "SEK": "11536.36"} {
		a, err := o.Assess.Day(assess.In(ctx, c), lastOfOctober)
		require.NoError(t, err)
		m, err := o.Money.Sheet(ctx, a, "A", "")
		require.NoError(t, err)
		p, err := a.Project("A")
		require.NoError(t, err)
		assert.Equal(t, want, m.Total().Text("EUR"), c)
		assert.Equal(t, m.Total(), p.Value(measure.EAC).Amount())
	}
	_, err := o.Assess.Day(assess.In(ctx, "JPY"), lastOfOctober)
	assert.ErrorIs(t, err, fault.ErrNotFound)
}

// A change is asked for, approved, and its money is in the budget by one step; the original stays what it was.
func TestChangeFromRequestToBudget(t *testing.T) {
	_, o := moneyHouse(t)
	figures := func() []string {
		a, err := o.Assess.Day(ctx, lastOfOctober)
		require.NoError(t, err)
		p, err := a.Project("A")
		require.NoError(t, err)
		return []string{p.Value(measure.BudgetOriginal).Text(measure.Money, "EUR"), p.Value(measure.BudgetChanges).Text(measure.Money,
			"EUR"),
			p.Value(measure.ChangesRequested).Text(measure.Money, "EUR"), p.Value(measure.BAC).Text(measure.Money, "EUR")}
	}
	ask := appmoney.AskedChange{Code: "C1", Title: "Higher wall", Amount: "250.00", CostCode: "11", From: "2026-11-02", To: "2026-12-31",
		Profile: "even", Reason: "flood"}
	require.NoError(t, o.Money.RequestChange(ctx, "A", ask))
	assert.Equal(t, []string{"1500.00", "0.00", "250.00", "1500.00"}, figures())
	a, err := o.Assess.Day(ctx, lastOfOctober)
	require.NoError(t, err)
	require.NoError(t, o.Money.DecideChange(ctx, a, "A", "C1", cost.Approved, "agreed"))
	assert.Equal(t, []string{"1500.00", "250.00", "0.00", "1750.00"}, figures())
	assert.ErrorIs(t, o.Money.DecideChange(ctx, a, "A", "C1", cost.Refused, "no"), fault.ErrConflict, "it is decided")
	ask.Code, ask.Amount = "C2", "1e3"
	var edit *appedit.Error
	require.ErrorAs(t, o.Money.RequestChange(ctx, "A", ask), &edit)
	ask.Amount, ask.CostCode = "80", ""
	require.NoError(t, o.Money.RequestChange(ctx, "A", ask))
	var field *fault.FieldError
	require.ErrorAs(t, o.Money.DecideChange(ctx, a, "A", "C2", cost.Approved, "agreed"), &field, "nobody said where the money goes")
	require.NoError(t, o.Money.DecideChange(ctx, a, "A", "C2", cost.Refused, "not now"))
	assert.Equal(t, "1750.00", figures()[3])
	lead := access.As(ctx, &access.Actor{Login: "l", Name: "Lead", Role: access.Lead, Scopes: []string{"A"}})
	assert.ErrorIs(t, o.Money.DecideChange(lead, a, "A", "C2", cost.Approved, "mine"), access.ErrForbidden)
}

// Shares that do not add up to a whole are refused with their sum and row; those that do split the cost to the cent.
func TestFundingIsRefusedOrExact(t *testing.T) {
	_, o := moneyHouse(t)
	_, err := o.Intake.Import(ctx, []*kept.File{apptest.Read(t, record.Funding, "project,funder,percent\nA,Town,60\nA,Fund,39.9\n")},
		intake.Origin{})
	var refusal *fault.Refusal
	require.ErrorAs(t, err, &refusal)
	assert.Equal(t, fault.Problem{File: "funding.csv", Row: 3, Column: "percent", Value: "99.90",
		Expected: "percentages that add up to 100 in A; " +
			"the shares of every cost centre from the beginning add up to 99.90 %, not to 100"}, refusal.Problems[0])
	_, err = o.Intake.Import(ctx, []*kept.File{apptest.Read(t, record.Funding,
		"project,funder,percent,cost_centre,received\nA,Town,66.67,,100\nA,Fund,33.33,,\nA,State,100,N,500\n")}, intake.Origin{})
	require.NoError(t, err)
	a, err := o.Assess.Day(ctx, lastOfOctober)
	require.NoError(t, err)
	s, err := a.Scope("A")
	require.NoError(t, err)
	f, err := o.Money.Funding(ctx, a, s)
	require.NoError(t, err)
	got := map[string]string{}
	var sum money.Amount
	for _, l := range f.Lines {
		got[l.Funder] = l.Actual.Text("EUR") + " " + l.Ahead.Text("EUR")
		sum += l.Actual
	}
	// Centre N: 400.00 all of the State. The rest: 110.00 by 66.67 and 33.33 %.
	assert.Equal(t, map[string]string{"Town": "73.34 26.66", "Fund": "36.66 -36.66", "State": "400.00 100.00"}, got)
	assert.Equal(t, s.Projects[0].Account.Actual, sum)
}

// Records come back as they were sent, also after a later file took the place of a project's.
func TestRecordsComeBack(t *testing.T) {
	s, o := moneyHouse(t)
	send := func(kind record.Kind, text string) {
		t.Helper()
		_, err := o.Intake.Import(ctx, []*kept.File{apptest.Read(t, kind, text)}, intake.Origin{})
		require.NoError(t, err)
	}
	send(record.Commitments, "project,cost_code,document,amount,due\nA,11,P1,10,2026-12-01\nB,11,P2,20.5,\n")
	send(record.Commitments, "project,cost_code,document,amount,due\nA,11,P3,30,\n")
	send(record.People, "code,name,role,cost_rate\nP,Pat,mason,40\nQ,Quinn,mason,\n")
	send(record.People, "code,name,role,cost_rate\nP,Pat Smith,mason,41\n")
	send(record.Timesheets, "person,project,date,hours,billable\nP,A,2026-10-05,7.25,yes\n")
	send(record.Timesheets, "person,project,date,hours,billable,cost_code\nP,A,2026-10-06,8,,11\n")
	rows := func(kind record.Kind) [][]string {
		f, err := s.Rows(ctx, kind, kept.Selection{})
		require.NoError(t, err)
		var list [][]string
		for i := range f.Len() {
			list = append(list, f.Cells(i))
		}
		return list
	}
	assert.Equal(t, [][]string{{"B", "11", "P2", "20.50", "", "SEK", "", ""}, {"A", "11", "P3", "30.00", "", "EUR", "", ""}},
		rows(record.Commitments))
	assert.Equal(t, [][]string{{"P", "A", "2026-10-05", "7.25", "", "yes", ""}, {"P", "A", "2026-10-06", "8", "", "", "11"}},
		rows(record.Timesheets))
	people := rows(record.People)
	require.Len(t, people, 2)
	assert.Equal(t, []string{"Quinn", "Pat Smith"}, []string{people[0][1], people[1][1]})
	_, err := o.Intake.Import(ctx, []*kept.File{apptest.Read(t, record.Timesheets,
		"person,project,date,hours\nP,A,2026-10-06,25\nX,A,2026-10-07,1\n")},
		intake.Origin{})
	var refusal *fault.Refusal
	require.ErrorAs(t, err, &refusal)
	var texts []string
	for _, p := range refusal.Problems {
		texts = append(texts, p.String())
	}
	assert.Equal(t, []string{`timesheets.csv, row 3, column person: "X": expected a code in people or taken in before`,
		`timesheets.csv, row 2, column hours: "25": expected at most 24 hours a day`}, texts)
}

// The bridge between two versions adds up to the difference of the estimates, and names are kept with them.
func TestMoneyVersionsAndTheirBridge(t *testing.T) {
	_, o := moneyHouse(t)
	a, err := o.Assess.Day(ctx, lastOfOctober)
	require.NoError(t, err)
	require.NoError(t, o.Money.Name(ctx, a, record.Forecast, "A", "Board of October"))
	var field *fault.FieldError
	require.ErrorAs(t, o.Money.Name(ctx, a, record.Forecast, "A", "Board of October"), &field)
	_, err = o.Money.Save(ctx, "A", record.Forecast, []appmoney.Cell{{Code: "11", Month: "2026-12", Old: "200.00", New: "260.00"},
		{Code: "1", Month: "2027-01", New: "40.00"}}, "more stone")
	require.NoError(t, err)
	a, err = o.Assess.Day(ctx, lastOfOctober)
	require.NoError(t, err)
	c, err := o.Money.Compare(ctx, a, record.Forecast, "A", "", "")
	require.NoError(t, err)
	assert.Equal(t, "Board of October", c.Was.Name)
	assert.Equal(t, cost.Bridge{From: 120_000, To: 130_000, Added: 4_000, Amounts: 6_000}, *c.Bridge)
	require.Len(t, c.Changes, 2)
	assert.True(t, c.Changes[0].Added)
	assert.Equal(t, money.Amount(6_000), c.Changes[1].By)
	_, err = o.Money.Compare(ctx, a, record.Forecast, "A", "99999", "")
	assert.ErrorIs(t, err, fault.ErrNotFound)
}

// Those from whom costs are kept get none of it, by whichever way they ask.
func TestMoneyIsKeptFromThoseWhoMayNotSeeIt(t *testing.T) {
	_, o := moneyHouse(t)
	a, err := o.Assess.Day(ctx, lastOfOctober)
	require.NoError(t, err)
	blind := access.As(ctx, &access.Actor{Login: "x", Name: "X", Role: access.Analyst, HideMoney: true})
	s, err := a.Scope("")
	require.NoError(t, err)
	_, err = o.Money.Sheet(blind, a, "A", "")
	assert.ErrorIs(t, err, access.ErrForbidden)
	_, err = o.Money.Funding(blind, a, s)
	assert.ErrorIs(t, err, access.ErrForbidden)
	_, err = o.Money.Revenue(blind, a, s)
	assert.ErrorIs(t, err, access.ErrForbidden)
	_, err = o.Money.Versions(blind, a, record.Budget, "A")
	assert.ErrorIs(t, err, access.ErrForbidden)
	_, err = o.Money.Save(blind, "A", record.Forecast, nil, "why")
	assert.ErrorIs(t, err, access.ErrForbidden)
	_, err = o.Trace.TraceMonth(blind, a, "A", calendar.Month(apptest.October))
	assert.ErrorIs(t, err, access.ErrForbidden)
	assert.ErrorIs(t, o.Money.RequestChange(blind, "A", appmoney.AskedChange{}), access.ErrForbidden)
}

// A load that others need stays: people for their hours, cost codes for orders and changes.
func TestWhatRecordsReferToStays(t *testing.T) {
	s, o := moneyHouse(t)
	send := func(kind record.Kind, text string) int64 {
		t.Helper()
		r, err := o.Intake.Import(ctx, []*kept.File{apptest.Read(t, kind, text)}, intake.Origin{})
		require.NoError(t, err)
		return r.Loads[0].ID
	}
	people := send(record.People, "code,name\nP,Pat\n")
	hours := send(record.Timesheets, "person,project,date,hours\nP,A,2026-10-05,8\n")
	codes := send(record.CostCodes, "code,name\nX,Extra\n")
	orders := send(record.Commitments, "project,cost_code,document,amount\nA,X,P1,10\n")
	assert.ErrorIs(t, o.Load.Withdraw(ctx, people, "wrong list"), fault.ErrNeeded)
	assert.ErrorIs(t, o.Load.Withdraw(ctx, codes, "wrong list"), fault.ErrNeeded)
	for _, l := range []int64{hours, people, orders, codes} {
		require.NoError(t, o.Load.Withdraw(ctx, l, "in their order"))
	}
	m, err := s.Masters(ctx)
	require.NoError(t, err)
	assert.Empty(t, m.People)
}

// The portfolio was given 2,000 for 2026 and its one programme 1,800. Project A plans 1,500 and expects 400 + 110 spent and 96.92 +
// 106.16 + 390 to go; B plans 3,000 SEK at 0.1 and has no forecast. Nobody was given anything for 2027.
func TestWhatWasGivenAgainstTheSumOfProjects(t *testing.T) {
	_, o := moneyHouse(t)
	_, err := o.Intake.Import(ctx, []*kept.File{apptest.Read(t, record.Allocations,
		"node,year,amount,currency\nPF,2026,2000,\nPG,2026,18000,SEK\nPG,2027,0,\n")}, intake.Origin{})
	require.NoError(t, err)
	a, err := o.Assess.Day(ctx, lastOfOctober)
	require.NoError(t, err)
	list := appmoney.Allotted(a, 2026)
	require.Len(t, list, 2)
	text := func(x money.Amount) string { return x.Text("EUR") }
	assert.Equal(t, []string{"2000.00", "1800.00", "1800.00", "200.00"}, []string{text(list[0].Given), text(list[0].Below),
		text(list[0].Budget), text(list[0].Free())})
	assert.Equal(t, []string{"1800.00", "1800.00", "0.00", "1103.08"}, []string{text(list[1].Given), text(list[1].Budget),
		text(list[1].Free()), text(list[1].Outlook)})
	assert.Equal(t, 2, list[1].Projects)
	next := appmoney.Allotted(a, 2027)
	assert.False(t, next[0].HasGiven)
	assert.True(t, next[0].HasBelow, "nothing at all was given below it, but that was said")
	assert.Equal(t, "96.92", text(next[1].Outlook), "the rest of the reserve's forecast")
	assert.Equal(t, []int{2026, 2027}, appmoney.AllotmentYears(a))
	s, err := a.Scope("PG")
	require.NoError(t, err)
	burn := appmoney.BurnOf(a, s)
	require.Len(t, burn.Rows, 2)
	assert.Equal(t, calendar.Month(apptest.October), burn.Months[5])
	assert.Equal(t, []string{"510.00", "510.00"}, []string{text(burn.Rows[0].Months[5]), text(burn.Totals[5])})
	assert.Equal(t, "170.00", burn.Rows[0].Project.Value(measure.RunRate).Text(measure.Money, "EUR"))
	deviations := appmoney.Deviations(a, s, 1)
	require.Len(t, deviations, 1)
	assert.Equal(t, "A", deviations[0].Project.Code)
	assert.Equal(t, "11 Walls €600 under", deviations[0].Why, "1,500 planned, 510 spent and 390 to go; the reserve's 300 were never "+
		"planned")
	_, _, err = appmoney.Groups(a, s, "colour of the lead's hat")
	assert.ErrorIs(t, err, fault.ErrNotFound)
}

// Nobody says what an hour of Pat's costs but the cost code that the timesheet names: 7.25 hours at 40.00. Four hours are taken back.
func TestLabourAtTheRateOfTheCostCodeNamed(t *testing.T) {
	_, o := moneyHouse(t)
	for kind, text := range map[record.Kind]string{record.People: "code,name,role\nP,Pat,mason\n",
		record.LabourRates: "cost_code,cost_rate,billing_rate\n11,40,\n3,,70\n"} {
		_, err := o.Intake.Import(ctx, []*kept.File{apptest.Read(t, kind, text)}, intake.Origin{})
		require.NoError(t, err)
	}
	_, err := o.Intake.Import(ctx, []*kept.File{apptest.Read(t, record.Timesheets,
		"person,project,date,hours,billable,cost_code\nP,A,2026-10-05,7.25,no,11\nP,A,2026-10-06,-4,,11\nP,B,2026-10-05,1,yes,\n")},
		intake.Origin{})
	require.NoError(t, err)
	a, err := o.Assess.Day(ctx, lastOfOctober)
	require.NoError(t, err)
	p, err := a.Project("A")
	require.NoError(t, err)
	assert.Equal(t, "130.00", p.Value(measure.LabourCost).Text(measure.Money, "EUR"))
	assert.Equal(t, "0.00", p.Value(measure.BillableValue).Text(measure.Money, "EUR"), "none of it can be billed")
	p, err = a.Project("B")
	require.NoError(t, err)
	assert.Equal(t, "no hourly rate: no cost rate for P on 2026-10-05", p.Value(measure.LabourCost).Reason)
	_, err = o.Intake.Import(ctx, []*kept.File{apptest.Read(t, record.Timesheets,
		"person,project,date,hours,cost_code\nP,A,2026-10-07,1,99\n")},
		intake.Origin{})
	assert.ErrorContains(t, err, "1 problem")
}
