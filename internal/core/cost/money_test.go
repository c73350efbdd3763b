package cost

import (
	"fmt"
	"math/big"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
)

// Budget of 1,000.00 and an approved change of 200.00; a change of 70.00 that is refused and one of 50.00 that is only asked for
// do not count. The reserve of 300.00 gives 120.00 to the works and has 30.00 posted on it: 150.00 are left.
func TestChangesAndReserveByHand(t *testing.T) {
	b := NewBuilder(euro, calendar.Standard, on("2026-02-28"))
	b.Classify(Classes{Of: []Class{Unclassed, Capital, Operating, Operating}, Reserve: []bool{false, false, false, true}})
	b.Change(Change{Code: "A", State: Approved})
	b.Change(Change{Code: "R", State: Refused, Amount: 7000, Currency: "EUR"})
	b.Change(Change{Code: "Q", State: Requested, Amount: 50_000, Currency: "SEK", From: on("2026-08-03")})
	line := func(code int32, amount money.Amount, change string) {
		b.Budget(Line{Code: code, Amount: amount, Currency: "EUR", Month: month("2026-02"), Change: change})
	}
	line(1, 100_000, "")
	line(1, 20_000, "A")
	line(1, 7_000, "R")
	line(2, 5_000, "Q")
	line(3, 30_000, "")
	line(3, -12_000, "A")
	line(1, 12_000, "A")
	line(1, 1_000, "not in the register")
	b.Post(Posting{Code: 3, Date: on("2026-02-10"), Amount: 3_000, Currency: "EUR"})
	a := b.Account()
	assert.Equal(t, []money.Amount{130_000, 21_000, 12_000}, []money.Amount{a.Original, a.Changes, a.Held})
	assert.Equal(t, Reserve{Original: 30_000, Drawn: 12_000, Spent: 3_000}, a.Reserve)
	assert.Equal(t, money.Amount(15_000), a.Reserve.Left())
	assert.Equal(t, Asked{Changes: 1, Amount: 5_000}, a.Asked, "500.00 SEK at the plan rate of August, 0.1")
	assert.Equal(t, money.Amount(133_000), a.ByClass[Capital].Budget())
	assert.Equal(t, money.Amount(18_000), a.ByClass[Operating].Budget())
}

// The same portfolio shown in kronor: an amount in kronor is itself to the öre, one in euros is divided by the plan rate, and one in
// pounds goes by both. 100.00 EUR / 0.09 = 1,111.11; 100.00 GBP x 1.2 / 0.09 = 1,333.33.
func TestAnyCurrencyToShow(t *testing.T) {
	rates := NewRates("EUR", []RateRow{{Currency: "SEK", Month: month("2026-01"), Plan: true, Rate: rate("0.09")},
		{Currency: "GBP", Month: month("2026-01"), Plan: true, Rate: rate("1.2")}})
	shown := rates.In("SEK")
	for c, want := range map[money.Currency]money.Amount{"SEK": 10_000, "EUR": 111_111, "GBP": 133_333} {
		got, row, err := shown.Planned(10_000, c, month("2026-04"))
		require.NoError(t, err)
		assert.Equal(t, want, got, c)
		assert.Equal(t, c, row.Currency)
	}
	_, _, err := shown.Actual(10_000, "EUR", month("2026-04"))
	assert.EqualError(t, err, "no month rate for SEK in 2026-04")
	assert.Same(t, rates, rates.In("EUR"))
	assert.Equal(t, []money.Currency{"EUR", "GBP", "SEK"}, shown.Known())
	yen := NewRates("EUR", []RateRow{{Currency: "JPY", Month: month("2026-01"), Plan: true, Rate: rate("0.00625")}}).In("JPY")
	got, _, err := yen.Planned(1_250, "EUR", month("2026-01"))
	require.NoError(t, err)
	assert.Equal(t, money.Amount(2_000), got, "12.50 EUR are 2,000 yen, which have no decimals")
}

