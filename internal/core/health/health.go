// Package health turns figures into statuses by tolerances, and says why in sentences.
//
// A dimension's status is its worst trigger that fired; overall is the worst dimension. A dimension without its inputs is
// not assessed, and overall is not assessed only when schedule and cost both are.
package health

import (
	"fmt"
	"sort"
	"strconv"
	"strings"

	"turret/internal/core/fact"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
)

// Status is a health status. The zero value means not assessed.
type Status uint8

// The statuses, from good to bad after the first.
const (
	NotAssessed Status = iota
	OnTrack
	Watch
	Act
)

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

// The dimensions that are assessed; scope, risk and benefit are only declared until their inputs are taken in.
const (
	Schedule Dimension = iota
	Cost
	Scope
	Risk
	Benefit
	dimensions
)

// Dimensions lists them in their usual order.
func Dimensions() []Dimension { return []Dimension{Schedule, Cost, Scope, Risk, Benefit} }

func (d Dimension) String() string {
	return [...]string{"schedule", "cost", "scope", "risk", "benefit"}[d]
}

// Tolerance is a pair of limits: a value above Watch is at watch, above Act at act.
type Tolerance struct{ Watch, Act float64 }

// Level is the status that a value reaches.
func (t Tolerance) Level(v float64) Status {
	switch {
	case v > t.Act:
		return Act
	case v > t.Watch:
		return Watch
	}
	return OnTrack
}

// Tolerances are the limits of every trigger. Shares are fractions, days are working days.
type Tolerances struct {
	FinishShare   Tolerance // finish deviation over planned duration
	MilestoneDays Tolerance // a missed milestone of programme or portfolio level
	CostShare     Tolerance // budget overrun at completion over budget
	SpentShare    Tolerance // actual over budget to date, earned value off
	GroupShare    float64   // share of a group's budget that decides its status
}

// Defaults are the tolerances of a new installation.
func Defaults() Tolerances {
	return Tolerances{
		FinishShare:   Tolerance{0.05, 0.10},
		MilestoneDays: Tolerance{0, 20},
		CostShare:     Tolerance{0.05, 0.10},
		SpentShare:    Tolerance{0.05, 0.10},
		GroupShare:    0.25,
	}
}

// Money is an amount that may be missing.
type Money struct {
	Amount money.Amount
	Known  bool
}

// MissedMilestone is one whose baseline date has passed without it.
type MissedMilestone struct {
	Name  string
	Level schedule.Level
	Late  int // working days
}

// Input is what a project's health is computed from.
type Input struct {
	Deviation    fact.Int // working days, positive when later
	PlannedDays  int64    // working days of the baseline; 0 where not known
	Milestones   int      // milestones with a baseline
	Missed       []MissedMilestone
	BAC, VAC     Money
	Actual       Money
	BudgetToDate Money
	EarnedValue  bool
}

// Trigger is one comparison with a tolerance, fired or not.
type Trigger struct {
	Dimension Dimension
	Key       string // the measure compared, or missed_milestone
	Value     float64
	Limit     Tolerance
	Level     Status
	Sentence  string
	Excess    float64 // share by which the value lies beyond the watch limit; 0 where it did not fire
}

// Result is a project's computed health. Triggers stand worst first.
type Result struct {
	Overall  Status
	By       [dimensions]Status
	Triggers []Trigger
	Stake    money.Amount // budget at completion times the largest excess, for the order of attention
	DaysLate int64
}

// Assess compares a project's figures with the tolerances.
func Assess(in Input, tol Tolerances) Result {
	var r Result
	r.add(scheduleTriggers(in, tol)...)
	r.add(costTriggers(in, tol)...)
	sort.SliceStable(r.Triggers, func(i, j int) bool {
		a, b := r.Triggers[i], r.Triggers[j]
		if a.Level != b.Level {
			return a.Level > b.Level
		}
		return a.Excess > b.Excess
	})
	if in.Milestones > 0 && r.By[Schedule] == NotAssessed {
		r.By[Schedule] = OnTrack
	}
	r.Overall = max(r.By[Schedule], r.By[Cost])
	excess := 0.0
	for _, t := range r.Triggers {
		excess = max(excess, t.Excess)
	}
	r.Stake = money.Amount(float64(in.BAC.Amount) * excess)
	r.DaysLate = max(in.Deviation.N, 0)
	return r
}

