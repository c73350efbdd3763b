// Package measure is the catalogue: every figure's name, unit, formula, source, direction, roll-up, function and trace.
//
// Base measures are read off a project's account, outlook and health; derived ones are computed from other measures, for a
// project and for a group alike. A figure that cannot be computed is undefined with a reason, and so is what builds on it.
//
// # Standards
//
// Earned value follows ISO 21508 and EIA-748, earned schedule Lipke (2003); risk is rated on a grid of five by five in the manner of ISO
// 31000. Money is whole minor units of one reporting currency, working days are those of the organisation's calendar unless an activity
// has its own, shares and indices are exact fractions that are rounded only where they are read.
//
// # How groups come to theirs
//
// A group's figure is never a mean of its projects' ratios: amounts are added over the projects that have every basic input, and the ratio
// is computed from the sums. A project that lacks an input is left out and named with the reason; one whose own ratio is undefined over a
// zero takes part all the same, since its amounts count.
//
// # Order
//
// The catalogue stands in the order of computation: a measure after all those that it builds on, health after what it is judged by, checks
// last. Every measure is computed once for a project, in time linear in its rows.
package measure

import (
	"fmt"

	"turret/internal/core/backlog"
	"turret/internal/core/benefit"
	"turret/internal/core/calendar"
	"turret/internal/core/capacity"
	"turret/internal/core/check"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/health"
	"turret/internal/core/money"
	"turret/internal/core/risk"
	"turret/internal/core/schedule"
)

// Info describes a project. Days are 0 where not given. What is not said of a project's state is that it is open.
type Info struct {
	ID                          int64  // of the file, not of its sender
	Code, Name                  string // unique in the file
	Parent                      int64  // id of the node above; 0 at the top
	Lead, Sponsor, Category     string
	Stage, BusinessUnit         string            // as the office calls them; empty where not given
	Status                      State             // open, proposed, closed or cancelled
	Currency                    money.Currency    // of amounts that name none
	PlannedStart, PlannedFinish calendar.Date     // as the project was set up; 0 where not given
	RequiredFinish              calendar.Date     // by which it must end; 0 where not given
	Driven, EarnedValue         bool              // dated by the network; held by earned value
	Labour                      cost.Way          // what its cost of labour is known from
	Own                         map[string]string // fields of the office's own by their codes, as files write them; nil for none
	Ref                         fact.Ref
}

// Declared is what a project's lead said. It counts for the period that it was sent for and until a later one comes.
type Declared struct {
	Overall    health.Status    // NotAssessed where the lead said nothing of the whole
	By         [5]health.Status // by dimension
	Percent    fact.Int         // hundredths of a percent
	Commentary string           // in light Markdown
	Period     calendar.Period  // that it was sent for
	Ref        fact.Ref
}

// Words are what a person wrote to the figures of a period, in light Markdown.
type Words struct {
	On        health.Dimension // a dimension, or overall
	Text, Who string
}

// DeclaredOn is the status that the lead declared for a dimension, or overall.
func (p *Project) DeclaredOn(d health.Dimension) health.Status {
	switch {
	case p.Declared == nil:
		return health.NotAssessed
	case d == health.Overall:
		return p.Declared.Overall
	}
	return p.Declared.By[d]
}

// Project is a project with everything computed for it; or a node with its registers alone. Values has one figure for each entry of the
// catalogue. A project is read by many at once and not changed after Assess.
type Project struct {
	Info
	Node       bool                // a portfolio or programme, of which only registers are there
	Account    cost.Account        // its money, in the currency of the environment
	Changes    []cost.Change       // the register
	Activities []schedule.Activity // in the order of the file
	Logic      schedule.Logic      // what the network says
	Sent       []fact.Ref          // the rows of the dependencies that it sent
	Outlook    schedule.Outlook    // how it stands in time
	Events     []schedule.Event    // its milestones
	Declared   *Declared           // nil where nothing was declared
	Words      []Words             // what was written to its figures for the period, overall first
	Risks      []risk.Risk         // the registers, as sent and whatever their states
	Threat     Threat              // what its open risks are expected to cost
	Issues     []risk.Issue
	Actions    []risk.Action
	Steps      []risk.Step
	Decisions  []risk.Decision
	Items      []backlog.Item // of its backlog; none where it is not run by one
	Iterations []backlog.Iteration
	Benefits   []benefit.Benefit
	Shares     []capacity.Share  // what it wants of people
	Gains      Gains             // what its benefits come to
	Past       []Past            // closed periods before the as-of date, ascending
	Overrides  []health.Override // that people set and that hold
	Audit      Audit             // what checks are given besides
	Awaits     []Awaited         // inputs of the period that have not come
	Checks     check.Result      // what data checks found
	Health     health.Result     // as computed, and as it stands
	Tolerances health.Tolerances // that it was held against
	Values     []Value           // in the order of the catalogue
	backlog    *backlog.Progress // how far it is; nil without items
	added      int64             // working days of activities without a baseline
	worked     int64             // and of all
	env        Env               // that it was computed under
	end        calendar.Date     // its last activity ended, 0 while one is open
	weight     money.Amount      // budget at completion where that is kept from the reader: statuses of groups still need it
}

