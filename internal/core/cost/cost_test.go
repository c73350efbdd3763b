package cost

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
)

func on(s string) calendar.Date {
	d, err := calendar.ParseDate(s)
	if err != nil {
		panic(err)
	}
	return d
}

func month(s string) calendar.Month { return on(s + "-01").Month() }

func rate(s string) money.Rate {
	r, err := money.ParseRate(s)
	if err != nil {
		panic(err)
	}
	return r
}

var euro = NewRates("EUR", []RateRow{
	{Currency: "SEK", Month: month("2026-01"), Plan: true, Rate: rate("0.09")},
	{Currency: "SEK", Month: month("2026-07"), Plan: true, Rate: rate("0.1")},
	{Currency: "SEK", Month: month("2026-02"), Rate: rate("0.085")},
})

func TestRates(t *testing.T) {
	for m, want := range map[string]string{"2026-01": "0.09", "2026-06": "0.09", "2026-07": "0.1", "2031-01": "0.1"} {
		got, err := euro.Find("SEK", month(m), true)
		require.NoError(t, err)
		assert.Equal(t, want, got.Rate.String(), m)
	}
	_, err := euro.Find("SEK", month("2025-12"), true)
	assert.EqualError(t, err, "no plan rate for SEK in 2025-12")
	assert.ErrorIs(t, err, ErrNoRate)
	_, err = euro.Find("SEK", month("2026-03"), false)
	assert.EqualError(t, err, "no month rate for SEK in 2026-03", "a month rate is for that month alone")
}

// 20 January to 10 March 2026 has 9 + 20 + 7 = 36 working days. By hand of 3,600.00:
// even 900, 2000, 700; late 81, 841-81=760, 1296-841=455 of 1296 -> 225.00, 2111.11, 1263.89;
// early mirrors late: 567, 680, 49 of 1296 -> 1575.00, 1888.89, 136.11.
func TestSpreadByHand(t *testing.T) {
	line := Line{Amount: 360000, Currency: "EUR", From: on("2026-01-20"), To: on("2026-03-10")}
	for profile, want := range map[Profile][]money.Amount{
		Even:  {90000, 200000, 70000},
		Late:  {22500, 211111, 126389},
		Early: {157500, 188889, 13611},
	} {
		line.Profile = profile
		months, parts := Spread(line, calendar.Standard)
		assert.Equal(t, []calendar.Month{month("2026-01"), month("2026-02"), month("2026-03")}, months)
		assert.Equal(t, want, parts, "profile %d", profile)
	}
	weekend := Line{Amount: 100, Currency: "EUR", From: on("2026-01-31"), To: on("2026-02-01")}
	_, parts := Spread(weekend, calendar.Standard)
	assert.Equal(t, []money.Amount{50, 50}, parts, "a span without working days counts its days")
}

// As of Thursday 12 February 2026: 9 of the month's 20 working days have passed.
// Budget: January 1,000.00; February 999.90, of which 449.955 -> 449.96 (half to even) to date; change in March 1,000 SEK
// at 0.09 = 90.00. Forecast: February 200.05 -> 90.0225 -> 90.02 before, 110.03 to go; March 1,000.00; January past.
// Actual: 2 February 100.10 SEK at 0.085 = 8.5085 -> 8.51 (at the plan rate 0.09 9.009 -> 9.01); 12 February 50.00; 13 February is after
// the date.
func TestAccountByHand(t *testing.T) {
	b := NewBuilder(euro, calendar.Standard, on("2026-02-12"))
	for range 2 { // the builder starts afresh for each project
		b.Budget(Line{Code: 3, Amount: 100000, Currency: "EUR", Month: month("2026-01")})
		b.Budget(Line{Code: 1, Amount: 99990, Currency: "EUR", Month: month("2026-02")})
		b.Budget(Line{Code: 1, Amount: 100000, Currency: "SEK", Month: month("2026-03"), Change: "CR-1"})
		b.Forecast(Line{Code: 1, Amount: 77777, Currency: "EUR", Month: month("2026-01")})
		b.Forecast(Line{Code: 1, Amount: 20005, Currency: "EUR", Month: month("2026-02")})
		b.Forecast(Line{Code: 3, Amount: 100000, Currency: "EUR", Month: month("2026-03")})
		b.Post(Posting{Code: 1, Date: on("2026-02-02"), Amount: 10010, Currency: "SEK"})
		b.Post(Posting{Code: 3, Date: on("2026-02-12"), Amount: 5000, Currency: "EUR"})
		b.Post(Posting{Code: 3, Date: on("2026-02-13"), Amount: 9999, Currency: "EUR"})
		a := b.Account()
		assert.NoError(t, a.Problem(InBudget, InActual, InForecast))
		assert.Equal(t, Figures{Original: 199990, Changes: 9000, BudgetToDate: 144996, Actual: 5851, ActualAtPlan: 5901,
			ForecastToGo: 111003}, a.Figures)
		assert.Equal(t, []CodeFigures{
			{1, Figures{Original: 99990, Changes: 9000, BudgetToDate: 44996, Actual: 851, ActualAtPlan: 901, ForecastToGo: 11003}},
			{3, Figures{Original: 100000, BudgetToDate: 100000, Actual: 5000, ActualAtPlan: 5000, ForecastToGo: 100000}},
		}, a.ByCode)
		assert.Equal(t, month("2026-01"), a.First)
		assert.Equal(t, []money.Amount{100000, 99990, 9000}, a.BudgetBy)
		assert.Equal(t, []money.Amount{0, 5851, 0}, a.ActualBy)
		assert.Equal(t, []money.Amount{0, 11003, 100000}, a.ForecastBy)
	}
}

