// Package health turns figures into statuses by tolerances, and says why in sentences.
//
// A dimension's status is its worst trigger that fired; overall is the worst dimension. A dimension without its inputs is
// not assessed, and overall is not assessed only when schedule and cost both are.
//
// # Comparing
//
// Figures and limits are compared as fractions, a limit being the decimal that it is written as: a figure equal to its limit has not
// crossed it, except where the sense says at or above. What is shown is rounded afterwards and never judged.
//
// # What does not count
//
// While a project is early, triggers on ratios are muted: told, hatched and left out of the status, with the day from which they count. An
// override stands over what was computed until its last day and changes nothing below it. Not assessed is no status among the others: it
// is the lack of one, and is never taken for on track.
package health

import (
	"fmt"
	"math/big"
	"slices"
	"sort"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
	"turret/internal/core/write"
)

// Status is a health status. The zero value means not assessed. Their order is that of the worse, so that the worst of several is their
// maximum.
type Status uint8

// The statuses, from good to bad after the first.
const (
	NotAssessed Status = iota
	OnTrack
	Watch
	Act
)

// String is the status as people read and declare it.
func (s Status) String() string {
	return [...]string{"not assessed", "on track", "watch", "act"}[s]
}

// ParseStatus reads a status as people declare it.
func ParseStatus(s string) (Status, bool) {
	switch s {
	case "on track":
		return OnTrack, true
	case "watch":
		return Watch, true
	case "act":
		return Act, true
	}
	return NotAssessed, false
}

// Dimension is one side of a project's health.
type Dimension uint8

// The dimensions, and overall after them for what can be said of either.
const (
	Schedule Dimension = iota
	Cost
	Scope
	Risk
	Benefit
	Overall
	dimensions = Overall
)

// Dimensions lists them in their usual order.
func Dimensions() []Dimension { return []Dimension{Schedule, Cost, Scope, Risk, Benefit} }

// String is the dimension as keys, files and settings name it.
func (d Dimension) String() string {
	return [...]string{"schedule", "cost", "scope", "risk", "benefit", "overall"}[d]
}

// ParseDimension reads a dimension, or overall.
func ParseDimension(s string) (Dimension, bool) {
	for d := Schedule; d <= Overall; d++ {
		if d.String() == s {
			return d, true
		}
	}
	return 0, false
}

// MissedMilestone is one whose baseline date has passed without it.
type MissedMilestone struct {
	Name  string
	Level schedule.Level // to whom it is reported
	Late  int            // working days
	Ahead bool           // it is still expected, after the as-of date
}

// Input is what a project's health is computed from. What is not given or not known has no trigger. Money is minor units of one currency.
// The zero value has nothing to judge and gives not assessed.
type Input struct {
	Deviation    fact.Int          // working days, positive when later
	PlannedDays  int64             // working days of the baseline; 0 where not known
	Milestones   int               // milestones with a baseline
	Missed       []MissedMilestone // of those, the missed
	BAC, VAC     fact.Int          // minor units, as the two below
	Actual       fact.Int          // cost up to the as-of date
	BudgetToDate fact.Int          // planned up to it
	EarnedValue  bool              // the project is held by earned value
	CostsAwaited bool              // the actual costs of the period have not come, so that what the figures say of cost is too good
	Statistical  bool              // VAC is by the cost index, not by a declared forecast
	CPI, TimeSPI fact.Ratio        // above 1 is favourable
	Scope        fact.Ratio        // work added after the baseline, share of all
	Exposure     fact.Int          // of the weightiest open risk, by the scale of the settings
	TopRisk      string            // the title of the risk with that exposure
	Threat       fact.Ratio        // expected value of open risks over the contingency left
	IssuesLate   fact.Int          // issues open after their due day
	Shortfall    fact.Ratio        // of the benefits planned
	Elapsed      fact.Ratio        // share of the planned duration that has passed
	Wakes        calendar.Date     // day from which ratios count, while it is early
	Overrides    []Override        // that hold
}

// Override is a status that a person set, with its reason, until a day. On is the dimension, or Overall.
type Override struct {
	On     Dimension // a dimension, or Overall
	Status Status
	Reason string
	Who    string
	Until  calendar.Date // the last day on which it stands
}