// Env is what the project was computed under.
func (p *Project) Env() Env { return p.env }

// Value returns the figure of a key of the catalogue; an unknown key is undefined.
func (p *Project) Value(key Key) Value { return pick(p.Values, key) }

// pick is the value of a key among those of the catalogue.
func pick(values []Value, key Key) Value {
	if key == None || len(values) == 0 {
		return unknown("not a measure of the catalogue")
	}
	return values[places[key]]
}

// Assess computes schedule, health and every measure of a project whose account, activities and declaration are filled in. It takes time
// linear in activities, lines and records, and reads no clock.
func Assess(p *Project, env Env) {
	opt := env.Milestones
	opt.AsOf, p.env, p.backlog = env.AsOf, env, nil
	p.end = FinishedOn(p.Activities, env.AsOf)
	p.added, p.worked = sizeOf(p)
	p.Outlook = schedule.Look(p.Activities, p.PlannedStart, p.PlannedFinish, env.AsOf, env.Calendar)
	if len(p.Items) > 0 {
		p.backlog = BacklogOf(p).On(env.AsOf)
	}
	p.Events = schedule.Events(p.Activities, env.Calendar, opt)
	p.Values = make([]Value, len(catalogue))
	for i := range catalogue {
		d := &catalogue[i]
		if d.Unit == Health || d.late {
			continue // computed from the other measures below
		}
		if d.base != nil {
			p.Values[i] = d.base(p)
		} else {
			p.Values[i] = d.compute(env, p.Values)
		}
	}
	p.Tolerances = env.Tolerances
	p.Health = health.Assess(p.healthInput(), p.Tolerances)
	p.Checks = check.Result{}
	switch {
	case p.Status == Closed:
		p.Checks = check.RunClosed(p.checkInput(), env.Checks, p.Audit.Accepted)
	case p.Status == Proposed:
		p.Checks = check.RunProposed(p.checkInput(), env.Checks, p.Audit.Accepted)
	case p.Tested():
		p.Checks = check.Run(p.checkInput(), env.Checks, p.Audit.Accepted)
	}
	p.Conclude()
}

// Conclude computes the measures of health and of checks, again where findings were added since.
func (p *Project) Conclude() {
	for i := range catalogue {
		switch d := &catalogue[i]; {
		case d.Unit != Health && !d.late:
		case d.base != nil:
			p.Values[i] = d.base(p)
		default:
			p.Values[i] = d.compute(p.env, p.Values)
		}
	}
}

// compute derives a measure; where an input is undefined, so is the measure, for the same reason.
func (d *Definition) compute(env Env, values []Value) Value {
	in := make([]Value, len(d.inputs))
	for j, k := range d.inputs {
		in[j] = values[k]
		if !in[j].Known {
			return unknown(in[j].Reason)
		}
	}
	return d.derive(env, in)
}

// healthInput is what health is judged by: exact figures, none where the measure is undefined. Without a planned duration no ratio is
// muted, since nothing tells how early it is.
func (p *Project) healthInput() health.Input {
	in := health.Input{
		BAC: p.money(BAC), VAC: p.money(VAC), Actual: p.money(AC), BudgetToDate: p.money(BudgetToDate),
		EarnedValue: p.EarnedValue, Statistical: p.Statistical(),
		PlannedDays: p.Value(PlannedDuration).N,
	}
	if v := p.Value(FinishDeviation); v.Known {
		in.Deviation = fact.Some(v.N)
	}
	in.CPI, in.TimeSPI, in.Scope = p.ratio(CPI), p.ratio(SPIInTime), p.ratio(ScopeAddedShare)
	in.Threat, in.Shortfall, in.Elapsed = p.ratio(RiskExpectedShare), p.ratio(BenefitShortfall), p.ratio(TimePassed)
	if in.Wakes = p.wakes(); in.Wakes == 0 {
		in.Elapsed = fact.Ratio{}
	}
	in.Overrides = p.Overrides
	in.CostsAwaited = awaitedOf(p, "actuals").Regular
	p.registerInput(&in)
	for _, e := range p.Events {
		a := &p.Activities[e.Activity]
		if a.BaselineFinish != 0 {
			in.Milestones++
		}
		if e.State == schedule.Missed {
			in.Missed = append(in.Missed, health.MissedMilestone{Name: a.Name, Level: a.Level, Late: e.Late, Ahead: e.Ahead})
		}
	}
	return in
}

