package evidence_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/evidence"
	"turret/internal/core/fact"
	"turret/internal/core/figure"
	"turret/internal/core/money"
)

func row(n int32) fact.Ref { return fact.Ref{Load: 1, Row: n} }

// rows are read as of Friday 16 October 2026, when 12 of the 22 working days of the month have passed. A krona is planned at 0.0871 and
// was worth 0.0903 in September; of francs nothing is known.
func rows() *evidence.Rows {
	return &evidence.Rows{
		Env:       evidence.Env{AsOf: calendar.On(2026, 10, 16), Currency: "EUR", Calendar: calendar.Standard},
		CodeNames: func(code int32) string { return []string{"", "Steel", "Labour"}[code] },
		Tariffs:   &cost.Tariffs{},
		Rates: cost.NewRates("EUR", []cost.RateRow{
			{Currency: "SEK", Month: calendar.On(2020, 1, 1).Month(), Plan: true, Rate: money.Rate{Digits: 871, Places: 4}, Ref: row(90)},
			{Currency: "SEK", Month: calendar.On(2026, 9, 1).Month(), Rate: money.Rate{Digits: 903, Places: 4}, Ref: row(91)}}),
	}
}

// said is a node and what is below it: label, value, detail, row.
func said(n *evidence.Node) []any {
	list := []any{n.Label, n.Value.Human(n.Unit, "EUR")}
	if n.Detail != "" {
		list = append(list, n.Detail)
	}
	if n.Ref != (fact.Ref{}) {
		list = append(list, n.Ref.Row)
	}
	for i := range n.Children {
		list = append(list, said(&n.Children[i]))
	}
	return list
}

func all(nodes []evidence.Node) (list []any) {
	for i := range nodes {
		list = append(list, said(&nodes[i]))
	}
	return list
}

// Of October 12 of 22 parts have passed: of 2,200.00 there are 1,000.00 to go. 10,000.00 SEK at 0.0871 are 871.00. What has passed is left
// out, a currency without a rate says so, and codes stand in their order.
func TestLinesByHand(t *testing.T) {
	ev := rows()
	lines := []cost.Line{
		{Code: 2, Amount: 10_000_00, Currency: "SEK", Month: calendar.On(2026, 11, 1).Month(), Ref: row(2)},
		{Code: 1, Amount: 2_200_00, Currency: "EUR", Month: calendar.On(2026, 10, 1).Month(), Ref: row(3)},
		{Code: 1, Amount: 500_00, Currency: "EUR", Month: calendar.On(2026, 9, 1).Month(), Ref: row(4)},
		{Code: 1, Amount: 7_00, Currency: "CHF", Month: calendar.On(2026, 12, 1).Month(), Ref: row(5)},
	}
	nodes := ev.OfLines(lines, cost.Portion.After)
	assert.Equal(t, []any{
		[]any{"Steel", "€1,000.00", []any{"2026-10", "€1,000.00", "part of €2,200.00: 12 of 22 working days passed", int32(3)},
			[]any{"2026-12", "–", int32(5)}},
		[]any{"Labour", "€871.00", []any{"2026-11", "€871.00", "10,000.00 SEK at 0.0871", int32(2),
			[]any{"Plan rate of SEK from 2020-01: 0.0871", "–", int32(90)}}},
	}, all(nodes))
	assert.Equal(t, "Sum of 2 rows.", nodes[0].Rule)
	assert.Contains(t, nodes[0].Children[1].Value.Reason, "CHF")
	assert.Empty(t, ev.OfLines(nil, cost.Portion.After))
	november := ev.OfLinesIn(lines, func(m calendar.Month) bool { return m == calendar.On(2026, 11, 1).Month() }, cost.Portion.After)
	require.Len(t, november, 2, "a line that cannot be converted is shown whatever its month")
	assert.Equal(t, "€871.00", november[1].Value.Human(figure.Money, "EUR"))
}

// 1,000.00 SEK of September are 90.30. What was posted on the as-of day counts, what was posted a day later does not.
func TestPostingsByHand(t *testing.T) {
	ev := rows()
	ev.Postings = []cost.Posting{
		{Code: 1, Date: calendar.On(2026, 9, 3), Amount: 1_000_00, Currency: "SEK", Document: "V1", Ref: row(2)},
		{Code: 1, Date: calendar.On(2026, 10, 16), Amount: -50_00, Currency: "EUR", Document: "V2", Ref: row(3)},
		{Code: 1, Date: calendar.On(2026, 10, 17), Amount: 9_00, Currency: "EUR", Document: "V3", Ref: row(4)},
	}
	nodes := ev.OfPostings(nil, ev.Rates.Actual)
	require.Len(t, nodes, 1)
	assert.Equal(t, "€40.30", nodes[0].Value.Human(figure.Money, "EUR"))
	assert.Equal(t, []int32{2, 3}, []int32{nodes[0].Children[0].Ref.Row, nodes[0].Children[1].Ref.Row})
	assert.Equal(t, "1,000.00 SEK at 0.0903", nodes[0].Children[0].Detail)
	back := ev.OfPostings(func(x cost.Posting) bool { return x.Amount < 0 }, ev.Rates.Planned)
	assert.Equal(t, "−€50.00", back[0].Value.Human(figure.Money, "EUR"))
}