// Crossing rounds half to even once, as fractions say.
func TestCrossedRatesAgreeWithFractions(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		a, b := rapid.Int64Range(1, 99_999_999).Draw(t, "a"), rapid.Int64Range(1_000, 99_999_999).Draw(t, "b")
		amount := rapid.Int64Range(-1e11, 1e11).Draw(t, "amount")
		got, err := money.Convert(money.Amount(amount), "GBP", "SEK", money.Cross(money.Rate{Digits: a, Places: 5},
			money.Rate{Digits: b, Places: 7}))
		want := even(new(big.Rat).Mul(big.NewRat(amount, 1), big.NewRat(a*100, b)))
		if err != nil || int64(got) != want {
			t.Fatalf("%d at %d/%d: %d, %v; want %d", amount, a, b, got, err, want)
		}
	})
}

// Anna costs 40.00 an hour, from May 44.00; a diver 50.00; whoever books on code 7 costs 20.00 SEK. Only Anna is billed, at 65.00.
func TestLabourByHand(t *testing.T) {
	var x Tariffs
	x.Of("anna", "", 0, Tariff{From: on("2026-05-01"), Cost: 4400, Priced: true, Currency: "EUR"})
	x.Of("anna", "", 0, Tariff{Cost: 4000, Billing: 6500, Priced: true, Billed: true, Currency: "EUR"})
	x.Of("", "diver", 0, Tariff{From: on("2026-02-01"), Cost: 5000, Priced: true, Currency: "EUR"})
	x.Of("", "", 7, Tariff{Cost: 2000, Priced: true, Currency: "SEK"})
	rates := NewRates("EUR", []RateRow{{Currency: "SEK", Month: month("2026-05"), Rate: rate("0.085")}})
	worth := func(b Booking, billing bool) string {
		a, _, err := x.Worth(b, billing, rates)
		if err != nil {
			return err.Error()
		}
		return a.Text("EUR")
	}
	assert.Equal(t, "300.00", worth(Booking{Person: "anna", Date: on("2026-04-30"), Hours: 75_000}, false))
	assert.Equal(t, "330.00", worth(Booking{Person: "anna", Date: on("2026-05-01"), Hours: 75_000}, false))
	assert.Equal(t, "487.50", worth(Booking{Person: "anna", Date: on("2026-05-01"), Hours: 75_000}, true),
		"the billing rate of before still holds")
	assert.Equal(t, "12.50", worth(Booking{Person: "ben", Role: "diver", Date: on("2026-05-04"), Hours: 2_500}, false))
	assert.Equal(t, "13.60", worth(Booking{Person: "cleo", Code: 7, Date: on("2026-05-04"), Hours: 80_000}, false), "160.00 SEK at 0.085")
	assert.Equal(t, "no hourly rate: no cost rate for ben on 2026-01-31",
		worth(Booking{Person: "ben", Role: "diver", Date: on("2026-01-31"), Hours: 1}, false))
	assert.Equal(t, "no hourly rate: no billing rate for ben on 2026-05-04",
		worth(Booking{Person: "ben", Role: "diver", Date: on("2026-05-04"), Hours: 1}, true))
}

func TestSharesMustAddUp(t *testing.T) {
	_, err := NewSharing([]Share{{Funder: "A", Percent: 6000}, {Funder: "B", Percent: 3990, From: 0}})
	assert.EqualError(t, err, "the shares of every cost centre from the beginning add up to 99.90 %, not to 100")
	s, err := NewSharing([]Share{{Funder: "A", Percent: 10_000}, {Funder: "A", Percent: 5_000, From: month("2026-03")},
		{Funder: "B", Percent: 5_000, From: month("2026-03")},
		{Funder: "C", Percent: 10_000, Centre: "900"}})
	require.NoError(t, err)
	who := func(centre, m string) (names string) {
		for _, x := range s.In(centre, month(m)) {
			names += x.Funder
		}
		return names
	}
	assert.Equal(t, []string{"A", "AB", "C", "AB"}, []string{who("100", "2026-02"), who("100", "2026-03"), who("900", "2026-03"),
		who("", "2031-01")})
}

