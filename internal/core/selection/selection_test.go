package selection_test

import (
	"context"
	"fmt"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/core/fact"
	"turret/internal/core/selection"
)

var ctx = context.Background()

func candidates(values []int64, uses ...[]int64) []selection.Candidate {
	list := make([]selection.Candidate, len(values))
	for i, v := range values {
		list[i] = selection.Candidate{Code: string(rune('A' + i)), Valued: true, Value: v}
		for _, u := range uses {
			list[i].Use = append(list[i].Use, u[i])
		}
	}
	return list
}

func solve(t *testing.T, p *selection.Problem) *selection.Result {
	t.Helper()
	r, why := selection.Solve(ctx, p, selection.Usual(1))
	require.Nil(t, why)
	assert.True(t, r.Proven)
	assert.Equal(t, r.Value, r.Bound)
	return r
}

func some(n int64) fact.Int { return fact.Some(n) }

// A to D are worth 10, 9, 6 and 3 and use 6, 5, 4 and 2 of 11. By hand, the best are A and B with 19 at 11. The best with C, with D and
// without A is B, C and D, 18 at 11. Without B it is A and C, 16 at 10. Without the limit all are worth 28, 9 more.
func TestAChoiceByHand(t *testing.T) {
	p := &selection.Problem{Candidates: candidates([]int64{10, 9, 6, 3}, []int64{6, 5, 4, 2}), Limits: []selection.Limit{{Name: "2027",
		Most: 11}}}
	r := solve(t, p)
	assert.Equal(t, []bool{true, true, false, false}, r.Chosen)
	assert.Equal(t, int64(19), r.Value)
	assert.Equal(t, []int64{11}, r.Used, "a limit may be used up")
	assert.Equal(t, []fact.Int{some(1), some(3), some(1), some(1)}, r.Price)
	assert.Equal(t, []fact.Int{some(9)}, r.GivesUp)
	p.Limits[0].Most = 10
	assert.Equal(t, int64(16), solve(t, p).Value, "one less lets A and B no longer go together")
}

// Requirements, by hand, of five worth 10, 8, 6, 4 and -2, without limits.
func TestRequirementsByHand(t *testing.T) {
	five := []int64{10, 8, 6, 4, -2}
	for name, x := range map[string]struct {
		p     selection.Problem
		value int64
		price []fact.Int
	}{
		"all but the negative one": {selection.Problem{}, 28, []fact.Int{some(10), some(8), some(6), some(4), some(2)}},
		"a negative one that must": {selection.Problem{Must: []int{4}}, 26, []fact.Int{some(10), some(8), some(6), some(4), {}}},
		"never":                    {selection.Problem{Never: []int{0}}, 18, []fact.Int{{}, some(8), some(6), some(4), some(2)}},
		"what is needed is forced in with it, at its loss": {selection.Problem{Needs: [][2]int{{3, 4}}}, 26,
			[]fact.Int{some(10), some(8), some(6), some(2), some(2)}},
		"what needs one that costs more than it brings": {selection.Problem{Needs: [][2]int{{3, 4}}, Never: []int{4}}, 24,
			[]fact.Int{some(10), some(8), some(6), {}, {}}},
		"not both": {selection.Problem{Apart: [][2]int{{1, 0}}}, 20, []fact.Int{some(2), some(2), some(6), some(4),
			some(2)}},
		"needs in a circle: both or none": {selection.Problem{Needs: [][2]int{{0, 4}, {4, 0}}}, 26, []fact.Int{some(8), some(8), some(6),
			some(4), some(8)}},
		"a must that is apart": {selection.Problem{Must: []int{2}, Apart: [][2]int{{2, 0}}}, 18, []fact.Int{{}, some(8), {},
			some(4), some(2)}},
	} {
		x.p.Candidates = candidates(five)
		r := solve(t, &x.p)
		assert.Equal(t, x.value, r.Value, name)
		assert.Equal(t, x.price, r.Price, name)
	}
	p := selection.Problem{Candidates: candidates(five)}
	p.Candidates[0].Valued = false
	r := solve(t, &p)
	assert.Equal(t, []any{int64(18), fact.Int{}, false}, []any{r.Value, r.Price[0], r.Chosen[0]}, "without a value it is never chosen")
	r = solve(t, &selection.Problem{Limits: []selection.Limit{{Name: "2027", Most: 0}}})
	assert.Zero(t, r.Value, "nothing to choose among")
}