// Trigger is one comparison with a tolerance, fired or not.
type Trigger struct {
	Dimension Dimension
	Kind      Kind
	Key       string  // of its kind
	Value     float64 // in the form of its kind
	Limit     Tolerance
	Level     Status  // OnTrack where it did not fire
	Muted     bool    // early-stage: the level is told and does not count
	Sentence  string  // for a reader, with its figures
	Excess    float64 // share by which the value lies beyond the watch limit; 0 where it did not fire
}

// Result is a project's health. By and Overall are what stands: as computed, or as a person set it. Triggers stand worst first, those
// that are muted last.
type Result struct {
	Overall   Status
	By        [dimensions]Status     // as it stands, by dimension
	Computed  [dimensions + 1]Status // without overrides; the last is overall
	Muted     [dimensions]Status     // the level of what is muted, where it is worse than what counts
	Wakes     calendar.Date          // day from which what is muted counts; 0 where nothing is
	Overrides []Override             // that hold
	Triggers  []Trigger
	Stake     money.Amount // budget at completion times the largest excess, for the order of attention
	DaysLate  int64        // working days of the finish, 0 where it is not late
}

// Assess compares a project's figures with the tolerances. While it is early, triggers on ratios are muted, and so is the estimate at
// completion where it is by one of them; a dimension that only a muted trigger tells of is on track. The result hangs on nothing but the
// figures and the tolerances.
func Assess(in Input, tol Tolerances) Result {
	r := Result{Overrides: in.Overrides}
	early := in.Elapsed.Given() && in.Elapsed.Cmp(fact.Decimal(tol.Early)) < 0
	for _, list := range [][]Trigger{scheduleTriggers(in, tol), costTriggers(in, tol), otherTriggers(in, tol)} {
		for _, t := range list {
			ratio := kinds[t.Kind].Muted || t.Kind == CostShare && in.Statistical
			t.Muted = early && ratio && t.Level > OnTrack
			r.add(t)
		}
	}
	for d, m := range r.Muted {
		if m > NotAssessed && r.By[d] == NotAssessed {
			r.By[d] = OnTrack
		}
	}
	if r.Wakes = 0; slices.ContainsFunc(r.Triggers, func(t Trigger) bool { return t.Muted }) {
		r.Wakes = in.Wakes
	}
	sort.SliceStable(r.Triggers, func(i, j int) bool {
		a, b := r.Triggers[i], r.Triggers[j]
		switch {
		case a.Muted != b.Muted:
			return b.Muted
		case a.Level != b.Level:
			return a.Level > b.Level
		}
		return a.Excess > b.Excess
	})
	if in.Milestones > 0 && r.By[Schedule] == NotAssessed {
		r.By[Schedule] = OnTrack
	}
	r.stand(tol)
	excess := 0.0
	for _, t := range r.Triggers {
		if !t.Muted {
			excess = max(excess, t.Excess)
		}
	}
	r.Stake = money.Amount(float64(in.BAC.N) * excess)
	r.DaysLate = max(in.Deviation.N, 0)
	return r
}

// stand puts overrides over what was computed, dimensions before the whole.
func (r *Result) stand(tol Tolerances) {
	copy(r.Computed[:], r.By[:])
	r.Computed[Overall] = overall(r.By, tol.Weights)
	for _, o := range r.Overrides {
		if o.On < dimensions {
			r.By[o.On] = o.Status
		}
	}
	r.Overall = overall(r.By, tol.Weights)
	for _, o := range r.Overrides {
		if o.On == Overall {
			r.Overall = o.Status
		}
	}
	for d, m := range r.Muted {
		if m <= r.By[d] {
			r.Muted[d] = NotAssessed
		}
	}
}

// overall is the worst dimension. With weights it is the mean of the dimensions assessed, on track counting 0, watch 1 and act 2: watch
// from a half on, act from one on. It is not assessed only when schedule and cost both are.
func overall(by [dimensions]Status, weights [dimensions]float64) Status {
	if by[Schedule] == NotAssessed && by[Cost] == NotAssessed {
		return NotAssessed
	}
	worst, sum, points := NotAssessed, new(big.Rat), new(big.Rat)
	for d, s := range by {
		worst = max(worst, s)
		if w := fact.Decimal(weights[d]).Rat(); s != NotAssessed && w.Sign() > 0 {
			sum.Add(sum, w)
			points.Add(points, w.Mul(w, big.NewRat(int64(s-OnTrack), 1)))
		}
	}
	switch {
	case sum.Sign() == 0:
		return worst
	case points.Cmp(sum) >= 0:
		return Act
	case points.Add(points, points).Cmp(sum) >= 0:
		return Watch
	}
	return OnTrack
}

