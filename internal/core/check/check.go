// Package check holds the data checks: what cannot be right, what is unlikely and what is worth knowing. Each counts the records it
// tested and names those that failed. A check never changes a figure.
//
// # How checks count
//
// Most rules test each record of a kind; those about a whole project test one record, the project, also where their input is missing, so
// that the number tested does not fall when an input does. A finding that somebody accepted is kept and counts as passed until the day
// that was agreed. The data score is 100 x (1 - failed / tested), both weighted by severity.
//
// # Limits
//
// A limit is the decimal that it is written as and is compared without rounding. Its rule says which side equality falls on: those of
// lags, float, duration and rises fail above the limit, those of falls, days moved and weeks in a row from the limit on.
package check

import (
	"fmt"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/figure"
	"turret/internal/core/health"
	"turret/internal/core/money"
	"turret/internal/core/risk"
	"turret/internal/core/schedule"
	"turret/internal/core/write"
)

// Severity is how much a finding matters.
type Severity uint8

// The severities: what cannot be right, what is unlikely, and what is worth knowing.
const (
	Error Severity = iota
	Warning
	Information
)

func (s Severity) String() string { return [...]string{"error", "warning", "information"}[s] }

// Weight is what a record of the severity counts for in the data score.
func (s Severity) Weight() int64 { return [...]int64{5, 2, 1}[s] }

// ParseSeverity reads a severity.
func ParseSeverity(s string) (Severity, bool) {
	for _, x := range []Severity{Error, Warning, Information} {
		if x.String() == s {
			return x, true
		}
	}
	return 0, false
}

// Limit is a number that a check depends on and that an installation may set. Shares are fractions of 1: 0.05 is 5 %.
type Limit struct {
	Name    string // what it limits, with its unit
	Default float64
	Share   bool // a fraction, written as a percentage
}

// Rule is one check.
type Rule struct {
	ID, Name string // as addresses, settings and files name it
	Says     string // the rule in a sentence
	Severity Severity
	Records  string            // what it is tested on, in the plural
	Mend     string            // what mends it
	Limit    *Limit            // nil where there is none
	Costs    bool              // its findings tell of amounts
	on       subject           // of the projects that it is run on
	run      func(*In, *Tally) // counts what it tests and notes what fails
}

// subject is which projects a check is of.
type subject uint8

const (
	open subject = iota
	closed
	proposed
	simulated
)

// Moment is how a project stood in an earlier closed period. Work is the value of the work done, also without earned value. A figure that
// was not known then is unknown here, and no rule compares with it.
type Moment struct {
	Period                         calendar.Period
	BAC, EV, AC, CPI, Percent      figure.Value // minor units, but CPI and Percent
	Work                           figure.Value // minor units
	BaselineFinish, ExpectedFinish figure.Value
	SameForecast                   bool // the forecast then is the one now, in the months that both hold
}

// cpi is the cost index then, from the amounts it was computed from.
func (m *Moment) cpi() fact.Ratio {
	if m.CPI.Known && m.EV.Known && m.AC.Known {
		return fact.Of(m.EV.N, m.AC.N)
	}
	return fact.Ratio{}
}

// percent is how much was complete then, from the amounts it was computed from.
func (m *Moment) percent() fact.Ratio {
	if m.Percent.Known && m.Work.Known && m.BAC.Known {
		return fact.Of(m.Work.N, m.BAC.N)
	}
	return fact.Ratio{}
}

// Code is what was posted on a cost code.
type Code struct {
	Name   string
	Closed bool         // it takes no more cost, or is not in the tree
	Amount money.Amount // posted on it up to the as-of date
}

// Budgeted is what an approved change was to add to the budget and what the lines that name it add, in one currency.
type Budgeted struct {
	Change          string       // its code
	Other           bool         // the change was approved in another currency
	Approved, Lines money.Amount // minor units of Currency
	Currency        money.Currency
	Ref             fact.Ref
}

// Twice is a document that stands in the ledger more than once, with the same day, code and amount.
type Twice struct {
	Document string
	Rows     int // 2 or more
	Ref      fact.Ref
}

// Late is an input that is expected each period and came last for an earlier one.
type Late struct{ Kind, Last string }