// A third each of 100.01 per month: 33.34, 33.34, 33.33, and no cent is lost, whoever pays.
func TestBearAddsUp(t *testing.T) {
	third := []Share{{Funder: "A", Percent: 3334}, {Funder: "B", Percent: 3333}, {Funder: "C", Percent: 3333, Received: 5000,
		Currency: "EUR"}}
	for i := range third {
		third[i].Currency = "EUR"
	}
	var postings []Posting
	for i := range 7 {
		postings = append(postings, Posting{Centre: fmt.Sprint(i % 3), Date: on("2026-01-15") + calendar.Date(20*i),
			Amount: money.Amount(10_001 + 17*i), Currency: "EUR"})
	}
	forecast := []Line{{Amount: 77_777, Currency: "EUR", From: on("2026-05-20"), To: on("2026-11-03"), Profile: Bell}}
	asOf := on("2026-06-11")
	timed, err := NewTimed(nil, forecast, postings, euro, calendar.Standard, asOf, nil)
	require.NoError(t, err)
	list, err := Bear(third, timed, euro, asOf)
	require.NoError(t, err)
	b := NewBuilder(euro, calendar.Standard, asOf)
	for _, x := range postings {
		b.Post(x)
	}
	b.Forecast(forecast[0])
	a := b.Account()
	var actual, togo money.Amount
	for _, x := range list {
		actual += x.Actual
		togo += x.ToGo
		var months money.Amount
		for _, m := range x.Months {
			months += m.Part
		}
		assert.Equal(t, x.Actual, months, x.Funder)
	}
	assert.Equal(t, []money.Amount{a.Actual, a.ForecastToGo}, []money.Amount{actual, togo})
	assert.Equal(t, money.Amount(5000)-list[2].Actual, list[2].Ahead)
}

// June 2026 has 22 working days, 11 of them up to Monday the 15th: half a month's 60.00 is left for it.
func TestBudgetRunsOut(t *testing.T) {
	first, by := month("2026-03"), []money.Amount{9_000, 6_000, -1_000, 3_000}
	for _, c := range []struct {
		name                string
		asOf                string
		budget, spent, rate money.Amount
		want                string
	}{
		{"30 in June, 60 in July, 40 in August", "2026-06-15", 30_000, 17_000, 6_000, "2026-08"},
		{"just June's half", "2026-06-15", 20_000, 17_000, 6_000, "2026-06"},
		{"a cent more", "2026-06-15", 20_001, 17_000, 6_000, "2026-07"},
		{"June's half and July", "2026-06-15", 26_000, 17_000, 6_000, "2026-07"},
		{"at the month's end June takes nothing", "2026-06-30", 23_000, 17_000, 6_000, "2026-07"},
		{"spent to the cent", "2026-06-15", 17_000, 17_000, 6_000, "2026-06"},
		{"and nothing spent a month", "2026-06-15", 17_000, 17_000, 0, "2026-06"},
		{"nothing spent a month", "2026-06-15", 17_001, 17_000, 0, ""},
		{"credits", "2026-06-15", 17_001, 17_000, -5, ""},
		{"overspent: 150 are passed in the last month", "2026-06-15", 15_000, 17_000, 6_000, "2026-06"},
		{"overspent: 149.99 were in April", "2026-06-15", 14_999, 17_000, 0, "2026-04"},
		{"overspent from the first", "2026-06-15", 8_999, 17_000, 6_000, "2026-03"},
		{"in a hundred years", "2026-06-15", 100_000_000, 0, 1, ""},
	} {
		m, ok := RunsOut(c.budget, c.spent, c.rate, first, by, NewCut(on(c.asOf), calendar.Standard))
		assert.Equal(t, c.want != "", ok, c.name)
		if ok {
			assert.Equal(t, c.want, m.String(), c.name)
		}
	}
}

