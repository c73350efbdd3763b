package write

import (
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestWhole(t *testing.T) {
	for n, want := range map[int64]string{0: "0", 7: "7", -7: "−7", 999: "999", 1000: "1,000", -1000: "−1,000", 1234567: "1,234,567",
		math.MaxInt64: "9,223,372,036,854,775,807", math.MinInt64: "−9,223,372,036,854,775,808"} {
		assert.Equal(t, want, Whole(n))
	}
	assert.Equal(t, []string{"+1,000", "0", "−3"}, []string{Signed(1000), Signed(0), Signed(-3)})
}

func TestDecimal(t *testing.T) {
	for _, c := range []struct {
		n      int64
		places int
		want   string
		trim   string
	}{
		{0, 0, "0", "0"}, {0, 2, "0.00", "0"}, {5, 2, "0.05", "0.05"}, {-5, 2, "−0.05", "−0.05"}, {123450, 2, "1,234.50", "1,234.5"},
		{100000000, 4, "10,000.0000", "10,000"}, {1000, 0, "1,000", "1,000"}, {12500, 4, "1.2500", "1.25"},
		{math.MinInt64, 2, "−92,233,720,368,547,758.08", "−92,233,720,368,547,758.08"},
	} {
		assert.Equal(t, c.want, Decimal(c.n, c.places))
		assert.Equal(t, c.trim, Trimmed(c.n, c.places), "a whole number keeps its zeros")
	}
}

// What rounds to nothing has no sign, whichever side it comes from.
func TestFloat(t *testing.T) {
	for _, c := range []struct {
		x            float64
		places       int
		want, signed string
	}{
		{0, 1, "0.0", "0.0"}, {0.04, 1, "0.0", "0.0"}, {-0.04, 1, "0.0", "0.0"}, {-0.06, 1, "−0.1", "−0.1"}, {13.14, 1, "13.1", "+13.1"},
		{1234.5, 0, "1,234", "+1,234"}, {1235.5, 0, "1,236", "+1,236"}, {-98765.432, 2, "−98,765.43", "−98,765.43"},
		{math.Copysign(0, -1), 2, "0.00", "0.00"}, {1e21, 0, "1000000000000000000000", "+1000000000000000000000"},
	} {
		assert.Equal(t, c.want, Float(c.x, c.places))
		assert.Equal(t, c.signed, SignedFloat(c.x, c.places))
	}
	assert.Equal(t, []string{"13.1 %", "−13.1 %", "13 %", "0 %", "1,250.0 %"},
		[]string{Percent(0.1309, 1), Percent(-0.1309, 1), Percent(0.1309, 0), Percent(-0.004, 0), Percent(12.5, 1)})
}

func TestSigned(t *testing.T) {
	assert.Equal(t, []string{"+1,234.5", "−1,234.5", "0.0"}, []string{SignedDecimal(12345, 1), SignedDecimal(-12345, 1), SignedDecimal(0,
		1)})
	assert.Equal(t, []string{"+€5", "€0", "−€5"}, []string{Gain(500, "€5"), Gain(30, "€0"), Gain(-500, "−€5")})
}

func TestTrimmedPercent(t *testing.T) {
	assert.Equal(t, []string{"87 %", "87.5 %", "100 %", "0 %", "−20 %"}, []string{TrimmedPercent(0.87, 1), TrimmedPercent(0.875, 1),
		TrimmedPercent(1, 1), TrimmedPercent(-0.0001, 1), TrimmedPercent(-0.2, 1)})
}

func TestMoney(t *testing.T) {
	assert.Equal(t, []string{"€1,234.50", "−€0.05", "€0.00", "¥1,000", "CHF 1.00"},
		[]string{Money("€", 123450, 2), Money("€", -5, 2), Money("€", 0, 2), Money("¥", 1000, 0), Money("CHF ", 100, 2)})
}

func TestCount(t *testing.T) {
	assert.Equal(t, []string{"0 projects", "1 project", "−1 project", "1,200 projects"},
		[]string{Count(0, "project", "projects"), Count(1, "project", "projects"), Count(-1, "project", "projects"),
			Count(1200, "project", "projects")})
	assert.Equal(t, []string{"+1 day", "−2 days", "0 days"},
		[]string{SignedCount(1, "day", "days"), SignedCount(-2, "day", "days"), SignedCount(0, "day", "days")})
	assert.Equal(t, []string{"1 working day", "38 working days"}, []string{Days(1), Days(int64(38))})
}

func TestList(t *testing.T) {
	assert.Equal(t, []string{"", "a", "a and b", "a, b and c"},
		[]string{List(nil), List([]string{"a"}), List([]string{"a", "b"}), List([]string{"a", "b", "c"})})
}

func TestCapital(t *testing.T) {
	for text, want := range map[string]string{"": "", "one": "One", "ēl pass": "Ēl pass", "€10 came": "€10 came", "B": "B"} {
		assert.Equal(t, want, Capital(text))
	}
}

func TestWithin(t *testing.T) {
	for text, want := range map[string]string{"": "", "Cost index": "cost index", "Ēl pass": "ēl pass", "A week": "a week",
		"NPV at risk": "NPV at risk", "S-curve": "S-curve", "€10 came": "€10 came", "B": "B", "small": "small", "2 Days": "2 Days"} {
		assert.Equal(t, want, Within(text))
	}
}

func TestJoined(t *testing.T) {
	for want, texts := range map[string][]string{"": {"", ""}, "a": {"", "a", ""}, "a, b": {"a", "", "b"}} {
		given := slices.Clone(texts)
		assert.Equal(t, want, Joined(", ", texts...))
		assert.Equal(t, given, texts)
	}
}