// Seven and a half hours at 40.00 are 300.00, half an hour taken back 20.00 less. Only what can be billed is billed, at 60.00. Of whom no
// rate is known says so, and counts for nothing.
func TestLabourByHand(t *testing.T) {
	ev := rows()
	ev.Tariffs.Of("", "smith", 0, cost.Tariff{Cost: 40_00, Billing: 60_00, Priced: true, Billed: true, Currency: "EUR", Ref: row(80)})
	ev.Bookings = []cost.Booking{
		{Person: "Ann", Role: "smith", Date: calendar.On(2026, 10, 5), Hours: 7_5000, Billable: true, Ref: row(2)},
		{Person: "Bob", Role: "no cost rate for Bob", Date: calendar.On(2026, 10, 5), Hours: 8_0000, Ref: row(3)},
		{Person: "Ann", Role: "smith", Date: calendar.On(2026, 10, 6), Hours: -5000, Ref: row(4)},
		{Person: "Ann", Role: "smith", Date: calendar.On(2026, 10, 19), Hours: 8_0000, Ref: row(5)},
	}
	assert.Equal(t, []any{
		[]any{"Ann", "7.0", []any{"2026-10-05", "7.5", int32(2)}, []any{"2026-10-06", "−0.5", int32(4)}},
		[]any{"Bob", "8.0", []any{"2026-10-05", "8.0", int32(3)}},
	}, all(ev.OfHours()))
	priced := ev.OfLabour(false)
	assert.Equal(t, "€280.00", priced[0].Value.Human(figure.Money, "EUR"))
	assert.Equal(t, "7.5 h at €40.00", priced[0].Children[0].Detail)
	assert.Equal(t, int32(80), priced[0].Children[0].Children[0].Ref.Row, "the row of the rate")
	assert.Contains(t, priced[1].Children[0].Value.Reason, "no cost rate for Bob")
	billed := ev.OfLabour(true)
	require.Len(t, billed, 1)
	assert.Equal(t, "€450.00", billed[0].Value.Human(figure.Money, "EUR"))
}

// What is ordered and not posted, what is granted and what is to be billed count at the plan rate of their month, 0.0871 for a krona; what
// was billed, 2,000.00 SEK of September, at what a krona was worth: 180.60.
func TestOrdersBillingAndFundingByHand(t *testing.T) {
	ev := rows()
	ev.Commitments = []cost.Commitment{{Code: 1, Document: "PO7", Supplier: "Smith", Amount: 400_00, Currency: "EUR",
		Due: calendar.On(2026, 12, 1), Ref: row(2)}}
	assert.Equal(t, []any{[]any{"Steel", "€400.00", []any{"PO7 Smith, due 2026-12-01", "€400.00", int32(2)}}}, all(ev.OfCommitments()))

	ev.Billings = []cost.Billing{
		{Code: "B1", Name: "Half", Month: calendar.On(2026, 9, 1).Month(), Planned: 3_000_00, Billed: 2_000_00,
			BilledOn: calendar.On(2026, 9, 15),
			Currency: "SEK", Ref: row(3)},
		{Code: "B2", Name: "Rest", Month: calendar.On(2026, 12, 1).Month(), Planned: 1_000_00, Currency: "EUR", Ref: row(4)},
	}
	assert.Equal(t, []any{
		[]any{"2026-09 B1 Half", "€261.30", "3,000.00 SEK at 0.0871", int32(3), []any{"Plan rate of SEK from 2020-01: 0.0871", "–",
			int32(90)}},
		[]any{"2026-12 B2 Rest", "€1,000.00", int32(4)}}, all(ev.OfBillings()))
	assert.Equal(t, []any{[]any{"2026-09-15 B1 Half", "€180.60", "2,000.00 SEK at 0.0903", int32(3),
		[]any{"Rate of SEK in 2026-09: 0.0903", "–", int32(91)}}}, all(ev.OfBilled()))

	ev.Shares = []cost.Share{{Funder: "Town", Granted: 500_00, Received: 0, Currency: "EUR", Ref: row(5)}}
	assert.Equal(t, []any{[]any{"Town", "€500.00", int32(5)}}, all(ev.OfShares(func(s cost.Share) money.Amount { return s.Granted })))
	assert.Empty(t, ev.OfShares(func(s cost.Share) money.Amount { return s.Received }), "nothing was received")
}

// Where labour is counted from timesheets, its postings stand under a node of their own, which says how many of the ledger do not count.
func TestLabourThatIsNotOfTheLedger(t *testing.T) {
	ev := rows()
	ev.Classes = cost.Classes{Of: make([]cost.Class, 3), Reserve: make([]bool, 3), Labour: []bool{false, false, true}}
	ev.Ledger = []cost.Posting{{Code: 2, Date: calendar.On(2026, 10, 1), Amount: 99_00, Currency: "EUR", Ref: row(2)},
		{Code: 2, Date: calendar.On(2026, 10, 20), Amount: 99_00, Currency: "EUR", Ref: row(3)}}
	ev.Postings = []cost.Posting{
		{Code: 1, Date: calendar.On(2026, 10, 1), Amount: 10_00, Currency: "EUR", Document: "V1", Ref: row(4)},
		{Code: 2, Date: calendar.On(2026, 10, 5), Amount: 300_00, Currency: "EUR", Ref: row(5),
			Work: &cost.Work{Way: cost.Timesheets, Hours: 7_5000, Tariff: cost.Tariff{Cost: 40_00, Currency: "EUR", Ref: row(80)}}}}
	nodes := ev.OfPostings(nil, ev.Rates.Actual)
	require.Len(t, nodes, 2)
	labour := nodes[1]
	assert.Equal(t, "Labour from timesheets", labour.Label)
	assert.Equal(t, "€300.00", labour.Value.Human(figure.Money, "EUR"))
	assert.Equal(t, "1 row of the ledger on codes of labour not counted", labour.Detail,
		"that of a day after the as-of date is not there yet")
	assert.Equal(t, "7.5 h at €40.00", labour.Children[0].Children[0].Detail)
}
