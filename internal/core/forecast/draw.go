package forecast

import (
	"hash/fnv"
	"math"
	"sort"

	"gonum.org/v1/gonum/mathext"

	"turret/internal/core/fact"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
)

// key is what the draws of one thing hang on: what it is and its codes, so that nothing else changes them.
func key(what string, codes ...string) uint64 {
	h := fnv.New64a()
	_, _ = h.Write([]byte(what)) // never fails
	for _, c := range codes {
		_, _ = h.Write([]byte{0})
		_, _ = h.Write([]byte(c))
	}
	return h.Sum64()
}

// mix spreads a number over all 64 bits: the finishing step of SplitMix64 (Steele, Lea and Flood 2014).
func mix(x uint64) uint64 {
	x += 0x9e3779b97f4a7c15
	x = (x ^ x>>30) * 0xbf58476d1ce4e5b9
	x = (x ^ x>>27) * 0x94d049bb133111eb
	return x ^ x>>31
}

// stream is where the draws of one run begin.
func stream(seed uint64, run int) uint64 { return mix(mix(seed) ^ uint64(run)) }

// uniform is the draw of a thing in a run: at least 0 and below 1, in steps of 2^-53.
func uniform(run, key uint64) float64 { return float64(mix(mix(run^key))>>11) / (1 << 53) }

// widest is how many days apart the ends of a range may lie to be kept as a table.
const widest = 4096

// days draws working days from a range, rounded to the nearest day. Its steps are the shares of draws below each half day.
type days struct {
	schedule.Points
	triangular bool
	steps      []float64 // share of draws below each half day; nil for ranges that are too wide
}

// newDays makes a range ready to be drawn from. Low, likely and high are ascending; where they are equal every draw is that.
func newDays(r schedule.Points, triangular bool) days {
	d := days{Points: r, triangular: triangular}
	if n := int(r.High - r.Low); n <= widest {
		d.steps = make([]float64, n)
		for i := range d.steps {
			d.steps[i] = d.below(float64(r.Low) + float64(i) + 0.5)
		}
	}
	return d
}

// below is the share of draws below x: of the beta distribution on the range with the shapes 1 + 4 (likely - low) / (high - low) and
// 1 + 4 (high - likely) / (high - low), as PERT has it with a lambda of 4 (Malcolm et al. 1959), or of the triangular one.
func (d *days) below(x float64) float64 {
	low, likely, high := float64(d.Low), float64(d.Likely), float64(d.High)
	switch {
	case x <= low:
		return 0
	case x >= high:
		return 1
	case !d.triangular:
		return mathext.RegIncBeta(1+4*(likely-low)/(high-low), 1+4*(high-likely)/(high-low), (x-low)/(high-low))
	case x <= likely:
		return (x - low) * (x - low) / ((high - low) * (likely - low))
	}
	return 1 - (high-x)*(high-x)/((high-low)*(high-likely))
}

// at is the number of days for a draw from 0 to 1.
func (d *days) at(u float64) int32 {
	n := int(d.High - d.Low)
	if d.steps != nil || n == 0 {
		return d.Low + int32(sort.Search(n, func(i int) bool { return u < d.steps[i] }))
	}
	return d.Low + int32(sort.Search(n, func(i int) bool { return u < d.below(float64(d.Low)+float64(i)+0.5) }))
}

// pick draws one of a list with equal chance.
func pick(u float64, list []fact.Ratio) fact.Ratio {
	return list[min(int(u*float64(len(list))), len(list)-1)]
}

// times is a number of days times a ratio, rounded to the nearest day, half to even, and never below 0.
func times(n int32, r fact.Ratio) int32 {
	return int32(min(max(money.MulDiv(money.Amount(n), r.Num, r.Den), 0), math.MaxInt32/4))
}

// strikes reports whether something of a probability, in hundredths of a percent, happens for a draw. A probability of 0 never strikes and
// one of 10,000 always does.
func strikes(u float64, probability int64) bool { return u < float64(probability)/10_000 }
