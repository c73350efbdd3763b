package report

import (
	"cmp"
	"context"
	"errors"
	"slices"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/forecast"
	"turret/internal/app/gate"
	"turret/internal/app/judge"
	"turret/internal/app/kept"
	"turret/internal/app/lookout"
	"turret/internal/app/money"
	"turret/internal/app/people"
	"turret/internal/app/plan"
	"turret/internal/app/setting"
	"turret/internal/app/stage"
	"turret/internal/core/calendar"
	"turret/internal/core/capacity"
	"turret/internal/core/compare"
	"turret/internal/core/cost"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
)

// Content is what the sections of a report are made of, as far as the report asks for them.
type Content struct {
	*assess.Assessment
	Report       *Report
	Organisation string
	Mark         *setting.Mark // nil for none
	Name         string
	Scope        *assess.Scope
	Lookout      *lookout.Lookout // of the open projects of the scope
	Projects     []*measure.Project
	Since        *kept.Period // closed before, that the bridge leads from; nil for none
	Moved        *compare.Comparison
	Timeline     *plan.Timeline
	Slips        []plan.Slip
	Milestones   []plan.MilestoneLine
	Found        *judge.Checked
	Trends       map[measure.Key]*assess.Trend
	Decisions    []Decision
	Stamp        *Stamp        // nil where the period is not closed
	Roles, Staff *people.Sheet // of the months to come; staff by person, nil for those who are not told of people by name
	Used         *people.Sheet // of the period, by role
	Work         []people.Work // of the period
	Pipeline     *Pipeline
	Gates        *stage.Gates
	Stands       []gate.Stand // of what runs and what is proposed
	Balance      []gate.Balance
	Ranges       *forecast.Ranges
	Predicted    *forecast.Outlooks
}

// Content gathers what a report is made of, as of a day, for the one who asks. An unknown scope is an error wrapping ErrNotFound.
func (o *Office) Content(ctx context.Context, r *Report, asOf calendar.Date) (*Content, error) {
	if r.Period != 0 {
		asOf = r.Period.Last()
	}
	a, err := o.assess.Day(ctx, asOf)
	if err != nil {
		return nil, err
	}
	return o.content(ctx, a, r)
}

func (o *Office) content(ctx context.Context, a *assess.Assessment, r *Report) (*Content, error) {
	c := &Content{Assessment: a, Report: r, Organisation: a.Settings.Organisation, Stamp: stamp(a, access.ActorOf(ctx), r)}
	var err error
	if c.Lookout, err = lookout.Of(a, r.Scope, lookout.Filter{}); err != nil {
		return nil, err
	}
	c.Scope, c.Projects = c.Lookout.Scope, c.Lookout.Open
	if p, err := a.Project(r.Scope); err == nil && len(c.Projects) == 0 {
		c.Projects = []*measure.Project{p} // one that is not open is still reported on when asked for by name
	}
	c.Name = cmp.Or(c.Scope.Name, whole(a))
	if r.Cover {
		if c.Mark, err = o.setting.Mark(ctx); err != nil {
			return nil, err
		}
	}
	done := map[string]bool{}
	for _, p := range r.Parts {
		fill := c.filler(ctx, o, p.Key)
		if fill == nil || done[p.Key] {
			continue
		}
		done[p.Key] = true
		if err := fill(); err != nil {
			return nil, err
		}
	}
	return c, nil
}

// whole is what all projects together are called: the portfolio's name, where there is one alone.
func whole(a *assess.Assessment) string {
	name := ""
	for _, n := range a.Masters.Nodes {
		if n.Parent == 0 && n.Level == "portfolio" {
			if name != "" {
				return "All projects"
			}
			name = n.Name
		}
	}
	return cmp.Or(name, "All projects")
}

// filler is what a section needs besides the assessment; nil for nothing.
func (c *Content) filler(ctx context.Context, o *Office, key string) func() error {
	switch key {
	case "commentary":
		return func() error {
			if c.ByCode[c.Scope.Code] != nil {
				return nil // what the office writes is to groups
			}
			return o.explain.Noted(ctx, c.Assessment, c.Lookout)
		}
	case "decisions":
		return func() error {
			c.Decisions = Decisions(c.Assessment, c.Projects)
			return c.predicted(ctx, o)
		}
	case "bridge":
		return func() error { return c.bridge(ctx, o) }
	case "timeline", "milestones", "slips":
		return func() (err error) {
			if c.Timeline, err = plan.TimelineOf(c.Assessment, c.Report.Scope, plan.TimelineFilter{}); err != nil {
				return err
			}
			if key == "milestones" {
				c.Milestones = slices.DeleteFunc(plan.Milestones(c.Assessment, c.Timeline), func(m plan.MilestoneLine) bool {
					return m.Event.State == schedule.Done || m.Event.State == schedule.DoneLate
				})
			}
			if key == "slips" {
				c.Slips, err = o.plan.Slips(ctx, c.Assessment, c.Timeline)
			}
			return err
		}
	case "checks":
		return func() (err error) {
			c.Found, err = o.judge.Check(ctx, c.Assessment, &assess.Scope{Code: c.Scope.Code, Projects: c.Projects})
			return err
		}
	case "earned":
		return func() error { return c.earned(ctx, o) }
	case "staffing":
		return func() error { return c.staffing(ctx) }
	case "pipeline", "goals", "selection":
		return func() error { return c.proposed(ctx, o, key) }
	case "roadmap":
		return func() error { return errors.Join(c.proposed(ctx, o, key), c.gates(ctx)) }
	case "gates":
		return func() error { return errors.Join(c.gates(ctx), c.stands(ctx)) }
	case "ranges":
		return func() error { return c.ranges(ctx, o) }
	case "prediction":
		return func() error { return c.predicted(ctx, o) }
	case "people":
		return func() (err error) {
			if people.MayName(ctx) == nil {
				period := c.Env.Period()
				c.Work, err = people.WorkIn(ctx, c.Assessment, c.Projects, period.First(), c.Env.AsOf)
			}
			return err
		}
	}
	return nil
}

