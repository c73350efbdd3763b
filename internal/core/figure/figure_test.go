package figure_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/core/health"
)

func whole(n int64) figure.Value   { return figure.Value{Known: true, N: n} }
func part(x float64) figure.Value  { return figure.Value{Known: true, Ratio: x} }
func day(y, m, d int) figure.Value { return whole(int64(calendar.On(y, m, d))) }

// Each unit as it is read and as files hold it.
func TestFiguresAreWritten(t *testing.T) {
	for _, x := range []struct {
		unit        figure.Unit
		value       figure.Value
		human, text string
	}{
		{figure.Money, whole(-1_234_567_89), "−€1,234,567.89", "-1234567.89"},
		{figure.Money, whole(0), "€0.00", "0.00"},
		{figure.Share, part(0.1305), "13.1 %", "0.130500"},
		{figure.Share, part(-0.00001), "0.0 %", "-0.000010"},
		{figure.Share, part(-0.0000001), "0.0 %", "0.000000"},
		{figure.Index, part(0.845), "0.84", "0.845000"}, // the fraction kept is a little below it
		{figure.Index, part(-0.5), "−0.50", "-0.500000"},
		{figure.Index, part(-0.001), "0.00", "-0.001000"},
		{figure.Score, part(88.25), "88.2", "88.250000"}, // half to even, as the fraction is exact
		{figure.Days, whole(7), "+7", "7"},
		{figure.Days, whole(-7), "−7", "-7"},
		{figure.Days, whole(0), "0", "0"},
		{figure.Day, day(2026, 10, 31), "31 Oct 2026", "2026-10-31"},
		{figure.Month, whole(int64(calendar.On(2026, 10, 1).Month())), "October 2026", "2026-10"},
		{figure.Count, whole(1_234), "1,234", "1234"},
		{figure.Health, whole(int64(health.Act)), health.Act.String(), health.Act.String()},
		{figure.Hours, whole(12_345_5000), "12,345.5", "12345.5"},
		{figure.Points, whole(-5000), "−0.5", "-0.5"},
		{figure.Money, figure.Value{Reason: "no budget"}, "–", ""},
	} {
		assert.Equal(t, x.human, x.value.Human(x.unit, "EUR"), "%s %+v", x.unit, x.value)
		assert.Equal(t, x.text, x.value.Text(x.unit, "EUR"), "%s %+v", x.unit, x.value)
	}
}

// A movement has its sign, one of one thing its word, and what reads as nothing no sign. Monday 2 November is one working day after
// Friday 30 October.
func TestMovementsAreWritten(t *testing.T) {
	for _, x := range []struct {
		unit     figure.Unit
		from, to figure.Value
		moved    string
	}{
		{figure.Money, whole(100_00), whole(150_00), "+€50"},
		{figure.Money, whole(150_00), whole(100_00), "−€50"},
		{figure.Share, part(0.10), part(0.15), "+5.0 %"},
		{figure.Share, part(0.15), part(0.10), "−5.0 %"},
		{figure.Share, part(0.15), part(0.15001), "0.0 %"},
		{figure.Index, part(1), part(0.8), "−0.20"},
		{figure.Index, part(0.8), part(1), "+0.20"},
		{figure.Index, part(1), part(1), "0.00"},
		{figure.Score, part(80), part(84.5), "+4.5"},
		{figure.Day, day(2026, 10, 30), day(2026, 11, 2), "+1 day"},
		{figure.Day, day(2026, 11, 2), day(2026, 10, 30), "−1 day"},
		{figure.Day, day(2026, 10, 30), day(2026, 11, 3), "+2 days"},
		{figure.Day, day(2026, 10, 30), day(2026, 10, 30), "0 days"},
		{figure.Month, whole(10), whole(11), "+1 month"},
		{figure.Hours, whole(8_0000), whole(7_5000), "−0.5"},
		{figure.Points, whole(0), whole(2_0000), "+2.0"},
		{figure.Count, whole(3), whole(5), "+2"},
		{figure.Health, whole(1), whole(2), ""},
		{figure.Count, whole(3), figure.Value{}, ""},
		{figure.Count, figure.Value{}, whole(3), ""},
	} {
		assert.Equal(t, x.moved, x.unit.Delta(x.from, x.to, "EUR", calendar.Standard), "%s %+v to %+v", x.unit, x.from, x.to)
	}
}

func ExampleValue_Human() {
	budget := figure.Value{Known: true, N: 94_840_000_00}
	unknown := figure.Value{Reason: "no budget was sent"}
	fmt.Println(budget.Human(figure.Money, "EUR"), unknown.Human(figure.Money, "EUR"))
	// Output: €94,840,000.00 –
}

func ExampleUnit_Delta() {
	cpi := figure.Value{Known: true, Ratio: 0.92}
	before := figure.Value{Known: true, Ratio: 1.04}
	fmt.Println(figure.Index.Delta(before, cpi, "EUR", calendar.Standard))
	// Output: −0.12
}