// Share now: from March it was A's half, from June B pays a quarter and A the rest; C pays for centre 900 alone. Rows stand in any order.
func TestTheNewestSharesAreInForce(t *testing.T) {
	list := []Share{{Funder: "B", Percent: 2_500, From: month("2026-06")}, {Funder: "A", Percent: 7_500, From: month("2026-06")},
		{Funder: "A", Percent: 5_000, From: month("2026-03")}, {Funder: "D", Percent: 5_000, From: month("2026-03")},
		{Funder: "C", Percent: 10_000, Centre: "900"}}
	s, err := NewSharing(list)
	require.NoError(t, err)
	now := func(m string) (got []int64) {
		for _, f := range []string{"A", "B", "C", "D"} {
			got = append(got, s.Now(f, month(m)))
		}
		return got
	}
	assert.Equal(t, []int64{0, 0, 10_000, 0}, now("2026-02"))
	assert.Equal(t, []int64{5_000, 0, 10_000, 5_000}, now("2026-05"))
	assert.Equal(t, []int64{7_500, 2_500, 10_000, 0}, now("2026-06"), "D pays no more")
	for i := range list {
		list[i].Currency = "EUR"
	}
	timed, err := NewTimed(nil, nil, nil, euro, calendar.Standard, on("2026-06-30"), nil)
	require.NoError(t, err)
	borne, err := Bear(list, timed, euro, on("2026-06-30"))
	require.NoError(t, err)
	assert.Equal(t, int64(7_500), borne[1].Percent)
}

// Five hours taken back at 40.00 are 200.00 less; a missing billing rate leaves the cost as it is, and the other way round.
func TestHoursTakenBackAndRatesOfOneKind(t *testing.T) {
	var tariffs Tariffs
	tariffs.Of("amy", "", 0, Tariff{Cost: 4_000, Priced: true, Currency: "EUR"})
	tariffs.Of("ben", "", 0, Tariff{Billing: 9_000, Billed: true, Currency: "EUR"})
	tariffs.Of("", "", 3, Tariff{Cost: 1_000, Priced: true, Billing: 2_000, Billed: true, Currency: "EUR"})
	account := func(list ...Booking) Account {
		b := NewBuilder(euro, calendar.Standard, on("2026-06-15"))
		for _, x := range list {
			x.Date, x.Billable = on("2026-06-15"), true
			b.Book(x, &tariffs)
		}
		return b.Account()
	}
	a := account(Booking{Person: "amy", Code: -1, Hours: 80_000}, Booking{Person: "amy", Code: -1, Hours: -50_000})
	assert.Equal(t, Labour{Hours: 30_000, Cost: 12_000, Rows: 2}, a.Labour)
	assert.NoError(t, a.Gap(InLabour, nil))
	assert.ErrorIs(t, a.Gap(InBilling, nil), ErrNoTariff)
	a = account(Booking{Person: "ben", Code: -1, Hours: 10_000})
	assert.Equal(t, money.Amount(9_000), a.Labour.Billable)
	assert.ErrorIs(t, a.Gap(InLabour, nil), ErrNoTariff)
	assert.NoError(t, a.Gap(InBilling, nil))
	a = account(Booking{Person: "cid", Code: 3, Hours: 10_000})
	assert.Equal(t, Labour{Hours: 10_000, Cost: 1_000, Billable: 2_000, Rows: 1}, a.Labour, "the cost code that the timesheet names")
	a = account(Booking{Person: "cid", Code: -1, Hours: 1})
	assert.Error(t, a.Gap(InLabour, nil))
}