// ratio is a share or index as a fraction, none where it is not known.
func (p *Project) ratio(key Key) fact.Ratio {
	if v := p.Value(key); v.Known {
		return v.Fraction()
	}
	return fact.Ratio{}
}

// wakes is the day on which the share of the planned duration until which ratios are muted has passed; 0 where nothing tells.
func (p *Project) wakes() calendar.Date {
	start, days := p.Value(BaselineStart), p.Value(PlannedDuration)
	if !start.Known || !days.Known || days.N <= 0 {
		return 0
	}
	early := fact.Decimal(p.env.Tolerances.Early)
	n := (early.Num*days.N + early.Den - 1) / early.Den // rounded up
	return p.env.Calendar.Finish(start.Date(), int(max(n, 1)))
}

// money is an amount that may be missing, in minor units.
func (p *Project) money(key Key) fact.Int {
	v := p.Value(key)
	return fact.Int{N: v.N, Given: v.Known}
}

// fromAccount is an amount that needs all of an input.
func (p *Project) fromAccount(input, rows int, none string, a money.Amount) Value {
	return p.amountOf(input, rows, none, a, nil)
}

// amountOf is an amount that needs the gaps picked of an input not to be there, and some rows where none says what is missing without.
func (p *Project) amountOf(input, rows int, none string, a money.Amount, needs func(*cost.Gap) bool) Value {
	if err := p.Account.Gap(input, needs); err != nil {
		return unknown(err.Error())
	}
	if rows == 0 && none != "" {
		return unknown(none)
	}
	return amount(a)
}

// bac needs all of the budget: a missing rate of any month leaves it undefined.
func bac(p *Project) Value {
	return p.fromAccount(cost.InBudget, p.Account.Lines, "no budget", p.Account.Budget())
}

// budgetToDate needs the rates of the months up to the as-of date alone.
func budgetToDate(p *Project) Value {
	return p.amountOf(cost.InBudget, p.Account.Lines, "no budget", p.Account.BudgetToDate, func(g *cost.Gap) bool { return g.Past })
}

// actual is 0, with a note, where nothing was posted: no cost is a figure and not a gap.
func actual(p *Project) Value {
	v := p.fromAccount(cost.InActual, p.Account.Postings, "", p.Account.Actual)
	if v.Known && p.Account.Postings == 0 {
		v.Note = "no postings up to the as-of date"
	}
	return v
}

// closedWithout reports whether nothing is to go, since the project is closed and sent no forecast.
func (p *Project) closedWithout() bool { return p.Account.ForecastLines == 0 && p.Status == Closed }

// forecastToGo needs the rates of the months after the as-of date alone; of a closed project without a forecast it is 0.
func forecastToGo(p *Project) Value {
	if p.closedWithout() {
		v := known(0)
		v.Note = "closed without a forecast: nothing to go"
		return v
	}
	return p.amountOf(cost.InForecast, p.Account.ForecastLines, "no forecast", p.Account.ForecastToGo,
		func(g *cost.Gap) bool { return g.Ahead })
}

// declaredEstimate is the estimate of a project that sent a forecast.
func declaredEstimate(p *Project) Value {
	switch ac, togo := p.Value(AC), p.Value(ForecastToGo); {
	case !ac.Known:
		return unknown(ac.Reason)
	case !togo.Known:
		return unknown(togo.Reason)
	case p.closedWithout():
		return unknown("no forecast")
	default:
		return known(ac.N + togo.N)
	}
}

// Statistical reports whether the estimate at completion is the one by the cost index, since no forecast was sent.
func (p *Project) Statistical() bool { return p.Value(EAC).Known && !p.Value(ForecastToGo).Known }

// forecastTotal is the forecast as it was sent, past months included, so that two files compare.
func forecastTotal(p *Project) Value {
	return p.fromAccount(cost.InForecast, p.Account.ForecastLines, "no forecast", p.Account.ForecastAll)
}

