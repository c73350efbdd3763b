package health

import (
	"fmt"

	"turret/internal/core/fact"
	"turret/internal/core/write"
)

// Tolerance is a pair of limits: a value beyond Watch is at watch, beyond Act at act. Shares are fractions, indices numbers about 1, days
// and counts whole numbers; Act is no nearer to the plan than Watch.
type Tolerance struct{ Watch, Act float64 }

// Sense says on which side of a limit a value is beyond it.
type Sense uint8

// The senses.
const (
	Above Sense = iota
	AtLeast
	Below
)

func (s Sense) String() string { return [...]string{"above", "at or above", "below"}[s] }

// beyond reports whether v lies beyond a limit, which is taken as the decimal that it is written as. A value above or below that equals
// its limit has not crossed it.
func (s Sense) beyond(v fact.Ratio, limit float64) bool {
	c := v.Cmp(fact.Decimal(limit))
	switch s {
	case AtLeast:
		return c >= 0
	case Below:
		return c < 0
	}
	return c > 0
}

// Kind is a kind of trigger.
type Kind uint8

// The kinds of triggers.
const (
	FinishShare Kind = iota
	MissedMilestoneDays
	TimeSPI
	CostShare
	CPI
	SpentShare
	ScopeShare
	Exposure
	ThreatShare
	IssuesLate
	BenefitShare
	kindCount
)

// Form is how the value of a trigger is written.
type Form uint8

// The forms: a share as a percentage, working days, an index, or a count.
const (
	AsShare Form = iota
	AsDays
	AsIndex
	AsCount
)

// Rule is what holds for all triggers of a kind.
type Rule struct {
	Kind      Kind
	Key, Name string // as settings and files name it
	Dimension Dimension
	Sense     Sense     // on which side of a limit a value is beyond it
	Form      Form      // in which limits are written
	Muted     bool      // while a project is early: ratios of small figures mean little
	Default   Tolerance // where no other is set
}

var kinds = [kindCount]Rule{
	{FinishShare, "finish_share", "Finish later, over planned duration", Schedule, Above, AsShare, false,
		Tolerance{0.05, 0.10}},
	{MissedMilestoneDays, "missed_milestone", "Missed milestone of programme or portfolio level, working days late", Schedule, Above,
		AsDays, false, Tolerance{0, 20}},
	{TimeSPI, "spi_t", "Schedule index in time", Schedule, Below, AsIndex, true, Tolerance{0.95, 0.85}},
	{CostShare, "vac_share", "Estimate over budget at completion", Cost, Above, AsShare, false, Tolerance{0.05, 0.10}},
	{CPI, "cpi", "Cost performance index", Cost, Below, AsIndex, true, Tolerance{0.95, 0.90}},
	{SpentShare, "spent_to_date_share", "Actual over budget to date, earned value off", Cost, Above, AsShare,
		false, Tolerance{0.05, 0.10}},
	{ScopeShare, "scope_added_share", "Work added after the baseline, share of all", Scope, Above, AsShare, true,
		Tolerance{0.10, 0.20}},
	{Exposure, "risk_exposure", "Highest open exposure, 1 to 25", Risk, AtLeast, AsCount, false, Tolerance{12, 20}},
	{ThreatShare, "risk_expected_share", "Expected value of open risks over contingency left", Risk, Above,
		AsShare, false, Tolerance{0.75, 1}},
	{IssuesLate, "issues_late", "Open high-priority issues past due", Risk, AtLeast, AsCount, false, Tolerance{1, 3}},
	{BenefitShare, "benefit_shortfall", "Forecast benefit below plan", Benefit, Above, AsShare, false,
		Tolerance{0.10, 0.20}},
}

// Rules lists the kinds of triggers in their usual order.
func Rules() []Rule { return kinds[:] }

// Rule is what holds for the kind.
func (k Kind) Rule() Rule { return kinds[k] }

// RuleOf finds a kind of trigger by its key.
func RuleOf(key string) (Rule, bool) {
	for _, r := range kinds {
		if r.Key == key {
			return r, true
		}
	}
	return Rule{}, false
}

// Level is the status that a value reaches by a tolerance.
func (r Rule) Level(v fact.Ratio, t Tolerance) Status {
	switch {
	case r.Sense.beyond(v, t.Act):
		return Act
	case r.Sense.beyond(v, t.Watch):
		return Watch
	}
	return OnTrack
}

// Check refuses a tolerance that makes no sense: not a number, or watch stricter than act.
func (r Rule) Check(t Tolerance) error {
	if !(t.Watch >= 0 && t.Watch <= 10_000 && t.Act >= 0 && t.Act <= 10_000) {
		return fmt.Errorf("0 to 10 000")
	}
	if r.Sense == Below && t.Act > t.Watch || r.Sense != Below && t.Act < t.Watch {
		return fmt.Errorf("act no nearer to the plan than watch")
	}
	return nil
}

// Write writes a value of the kind for reading.
func (r Rule) Write(v float64) string {
	switch r.Form {
	case AsShare:
		return write.Percent(v, 1)
	case AsIndex:
		return write.Float(v, 2)
	case AsDays:
		return write.Float(v, 0) + " working days"
	}
	return write.Float(v, 0)
}

// Says tells a tolerance in words.
func (r Rule) Says(t Tolerance) string {
	return fmt.Sprintf("Watch %s %s, act %s %s.", r.Sense, r.Write(t.Watch), r.Sense, r.Write(t.Act))
}

// Room is how far a value is from a limit as a share of the way there: 1 on the limit, above 1 beyond it, 0 at or better than plan.
func (r Rule) Room(v float64, t Tolerance) float64 {
	plan := 0.0
	if r.Sense == Below {
		plan = 1
	}
	way := t.Act - plan
	if way == 0 {
		return 0
	}
	return max(0, (v-plan)/way)
}

// Tolerances are the limits of every kind of trigger, and what else decides a status. Shares are fractions.
type Tolerances struct {
	Of         [kindCount]Tolerance // by kind of trigger
	GroupShare float64              // share of a group's budget that decides its status
	Early      float64              // share of the planned duration until which ratios are muted
	Weights    [dimensions]float64  // of the dimensions in the overall status; all 0 takes the worst
}

// Defaults are the tolerances of a new installation.
func Defaults() Tolerances {
	t := Tolerances{GroupShare: 0.25, Early: 0.15}
	for i, r := range kinds {
		t.Of[i] = r.Default
	}
	return t
}