// A candidate that frees what others use is chosen though it is worth less than nothing.
func TestACandidateThatFreesALimit(t *testing.T) {
	p := &selection.Problem{Candidates: candidates([]int64{10, -3}, []int64{5, -4}), Limits: []selection.Limit{{Name: "fte", Most: 1}}}
	r := solve(t, p)
	assert.Equal(t, []bool{true, true}, r.Chosen)
	assert.Equal(t, int64(7), r.Value)
	assert.Equal(t, []fact.Int{some(7), some(7)}, r.Price)
	assert.Equal(t, []fact.Int{some(3)}, r.GivesUp)
}

// Where musts cannot be kept to it is said which, by what chain, and how far limits would have to give way at least.
func TestWhatCannotBeMet(t *testing.T) {
	four := []int64{1, 1, 1, 1}
	for name, x := range map[string]struct {
		p    selection.Problem
		want selection.Unmet
	}{
		"must and never": {selection.Problem{Must: []int{1}, Never: []int{1}},
			selection.Unmet{Clashes: []selection.Clash{{1, []int{1}, selection.IsNever, -1}}}},
		"needs one that needs one that is never": {selection.Problem{Must: []int{0}, Never: []int{2}, Needs: [][2]int{{0, 1}, {1, 2}}},
			selection.Unmet{Clashes: []selection.Clash{{0, []int{0, 1, 2}, selection.IsNever, -1}}}},
		"two musts apart": {selection.Problem{Must: []int{3, 0}, Apart: [][2]int{{3, 0}}},
			selection.Unmet{Clashes: []selection.Clash{{0, []int{0}, selection.IsApart, 3}}}},
		"limits": {selection.Problem{Must: []int{0}, Needs: [][2]int{{0, 1}}, Limits: []selection.Limit{{"a", 6}, {"b", 2}, {"c", 100}}},
			selection.Unmet{Short: []selection.Short{{0, 6, 7}, {1, 2, 3}}}},
	} {
		x.p.Candidates = candidates(four, []int64{3, 4, 9, 9}, []int64{2, 1, 9, 9}, []int64{1, 1, 1, 1})
		if x.p.Limits == nil {
			x.p.Limits = []selection.Limit{{"a", 100}, {"b", 100}, {"c", 100}}
		}
		_, why := selection.Solve(ctx, &x.p, selection.Usual(1))
		require.NotNil(t, why, name)
		assert.Equal(t, x.want, *why, name)
	}
	unvalued := selection.Problem{Candidates: candidates(four), Must: []int{2}}
	unvalued.Candidates[2].Valued = false
	_, why := selection.Solve(ctx, &unvalued, selection.Usual(1))
	require.NotNil(t, why)
	assert.Equal(t, selection.HasNoValue, why.Clashes[0].Why)
	// a limit below nothing is kept to by one that frees some: with it 2 are missing, without it 5
	eased := selection.Problem{Candidates: candidates([]int64{1, 1}, []int64{4, -3}), Must: []int{0}, Limits: []selection.Limit{{"a", -1}}}
	_, why = selection.Solve(ctx, &eased, selection.Usual(1))
	require.NotNil(t, why)
	assert.Equal(t, []selection.Short{{0, -1, 1}}, why.Short)
}