// estimate is declared where a forecast was sent, though a rate may be missing, and statistical only where none was.
func estimate(p *Project) Value {
	ac, togo, trend := p.Value(AC), p.Value(ForecastToGo), p.Value(EACByCPI)
	switch {
	case !ac.Known:
		return unknown(ac.Reason)
	case togo.Known:
		v := known(ac.N + togo.N)
		v.Note = togo.Note
		return v
	case p.Account.ForecastLines > 0:
		return unknown(togo.Reason)
	case trend.Known:
		v := known(trend.N)
		v.Note = "there is no forecast: this is the estimate by the cost index"
		return v
	case p.Value(EV).Known:
		return unknown("no forecast, and " + trend.Reason)
	}
	return unknown(togo.Reason)
}

// dateOr is a day, or why there is none.
func dateOr(d calendar.Date, reason string) Value {
	if d == 0 {
		return unknown(reason)
	}
	return date(d)
}

// baselineStart is the earliest of the activities, else the planned start.
func baselineStart(p *Project) Value {
	return dateOr(p.Outlook.BaselineStart, "no baseline start")
}

// baselineFinish is the latest of the activities, else the planned finish.
func baselineFinish(p *Project) Value {
	return dateOr(p.Outlook.BaselineFinish, "no baseline finish")
}

// expectedFinish says in a note how many activities have a date where some have none.
func expectedFinish(p *Project) Value {
	v := dateOr(p.Outlook.ExpectedFinish, "no expected finish")
	if o := p.Outlook; v.Known && o.Dated < o.Counted {
		v.Note = fmt.Sprintf("%d of %d activities have an expected date", o.Dated, o.Counted)
	}
	return v
}

// countStates counts milestones in some states; undefined without a schedule, 0 with one that has no milestone.
func countStates(p *Project, states ...schedule.State) Value {
	if p.Outlook.Counted == 0 {
		return unknown("no schedule")
	}
	n := 0
	for _, e := range p.Events {
		for _, s := range states {
			if e.State == s {
				n++
			}
		}
	}
	return known(int64(n))
}

// milestonesDone counts those done on time and late.
func milestonesDone(p *Project) Value { return countStates(p, schedule.Done, schedule.DoneLate) }

// milestonesMissed counts those whose baseline day is on or before the as-of date.
func milestonesMissed(p *Project) Value { return countStates(p, schedule.Missed) }

// milestonesSlipping counts those to come that are later than the tolerance.
func milestonesSlipping(p *Project) Value { return countStates(p, schedule.Slipping) }

// dimension is the status of one dimension as it stands.
func dimension(d health.Dimension) func(*Project) Value {
	return func(p *Project) Value { return p.set(d, p.Health.By[d]) }
}

// overall is the status of the whole as it stands.
func overall(p *Project) Value { return p.set(health.Overall, p.Health.Overall) }

// set is a status that stands, with a note where a person set it.
func (p *Project) set(d health.Dimension, s health.Status) Value {
	v := status(s)
	if o := p.Health.Set(d); o != nil {
		v.Note = fmt.Sprintf("set by %s until %s: %s; computed: %s", o.Who, o.Until.Human(), o.Reason, p.Health.Computed[d])
	} else if x := awaitedOf(p, "actuals"); d == health.Cost && s == health.NotAssessed && x.Regular {
		v.Note = "actual costs of " + p.env.Period().Name() + " have not come; the last are of " + x.Last.Name()
	} else if d < health.Overall && p.Health.Muted[d] > s {
		v.Note = fmt.Sprintf("early: %s from %s on if it stays so", p.Health.Muted[d], p.Health.Wakes.Human())
	}
	return v
}

// Awaited is an input of the period in view that has not come.
type Awaited struct {
	Kind    string          // of the input, as files call it
	Last    calendar.Period // for which it came
	Regular bool            // it came for several periods before
}

// awaitedOf finds an input that has not come; the zero value where it has.
func awaitedOf(p *Project, kind string) Awaited {
	for _, x := range p.Awaits {
		if x.Kind == kind {
			return x
		}
	}
	return Awaited{}
}

// computedStatus is the status of the whole without what people set.
func computedStatus(p *Project) Value { return status(p.Health.Computed[health.Overall]) }

// opinion is in steps, positive where the lead is more hopeful.
func opinion(p *Project) Value {
	if p.Declared == nil || p.Declared.Overall == health.NotAssessed {
		return unknown("nothing declared")
	}
	n, ok := health.Steps(p.Declared.Overall, p.Health.Computed[health.Overall])
	if !ok {
		return unknown("not assessed")
	}
	return known(int64(n))
}

// declared is undefined where the lead said nothing, or that it is not assessed.
func declared(p *Project) Value {
	if p.Declared == nil || p.Declared.Overall == health.NotAssessed {
		return unknown("nothing declared")
	}
	return status(p.Declared.Overall)
}
