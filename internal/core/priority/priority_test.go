package priority_test

import (
	"math/big"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/core/fact"
	"turret/internal/core/priority"
)

func r(n int64) fact.Ratio { return fact.Ratio{Num: n, Den: 1} }

var none fact.Ratio

// Three criteria of a board, by hand: urgency weighs 3 on 0 to 5, use 2 on 1 to 10, effort 1 on 0 to 5, less being better.
var board = []priority.Criterion{{Code: "urgency", Weight: 30_000, High: 50_000},
	{Code: "use", Weight: 20_000, Low: 10_000, High: 100_000}, {Code: "effort", Weight: 10_000, Effort: true, High: 50_000}}

// By hand. P: 100 (3x4/5 + 2x3/9 + 1x(1-2/5)) / 6 = 100 (2.4 + 0.6667 + 0.6) / 6 = 61.111111. Q: urgency alone, 4: 80. R: use at its
// lowest:
// 0. S: effort at its highest: 0, effort being bad. T: nothing. U: as Q.
func TestScoresByHand(t *testing.T) {
	list, steady := priority.Rank(board, []priority.Candidate{{"T", []fact.Ratio{none, none, none}}, {"P", []fact.Ratio{r(4), r(4), r(2)}},
		{"U", []fact.Ratio{r(4), none, none}}, {"S", []fact.Ratio{none, none, r(5)}}, {"Q", []fact.Ratio{r(4), none, none}},
		{"R", []fact.Ratio{none, r(1), none}}})
	assert.Equal(t, priority.Stability{Corners: 8}, steady)
	var got [][]any
	for _, x := range list {
		got = append(got, []any{x.Code, x.Scored, x.Score, x.Rank, x.Low, x.High})
	}
	assert.Equal(t, [][]any{{"Q", true, int64(80_000_000), 1, 1, 1}, {"U", true, int64(80_000_000), 1, 1, 1},
		{"P", true, int64(61_111_111), 2, 2, 2}, {"R", true, int64(0), 3, 3, 3}, {"S", true, int64(0), 3, 3, 3},
		{"T", false, int64(0), 0, 0, 0}}, got)
}

// Two criteria of weight 1: A is rated 5 and 1, B 2 and 4.1. As they are, A has 60 and B 61. With the first at 1.2 and the second at 0.8 A
// has 100 (1.2 x 1 + 0.8 x 0.2) / 2 = 68 and B 100 (1.2 x 0.4 + 0.8 x 0.82) / 2 = 56.8; the other way about A has 52 and B 65.2.
func TestARankThatDependsOnAWeight(t *testing.T) {
	pair := []priority.Criterion{{Code: "x", Weight: 10_000, High: 50_000}, {Code: "y", Weight: 10_000, High: 50_000}}
	list, _ := priority.Rank(pair, []priority.Candidate{{"A", []fact.Ratio{r(5), r(1)}}, {"B", []fact.Ratio{r(2), {Num: 41, Den: 10}}}})
	assert.Equal(t, []priority.Ranked{{"B", true, 61_000_000, 1, 1, 2}, {"A", true, 60_000_000, 2, 1, 2}}, list)
	// of weight 0.1 the second cannot lift B over A: at most 0.12 beside 0.8
	pair[1].Weight = 1_000
	list, _ = priority.Rank(pair, []priority.Candidate{{"A", []fact.Ratio{r(5), r(1)}}, {"B", []fact.Ratio{r(2), {Num: 41, Den: 10}}}})
	assert.Equal(t, []any{"A", 1, 1}, []any{list[0].Code, list[0].Low, list[0].High})
}

// What weighs nothing rates nothing: a model of weights of zero scores nobody, and one such criterion changes no score.
func TestWeightsOfZero(t *testing.T) {
	zero := []priority.Criterion{{Code: "x", High: 50_000}, {Code: "y", Weight: 10_000, High: 50_000}}
	list, steady := priority.Rank(zero, []priority.Candidate{{"A", []fact.Ratio{r(5), none}}, {"B", []fact.Ratio{r(5), r(2)}}})
	assert.Equal(t, []priority.Ranked{{"B", true, 40_000_000, 1, 1, 1}, {Code: "A"}}, list)
	assert.Equal(t, 2, steady.Corners)
	list, _ = priority.Rank(nil, []priority.Candidate{{Code: "A"}})
	assert.Equal(t, []priority.Ranked{{Code: "A"}}, list)
}

// A third of the scale weighs 100/3 to six decimals; scores alike to six decimals share a rank; a half goes to the even one.
func TestScoresToSixDecimals(t *testing.T) {
	one := []priority.Criterion{{Code: "x", Weight: 1, High: 10_000}}
	list, _ := priority.Rank(one, []priority.Candidate{{"A", []fact.Ratio{{Num: 1, Den: 3}}},
		{"B", []fact.Ratio{{Num: 333_333_330, Den: 1_000_000_000}}}, {"C", []fact.Ratio{{Num: 2, Den: 3}}}, {"D", []fact.Ratio{{Num: 1,
			Den: 200_000_000}}},
		{"E", []fact.Ratio{{Num: 3, Den: 200_000_000}}}})
	var got []int64
	var ranks []int
	for _, x := range list {
		got, ranks = append(got, x.Score), append(ranks, x.Rank)
	}
	assert.Equal(t, []int64{66_666_667, 33_333_333, 33_333_333, 2, 0}, got, "1.5 and 0.5 of a millionth go to 2 and 0")
	assert.Equal(t, []int{1, 2, 2, 3, 4}, ranks)
}