// Ledger is what checks need of a project's postings and timesheets.
type Ledger struct {
	Documents   int // postings with a document
	Twice       []Twice
	AfterFinish int           // postings after the project's finish
	LastPosting calendar.Date // the latest after the finish
	Hours       int           // rows of timesheets that name an activity
	Idle        []Idle
	Late        Idle // hours after the project's finish; without an activity
}

// Idle is an activity with hours booked after its finish.
type Idle struct {
	Activity string
	Rows     int           // of timesheets, dated after the finish
	Last     calendar.Date // the latest of their dates
	Ref      fact.Ref
}

// In is a project as checks see it. Amounts are in Currency, the reporting currency of the installation; days that are not known are 0.
// Rules read it and change nothing.
type In struct {
	AsOf     calendar.Date
	Days     *calendar.Calendar // of the organisation
	Currency money.Currency     // of all amounts but those of changes

	Activities []schedule.Activity
	Logic      *schedule.Logic // nil where the network was not computed
	Events     []schedule.Event
	Driven     bool          // dated by the network, so that the team's own dates stand in Sent
	Finished   calendar.Date // the day on which the last activity ended; 0 while one is open

	EarnedValue                                     bool
	Lines, ForecastLines, Postings                  int    // rows of the budget, of the forecast, and postings up to the as-of date
	Codes                                           []Code // that cost is posted on
	Changes                                         []Budgeted
	Rates                                           []error // the first missing rate of each input
	Ledger                                          Ledger
	BAC, EAC, EV, AC, ToDate, Open, CPI, TCPI       figure.Value // Open is what is ordered and not invoiced
	Work, Percent, Threat, Contingency              figure.Value // value of the work, percent, expected cost of risks, contingency left
	BaselineFinish, ExpectedFinish, FinishDeviation figure.Value
	Past                                            []Moment // closed periods before the one assessed, ascending
	Risks                                           []risk.Risk
	Commentary                                      string           // written for the period
	Declared, Computed                              health.Status    // overall; NotAssessed where nothing was said
	DeclaredOn, ComputedOn                          [5]health.Status // by dimension
	Late                                            []Late           // inputs that have not come
	Tested                                          int              // inputs expected each period
	Staffing                                        Staffing
	Gating                                          Gating
	Runs                                            Runs     // by RunSimulated
	Project                                         fact.Ref // row of the project, where no other is to mend
	Status                                          fact.Ref // row of the status

	limit func(id string) float64
}

// Finding is one record that failed a check.
type Finding struct {
	Rule     *Rule
	Record   string // its key within the project; empty for the project itself
	Kind     string // of input, where the record is mended
	Field    string // to mend
	Says     string
	Ref      fact.Ref
	Accepted *Acceptance // nil where it counts
}

// Acceptance is a finding that a person took responsibility for, until a day.
type Acceptance struct {
	ID     int64
	Rule   string
	Record string // its key, as the finding has it
	Reason string
	Who    string
	Until  calendar.Date // the last day on which it holds
}

// Tally counts what a check tested and collects what failed. A rule tests first and fails after, so that failed is never above tested.
type Tally struct {
	rule     *Rule
	tested   int // records, those that failed among them
	findings []Finding
}

// Result is what checks found in a project, in the order of the rules.
type Result struct {
	Findings []Finding
	Tested   []Count // by rule, those that were run
}

// Count is how many records a rule tested and how many of them failed and count.
type Count struct {
	Rule           *Rule
	Tested, Failed int // records; failed ones that are accepted do not count as such
}

// Weight is what the records that failed count for in the data score.
func (c Count) Weight() int64 { return int64(c.Failed) * c.Rule.Severity.Weight() }

// Lost is how many points of the data score the failed records cost, of a weighted number tested; 0 where nothing was tested.
func (c Count) Lost(tested int64) float64 {
	if tested == 0 {
		return 0
	}
	return 100 * float64(c.Weight()) / float64(tested)
}

// Options say which checks run and with what limits. The zero value runs all checks with their defaults.
type Options struct {
	Off    map[string]bool    // checks that are not run, by id
	Limits map[string]float64 // by id, where they differ from the default
}

// Run tests a project that is open with every check of such that is not off. Findings that are accepted are kept and do not count as
// failed.
func Run(in *In, opt Options, accepted []Acceptance) Result { return in.run(open, opt, accepted) }

// RunClosed tests a project that is closed. It counts what it finds and nothing else, so that closed projects weigh nothing in a score
// while nothing is wrong.
func RunClosed(in *In, opt Options, accepted []Acceptance) Result {
	return in.run(closed, opt, accepted)
}

