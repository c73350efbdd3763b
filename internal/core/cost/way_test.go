package cost

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
)

// Code 1 is stone, codes 2 and 3 are labour.
var staffed = Classes{Of: make([]Class, 4), Labour: []bool{false, false, true, true}}

// worked is a project whose ledger has 500.00 of stone and 300.00 of labour in January, whose forecast has 100.00 of labour in each of
// January, February and March and 40.00 of stone in January, and on which hours were booked.
func worked(w Way, asOf string, hours ...Booking) Account {
	b := NewBuilder(euro, calendar.Standard, on(asOf))
	b.Classify(staffed)
	b.By(w)
	for _, m := range []string{"2026-01", "2026-02", "2026-03"} {
		b.Forecast(Line{Code: 2, Amount: 10_000, Currency: "EUR", Month: month(m)})
	}
	b.Forecast(Line{Code: 1, Amount: 4_000, Currency: "EUR", Month: month("2026-01")})
	b.Post(Posting{Code: 1, Date: on("2026-01-12"), Amount: 50_000, Currency: "EUR"})
	b.Post(Posting{Code: 3, Date: on("2026-01-13"), Amount: 30_000, Currency: "EUR"})
	for _, h := range hours {
		b.Book(h, hourly())
	}
	return b.Account()
}

// Where nobody says what an hour costs, nothing tells who bears it; the reason is that rate and no exchange rate.
func TestNobodyBearsAnHourWithoutARate(t *testing.T) {
	posted := hourly().Posting(&Booking{Person: "nobody", Code: -1, Date: on("2026-03-02"), Hours: HourUnits}, &Classes{})
	_, err := NewTimed(nil, nil, []Posting{posted}, euro, calendar.Standard, on("2026-03-31"), nil)
	require.ErrorIs(t, err, ErrNoTariff)
	assert.ErrorContains(t, err, "nobody")
	later, err := NewTimed(nil, nil, []Posting{posted}, euro, calendar.Standard, on("2026-03-01"), nil)
	require.NoError(t, err, "it has not been worked by then")
	assert.NotNil(t, later)
}

// hourly has an hour of ana at 20.00 EUR, of a mason at 250.50 SEK, and of nobody else.
func hourly() *Tariffs {
	t := &Tariffs{}
	t.Of("ana", "", -1, Tariff{Cost: 2_000, Currency: "EUR", Priced: true})
	t.Of("", "mason", -1, Tariff{Cost: 25_050, Currency: "SEK", Priced: true})
	return t
}

func booked(person, role, day string, hours int64, code int32) Booking {
	return Booking{Person: person, Role: role, Date: on(day), Hours: hours, Code: code}
}

func TestLabourFromTheLedger(t *testing.T) {
	a := worked(Ledger, "2026-02-13", booked("ana", "", "2026-01-14", 8*HourUnits, -1))
	assert.Equal(t, money.Amount(80_000), a.Actual, "hours are no part of it")
	assert.Equal(t, money.Amount(16_000), a.Labour.Cost)
	assert.Equal(t, 2, a.Postings)
	assert.Zero(t, a.Labour.Aside)
}

// 8 h less 1.5 h taken back at 20.00 are 130.00; 0.25 h at 250.50 SEK are 62.62 SEK (half to even), at 0.085 in February 5.32 EUR.
// The posting of 300.00 on labour is not counted beside them.
func TestLabourFromTimesheets(t *testing.T) {
	const sek = money.Amount(532)
	a := worked(Timesheets, "2026-02-13", booked("ana", "", "2026-01-14", 8*HourUnits, -1), booked("ana", "", "2026-02-13", -15_000, 3),
		booked("kim", "mason", "2026-02-10", 2_500, 1), booked("ana", "", "2026-02-14", 8*HourUnits, -1))
	assert.Equal(t, 50_000+13_000+sek, a.Actual)
	assert.Equal(t, 1, a.Labour.Aside)
	assert.Equal(t, 4, a.Postings, "one of stone, three of hours up to the day")
	by := map[int32]money.Amount{}
	for _, c := range a.ByCode {
		by[c.Code] = c.Actual
	}
	assert.Equal(t, map[int32]money.Amount{1: 50_000 + sek, 2: 16_000, 3: -3_000}, by,
		"hours stand on the code they name, else on the first of labour")
	assert.Equal(t, []money.Amount{50_000 + 16_000, -3_000 + sek, 0}, a.ActualBy)
	assert.Equal(t, money.Amount(10_000+5_000), a.ForecastToGo, "what is to go is as it was")
}

