package cost

import (
	"math/big"
	"testing"

	"pgregory.net/rapid"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
)

// even rounds a fraction half to even, the slow way.
func even(r *big.Rat) int64 {
	twice := new(big.Rat).Mul(r, big.NewRat(2, 1))
	floor := new(big.Int).Div(twice.Num(), twice.Denom()) // floor of twice the value
	half, odd := new(big.Int).DivMod(floor, big.NewInt(2), new(big.Int))
	if odd.Sign() == 0 {
		return half.Int64() // fraction below one half
	}
	exact := twice.IsInt()
	if !exact || half.Bit(0) == 1 {
		return half.Int64() + 1
	}
	return half.Int64()
}

func TestEvenItself(t *testing.T) {
	for _, c := range []struct{ num, den, want int64 }{{5, 2, 2}, {7, 2, 4}, {-5, 2, -2}, {-7, 2, -4}, {26, 10, 3}, {24, 10, 2},
		{-26, 10, -3}, {4, 1, 4}} {
		if got := even(big.NewRat(c.num, c.den)); got != c.want {
			t.Errorf("%d/%d: got %d, want %d", c.num, c.den, got, c.want)
		}
	}
}

// workdays counts Monday to Friday by looking at each day.
func workdays(from, to calendar.Date) (n int64) {
	for d := from; d <= to; d++ {
		if d.Weekday() < 5 {
			n++
		}
	}
	return n
}

// A plain version with fractions and day-by-day counting is the reference for whole accounts of monthly lines and postings
// in two currencies, as of any day.
func TestAccountAgreesWithThePlainVersion(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		first := calendar.On(2026, 1, 1).Month()
		var rows []RateRow
		rates := map[calendar.Month]int64{}
		for m := first; m < first+12; m++ {
			rates[m] = rapid.Int64Range(1, 99_999).Draw(t, "rate")
			rows = append(rows, RateRow{Currency: "SEK", Month: m, Rate: money.Rate{Digits: rates[m], Places: 5}})
		}
		plan := rapid.Int64Range(1, 99_999).Draw(t, "plan")
		rows = append(rows, RateRow{Currency: "SEK", Month: first, Plan: true, Rate: money.Rate{Digits: plan, Places: 5}})
		asOf := calendar.On(2026, 1, 1) + calendar.Date(rapid.IntRange(0, 364).Draw(t, "as of"))
		b := NewBuilder(NewRates("EUR", rows), calendar.Standard, asOf)

		convert := func(a, rate int64, c money.Currency) int64 {
			if c == "EUR" {
				return a
			}
			return even(big.NewRat(a, 1).Mul(big.NewRat(a, 1), big.NewRat(rate, 100_000)))
		}
		before := func(m calendar.Month, a int64) int64 {
			switch {
			case m.Last() <= asOf:
				return a
			case m.First() > asOf:
				return 0
			}
			return even(new(big.Rat).Mul(big.NewRat(a, 1), big.NewRat(workdays(m.First(), asOf), workdays(m.First(), m.Last()))))
		}
		var want Figures
		for range rapid.IntRange(0, 25).Draw(t, "rows") {
			c := rapid.SampledFrom([]money.Currency{"EUR", "SEK"}).Draw(t, "currency")
			a := rapid.Int64Range(-1e10, 1e10).Draw(t, "amount")
			m := first + calendar.Month(rapid.IntRange(0, 11).Draw(t, "month"))
			code := int32(rapid.IntRange(0, 4).Draw(t, "code"))
			line := Line{Code: code, Amount: money.Amount(a), Currency: c, Month: m}
			planned := convert(a, plan, c)
			switch rapid.IntRange(0, 3).Draw(t, "kind") {
			case 0:
				b.Budget(line)
				want.Original += money.Amount(planned)
				want.BudgetToDate += money.Amount(before(m, planned))
			case 1:
				line.Change = "C"
				b.Budget(line)
				want.Changes += money.Amount(planned)
				want.BudgetToDate += money.Amount(before(m, planned))
			case 2:
				b.Forecast(line)
				want.ForecastToGo += money.Amount(planned - before(m, planned))
			case 3:
				day := m.First() + calendar.Date(rapid.IntRange(0, 27).Draw(t, "day"))
				b.Post(Posting{Code: code, Date: day, Amount: money.Amount(a), Currency: c})
				if day <= asOf {
					want.Actual += money.Amount(convert(a, rates[m], c))
					want.ActualAtPlan += money.Amount(planned)
				}
			}
		}
		got := b.Account()
		if got.Figures != want {
			t.Fatalf("as of %s: got %+v, want %+v", asOf, got.Figures, want)
		}
		var codes Figures
		for _, c := range got.ByCode {
			codes = codes.Add(c.Figures)
		}
		var months Figures
		for i := range got.BudgetBy {
			months.Original += got.BudgetBy[i]
			months.Actual += got.ActualBy[i]
			months.ForecastToGo += got.ForecastBy[i]
		}
		if codes != want || months.Original != want.Budget() || months.Actual != want.Actual || months.ForecastToGo != want.ForecastToGo {
			t.Fatalf("codes %+v and months %+v do not add up to %+v", codes, months, want)
		}
	})
}