// Steps is how many steps better than computed a status was declared; negative is worse. It is false where one is missing.
func Steps(declared, computed Status) (int, bool) {
	return int(computed) - int(declared), declared != NotAssessed && computed != NotAssessed
}

// InForce is the status that stands for a dimension or overall.
func (r *Result) InForce(d Dimension) Status {
	if d == Overall {
		return r.Overall
	}
	return r.By[d]
}

// Set is the override of a dimension or of overall; nil where none holds.
func (r *Result) Set(d Dimension) *Override {
	for i := range r.Overrides {
		if r.Overrides[i].On == d {
			return &r.Overrides[i]
		}
	}
	return nil
}

// add puts in a trigger; one that is muted counts for what it would make of its dimension, and for no more.
func (r *Result) add(t Trigger) {
	if t.Muted {
		r.Muted[t.Dimension] = max(r.Muted[t.Dimension], t.Level)
	} else {
		r.By[t.Dimension] = max(r.By[t.Dimension], t.Level)
	}
	r.Triggers = append(r.Triggers, t)
}

// overUnder says by what share something is over or under something else.
func overUnder(what string, share float64, of string) string {
	switch {
	case share > 0:
		return fmt.Sprintf("%s %s over %s", what, write.Percent(share, 1), of)
	case share < 0:
		return fmt.Sprintf("%s %s under %s", what, write.Percent(-share, 1), of)
	}
	return what + " equals " + of
}

// Reached is the status that the figure of a kind reaches by its own tolerance, whatever else made that of its dimension; of several the
// worst. Not assessed where there is none.
func (r *Result) Reached(k Kind) Status {
	worst := NotAssessed
	for _, t := range r.Triggers {
		if t.Kind == k {
			worst = max(worst, t.Level)
		}
	}
	return worst
}

// Fired lists the triggers beyond their tolerance that count, worst first.
func (r *Result) Fired() []Trigger {
	for i, t := range r.Triggers {
		if t.Level < Watch || t.Muted {
			return r.Triggers[:i]
		}
	}
	return r.Triggers
}

// Reason says in a sentence why the status is what it is: the worst trigger and the next one of another kind.
func (r *Result) Reason() string {
	fired := r.Fired()
	if len(fired) == 0 {
		return ""
	}
	s := fired[0].Sentence
	about, _, cut := strings.Cut(s, ":")
	for _, t := range fired[1:] {
		same, _, _ := strings.Cut(t.Sentence, ":")
		if t.Key != fired[0].Key && (!cut || same != about) {
			return s + "; " + lowerFirst(t.Sentence, t.Key)
		}
	}
	return s
}

// lowerFirst continues a sentence; a milestone's name keeps its case.
func lowerFirst(s, key string) string {
	if key == "missed_milestone" {
		return s
	}
	return strings.ToLower(s[:1]) + s[1:]
}

// Member is one project of a group.
type Member struct {
	Status Status
	BAC    money.Amount // its weight
}

// Group is the status of a group: act when projects at act hold at least the limit's share of its budget, watch when act and watch
// together do. Projects that are not assessed do not count; without any budget the worst status stands. Equal to the limit holds it.
// Budgets below zero weigh nothing.
func Group(members []Member, limit float64) Status {
	var all, watch, act int64
	worst := NotAssessed
	for _, m := range members {
		if m.Status == NotAssessed {
			continue
		}
		worst = max(worst, m.Status)
		weight := int64(max(m.BAC, 0))
		all += weight
		if m.Status >= Watch {
			watch += weight
		}
		if m.Status == Act {
			act += weight
		}
	}
	least := fact.Decimal(limit)
	switch {
	case all == 0:
		return worst
	case fact.Of(act, all).Cmp(least) >= 0:
		return Act
	case fact.Of(watch, all).Cmp(least) >= 0:
		return Watch
	}
	return OnTrack
}
