package money

import (
	"fmt"
	"math/big"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func ExampleSplit() {
	fmt.Println(Split(10000, []int64{1, 1, 1}))
	fmt.Println(Split(-5, []int64{2, 1}))
	// Output:
	// [3334 3333 3333]
	// [-3 -2]
}

func TestParse(t *testing.T) {
	good := map[string]Amount{"1234.50": 123450, "-0.05": -5, "+7": 700, ".5": 50, "3.": 300, "1.500": 150}
	for s, want := range good {
		got, err := Parse(s, "EUR")
		require.NoError(t, err, s)
		assert.Equal(t, want, got, s)
	}
	for _, s := range []string{"", "-", ".", "1.234,50", "1,5", "1.234", "1e3", "0x10", "٣", "12 000", "1..2", "--1"} {
		_, err := Parse(s, "EUR")
		assert.ErrorIs(t, err, ErrAmount, s)
	}
	for _, s := range []string{"100000000000.01", "99999999999999999999", "100000000000000"} {
		_, err := Parse(s, "EUR")
		assert.ErrorIs(t, err, ErrRange, s)
	}
	yen, err := Parse("1500", "JPY")
	require.NoError(t, err)
	assert.Equal(t, "1500", yen.Text("JPY"))
	_, err = Parse("1500.5", "JPY")
	assert.ErrorIs(t, err, ErrAmount, "a yen has no parts")
}

func TestWriting(t *testing.T) {
	assert.Equal(t, "-0.05", Amount(-5).Text("EUR"))
	assert.Equal(t, "−€1,234,567.80", Amount(-123456780).Human("EUR"))
	for a, want := range map[Amount]string{1360000000: "€13.60 M", 18640000000: "€186.4 M", 84000000: "€840 k",
		31200: "€312", 99950: "€1,000", -178000000: "−€1.78 M"} {
		assert.Equal(t, want, a.Short("EUR"))
	}
	assert.Equal(t, []string{"+€840 k", "−€840 k", "€0"}, []string{Amount(84000000).Gain("EUR"), Amount(-84000000).Gain("EUR"),
		Amount(0).Gain("EUR")})
	for a, want := range map[Amount]string{30: "€0", 50: "€0", 51: "+€1", -30: "€0", -50: "€0", -51: "−€1", 150: "+€2", 250: "+€2",
		-250: "−€2"} {
		assert.Equal(t, want, a.Gain("EUR"), "%d cents: half goes to the even, and nothing has no sign", a)
	}
}

// By hand: 100.00 SEK at 0.0871 is 8.71; 0.50 at 0.01 is half a cent and goes to the even 0, 1.50 to the even 2.
func TestConvertRoundsHalfToEven(t *testing.T) {
	for _, c := range []struct {
		amount   Amount
		from, to Currency
		rate     string
		want     Amount
	}{
		{10000, "SEK", "EUR", "0.0871", 871},
		{50, "SEK", "EUR", "0.01", 0},
		{150, "SEK", "EUR", "0.01", 2},
		{-150, "SEK", "EUR", "0.01", -2},
		{1000, "JPY", "EUR", "0.006125", 612}, // 6.125 EUR, half to even
		{100, "EUR", "JPY", "163.5", 164},     // 163.5 yen, half to even
	} {
		rate, err := ParseRate(c.rate)
		require.NoError(t, err)
		got, err := Convert(c.amount, c.from, c.to, rate)
		require.NoError(t, err)
		assert.Equal(t, c.want, got, "%d %s at %s", c.amount, c.from, c.rate)
		assert.Equal(t, rate, NewRate(rate.Units()))
	}
	_, err := ParseRate("0")
	assert.ErrorIs(t, err, ErrRange)
}

func TestSplitAddsUpAndStaysWithinOneUnit(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		a := Amount(rapid.Int64Range(-int64(MaxAmount), int64(MaxAmount)).Draw(t, "amount"))
		w := rapid.SliceOfN(rapid.Int64Range(0, 1_000_000_000), 1, 40).Draw(t, "weights")
		total := int64(0)
		for _, x := range w {
			total += x
		}
		var sum Amount
		for i, p := range Split(a, w) {
			sum += p
			if total == 0 {
				continue
			}
			exact := new(big.Rat).Mul(big.NewRat(int64(a), 1), big.NewRat(w[i], total))
			diff := new(big.Rat).Sub(exact, big.NewRat(int64(p), 1))
			if diff.Abs(diff).Cmp(big.NewRat(1, 1)) >= 0 {
				t.Fatalf("part %d is %d, exactly %s", i, p, exact.FloatString(3))
			}
		}
		if sum != a {
			t.Fatalf("parts add up to %d, not %d", sum, a)
		}
	})
}

// Exact rational arithmetic is the reference for proportions.
func TestMulDivAgreesWithBigNumbers(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		a := rapid.Int64Range(-1e13, 1e13).Draw(t, "a")
		den := rapid.Int64Range(1, 1e6).Draw(t, "den")
		num := rapid.Int64Range(-den, den).Draw(t, "num")
		product := new(big.Int).Mul(big.NewInt(a), big.NewInt(num))
		q, r := new(big.Int).DivMod(product, big.NewInt(den), new(big.Int))
		switch r.Lsh(r, 1).Cmp(big.NewInt(den)) {
		case 1:
			q.Add(q, big.NewInt(1))
		case 0:
			if q.Bit(0) == 1 {
				q.Add(q, big.NewInt(1))
			}
		}
		if got := MulDiv(Amount(a), num, den); int64(got) != q.Int64() {
			t.Fatalf("got %d, want %s", got, q)
		}
		if got := MulDiv(Amount(a), -num, -den); int64(got) != q.Int64() {
			t.Fatalf("with both signs turned %d, want %s", got, q)
		}
	})
}
