package fact

import (
	"math"
	"math/big"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

func TestADecimalIsTheFractionItIsWrittenAs(t *testing.T) {
	assert.Equal(t, 0, Decimal(0.95).Cmp(Of(19, 20)))
	assert.Equal(t, 0, Decimal(-0.1).Cmp(Of(-1, 10)))
	assert.Equal(t, 0, Decimal(12).Cmp(Of(12, 1)))
	assert.Equal(t, 0, Decimal(0).Cmp(Of(0, 7)))
	assert.Equal(t, -1, Decimal(0.95).Cmp(Of(950_000_000_000_001, 1_000_000_000_000_000)))
	assert.False(t, Decimal(math.NaN()).Given())
	assert.False(t, Of(1, 0).Given())
}

func TestFractionsCompareAsRationalNumbers(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		some := func(name string) (int64, int64) {
			n := rapid.Int64().Draw(t, name)
			d := rapid.OneOf(rapid.Int64Range(1, 40), rapid.Int64Range(1, math.MaxInt64), rapid.Int64Range(math.MinInt64+1, -1)).Draw(t,
				name+" over")
			return n / 2, d
		}
		a, b := some("a")
		c, d := some("c")
		x, y := Of(a, b), Of(c, d)
		if want := big.NewRat(a, b).Cmp(big.NewRat(c, d)); x.Cmp(y) != want {
			t.Fatalf("%d/%d against %d/%d: %d, want %d", a, b, c, d, x.Cmp(y), want)
		}
		if x.Cmp(x) != 0 || x.Den < 1 {
			t.Fatalf("%v is not equal to itself", x)
		}
	})
}

func TestAFractionTooLongIsTheNearest(t *testing.T) {
	long := new(big.Rat).SetFrac(new(big.Int).Exp(big.NewInt(3), big.NewInt(60), nil), new(big.Int).Exp(big.NewInt(2), big.NewInt(90), nil))
	want, _ := long.Float64()
	assert.InEpsilon(t, want, Exactly(long).Float(), 1e-15)
	assert.Equal(t, Of(1, 6), Of(1, 2).Minus(Of(1, 3)))
	assert.False(t, Of(1, 2).Minus(Ratio{}).Given())
}
