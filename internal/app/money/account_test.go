package money_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	appmoney "turret/internal/app/money"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// works is a house whose project A has a phase of two activities that amounts name, and one beside it that none does.
func works(t *testing.T) *app.Office {
	t.Helper()
	_, o := moneyHouse(t)
	_, err := o.Intake.Import(ctx, []*kept.File{
		apptest.Read(t, record.Activities,
			"project,code,name,parent,kind,baseline_start,baseline_finish,actual_start,actual_finish,percent_complete\n"+
				"A,S,Walls,,summary,,,,,\nA,W1,Dig,S,,2026-10-01,2026-10-16,2026-10-01,2026-10-16,100\n"+
				"A,W2,Pile,S,,2026-10-19,2026-10-30,2026-10-19,,25\nA,W3,Paint,,,2026-10-01,2026-10-30,,,0\nA,W4,Clean,,,,,,,\nA,T,Doors,,summary,,,,,\nA,W5,Hang,T,,,,,,\n"),
		apptest.Read(t, record.Budget,
			"project,cost_code,amount,month,activity\nA,11,1000,2026-10,W1\nA,11,400,2026-10,W2\nA,11,90,2026-11,\nA,11,10,2026-11,T\n"),
		apptest.Read(t, record.Forecast, "project,cost_code,amount,month,activity\nA,11,250,2026-11,W2\n"),
		apptest.Read(t, record.Actuals,
			"project,cost_code,date,amount,currency,activity\nA,11,2026-10-20,800,EUR,W1\nA,11,2026-10-21,300,EUR,W2\n"+
				"A,11,2026-10-22,7,EUR,gone\nA,11,2026-10-22,1,EUR,W3\n"),
		apptest.Read(t, record.Commitments, "project,cost_code,document,amount,due,activity\nA,11,PO1,60,2026-12-01,W2\n"),
	}, intake.Origin{})
	require.NoError(t, err)
	return o
}

// By hand: W1 earned its 1,000 for 800; W2 a quarter of 400, 100, for 300: 200 lost. The phase earned 1,100 for 1,100.
func TestWhichWorkLosesTheMoney(t *testing.T) {
	o := works(t)
	a, err := o.Assess.Day(ctx, lastOfOctober)
	require.NoError(t, err)
	m, err := o.Money.Accounts(ctx, a, "A")
	require.NoError(t, err)
	var got [][]string
	for i := range m.List {
		x := &m.List[i]
		row := []string{x.Name()}
		for _, key := range []measure.Key{measure.BAC, measure.EV, measure.AC, measure.ForecastToGo, measure.Commitments} {
			row = append(row, x.All.Value(key).Text(measure.Money, "EUR"))
		}
		got = append(got, row)
	}
	assert.Equal(t, [][]string{{"S Walls", "1400.00", "1100.00", "1100.00", "250.00", "60.00"},
		{"W1 Dig", "1000.00", "1000.00", "800.00", "0.00", ""}, {"W2 Pile", "400.00", "100.00", "300.00", "250.00", "60.00"},
		{"W3 Paint", "0.00", "0.00", "1.00", "0.00", ""}, {"T Doors", "10.00", "", "0.00", "0.00", ""},
		{"gone, not in the plan", "0.00", "", "7.00", "0.00", ""}, {"No activity named", "90.00", "", "510.00", "0.00", ""}}, got)
	require.NotNil(t, m.Worst)
	assert.Equal(t, "W2", m.Worst.Code, "W3 has lost 1.00")
	assert.Equal(t, 1, m.Unnamed, "W4; the phase has no account of its own")
	tr, err := o.Trace.TraceAccount(ctx, a, "A", "ev", "W2")
	require.NoError(t, err)
	assert.Equal(t, "Earned value, W2 Pile", tr.Root.Label)
	assert.Equal(t, int64(100_00), tr.Root.Value.N)
	require.Len(t, tr.Root.Children, 1)
	assert.Contains(t, tr.Root.Children[0].Detail, "25.0 % of its")
	_, err = o.Trace.TraceAccount(ctx, a, "A", "ev", "W4")
	assert.ErrorIs(t, err, fault.ErrNotFound)

	blind := access.As(ctx, &access.Actor{Login: "x", Name: "X", Role: access.Analyst, HideMoney: true})
	_, err = o.Money.Accounts(blind, a, "A")
	assert.ErrorIs(t, err, access.ErrForbidden)
	_, err = o.Trace.TraceAccount(blind, a, "A", "ev", "W2")
	assert.ErrorIs(t, err, access.ErrForbidden)
}

// Two lines that differ by their activity alone stay two: what is typed goes to the one it was typed into, and the trace keeps both.
func TestACellOfAnActivityIsTypedIntoItsOwnLine(t *testing.T) {
	o := works(t)
	_, err := o.Money.Save(ctx, "A", record.Budget, []appmoney.Cell{
		{Code: "11", Activity: "W2", Currency: "EUR", Month: "2026-10", Old: "400.00", New: "450"},
		{Code: "11", Activity: "W3", Currency: "EUR", Month: "2026-10", Old: "", New: "30"}}, "more piles")
	require.NoError(t, err)
	a, err := o.Assess.Day(ctx, lastOfOctober)
	require.NoError(t, err)
	m, err := o.Money.Sheet(ctx, a, "A", "budget")
	require.NoError(t, err)
	got := map[string]string{}
	for i := range m.Rows {
		got[m.Rows[i].Activity] = m.RowTotal(&m.Rows[i]).Text("EUR")
	}
	assert.Equal(t, map[string]string{"W1": "1000.00", "W2": "450.00", "W3": "30.00", "T": "10.00", "": "90.00"}, got)
}