func TestRatingsByMeasuresKeepToTheScale(t *testing.T) {
	c := priority.Criterion{Low: -10_000, High: 20_000}
	for in, want := range map[fact.Ratio]fact.Ratio{r(-3): {Num: -10_000, Den: 10_000}, r(7): {Num: 20_000, Den: 10_000},
		{Num: 1, Den: 3}: {Num: 1, Den: 3}, r(2): r(2), r(-1): r(-1)} {
		assert.Zero(t, c.Clamp(in).Cmp(want), in)
	}
}

// Ranks over the corners are those of a plain count with fractions, for many models drawn at random with few ratings, so that many tie.
func TestCornersAgainstAPlainCount(t *testing.T) {
	draw := rand.New(rand.NewPCG(7, 7))
	for range 60 {
		criteria := make([]priority.Criterion, 1+draw.IntN(4))
		for k := range criteria {
			criteria[k] = priority.Criterion{Weight: draw.Int64N(4) * 5_000, Effort: draw.IntN(3) == 0, High: 30_000}
		}
		list := make([]priority.Candidate, 5)
		for i := range list {
			list[i] = priority.Candidate{Code: string(rune('A' + i)), Ratings: make([]fact.Ratio, len(criteria))}
			for k := range criteria {
				if draw.IntN(5) > 0 {
					list[i].Ratings[k] = r(draw.Int64N(4))
				}
			}
		}
		got, _ := priority.Rank(criteria, list)
		for _, x := range got {
			low, high := plainCorners(criteria, list, x.Code)
			assert.Equal(t, []int{low, high}, []int{x.Low, x.High}, "%v %v %s", criteria, list, x.Code)
		}
	}
}

func plainCorners(criteria []priority.Criterion, list []priority.Candidate, code string) (low, high int) {
	for corner := range 1 << len(criteria) {
		above, mine := map[string]bool{}, ""
		score := func(c priority.Candidate) (*big.Rat, bool) {
			sum, all := new(big.Rat), new(big.Rat)
			for k, x := range c.Ratings {
				if !x.Given() {
					continue
				}
				w := big.NewRat(criteria[k].Weight*int64(8+4*(corner>>k&1)), 10)
				u := big.NewRat(x.Num, 3)
				if criteria[k].Effort {
					u.Sub(big.NewRat(1, 1), u)
				}
				all.Add(all, w)
				sum.Add(sum, u.Mul(u, w))
			}
			if all.Sign() == 0 {
				return nil, false
			}
			return sum.Mul(sum.Quo(sum, all), big.NewRat(100, 1)), true
		}
		for _, c := range list {
			if x, ok := score(c); ok && c.Code == code {
				mine = x.FloatString(6)
			}
		}
		if mine == "" {
			return 0, 0
		}
		for _, c := range list {
			x, ok := score(c)
			own, _ := new(big.Rat).SetString(mine)
			if ok && x.FloatString(6) != mine && x.Cmp(own) > 0 {
				above[x.FloatString(6)] = true
			}
		}
		rank := len(above) + 1
		if low == 0 || rank < low {
			low = rank
		}
		high = max(high, rank)
	}
	return low, high
}

// Beyond twelve criteria as many corners are drawn as twelve have, the same each time, and it is said.
func TestManyCriteriaAreSampled(t *testing.T) {
	criteria := make([]priority.Criterion, 13)
	a, b := make([]fact.Ratio, 13), make([]fact.Ratio, 13)
	for k := range criteria {
		criteria[k] = priority.Criterion{Weight: 10_000, High: 50_000}
		a[k], b[k] = r(int64(k%6)), r(int64((k+3)%6))
	}
	list, steady := priority.Rank(criteria, []priority.Candidate{{"A", a}, {"B", b}})
	assert.Equal(t, priority.Stability{Corners: 4096, Sampled: true}, steady)
	again, _ := priority.Rank(criteria, []priority.Candidate{{"A", a}, {"B", b}})
	assert.Equal(t, list, again)
	criteria[12].Weight = 0
	_, steady = priority.Rank(criteria, []priority.Candidate{{"A", a}, {"B", b}})
	assert.False(t, steady.Sampled, "what weighs nothing has no corner")
}

func BenchmarkRank(b *testing.B) {
	draw := rand.New(rand.NewPCG(1, 1))
	criteria := make([]priority.Criterion, 8)
	for k := range criteria {
		criteria[k] = priority.Criterion{Weight: 10_000 + draw.Int64N(50_000), High: 50_000}
	}
	list := make([]priority.Candidate, 5_000)
	for i := range list {
		list[i].Ratings = make([]fact.Ratio, len(criteria))
		for k := range criteria {
			list[i].Ratings[k] = r(draw.Int64N(6))
		}
	}
	for b.Loop() {
		priority.Rank(criteria, list)
	}
}
