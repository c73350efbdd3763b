package main

import (
	"math/big"
	"sort"
)

// undefined is a fraction that is not there.
var undefined *big.Rat

func num(n int64) *big.Rat { return big.NewRat(n, 1) }

func over(a, b *big.Rat) *big.Rat {
	if a == nil || b == nil || b.Sign() == 0 {
		return undefined
	}
	return new(big.Rat).Quo(a, b)
}

func minus(a, b *big.Rat) *big.Rat {
	if a == nil || b == nil {
		return undefined
	}
	return new(big.Rat).Sub(a, b)
}

func plus(a, b *big.Rat) *big.Rat { return minus(a, minus(num(0), b)) }

func times(a, b *big.Rat) *big.Rat {
	if a == nil || b == nil {
		return undefined
	}
	return new(big.Rat).Mul(a, b)
}

// even is a whole number of cents, halves to the even one; a stays undefined.
func even(a *big.Rat) *big.Rat {
	if a == nil {
		return nil
	}
	return num(cents(new(big.Rat).Quo(a, num(100))))
}

// shared splits whole cents by weights: downwards toward zero, then a cent each to the largest remainders, the first of equal ones.
func shared(n int64, weights []*big.Rat) []int64 {
	all := new(big.Rat)
	for _, w := range weights {
		all.Add(all, w)
	}
	type rest struct {
		at int
		by *big.Rat
	}
	list, rests, left, sign := make([]int64, len(weights)), []rest{}, n, int64(1)
	if n < 0 {
		n, left, sign = -n, -left, -1
	}
	for i, w := range weights {
		exact := new(big.Rat).Quo(new(big.Rat).Mul(num(n), w), all)
		list[i] = new(big.Int).Quo(exact.Num(), exact.Denom()).Int64()
		left -= list[i]
		rests = append(rests, rest{i, exact.Sub(exact, num(list[i]))})
	}
	sort.SliceStable(rests, func(i, j int) bool { return rests[i].by.Cmp(rests[j].by) > 0 })
	for _, x := range rests[:left] {
		list[x.at]++
	}
	for i := range list {
		list[i] *= sign
	}
	return list
}