// Spent 90, 60 and 30 in the last three months: 60 a month.
func TestRunRateAndYearByHand(t *testing.T) {
	b := NewBuilder(euro, calendar.Standard, on("2026-06-15"))
	for m, a := range map[string]money.Amount{"2025-12": 1000, "2026-03": 9000, "2026-04": 6000, "2026-05": 3000, "2026-06": 500} {
		b.Post(Posting{Date: on(m + "-10"), Amount: a, Currency: "EUR"})
	}
	b.Forecast(Line{Amount: 4000, Currency: "EUR", Month: month("2026-12")})
	b.Forecast(Line{Amount: 8000, Currency: "EUR", Month: month("2027-01")})
	b.Budget(Line{Amount: 25000, Currency: "EUR", Month: month("2026-05")})
	b.Budget(Line{Amount: 7000, Currency: "EUR", Month: month("2025-11")})
	a := b.Account()
	assert.Equal(t, money.Amount(6000), a.RunRate(on("2026-06-15")), "June is not over")
	y := a.Year(YearOf(on("2026-06-15"), 1))
	assert.Equal(t, Year{Budget: 25000, Actual: 18500, ToGo: 4000, BudgetBefore: 7000, ActualBefore: 1000, ToGoAfter: 8000}, y)
	assert.Equal(t, money.Amount(2500), y.CarryOver())
	assert.Equal(t, month("2026-04"), YearOf(on("2027-03-31"), 4))
	assert.Equal(t, month("2027-04"), YearOf(on("2027-04-01"), 4))
}

// As of January 100 a month were expected for February to April. February and March cost 130 and 70, and 20 came unplanned from
// another line. Since then April is seen at 140 (40 moved there: March left 30 of it), a new line brings 55, an old one of 25 is dropped.
func TestBridgeByHand(t *testing.T) {
	line := func(code int32, m string, a money.Amount) Line {
		return Line{Code: code, Amount: a, Currency: "EUR", Month: month(m)}
	}
	post := func(code int32, day string, a money.Amount) Posting {
		return Posting{Code: code, Date: on(day), Amount: a, Currency: "EUR"}
	}
	was := Stand{AsOf: on("2026-01-31"), Forecast: []Line{line(1, "2026-02", 100), line(1, "2026-03", 100), line(1, "2026-04", 100),
		line(2, "2026-05", 25)},
		Postings: []Posting{post(1, "2026-01-10", 500)}}
	now := Stand{AsOf: on("2026-03-31"), Forecast: []Line{line(1, "2026-04", 140), line(3, "2026-06", 55)},
		Postings: []Posting{post(1, "2026-01-10", 500), post(1, "2026-02-10", 100), post(1, "2026-03-10", 70), post(4, "2026-03-11", 20)}}
	b, err := NewBridge(was, now, euro, calendar.Standard)
	require.NoError(t, err)
	assert.Equal(t, Bridge{From: 825, To: 885, Actuals: 20, Added: 55, Taken: -25, Amounts: 10, Moved: 30}, *b)
}

