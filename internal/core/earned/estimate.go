package earned

import (
	"math/big"

	"turret/internal/core/fact"
	"turret/internal/core/money"
)

// Realism is how much better the work left would have to go than the work so far, for an estimate to hold. A gap equal to a limit is on
// the milder side of it.
type Realism uint8

// By how far the index that is asked lies above the cost index: more than 0.10, more than 0.03, more than 0.10 below it, or between.
const (
	Unjudged Realism = iota // one of the two is not known
	InLine
	Hopeful
	Unrealistic
	Cautious
)

// String says it in words, nothing where it is not judged.
func (r Realism) String() string {
	return [...]string{"", "in line with the work so far", "hopeful: better than so far", "not realistic: far better than so far",
		"cautious: far worse than so far"}[r]
}

// Asked is what an estimate at completion asks of the work left.
type Asked struct {
	Index  fact.Ratio // to-complete index: (BAC - EV) / (estimate - AC); none where the estimate leaves nothing to spend
	Judged Realism
	Better fact.Ratio // by what share of the cost index the asked one lies above it; none where one is not known, or that is 0
}

var far, near = big.NewRat(10, 100), big.NewRat(3, 100)

// Asks sets an estimate beside the cost index so far, which may be none. All amounts are in one currency. Gaps are compared as fractions.
func Asks(estimate, bac, ev, ac money.Amount, cpi fact.Ratio) Asked {
	if estimate <= ac {
		return Asked{}
	}
	a := Asked{Index: fact.Of(int64(bac-ev), int64(estimate-ac))}
	if !cpi.Given() {
		return a
	}
	gap := new(big.Rat).Sub(a.Index.Rat(), cpi.Rat())
	switch {
	case gap.Cmp(far) > 0:
		a.Judged = Unrealistic
	case gap.Cmp(near) > 0:
		a.Judged = Hopeful
	case gap.Cmp(new(big.Rat).Neg(far)) < 0:
		a.Judged = Cautious
	default:
		a.Judged = InLine
	}
	if cpi.Num != 0 {
		a.Better = fact.Exactly(gap.Quo(gap, cpi.Rat()))
	}
	return a
}
