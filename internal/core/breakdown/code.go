// Package breakdown parts what a project comes to: by cost code, by the work that earns it, and by what makes it deviate.
//
// Parts are measured by the rules of the whole: a part is a project with some of the rows, assessed by the measure package, so that no
// formula stands here twice. Amounts of parts add up to those of the project in minor units; ratios of parts do not, and are computed from
// their own amounts.
package breakdown

import (
	"cmp"
	"fmt"
	"slices"

	"turret/internal/core/cost"
	"turret/internal/core/measure"
	"turret/internal/core/money"
)

// CodeLine is the money of one cost code of a project, by the same rules as the measures of the same names. All are minor units of the
// reporting currency as of the project's day; Variance is favourable when positive, and Estimate is Actual plus ForecastToGo, also where
// the project's own estimate is the statistical one.
type CodeLine struct {
	Code                                                           int32 // index of the cost code
	Budget, BudgetToDate, Actual, ForecastToGo, Estimate, Variance money.Amount
}

// ByCode lists a project's money by cost code; the lines add up to CodeTotal.
func ByCode(p *measure.Project) []CodeLine {
	list := make([]CodeLine, 0, len(p.Account.ByCode))
	for _, c := range p.Account.ByCode {
		list = append(list, codeLine(c.Code, c.Figures))
	}
	return list
}

// CodeTotal is the sum over all cost codes.
func CodeTotal(p *measure.Project) CodeLine { return codeLine(0, p.Account.Figures) }

// codeLine is the line of a cost code whose figures were added up already.
func codeLine(code int32, f cost.Figures) CodeLine {
	estimate := f.Actual + f.ForecastToGo
	return CodeLine{code, f.Budget(), f.BudgetToDate, f.Actual, f.ForecastToGo, estimate, f.Budget() - estimate}
}

// Reason says in words where a project's variance at completion comes from: the cost codes that make most of it, and exchange rates. At
// most two codes are named, those that lose or gain most in the direction of the whole; exchange rates are named where they make a tenth
// of it or more. It is empty where the variance is unknown or zero.
func Reason(p *measure.Project, env measure.Env, name func(int32) string) string {
	vac := p.Value(measure.VAC)
	if !vac.Known || vac.N == 0 {
		return ""
	}
	list := ByCode(p)
	slices.SortStableFunc(list, func(x, y CodeLine) int {
		if vac.N < 0 {
			return cmp.Compare(x.Variance, y.Variance)
		}
		return cmp.Compare(y.Variance, x.Variance)
	})
	s := ""
	for i, l := range list {
		if i == 2 || (l.Variance < 0) != (vac.N < 0) || l.Variance == 0 {
			break
		}
		word := "over"
		if l.Variance > 0 {
			word = "under"
		}
		s += fmt.Sprintf("%s %s %s; ", name(l.Code), magnitude(l.Variance).Short(env.Currency), word)
	}
	if r := p.Value(measure.RateVariance); r.Known && 10*magnitude(r.Amount()) >= magnitude(vac.Amount()) {
		s += fmt.Sprintf("exchange rates %s %s; ", map[bool]string{true: "cost", false: "spared"}[r.N < 0],
			magnitude(r.Amount()).Short(env.Currency))
	}
	if s == "" {
		return ""
	}
	return s[:len(s)-2]
}

// magnitude is an amount without its sign.
func magnitude(a money.Amount) money.Amount { return max(a, -a) }
