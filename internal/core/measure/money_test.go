package measure

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/health"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
)

var someRates = cost.NewRates("EUR", []cost.RateRow{
	{Currency: "SEK", Month: on("2020-01-01").Month(), Plan: true, Rate: money.Rate{Digits: 871, Places: 4},
		Ref: fact.Ref{Load: 9, Row: 2}},
	{Currency: "SEK", Month: on("2026-09-01").Month(), Rate: money.Rate{Digits: 903, Places: 4}, Ref: fact.Ref{Load: 9, Row: 3}},
	{Currency: "SEK", Month: on("2026-10-01").Month(), Rate: money.Rate{Digits: 911, Places: 4}, Ref: fact.Ref{Load: 9, Row: 4}},
})

// drawn is a project with every kind of money, and the rows it was computed from.
func drawn(t *rapid.T, env Env) (*Project, *Evidence) {
	ev := &Evidence{Rates: someRates, Env: env, CodeNames: func(int32) string { return "code" }, Tariffs: &cost.Tariffs{},
		Classes: cost.Classes{Of: []cost.Class{cost.Unclassed, cost.Capital, cost.Operating}, Reserve: []bool{true, false, false}}}
	ev.Tariffs.Of("", "smith", 0, cost.Tariff{Cost: 4321, Billing: 6543, Priced: true, Billed: true, Currency: "SEK",
		Ref: fact.Ref{Load: 8, Row: 2}})
	p := &Project{Info: Info{EarnedValue: true}, Changes: []cost.Change{{Code: "held", State: cost.Refused},
		{Code: "asked", State: cost.Requested, Amount: 777, Currency: "SEK", Ref: fact.Ref{Load: 7, Row: 2}},
		{Code: "yes", State: cost.Approved}}}
	b := cost.NewBuilder(someRates, env.Calendar, env.AsOf)
	b.Classify(ev.Classes)
	for _, c := range p.Changes {
		b.Change(c)
	}
	row := int32(1)
	ref := func() fact.Ref { row++; return fact.Ref{Load: 1, Row: row} }
	amount := func() money.Amount { return money.Amount(rapid.Int64Range(-1e8, 1e9).Draw(t, "amount")) }
	currency := func() money.Currency { return rapid.SampledFrom([]money.Currency{"EUR", "SEK"}).Draw(t, "currency") }
	for i := range rapid.IntRange(1, 12).Draw(t, "rows") {
		line := func() cost.Line {
			return cost.Line{Code: int32(i % 3), Amount: amount(), Currency: currency(), Month: on("2026-07-01").Month() +
				calendar.Month(rapid.IntRange(0, 9).Draw(t, "month")), Ref: ref(),
				Change: rapid.SampledFrom([]string{"", "", "held", "asked", "yes", "other"}).Draw(t, "change")}
		}
		l := line()
		b.Budget(l)
		ev.Budget = append(ev.Budget, l)
		l = line()
		b.Forecast(l)
		ev.Forecast = append(ev.Forecast, l)
		x := cost.Posting{Code: int32(i % 3), Date: on("2026-09-01") + calendar.Date(rapid.IntRange(0, 60).Draw(t, "day")),
			Amount: amount(), Currency: currency(), Ref: ref()}
		b.Post(x)
		ev.Postings = append(ev.Postings, x)
		c := cost.Commitment{Code: int32(i % 3), Amount: amount(), Currency: currency(), Ref: ref()}
		b.Commit(c)
		ev.Commitments = append(ev.Commitments, c)
		k := cost.Booking{Person: "p", Role: "smith", Date: x.Date, Hours: rapid.Int64Range(1, 240_000).Draw(t, "hours"),
			Billable: i%2 == 0, Ref: ref()}
		b.Book(k, ev.Tariffs)
		ev.Bookings = append(ev.Bookings, k)
		r := cost.Billing{Code: "r", Month: x.Date.Month(), Planned: amount(), Billed: amount(), Currency: currency(), Ref: ref()}
		b.Bill(r)
		ev.Billings = append(ev.Billings, r)
		s := cost.Share{Funder: "f", Percent: cost.Whole, Granted: amount(), Received: amount(), Currency: currency(), Ref: ref()}
		b.Fund(s)
		ev.Shares = append(ev.Shares, s)
		p.Activities = append(p.Activities, schedule.Activity{Code: string(rune('A' + i)), BaselineStart: on("2026-07-01"),
			BaselineFinish: on("2026-07-01") + calendar.Date(10*i+9),
			Percent:        fact.Some(rapid.Int64Range(0, 10_000).Draw(t, "percent")), Ref: ref()})
	}
	p.Account = b.Account()
	Assess(p, env)
	return p, ev
}