// Whatever the lines, the causes add up, and the rate's part is what the postings differ by.
func TestBridgeAddsUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		first := month("2026-01")
		var rows []RateRow
		for m := first; m < first+24; m++ {
			rows = append(rows, RateRow{Currency: "SEK", Month: m, Rate: money.Rate{Digits: rapid.Int64Range(500, 1500).Draw(t, "rate"),
				Places: 4}})
		}
		rows = append(rows, RateRow{Currency: "SEK", Month: first, Plan: true, Rate: rate("0.1")})
		rates := NewRates("EUR", rows)
		some := func() (list []Line) {
			for range rapid.IntRange(0, 12).Draw(t, "lines") {
				list = append(list, Line{Code: int32(rapid.IntRange(0, 3).Draw(t, "code")),
					Amount:   money.Amount(rapid.Int64Range(-1e6, 1e7).Draw(t, "amount")),
					Currency: rapid.SampledFrom([]money.Currency{"EUR", "SEK"}).Draw(t, "currency"), Month: first +
						calendar.Month(rapid.IntRange(0, 20).Draw(t, "month"))})
			}
			return list
		}
		var ledger []Posting
		for range rapid.IntRange(0, 20).Draw(t, "postings") {
			ledger = append(ledger, Posting{Code: int32(rapid.IntRange(0, 3).Draw(t, "code")),
				Amount:   money.Amount(rapid.Int64Range(-1e6, 1e7).Draw(t, "amount")),
				Currency: rapid.SampledFrom([]money.Currency{"EUR", "SEK"}).Draw(t, "currency"), Date: on("2026-01-01") +
					calendar.Date(rapid.IntRange(0, 600).Draw(t, "day"))})
		}
		was := Stand{some(), ledger, on("2026-01-01") + calendar.Date(rapid.IntRange(0, 300).Draw(t, "was"))}
		now := Stand{some(), ledger, was.AsOf + calendar.Date(rapid.IntRange(0, 300).Draw(t, "now"))}
		b, err := NewBridge(was, now, rates, calendar.Standard)
		if err != nil {
			t.Fatal(err)
		}
		total := func(s Stand) (estimate, byRate money.Amount) {
			x := NewBuilder(rates, calendar.Standard, s.AsOf)
			for _, l := range s.Forecast {
				x.Forecast(l)
			}
			for _, p := range s.Postings {
				x.Post(p)
			}
			a := x.Account()
			return a.Actual + a.ForecastToGo, a.Actual - a.ActualAtPlan
		}
		from, rateWas := total(was)
		to, rateNow := total(now)
		if b.From != from || b.To != to || b.Rate != rateNow-rateWas {
			t.Fatalf("%+v; want from %d to %d, rate %d", *b, from, to, rateNow-rateWas)
		}
		if b.From+b.Actuals+b.Added+b.Taken+b.Amounts+b.Rate != b.To {
			t.Fatalf("causes do not add up: %+v", *b)
		}
	})
}

// A sheet holds what its lines hold: by row, by month and in all, also where amounts are spread over spans.
func TestSheetAddsUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		s := NewSheet(euro, calendar.Standard, on("2026-06-30"))
		var lines []Line
		var want money.Amount
		for range rapid.IntRange(1, 20).Draw(t, "lines") {
			l := Line{Code: int32(rapid.IntRange(0, 3).Draw(t, "code")),
				Amount: money.Amount(rapid.Int64Range(-1e9, 1e9).Draw(t, "amount")), Currency: "EUR",
				Centre: rapid.SampledFrom([]string{"", "100", "200"}).Draw(t, "centre")}
			if l.From = on("2026-01-01") + calendar.Date(rapid.IntRange(0, 700).Draw(t, "from")); rapid.Bool().Draw(t, "spread") {
				l.To, l.Profile = l.From+calendar.Date(rapid.IntRange(0, 400).Draw(t, "days")),
					Profile(rapid.IntRange(0, 3).Draw(t, "profile"))
			} else {
				l.Month, l.From = l.From.Month(), 0
			}
			lines = append(lines, l)
			want += l.Amount
		}
		s.Lines(ForecastRow, lines)
		s.Sort()
		var rows, months money.Amount
		for i := range s.Rows {
			own, a := s.Rows[i].Total()
			if own != a {
				t.Fatalf("row %d: %d in euros is %d", i, own, a)
			}
			rows += own
		}
		for m := range s.Months() {
			for i := range s.Rows {
				months += s.Rows[i].Amounts[m]
			}
		}
		if rows != want || months != want {
			t.Fatalf("rows %d, months %d, lines %d", rows, months, want)
		}
		if d := Differences(s, s); len(d) != 0 {
			t.Fatalf("a sheet differs from itself: %+v", d)
		}
		other := NewSheet(euro, calendar.Standard, on("2026-06-30"))
		other.Lines(ForecastRow, lines[1:])
		var by money.Amount
		for _, d := range Differences(s, other) {
			by += d.By
		}
		if by != -lines[0].Amount {
			t.Fatalf("without %d the differences add up to %d", lines[0].Amount, by)
		}
	})
}
