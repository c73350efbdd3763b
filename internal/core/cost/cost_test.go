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
// Actual: 2 February 100.10 SEK at 0.085 = 8.5085 -> 8.51 (at the plan rate 0.09 9.009 -> 9.01); 12 February 50.00; 13 February is after the date.
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
		assert.Equal(t, Figures{Original: 199990, Changes: 9000, BudgetToDate: 144996, Actual: 5851, ActualAtPlan: 5901, ForecastToGo: 111003}, a.Figures)
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
	assert.Equal(t, MissingRate{"GBP", month("2026-01"), true}, a.Missing[InBudget])
	assert.NoError(t, a.Problem(InForecast))
	assert.Zero(t, a.Budget())
}

func TestCutAtTheEndsOfAMonth(t *testing.T) {
	sunday := NewCut(on("2026-02-01"), calendar.Standard)
	assert.Equal(t, money.Amount(0), sunday.Before(month("2026-02"), 1000), "nothing worked on the first, a Sunday")
	last := NewCut(on("2026-10-30"), calendar.Standard)
	assert.Equal(t, money.Amount(1000), last.Before(month("2026-10"), 1000), "only a weekend is left")
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