// RunProposed tests a project that is proposed, and counts as RunClosed does.
func RunProposed(in *In, opt Options, accepted []Acceptance) Result {
	return in.run(proposed, opt, accepted)
}

// run applies the rules of one subject. A rule about projects that are not open is counted only where it found something.
func (in *In) run(on subject, opt Options, accepted []Acceptance) (r Result) {
	for i := range rules {
		rule := &rules[i]
		if rule.on != on || opt.Off[rule.ID] {
			continue
		}
		in.limit = func(id string) float64 {
			if v, ok := opt.Limits[id]; ok {
				return v
			}
			return rule.Limit.Default
		}
		t := Tally{rule: rule}
		rule.run(in, &t)
		if on == open || len(t.findings) > 0 {
			r.Add(rule, t.tested, t.findings, accepted)
		}
	}
	return r
}

// Add puts in what one rule found. An acceptance holds for the record of that name under that rule, and only there; whether its day has
// passed is for the caller.
func (r *Result) Add(rule *Rule, tested int, findings []Finding, accepted []Acceptance) {
	c := Count{Rule: rule, Tested: tested, Failed: len(findings)}
	for i := range findings {
		f := &findings[i]
		f.Rule = rule
		if at := slices.IndexFunc(accepted, func(a Acceptance) bool { return a.Rule == rule.ID && a.Record == f.Record }); at >= 0 {
			f.Accepted = &accepted[at]
			c.Failed--
		}
	}
	r.Findings = append(r.Findings, findings...)
	r.Tested = append(r.Tested, c)
}

// Failed counts the findings of a severity that count.
func (r *Result) Failed(s Severity) int {
	n := 0
	for i := range r.Findings {
		if r.Findings[i].Rule.Severity == s && r.Findings[i].Accepted == nil {
			n++
		}
	}
	return n
}

// Weights are the weighted numbers of records that failed and that were tested.
func (r *Result) Weights() (failed, tested int64) {
	for _, c := range r.Tested {
		failed += c.Weight()
		tested += int64(c.Tested) * c.Rule.Severity.Weight()
	}
	return failed, tested
}

// Rules lists the checks in their order: errors, warnings, information.
func Rules() []Rule { return rules }

// Lookup finds a check by its id; nil for what is none.
func Lookup(id string) *Rule {
	for i := range rules {
		if rules[i].ID == id {
			return &rules[i]
		}
	}
	return nil
}

// LimitSays writes the limit of a check.
func (l *Limit) LimitSays(v float64) string {
	if l.Share {
		return write.Percent(v, 1)
	}
	return fmt.Sprintf("%g", v)
}

// test counts n more records as tested.
func (t *Tally) test(n int) { t.tested += n }

// fail notes a record; field is the column in which it is mended.
func (t *Tally) fail(kind, record, field string, ref fact.Ref, format string, args ...any) {
	t.findings = append(t.findings, Finding{Kind: kind, Record: record, Field: field, Ref: ref, Says: fmt.Sprintf(format, args...)})
}

// project notes the project itself.
func (t *Tally) project(kind, field string, ref fact.Ref, format string, args ...any) {
	t.fail(kind, "", field, ref, format, args...)
}

var rules []Rule

// costly are the checks whose findings tell of amounts. They are left out for readers without the right to see costs.
var costly = []string{"closed_code", "budget_sum", "missing_rate", "posted_twice", "negative_actual", "budget_raised", "estimate_low",
	"forecast_asleep", "estimate_hopeful",
	"cost_idle", "progress_free", "cost_after_finish", "over_to_date", "estimate_far_below", "no_contingency", "percent_fell",
	"gate_beyond", "contingency_short"}

func init() {
	rules = slices.Concat(errorRules(), warningRules(), staffingRules(), gatingRules(), simulatedRules(), informationRules())
	for i := range rules {
		rules[i].Costs = slices.Contains(costly, rules[i].ID)
	}
}

// WithoutCosts are the results of the checks that tell nothing of amounts.
func (r *Result) WithoutCosts() Result {
	return Result{Findings: slices.DeleteFunc(slices.Clone(r.Findings), func(f Finding) bool { return f.Rule.Costs }),
		Tested: slices.DeleteFunc(slices.Clone(r.Tested), func(c Count) bool { return c.Rule.Costs })}
}
