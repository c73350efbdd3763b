package lookout

import (
	"turret/internal/app/assess"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// Step is one of the first steps of an office that begins with an empty file.
type Step struct {
	Name, Says string
	Kind       record.Kind
	Project    string // in which it is done; empty for the office
	Done       bool
}

// Begin lists the first steps of an office, each with whether it is done: from the structure to the first figures of one project. It is nil
// once an open project has dates and a budget.
func Begin(a *assess.Assessment) []Step {
	var first *measure.Project
	var plan, budget, actual, declared bool
	for _, p := range a.Projects {
		if p.Status != measure.Open {
			continue
		}
		if first == nil {
			first = p
		}
		dated, paid := len(p.Activities) > 0, p.Account.Budget() != 0
		if dated && paid {
			return nil
		}
		plan, budget = plan || dated, budget || paid
		actual, declared = actual || p.Account.Actual != 0, declared || p.Declared != nil
	}
	code := ""
	if first != nil {
		code = first.Code
	}
	return []Step{
		{"Structure", "portfolios and programmes that projects stand below", record.Structure, "", len(a.Masters.Nodes) > 0},
		{"Calendar", "Monday to Friday unless you say otherwise; type holidays", record.Calendars, "", len(a.Masters.Calendars) > 0},
		{"Cost codes", "what amounts are booked on", record.CostCodes, "", len(a.Masters.CostCodes) > 0},
		{"A project", "with its lead, its currency and its planned dates", record.Projects, "", first != nil},
		{"Its plan", "the first activity or milestone, with its baseline", record.Activities, code, plan},
		{"Its budget", "the first line, on a cost code and a month", record.Budget, code, budget},
		{"Actual costs", "postings of the ledger, typed or from a file", record.Actuals, code, actual},
		{"Its status", "what the lead declares, in a word and a sentence", record.Statuses, code, declared},
	}
}