func TestMissingRateIsAnErrorAndNotOne(t *testing.T) {
	b := NewBuilder(euro, calendar.Standard, on("2026-10-31"))
	b.Post(Posting{Code: 0, Date: on("2026-05-04"), Amount: 100, Currency: "SEK"})
	b.Budget(Line{Amount: 100, Currency: "GBP", Month: month("2026-01")})
	a := b.Account()
	assert.ErrorIs(t, a.Problem(InActual), ErrNoRate)
	assert.Equal(t, MissingRate{"GBP", month("2026-01"), true}, a.Gap(InBudget, nil))
	assert.NoError(t, a.Problem(InForecast))
	assert.Zero(t, a.Budget())
}

func TestCutAtTheEndsOfAMonth(t *testing.T) {
	before := func(asOf string, l Line) money.Amount {
		return NewCut(on(asOf), calendar.Standard).Before(&l, on(asOf).Month(), 1000)
	}
	assert.Equal(t, money.Amount(0), before("2026-02-01", Line{Month: month("2026-02")}), "nothing worked on the first, a Sunday")
	assert.Equal(t, money.Amount(1000), before("2026-10-30", Line{Month: month("2026-10")}), "only a weekend is left")
	assert.Equal(t, money.Amount(1000), before("2026-10-31", Line{Month: month("2026-10")}))
}

// A span is cut by its own days: of 20 to 31 October 2026 nine are worked, five of them to Monday the 26th; the month had 18 of 22.
func TestASpanIsCutByItsOwnDays(t *testing.T) {
	for _, c := range []struct {
		name, asOf, from, to string
		want                 money.Amount
	}{
		{"in the middle", "2026-10-26", "2026-10-20", "2026-11-30", 500},
		{"on the Sunday before", "2026-10-25", "2026-10-20", "2026-11-30", 400},
		{"begins after the day", "2026-10-26", "2026-10-27", "2026-10-31", 0},
		{"begins on the day", "2026-10-26", "2026-10-26", "2026-10-29", 225},
		{"ended before it", "2026-10-26", "2026-09-01", "2026-10-23", 900},
		{"ends on it", "2026-10-26", "2026-10-20", "2026-10-26", 900},
		{"only a weekend: its days are counted", "2026-10-24", "2026-10-24", "2026-10-25", 450},
		{"began in the month before", "2026-10-26", "2026-09-20", "2026-10-31", 736}, // 18 of 22: 736.36
	} {
		l := Line{From: on(c.from), To: on(c.to)}
		assert.Equal(t, c.want, NewCut(on(c.asOf), calendar.Standard).Before(&l, month("2026-10"), 900), c.name)
	}
	// 900.00 over those nine days and November's 21: 270.00 and 630.00; of October's five of nine days are 150.00 to date.
	b := NewBuilder(euro, calendar.Standard, on("2026-10-26"))
	b.Budget(Line{Amount: 90_000, Currency: "EUR", From: on("2026-10-20"), To: on("2026-11-30")})
	assert.Equal(t, money.Amount(15_000), b.Account().BudgetToDate)
}