// staffMonths is how far ahead a report looks for people.
const staffMonths = 6

// staffing counts the hours of roles and people in the months to come, and of roles in the period.
func (c *Content) staffing(ctx context.Context) (err error) {
	next := (c.Env.AsOf + 1).Month()
	ask := people.Ask{By: capacity.ByRole, From: next, To: next + staffMonths - 1}
	if c.Roles, err = people.SheetOf(ctx, c.Assessment, ask); err != nil {
		return err
	}
	if people.MayName(ctx) == nil {
		ask.By, ask.Weeks = capacity.ByPerson, true
		if c.Staff, err = people.SheetOf(ctx, c.Assessment, ask); err != nil {
			return err
		}
	}
	month := c.Env.AsOf.Month()
	c.Used, err = people.SheetOf(ctx, c.Assessment, people.Ask{By: capacity.ByRole, From: month, To: month, Booked: true})
	return err
}

func (c *Content) bridge(ctx context.Context, o *Office) error {
	if c.NoMoney {
		return nil
	}
	periods, err := o.assess.Periods(ctx)
	if err != nil {
		return err
	}
	for i := range periods {
		if periods[i].AsOf < c.Env.AsOf {
			c.Since = &periods[i]
		}
	}
	if c.Since != nil {
		c.Moved, err = o.lookout.Compare(ctx, c.Assessment, c.Report.Scope, c.Since.AsOf)
	}
	return err
}

// indexMeasures are drawn over the periods.
var indexMeasures = []measure.Key{measure.EV, measure.CPI, measure.SPI, measure.SPIInTime, measure.TCPIToEAC}

func (c *Content) earned(ctx context.Context, o *Office) error {
	if c.NoMoney {
		return nil
	}
	var err error
	c.Trends, err = o.assess.Trends(ctx, c.Assessment, c.Scope, indexMeasures, 24)
	return err
}

// Picked are the projects that a section goes by.
func (c *Content) Picked(p *Part) []*measure.Project {
	if !p.Few {
		return c.Projects
	}
	var list []*measure.Project
	for _, q := range c.Projects {
		if NeedsAttention(q) {
			list = append(list, q)
		}
	}
	return list
}

// NeedsAttention reports whether a project is at watch or act, or declared better than it was computed.
func NeedsAttention(p *measure.Project) bool {
	return p.Health.Overall == health.Watch || p.Health.Overall == health.Act || lookout.Better(p) > 0
}

// Decision is something that waits for an answer of those who decide.
type Decision struct {
	Project *measure.Project
	What    DecisionKind
	Code    string
	Title   string
	Says    string
	Change  *money.ChangeLine // where it is one
	Due     calendar.Date
}

// DecisionKind says what kind of thing waits for a decision.
type DecisionKind string

// What waits for decisions.
const (
	AtAct           DecisionKind = "project at act"
	ChangeRequested DecisionKind = "change"
	IssueLate       DecisionKind = "issue"
)

// Decisions lists what waits for an answer in some projects: those at act with their reasons, changes that are requested, and issues of
// high priority that are past their date.
func Decisions(a *assess.Assessment, projects []*measure.Project) []Decision {
	var list []Decision
	for _, p := range projects {
		if p.Health.Overall == health.Act {
			list = append(list, Decision{Project: p, What: AtAct, Title: p.Name, Says: p.Health.Reason()})
		}
	}
	if !a.NoMoney {
		for _, ch := range money.Changes(a, &assess.Scope{Projects: projects}) {
			if ch.State == cost.Requested {
				list = append(list, Decision{Project: ch.Project, What: ChangeRequested, Code: ch.Code, Title: ch.Title, Says: ch.Reason,
					Change: &ch})
			}
		}
	}
	for _, p := range projects {
		for i := range p.Issues {
			if x := &p.Issues[i]; x.Priority.High() && x.Late(a.Env.AsOf) {
				list = append(list, Decision{Project: p, What: IssueLate, Code: x.Code, Title: x.Title, Says: "high priority, due " +
					x.Due.Human(), Due: x.Due})
			}
		}
	}
	return list
}