// Whatever the lines, the rows of a trace add up to the figure at its top, for every amount that is a sum of rows.
func TestRowsOfEveryAmountAddUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		env := env
		env.AsOf = on("2026-10-01") + calendar.Date(rapid.IntRange(0, 30).Draw(t, "as of"))
		p, ev := drawn(t, env)
		for i := range catalogue {
			d := &catalogue[i]
			if d.Unit != Money || d.base == nil || d.Key == RunRate { // the mean of three months is no sum
				continue
			}
			v := p.Values[i]
			if !v.Known {
				continue
			}
			n, _ := Explain(p, ev, d.Key)
			if sum, _ := leaves(n); sum != v.N {
				t.Fatalf("%s is %d, its rows add up to %d", d.Key, v.N, sum)
			}
		}
		m := ExplainMonth(p, ev, env.AsOf.Month())
		for k, by := range [][]money.Amount{p.Account.BudgetBy, p.Account.ActualBy, p.Account.ForecastBy} {
			want := int64(p.Account.Between(by, env.AsOf.Month(), env.AsOf.Month()))
			if sum, _ := leaves(m.Children[k]); sum != want || m.Children[k].Value.N != want {
				t.Fatalf("month, %s: %d, its rows %d, the account %d", m.Children[k].Label, m.Children[k].Value.N, sum, want)
			}
		}
	})
}

// Parts of a project by code add up to the whole in every figure that can be told of a part.
func TestPartsAddUpToTheProject(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p, _ := drawn(t, env)
		sums := map[Key]int64{}
		for _, c := range p.Account.ByCode {
			q := Part(p, c.Figures, env)
			for _, d := range All() {
				if v := q.Value(d.Key); d.Unit == Money && d.ByParts() && v.Known {
					sums[d.Key] += v.N
				}
			}
		}
		for key, sum := range sums {
			if want := p.Value(key); want.Known && sum != want.N {
				t.Fatalf("%s: parts %d, project %d", key, sum, want.N)
			}
		}
	})
}

// An estimate that nobody declared is the one by the cost index, and says so; what is built on it follows.
func TestEstimateWithoutForecast(t *testing.T) {
	p := project("A", 1000, 500, 0)
	b := cost.NewBuilder(someRates, calendar.Standard, env.AsOf)
	b.Budget(cost.Line{Amount: 100_000, Currency: "EUR", Month: on("2026-01-01").Month()})
	b.Post(cost.Posting{Date: on("2026-05-05"), Amount: 50_000, Currency: "EUR"})
	p.Account, p.EarnedValue, p.Activities = b.Account(), true, nil
	p.Declared = &Declared{Overall: health.OnTrack, Percent: fact.Some(4_000)}
	Assess(p, env)
	// 40 % of 1,000.00 for 500.00: index 0.8, estimate 1,250.00.
	v := p.Value(EAC)
	require.True(t, v.Known, v.Reason)
	assert.Equal(t, []string{"400.00", "0.800000", "1250.00", "-250.00"}, []string{p.Value(EV).Text(Money, "EUR"),
		p.Value(CPI).Text(Index, "EUR"), v.Text(Money, "EUR"), p.Value(VAC).Text(Money, "EUR")})
	assert.Contains(t, v.Note, "by the cost index")
	n, _ := Explain(p, &Evidence{Env: env, Rates: someRates, CodeNames: func(int32) string { return "" }}, EAC)
	require.Len(t, n.Children, 1)
	assert.Equal(t, "eac_cpi", n.Children[0].Key)
	p.EarnedValue = false
	Assess(p, env)
	assert.Equal(t, "no forecast", p.Value(EAC).Reason)
	assert.Equal(t, earnedOff, p.Value(EV).Reason)
	assert.Equal(t, "0.400000", p.Value(PercentComplete).Text(Share, "EUR"), "the reported percent stands in")
}

// Who may not see costs sees none of the figures that are read off them.
func TestNothingReadOffAmountsIsShownWithoutMoney(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p, ev := drawn(t, env)
		q := p.WithoutMoney()
		for i := range catalogue {
			d := &catalogue[i]
			if d.Unit == Health || d.Unit == Day && d.Rollup != Months && !d.IsCost() || d.Unit == Days || d.Unit == Count &&
				d.Key != BudgetShort || d.Unit == Hours || d.Unit == Points || d.Unit == Score || d.Key == ScopeAddedShare ||
				d.Key == BacklogShare || d.Key == TimePassed || d.Key == FinishShare || d.Key == CriticalShare ||
				d.Key == BEI {
				continue
			}
			if q.Values[i].Known {
				t.Fatalf("%s is shown: %+v", d.Key, q.Values[i])
			}
			if n, _ := Explain(q, ev, d.Key); len(n.Children) > 0 && q.Values[i].Reason == NoMoney {
				t.Fatalf("the trace of %s tells of costs", d.Key)
			}
		}
	})
}