func TestAnHourWithoutARateLeavesActualCostUndefined(t *testing.T) {
	a := worked(Timesheets, "2026-02-13", booked("joe", "", "2026-01-14", 8*HourUnits, -1))
	assert.EqualError(t, a.Problem(InActual), "no hourly rate: no cost rate for joe on 2026-01-14")
	a = worked(Ledger, "2026-02-13", booked("joe", "", "2026-01-14", 8*HourUnits, -1))
	require.NoError(t, a.Problem(InActual), "where hours are no part of it, they undo nothing")
	require.Error(t, a.Problem(InLabour))
	a = worked(AsPlanned, "2026-02-13", booked("joe", "", "2026-01-14", 8*HourUnits, -1))
	require.NoError(t, a.Problem(InActual))
}

// On 27 February, a Friday, February has a day left, though no working one: it has passed at its end.
func TestLabourAsPlanned(t *testing.T) {
	for day, want := range map[string]money.Amount{"2026-01-30": 50_000, "2026-01-31": 60_000, "2026-02-27": 60_000, "2026-02-28": 70_000} {
		assert.Equal(t, want, worked(AsPlanned, day, booked("ana", "", "2026-01-14", 8*HourUnits, -1)).Actual, day)
	}
	b := NewBuilder(euro, calendar.Standard, on("2026-02-28"))
	b.Classify(staffed)
	b.By(AsPlanned)
	b.Forecast(Line{Code: 3, Amount: 30_000, Currency: "EUR", From: on("2026-02-26"), To: on("2026-03-05"), Profile: Even})
	a := b.Account()
	assert.Equal(t, money.Amount(10_000), a.Actual, "two of its six working days lie in February")
	assert.Equal(t, money.Amount(20_000), a.ForecastToGo)
}

func TestWithoutCodesOfLabour(t *testing.T) {
	b := NewBuilder(euro, calendar.Standard, on("2026-02-28"))
	b.By(Timesheets)
	b.Post(Posting{Code: 3, Date: on("2026-01-13"), Amount: 30_000, Currency: "EUR"})
	b.Book(booked("ana", "", "2026-01-14", HourUnits, -1), hourly())
	a := b.Account()
	assert.Equal(t, money.Amount(32_000), a.Actual)
	assert.Equal(t, int32(0), a.ByCode[0].Code, "on no code")
	b.By(AsPlanned)
	b.Forecast(Line{Code: 3, Amount: 30_000, Currency: "EUR", Month: month("2026-01")})
	assert.Zero(t, b.Account().Actual)
}

// What a trace lists adds up to what was counted.
func TestRecordsCountedAddUp(t *testing.T) {
	hours := []Booking{booked("ana", "", "2026-01-14", 8*HourUnits, -1), booked("joe", "", "2026-01-14", HourUnits, 1)}
	r := Records{Bookings: hours, Ledger: []Posting{{Code: 1, Date: on("2026-01-12"), Amount: 50_000, Currency: "EUR"},
		{Code: 3, Date: on("2026-01-13"), Amount: 30_000, Currency: "EUR"}},
		Forecast: []Line{{Code: 2, Amount: 10_000, Currency: "EUR", Month: month("2026-01")}}}
	for w, want := range map[Way][]money.Amount{Ledger: {50_000, 30_000}, Timesheets: {50_000, 16_000, 0}, AsPlanned: {50_000, 10_000}} {
		var got []money.Amount
		list := r.Counted(w, &staffed, hourly(), calendar.Standard, on("2026-02-13"))
		for i := range list {
			got = append(got, list[i].Amount)
		}
		assert.Equal(t, want, got, w)
	}
	for _, w := range []Way{Ledger, Timesheets, AsPlanned} {
		assert.Equal(t, w, ParseWay(w.String()))
	}
	assert.Equal(t, Ledger, ParseWay(""))
}