// Every choice among up to ten, drawn with requirements and limits, is that of trying all sets; so are the prices and what limits cost.
func TestAgainstAllSets(t *testing.T) {
	draw := rand.New(rand.NewPCG(3, 5))
	met, unmet := 0, 0
	for round := range 1_500 {
		p := random(draw, 1+draw.IntN(10), draw.IntN(4), 8)
		r, why := selection.Solve(ctx, p, selection.Usual(1))
		value, ok := plain(p, -1, false, -1)
		if !ok {
			require.NotNil(t, why, "round %d: %+v", round, p)
			require.True(t, len(why.Clashes)+len(why.Short) > 0, "round %d: %+v", round, p)
			unmet++
			continue
		}
		met++
		require.Nil(t, why, "round %d: %+v", round, p)
		require.True(t, r.Proven)
		require.Equal(t, value, r.Value, "round %d: %+v", round, p)
		for i := range p.Candidates {
			want := fact.Int{}
			if v, ok := plain(p, i, !r.Chosen[i], -1); ok {
				want = some(value - v)
			}
			require.Equal(t, want, r.Price[i], "round %d, price of %d: %+v %v", round, i, p, r.Chosen)
		}
		for k := range p.Limits {
			v, _ := plain(p, -1, false, k)
			require.Equal(t, some(v-value), r.GivesUp[k], "round %d, limit %d: %+v", round, k, p)
		}
	}
	assert.Greater(t, met, 500)
	assert.Greater(t, unmet, 100)
}

func random(draw *rand.Rand, n, limits int, most int64) *selection.Problem {
	p := &selection.Problem{Candidates: make([]selection.Candidate, n)}
	for i := range p.Candidates {
		c := selection.Candidate{Code: fmt.Sprint(i), Valued: draw.IntN(12) > 0, Value: draw.Int64N(2*most) - most/4}
		for range limits {
			c.Use = append(c.Use, draw.Int64N(most+2)-1)
		}
		p.Candidates[i] = c
	}
	for range limits {
		p.Limits = append(p.Limits, selection.Limit{Most: draw.Int64N(most*int64(n)/2+1) - 1})
	}
	for i := range n {
		switch k := draw.IntN(n); draw.IntN(12) {
		case 0:
			p.Must = append(p.Must, i)
		case 1:
			p.Never = append(p.Never, i)
		case 2, 3:
			if k != i {
				p.Needs = append(p.Needs, [2]int{i, k})
			}
		case 4:
			if k != i {
				p.Apart = append(p.Apart, [2]int{i, k})
			}
		}
	}
	return p
}

// plain tries all sets, those in which a candidate stands so alone where it is named, without one limit where that is named.
func plain(p *selection.Problem, which int, stands bool, without int) (best int64, any bool) {
	for set := range 1 << len(p.Candidates) {
		if !allowed(p, set, without) || which >= 0 && (set>>which&1 == 1) != stands {
			continue
		}
		value := int64(0)
		for i := range p.Candidates {
			if set>>i&1 == 1 {
				value += p.Candidates[i].Value
			}
		}
		if !any || value > best {
			best, any = value, true
		}
	}
	return best, any
}

func allowed(p *selection.Problem, set, without int) bool {
	has := func(i int) bool { return set>>i&1 == 1 }
	for _, i := range p.Must {
		if !has(i) {
			return false
		}
	}
	for _, i := range p.Never {
		if has(i) {
			return false
		}
	}
	for _, x := range p.Needs {
		if has(x[0]) && !has(x[1]) {
			return false
		}
	}
	for _, x := range p.Apart {
		if has(x[0]) && has(x[1]) {
			return false
		}
	}
	used := make([]int64, len(p.Limits))
	for i, c := range p.Candidates {
		if has(i) && !c.Valued {
			return false
		}
		if has(i) {
			for k, u := range c.Use {
				used[k] += u
			}
		}
	}
	for k, u := range used {
		if k != without && u > p.Limits[k].Most {
			return false
		}
	}
	return true
}

