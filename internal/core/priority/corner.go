package priority

import (
	"cmp"
	"math/rand/v2"
	"slices"
)

// board ranks candidates again and again under other weights.
type board struct {
	*scorer
	scored []int
	order  []placed
}

// placed is a candidate, by its index, with a score.
type placed struct {
	i     int
	score int64 // in Micro
}

// newBoard makes room for ranking the candidates that have a score.
func newBoard(s *scorer, scored []int) *board {
	return &board{s, scored, make([]placed, len(scored))}
}

// rank tells the dense rank of each candidate under weights.
func (b *board) rank(weights []int64, each func(i, rank int)) {
	for k, i := range b.scored {
		b.order[k] = placed{i, b.score(i, weights)}
	}
	slices.SortFunc(b.order, func(x, y placed) int { return cmp.Compare(y.score, x.score) })
	rank := 0
	for k, x := range b.order {
		if k == 0 || x.score != b.order[k-1].score {
			rank++
		}
		each(x.i, rank)
	}
}

// Each weight is 0.8 or 1.2 of itself in a corner, which is 4 to 6.
const (
	lighter = 4
	heavier = 6
)

// Seed is what corners are drawn by where there are too many to try.
const Seed = 1

// corners ranks under each corner of the box of weights: all of them up to MostCriteria that weigh something, else as many as those have,
// drawn by Seed.
func (b *board) corners(weights []int64, each func(i, rank int)) Stability {
	var loose []int
	for k := range b.criteria {
		if b.criteria[k].Weight > 0 {
			loose = append(loose, k)
		}
	}
	steady := Stability{Corners: 1 << min(len(loose), MostCriteria), Sampled: len(loose) > MostCriteria}
	if len(b.scored) == 0 {
		return steady
	}
	draw := rand.New(rand.NewPCG(Seed, 0))
	at := slices.Clone(weights)
	for corner := range uint64(steady.Corners) {
		bits := corner
		for n, k := range loose {
			if steady.Sampled && n%64 == 0 {
				bits = draw.Uint64()
			}
			at[k] = weights[k] * lighter
			if bits>>(n%64)&1 == 1 {
				at[k] = weights[k] * heavier
			}
		}
		b.rank(at, each)
	}
	return steady
}