func (r *Result) add(list ...Trigger) {
	for _, t := range list {
		r.By[t.Dimension] = max(r.By[t.Dimension], t.Level)
		r.Triggers = append(r.Triggers, t)
	}
}

func scheduleTriggers(in Input, tol Tolerances) []Trigger {
	var list []Trigger
	if in.Deviation.Given && in.PlannedDays > 0 {
		share := float64(in.Deviation.N) / float64(in.PlannedDays)
		t := fire(Schedule, "finish_share", share, tol.FinishShare)
		t.Sentence = fmt.Sprintf("Finish %s, %s of the planned duration",
			schedule.Lateness(in.Deviation.N), Percent(max(share, -share)))
		if in.Deviation.N == 0 {
			t.Sentence = "Finish on its baseline"
		}
		list = append(list, t)
	}
	for _, m := range in.Missed {
		if m.Level == schedule.ProjectLevel {
			continue
		}
		t := fire(Schedule, "missed_milestone", float64(m.Late), tol.MilestoneDays)
		if t.Level != OnTrack {
			t.Excess = 0
			if in.PlannedDays > 0 {
				t.Excess = (t.Value - t.Limit.Watch) / float64(in.PlannedDays)
			}
		}
		t.Sentence = fmt.Sprintf("%s missed, %s", m.Name, schedule.Lateness(int64(m.Late)))
		list = append(list, t)
	}
	return list
}

func costTriggers(in Input, tol Tolerances) []Trigger {
	var list []Trigger
	if in.BAC.Known && in.VAC.Known && in.BAC.Amount > 0 {
		share := float64(-in.VAC.Amount) / float64(in.BAC.Amount)
		t := fire(Cost, "vac_share", share, tol.CostShare)
		t.Sentence = overUnder("Estimate at completion", share, "budget")
		list = append(list, t)
	}
	if !in.EarnedValue && in.Actual.Known && in.BudgetToDate.Known && in.BudgetToDate.Amount > 0 {
		share := float64(in.Actual.Amount-in.BudgetToDate.Amount) / float64(in.BudgetToDate.Amount)
		t := fire(Cost, "spent_to_date_share", share, tol.SpentShare)
		t.Sentence = overUnder("Actual cost", share, "budget to date")
		list = append(list, t)
	}
	return list
}

func fire(d Dimension, key string, v float64, limit Tolerance) Trigger {
	t := Trigger{Dimension: d, Key: key, Value: v, Limit: limit, Level: limit.Level(v)}
	if t.Level != OnTrack {
		t.Excess = v - limit.Watch
	}
	return t
}

func overUnder(what string, share float64, of string) string {
	switch {
	case share > 0:
		return fmt.Sprintf("%s %s over %s", what, Percent(share), of)
	case share < 0:
		return fmt.Sprintf("%s %s under %s", what, Percent(-share), of)
	}
	return what + " equals " + of
}

// Percent writes a share with one decimal, such as "13.1 %".
func Percent(share float64) string {
	s := strconv.FormatFloat(share*100, 'f', 1, 64)
	if s == "-0.0" {
		s = "0.0"
	}
	return strings.Replace(s, "-", "−", 1) + " %"
}

// Fired lists the triggers beyond their tolerance, worst first.
func (r *Result) Fired() []Trigger {
	for i, t := range r.Triggers {
		if t.Level < Watch {
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
	for _, t := range fired[1:] {
		if t.Key != fired[0].Key {
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
	BAC    money.Amount
}

// Group is the status of a group: act when projects at act hold at least the limit's share of its budget, watch when act
// and watch together do. Projects that are not assessed do not count; without any budget the worst status stands.
func Group(members []Member, limit float64) Status {
	var all, watch, act float64
	worst := NotAssessed
	for _, m := range members {
		if m.Status == NotAssessed {
			continue
		}
		worst = max(worst, m.Status)
		weight := float64(max(m.BAC, 0))
		all += weight
		if m.Status >= Watch {
			watch += weight
		}
		if m.Status == Act {
			act += weight
		}
	}
	switch {
	case all == 0:
		return worst
	case act >= limit*all:
		return Act
	case watch >= limit*all:
		return Watch
	}
	return OnTrack
}