// Of the kroner there is a rate of May and a plan rate from June on only. Every figure that needs neither April's nor a plan rate before
// stands.
func TestAMissingRateIsMissedOnlyWhereItIsNeeded(t *testing.T) {
	rates := NewRates("EUR", []RateRow{{Currency: "NOK", Month: month("2026-05"), Rate: money.Rate{Digits: 1, Places: 1}},
		{Currency: "NOK", Month: month("2026-06"), Plan: true, Rate: money.Rate{Digits: 1, Places: 1}}})
	b := NewBuilder(rates, calendar.Standard, on("2026-06-15"))
	b.Classify(Classes{Of: []Class{Capital, Operating}, Reserve: []bool{false, false, true}})
	b.Change(Change{Code: "C9", State: Requested, Currency: "EUR"})
	for _, x := range []Posting{{Code: 0, Date: on("2026-04-10")}, {Code: 1, Date: on("2026-05-11")}, {Code: 0, Date: on("2026-06-16")}} {
		x.Amount, x.Currency = 1000, "NOK"
		b.Post(x)
	}
	line := func(code int32, m, change string) Line {
		return Line{Code: code, Month: month(m), Amount: 1000, Currency: "NOK", Change: change}
	}
	b.Forecast(line(0, "2026-05", ""))
	b.Forecast(line(0, "2026-07", ""))
	b.Budget(line(2, "2026-05", "C1"))
	b.Budget(line(0, "2026-05", "C9"))
	b.Budget(line(0, "2026-07", ""))
	a := b.Account()
	in := func(m string) func(*Gap) bool { return func(g *Gap) bool { return g.Month == month(m) } }
	assert.Equal(t, MissingRate{"NOK", month("2026-04"), false}, a.Gap(InActual, nil))
	assert.NoError(t, a.Gap(InActual, in("2026-05")))
	assert.NoError(t, a.Gap(InActual, in("2026-06")), "what is dated after the day counts nowhere")
	assert.NoError(t, a.Gap(InActual, func(g *Gap) bool { return g.Class == Operating }))
	assert.Equal(t, money.Amount(100), a.ByClass[Operating].Actual)
	assert.Error(t, a.Gap(InForecast, nil))
	assert.NoError(t, a.Gap(InForecast, func(g *Gap) bool { return g.Ahead }), "May is past")
	assert.Equal(t, money.Amount(100), a.ForecastToGo)
	assert.Equal(t, MissingRate{"NOK", month("2026-04"), true}, a.Gap(InSplit, nil), "at plan rates April and May are missing")
	assert.Error(t, a.Gap(InBudget, func(g *Gap) bool { return g.Changed && g.Reserve && g.Past }))
	assert.NoError(t, a.Gap(InBudget, func(g *Gap) bool { return !g.Changed }), "a change that is only requested needs none")
	assert.Len(t, a.Gaps, 5)
}

// A line of the month that the day cuts needs its rate on both sides, at the month's end only before.
func TestGapsAtTheCut(t *testing.T) {
	gap := func(asOf string) (past, ahead bool) {
		b := NewBuilder(NewRates("EUR", nil), calendar.Standard, on(asOf))
		b.Forecast(Line{Month: month("2026-10"), Amount: 1, Currency: "NOK"})
		a := b.Account()
		return a.Gaps[0].Past, a.Gaps[0].Ahead
	}
	for day, want := range map[string][2]bool{"2026-10-15": {true, true}, "2026-10-31": {true, false}, "2026-09-30": {false, true},
		"2026-11-01": {true, false}} {
		past, ahead := gap(day)
		assert.Equal(t, want, [2]bool{past, ahead}, day)
	}
}

// Whatever the profile, the calendar and the as-of date: months add up to the line, and before and after to the month.
func TestPortionsAddUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		from := on("2026-01-01") + calendar.Date(rapid.IntRange(0, 900).Draw(t, "from"))
		l := Line{
			Amount:   money.Amount(rapid.Int64Range(-1e12, 1e12).Draw(t, "amount")),
			Currency: "EUR",
			From:     from,
			To:       from + calendar.Date(rapid.IntRange(0, 1500).Draw(t, "days")),
			Profile:  Profile(rapid.IntRange(0, 3).Draw(t, "profile")),
		}
		asOf := from + calendar.Date(rapid.IntRange(-60, 1600).Draw(t, "asOf"))
		parts, err := Portions(l, euro, calendar.Standard, NewCut(asOf, calendar.Standard))
		if err != nil {
			t.Fatal(err)
		}
		var sum money.Amount
		for _, p := range parts {
			sum += p.Amount
			if (p.Amount >= 0) != (p.Before >= 0) && p.Before != 0 || (p.Amount >= 0) != (p.After() >= 0) && p.After() != 0 {
				t.Fatalf("%s: %d is cut into %d and %d", p.Month, p.Amount, p.Before, p.After())
			}
		}
		if sum != l.Amount {
			t.Fatalf("months add up to %d, not %d", sum, l.Amount)
		}
	})
}
