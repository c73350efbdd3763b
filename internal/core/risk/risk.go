// Package risk holds the registers of a project, risks, issues and actions, and what follows from them: exposure on a grid of
// likelihood and consequence from 1 to 5 each (in the manner of ISO 31000), and the expected value of cost.
package risk

import (
	"slices"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/money"
)

// Full is one hundred percent in hundredths of a percent.
const Full = 10_000

// Risk is something that may happen.
type Risk struct {
	Code, Title, Owner, Response, State string
	CostCode, Activity                  string

	Likelihood, Consequence fact.Int // 1 to 5
	Probability             fact.Int // hundredths of a percent
	Impact                  money.Amount
	Costs                   bool // an impact on cost is given
	Currency                money.Currency
	Days                    fact.Int // impact on the finish, working days
	Review, Due             calendar.Date
	Ref                     fact.Ref
}

// over are states in which a record asks for nothing more.
var over = []string{"closed", "done", "resolved", "occurred", "cancelled", "dropped", "expired", "complete", "completed"}

// Over reports whether a state says that a record is closed.
func Over(state string) bool { return slices.Contains(over, strings.ToLower(strings.TrimSpace(state))) }

// Exposure is likelihood times consequence, from 1 to 25; false where one of them is missing.
func (r *Risk) Exposure() (int64, bool) {
	return r.Likelihood.N * r.Consequence.N, r.Likelihood.Given && r.Consequence.Given
}

// Expected is probability times cost impact in the risk's own currency, rounded half to even; false where one is missing.
func (r *Risk) Expected() (money.Amount, bool) {
	return money.MulDiv(r.Impact, r.Probability.N, Full), r.Probability.Given && r.Costs
}

// Highest is the open risk with the highest exposure, the first of equal ones; -1 where none has one.
func Highest(risks []Risk) int {
	at, top := -1, int64(0)
	for i := range risks {
		if e, ok := risks[i].Exposure(); ok && !Over(risks[i].State) && e > top {
			at, top = i, e
		}
	}
	return at
}

// Issue is something that has happened and must be dealt with.
type Issue struct {
	Code, Title, Priority, Owner, State, FromRisk string

	Due calendar.Date
	Ref fact.Ref
}

// high are the priorities that count as high.
var high = []string{"high", "highest", "very high", "urgent", "critical", "1"}

// High reports whether the issue is of high priority.
func (i *Issue) High() bool {
	return slices.Contains(high, strings.ToLower(strings.TrimSpace(i.Priority)))
}

// Late reports whether the issue is open and its due date has passed by the end of asOf.
func (i *Issue) Late(asOf calendar.Date) bool { return i.Due != 0 && i.Due <= asOf && !Over(i.State) }

// Action is something that somebody is to do.
type Action struct {
	Code, Title, Owner, State, Source string

	Percent fact.Int // hundredths of a percent
	Due     calendar.Date
	Ref     fact.Ref
}

// Open reports whether the action is still to be done.
func (a *Action) Open() bool { return !Over(a.State) && a.Percent.N < Full }

// Late reports whether the action is open and its due date has passed by the end of asOf.
func (a *Action) Late(asOf calendar.Date) bool { return a.Due != 0 && a.Due <= asOf && a.Open() }