// large draws an instance of money over years and people over roles, like those of a portfolio: what costs more brings more, roughly.
func large(seed uint64, n, years, roles int) *selection.Problem {
	draw := rand.New(rand.NewPCG(seed, 11))
	p := &selection.Problem{Candidates: make([]selection.Candidate, n)}
	sums := make([]int64, years+roles)
	for i := range p.Candidates {
		size := 50_000_00 + draw.Int64N(5_000_000_00)
		c := selection.Candidate{Code: fmt.Sprint(i), Valued: true, Value: size/1_000 + draw.Int64N(2_000_000)}
		for k := range years + roles {
			use := int64(0)
			if draw.IntN(3) > 0 {
				use = draw.Int64N(size) / 3
			}
			c.Use = append(c.Use, use)
			sums[k] += use
		}
		p.Candidates[i] = c
	}
	for k, sum := range sums {
		p.Limits = append(p.Limits, selection.Limit{Name: fmt.Sprint(k), Most: sum * 2 / 5})
	}
	for i := 0; i < n; i += 12 {
		p.Needs = append(p.Needs, [2]int{i, (i + 5) % n})
		p.Apart = append(p.Apart, [2]int{(i + 1) % n, (i + 7) % n})
	}
	return p
}

// At 200 the best found is within 3 % of its bound.
func TestTwoHundredAreNearTheirBound(t *testing.T) {
	p := large(1, 200, 5, 10)
	r, why := selection.Best(ctx, p, 500)
	require.Nil(t, why)
	assert.LessOrEqual(t, float64(r.Bound), 1.03*float64(r.Value))
	for k, u := range r.Used {
		assert.LessOrEqual(t, u, p.Limits[k].Most)
	}
}

// The best value never falls with the budget, ends at that of no limit, and each point is that of all sets.
func TestFrontierByAllSets(t *testing.T) {
	p := &selection.Problem{Candidates: candidates([]int64{10, 9, 6, 3}), Must: []int{3}}
	budget := []int64{6, 5, 4, 2}
	best := func(q *selection.Problem) *selection.Result {
		r, _ := selection.Best(ctx, q, 1_000)
		return r
	}
	list := selection.Frontier(p, best, budget, selection.Steps(budget, 17))
	var got [][]int64
	for _, x := range list {
		got = append(got, []int64{x.Budget, x.Value})
	}
	// D alone to 5, with C at 6, with B at 7, with A at 8, with B and C at 11, with A and C at 12, A and B at 13, all at 17
	assert.Equal(t, [][]int64{{2, 3}, {3, 3}, {4, 3}, {5, 3}, {6, 9}, {7, 12}, {8, 13}, {9, 13}, {10, 13}, {11, 18}, {12, 19}, {13, 22},
		{14, 22}, {15, 22}, {16, 22}, {17, 28}}, got)
}

func BenchmarkTwoHundred(b *testing.B) {
	p := large(1, 200, 5, 10)
	for b.Loop() {
		r, _ := selection.Best(ctx, p, selection.Usual(200).Main)
		b.ReportMetric(100*float64(r.Bound-r.Value)/float64(r.Value), "%apart")
	}
}

func BenchmarkFiveThousand(b *testing.B) {
	p := large(1, 5_000, 5, 10)
	for b.Loop() {
		r, _ := selection.Solve(ctx, p, selection.Usual(5_000))
		b.ReportMetric(100*float64(r.Bound-r.Value)/float64(r.Value), "%apart")
	}
}

func BenchmarkSixty(b *testing.B) {
	for seed := range uint64(4) {
		b.Run(fmt.Sprint(seed), func(b *testing.B) {
			p := large(seed, 60, 5, 10)
			for b.Loop() {
				r, _ := selection.Solve(ctx, p, selection.Usual(1))
				b.ReportMetric(float64(r.Nodes), "nodes")
				b.ReportMetric(float64(r.Rough), "rough")
				if !r.Proven {
					b.ReportMetric(1, "unproven")
				}
			}
		})
	}
}
