package measure

import (
	"turret/internal/core/cost"
	"turret/internal/core/money"
)

// CodeLine is the money of one cost code of a project, by the same rules as the measures of the same names.
type CodeLine struct {
	Code                                                           int32
	Budget, BudgetToDate, Actual, ForecastToGo, Estimate, Variance money.Amount
}

// ByCode lists a project's money by cost code; the lines add up to CodeTotal.
func ByCode(p *Project) []CodeLine {
	list := make([]CodeLine, 0, len(p.Account.ByCode))
	for _, c := range p.Account.ByCode {
		list = append(list, codeLine(c.Code, c.Figures))
	}
	return list
}

// CodeTotal is the sum over all cost codes.
func CodeTotal(p *Project) CodeLine { return codeLine(0, p.Account.Figures) }

func codeLine(code int32, f cost.Figures) CodeLine {
	estimate := f.Actual + f.ForecastToGo
	return CodeLine{code, f.Budget(), f.BudgetToDate, f.Actual, f.ForecastToGo, estimate, f.Budget() - estimate}
}
