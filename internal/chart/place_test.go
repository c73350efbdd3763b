package chart

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

// By hand: two at 20 part by half a gap each; two of four that lie close keep their middle; at an end they are pushed back from it.
func TestHeightsGiveWayToEachOther(t *testing.T) {
	for _, x := range []struct{ at, want []float64 }{
		{nil, nil},
		{[]float64{40}, []float64{40}},
		{[]float64{20, 50}, []float64{20, 50}},
		{[]float64{20, 34}, []float64{20, 34}},
		{[]float64{20, 20}, []float64{13, 27}},
		{[]float64{12, 40, 42, 80}, []float64{12, 34, 48, 80}},
		{[]float64{20, 20, 20}, []float64{12, 26, 40}},
		{[]float64{98, 100}, []float64{86, 100}},
		{[]float64{1}, []float64{12}},
		{[]float64{120}, []float64{100}},
	} {
		assert.Equal(t, x.want, spaced(x.at, 14, 12, 100), x.at)
	}
	assert.Equal(t, []float64{12, 26, 40}, spaced([]float64{5, 5, 5}, 14, 12, 30), "more than there is room for")
}

// However many there are, they keep their order and their gap, stay where they may be, and no other such heights are nearer to what was
// asked for than a step away.
func TestHeightsMoveAsLittleAsCanBe(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		at := rapid.SliceOfN(rapid.Float64Range(0, 400), 1, 9).Draw(t, "heights")
		slices.Sort(at)
		got := spaced(at, 14, 12, 300)
		off := func(list []float64) (sum float64) {
			for i := range list {
				sum += (list[i] - at[i]) * (list[i] - at[i])
			}
			return sum
		}
		fits := func(list []float64) bool {
			for i := range list {
				if list[i] < 12-1e-9 || list[i] > 300+1e-9 || i > 0 && list[i]-list[i-1] < 14-1e-9 {
					return false
				}
			}
			return true
		}
		assert.True(t, fits(got))
		for first := range got {
			for last := first; last < len(got); last++ {
				for _, step := range []float64{-0.5, 0.5} {
					other := slices.Clone(got)
					for i := first; i <= last; i++ {
						other[i] += step
					}
					if fits(other) {
						assert.GreaterOrEqual(t, off(other), off(got)-1e-6)
					}
				}
			}
		}
	})
}
