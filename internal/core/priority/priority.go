// Package priority scores and ranks what competes for money: weighted criteria of value and effort, how steady each rank is, and how goals
// are
// served.
//
// A score is a weighted mean of utilities (simple additive weighting): each rating on its scale from 0 for the worst to 1 for the best. It
// is computed exactly: in floating point first, and in whole fractions where that is too near to the middle between two scores. A rank's
// stability is told by the corners of a box about the weights, since a weighted mean takes its extremes there.
package priority

import (
	"cmp"
	"math"
	"math/big"
	"slices"

	"turret/internal/core/fact"
)

// Micro is the unit of a score: a millionth of a point, of which a score has 0 to 100.
const Micro = 1_000_000

// Criterion is what is weighed, in ten-thousandths. High is above Low. The scale is 0 to 5 unless it says otherwise; a weight of 0 weighs
// nothing.
type Criterion struct {
	Code, Name string
	Weight     int64 // 0 or more
	Effort     bool  // less is better
	Low, High  int64 // the ends of its scale
}

// Candidate is what is ranked, with a rating for each criterion; one that is not given does not count. Ratings are within the scale.
type Candidate struct {
	Code    string
	Ratings []fact.Ratio // by criterion; none where not rated
}

// Ranked is a candidate with its score and rank. Without any rating that weighs something it has neither.
type Ranked struct {
	Code      string
	Scored    bool  // it has a rating that weighs something
	Score     int64 // in Micro, rounded half to even
	Rank      int   // dense: as many ranks as scores
	Low, High int   // the best and the worst rank over the corners of the weights
}

// Stability says how ranks were held against other weights.
type Stability struct {
	Corners int  // that were tried
	Sampled bool // only some of the corners were tried
}

// MostCriteria is up to how many criteria that weigh something all corners are tried.
const MostCriteria = 12

// Clamp keeps a rating within a scale.
func (c *Criterion) Clamp(r fact.Ratio) fact.Ratio {
	low, high := fact.Ratio{Num: c.Low, Den: scale}, fact.Ratio{Num: c.High, Den: scale}
	switch {
	case r.Cmp(low) < 0:
		return low
	case r.Cmp(high) > 0:
		return high
	}
	return r
}

const scale = 10_000

// share is how good a rating is, from 0 to 1.
func (c *Criterion) share(r fact.Ratio) *big.Rat {
	u := new(big.Rat).Sub(r.Rat(), big.NewRat(c.Low, scale))
	u.Quo(u, big.NewRat(c.High-c.Low, scale))
	if c.Effort {
		u.Sub(big.NewRat(1, 1), u)
	}
	return u
}

// part is the share of a candidate in a criterion, exactly and nearly.
type part struct {
	criterion int
	exact     *big.Rat // from 0 to 1
	near      float64
}

// scorer computes scores under any weights.
type scorer struct {
	criteria []Criterion
	parts    [][]part // of each candidate
}

// newScorer computes the share of each candidate in each criterion that it is rated by and that weighs something.
func newScorer(criteria []Criterion, list []Candidate) *scorer {
	s := &scorer{criteria: criteria, parts: make([][]part, len(list))}
	for i := range list {
		for k, r := range list[i].Ratings {
			if r.Given() && criteria[k].Weight > 0 {
				u := criteria[k].share(r)
				near, _ := u.Float64()
				s.parts[i] = append(s.parts[i], part{k, u, near})
			}
		}
	}
	return s
}

// halfway is how near a score may come to the middle between two others before it is counted exactly, in Micro.
const halfway = 1e-3

// score is 100 x sum(w u) / sum(w) of a candidate that has parts.
func (s *scorer) score(i int, weights []int64) int64 {
	var sum, all float64
	for _, p := range s.parts[i] {
		w := float64(weights[p.criterion])
		sum += w * p.near
		all += w
	}
	at := 100 * Micro * sum / all
	if below := math.Floor(at); math.Abs(at-below-0.5) > halfway {
		return int64(math.Floor(at + 0.5))
	}
	return s.exactly(i, weights)
}

// exactly is score in whole fractions.
func (s *scorer) exactly(i int, weights []int64) int64 {
	sum, all := new(big.Rat), new(big.Rat)
	for _, p := range s.parts[i] {
		w := new(big.Rat).SetInt64(weights[p.criterion])
		all.Add(all, w)
		sum.Add(sum, w.Mul(w, p.exact))
	}
	sum.Mul(sum.Quo(sum, all), new(big.Rat).SetInt64(100*Micro))
	return roundEven(sum)
}

// roundEven rounds to a whole number, half to even; r is not negative.
func roundEven(r *big.Rat) int64 {
	twice := new(big.Int).Lsh(r.Num(), 1)
	q, rest := new(big.Int).QuoRem(twice.Add(twice, r.Denom()), new(big.Int).Lsh(r.Denom(), 1), new(big.Int))
	n := q.Int64()
	if rest.Sign() == 0 && n%2 != 0 {
		n--
	}
	return n
}

// Rank scores candidates and ranks them: the highest score first, then by code; those without a score come last.
func Rank(criteria []Criterion, list []Candidate) ([]Ranked, Stability) {
	s := newScorer(criteria, list)
	weights := make([]int64, len(criteria))
	for k := range criteria {
		weights[k] = criteria[k].Weight
	}
	out := make([]Ranked, len(list))
	var scored []int
	for i := range list {
		out[i].Code = list[i].Code
		if out[i].Scored = len(s.parts[i]) > 0; out[i].Scored {
			out[i].Score = s.score(i, weights)
			scored = append(scored, i)
		}
	}
	board := newBoard(s, scored)
	board.rank(weights, func(i, rank int) { out[i].Rank = rank })
	steady := board.corners(weights, func(i, rank int) {
		if out[i].Low == 0 || rank < out[i].Low {
			out[i].Low = rank
		}
		out[i].High = max(out[i].High, rank)
	})
	slices.SortFunc(out, func(x, y Ranked) int {
		if x.Scored != y.Scored {
			if x.Scored {
				return -1
			}
			return 1
		}
		return cmp.Or(cmp.Compare(y.Score, x.Score), cmp.Compare(x.Code, y.Code))
	})
	return out, steady
}
