package explain

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"unicode/utf8"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/app/lookout"
	"turret/internal/app/say"
	"turret/internal/core/calendar"
	"turret/internal/core/check"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/way"
)

// MaxCommentary bounds one text, in characters.
const MaxCommentary = 200_000

// Movement is a figure that is another than when the last period was closed.
type Movement struct {
	Definition *measure.Definition
	Was, Now   measure.Value
	By         string
}

// Part is one part of what is to be explained of a project.
type Part struct {
	On       health.Dimension
	Computed health.Status
	Declared health.Status
	Text     kept.Commentary // for the period; without text where nothing was written
	Last     kept.Commentary // for the period before
	Moved    []Movement
	Concerns []string // what fired, and errors
	Facts    string   // a sentence or two proposed from the figures
}

// Explanation is what is to be explained of a project for a period.
type Explanation struct {
	Project *measure.Project
	Since   calendar.Period // the closed period that movements are told from; 0 where there is none
	Parts   []Part
	Sent    string // what the lead wrote with the status
}

// moving are the figures whose movements are told, by what they belong to.
var moving = map[health.Dimension][]measure.Key{
	health.Overall:  {measure.PercentComplete, measure.DataScore},
	health.Schedule: {measure.ExpectedFinish, measure.FinishDeviation, measure.SPIInTime, measure.MilestonesMissed, measure.FinishFloat},
	health.Cost:     {measure.EAC, measure.VACShare, measure.CPI, measure.AC, measure.BudgetChanges},
	health.Scope:    {measure.ScopeAddedShare, measure.BacklogPoints, measure.BacklogAccepted},
	health.Risk:     {measure.RiskExposure, measure.RiskExpected, measure.RisksOpen, measure.IssuesLate},
	health.Benefit:  {measure.BenefitOutlook, measure.BenefitShortfall},
}

// Of gathers what is to be explained of a project: what was written, last and now, what moved, what is of concern, and the facts.
func (o *Office) Of(ctx context.Context, a *assess.Assessment, code string) (*Explanation, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	p, err := a.Project(code)
	if err != nil {
		return nil, err
	}
	x := &Explanation{Project: p}
	if p.Declared != nil {
		x.Sent = strings.TrimSpace(p.Declared.Commentary)
	}
	period, by := a.Env.Period(), a.Known()
	texts := map[calendar.Period]map[health.Dimension]kept.Commentary{period: {}, period - 1: {}}
	if err := o.store.Commentaries(ctx, []int64{p.ID}, period-1, period, by,
		func(c kept.Commentary) { texts[c.Period][c.On] = c }); err != nil {
		return nil, err
	}
	was, err := o.before(ctx, a, p, x)
	if err != nil {
		return nil, err
	}
	for _, d := range append([]health.Dimension{health.Overall}, health.Dimensions()...) {
		part := Part{On: d, Computed: p.Health.Computed[d], Declared: p.DeclaredOn(d), Text: texts[period][d], Last: texts[period-1][d]}
		if d == health.Cost && a.NoMoney {
			continue
		}
		if w, ok := assess.SentWords(p, period); ok && d == health.Overall && part.Text.Text == "" {
			part.Text.Text, part.Text.Who = w.Text, w.Who
		}
		part.Concerns = concerns(a, p, d)
		if part.Computed == health.NotAssessed && part.Declared == health.NotAssessed && part.Text.Text == "" && len(part.Concerns) == 0 {
			continue
		}
		part.Moved = movements(a, p, d, was)
		part.Facts = facts(a, p, &part, x.Since)
		x.Parts = append(x.Parts, part)
	}
	return x, nil
}

// before reads the figures of a project in the last period closed before the one assessed.
func (o *Office) before(ctx context.Context, a *assess.Assessment, p *measure.Project, x *Explanation) (map[measure.Key]measure.Value,
	error) {
	was := map[measure.Key]measure.Value{}
	periods, err := o.store.Periods(ctx)
	if err != nil {
		return nil, err
	}
	for i := range periods {
		if m := periods[i].Span; m < a.Env.Period() {
			x.Since = m
		}
	}
	if x.Since == 0 || a.Shown {
		return was, nil
	}
	var keys []measure.Key
	for _, list := range moving {
		keys = append(keys, list...)
	}
	return was, o.store.PeriodValues(ctx, keys, []int64{p.ID}, x.Since, x.Since+1, func(v kept.PeriodValue) { was[v.Measure] = v.Value })
}

// movements lists the figures of a dimension that are written otherwise than before.
func movements(a *assess.Assessment, p *measure.Project, on health.Dimension, was map[measure.Key]measure.Value) []Movement {
	var list []Movement
	for _, k := range moving[on] {
		d := measure.Of(k)
		old, now := was[k], p.Value(k)
		if a.NoMoney && d.IsCost() || !old.Known || !now.Known {
			continue
		}
		by := d.Unit.Delta(old, now, a.Env.Currency, a.Env.Calendar)
		still := by != "" && d.Unit != measure.Day && by == d.Unit.Delta(old, old, a.Env.Currency, a.Env.Calendar) // 99.86 to 99.84 is none
		if !still && Brief(a, d, old) != Brief(a, d, now) {
			list = append(list, Movement{d, old, now, by})
		}
	}
	return list
}

// Brief writes a figure for a sentence: amounts in thousands or millions.
func Brief(a *assess.Assessment, d *measure.Definition, v measure.Value) string {
	if d.Unit == measure.Money && v.Known {
		return v.Amount().Short(a.Env.Currency)
	}
	return v.Human(d.Unit, a.Env.Currency)
}

// concerns are the triggers of a dimension that fired, overall the errors in the data, and of risk those that wake.
func concerns(a *assess.Assessment, p *measure.Project, on health.Dimension) []string {
	var list []string
	for _, t := range p.Health.Triggers {
		if t.Dimension == on && t.Level >= health.Watch {
			s := t.Sentence
			if t.Muted {
				s += " (early, does not count yet)"
			}
			list = append(list, s)
		}
	}
	if on == health.Risk {
		list = append(list, assess.Awake(a, p)...)
	}
	if on == health.Overall {
		for i := range p.Checks.Findings {
			if f := &p.Checks.Findings[i]; f.Accepted == nil && f.Rule.Severity == check.Error {
				list = append(list, f.Says)
			}
		}
	}
	return list
}

// facts proposes what the figures say of a dimension, in a sentence or two.
func facts(a *assess.Assessment, p *measure.Project, part *Part, since calendar.Period) string {
	var list []string
	if part.On == health.Overall {
		if why := p.Health.Reason(); why != "" {
			list = append(list, why)
		} else {
			list = append(list, "All figures are within tolerance")
		}
	}
	for _, t := range p.Health.Triggers {
		if t.Dimension == part.On {
			list = append(list, t.Sentence)
			break // the worst stands first
		}
	}
	if w := wayOf(a, p, part.On); w != "" {
		list = append(list, w)
	}
	if len(part.Moved) > 0 {
		m := part.Moved[0]
		s := fmt.Sprintf("%s went from %s to %s", m.Definition.Name, Brief(a, m.Definition, m.Was), Brief(a, m.Definition, m.Now))
		list = append(list, s+" since "+since.Name())
	}
	if len(list) == 0 {
		return ""
	}
	return strings.Join(list, ". ") + "."
}

// wayOf is the way back of a dimension's worst trigger: what brings it a step nearer to plan.
func wayOf(a *assess.Assessment, p *measure.Project, on health.Dimension) string {
	for _, w := range way.Of(p, a.Env) {
		if w.Trigger.Dimension == on {
			return say.Way(&w)
		}
	}
	return ""
}

// Write keeps what is written to the figures of a project: each text over the one of its ID. A text that is too long or no text is a
// FieldError; one that somebody else wrote meanwhile is an error wrapping ErrConflict. Texts that did not change are left as they are.
func (o *Office) Write(ctx context.Context, a *assess.Assessment, code string, texts []kept.Commentary) error {
	actor, err := access.Permit(ctx, access.Send)
	if err != nil {
		return err
	}
	x, err := o.Of(ctx, a, code)
	if err != nil {
		return err
	}
	if a.Closed != nil {
		return fault.Conflict("%s is closed: what was written to it stays", a.Closed.Span.Name())
	}
	var list []kept.Commentary
	for _, c := range texts {
		if c.Text, err = written(c); err != nil {
			return err
		}
		now := kept.Commentary{}
		if i := slices.IndexFunc(x.Parts, func(p Part) bool { return p.On == c.On }); i >= 0 {
			now = x.Parts[i].Text
		}
		if c.Text == now.Text {
			continue
		}
		c.Scope, c.Period, c.Who, c.At = x.Project.ID, a.Env.Period(), actor.Name, o.now()
		list = append(list, c)
	}
	if len(list) == 0 {
		return nil
	}
	var about []string
	for _, c := range list {
		about = append(about, c.On.String())
	}
	err = o.store.SaveCommentaries(ctx, list, o.audit.Entry(ctx, "write a commentary", code+" "+a.Env.Period().String(), "",
		strings.Join(about, ", ")))
	if errors.Is(err, fault.ErrConflict) {
		return &fault.StateError{Says: "Somebody else wrote to this meanwhile; yours is kept below, theirs stands above it"}
	}
	return err
}

// Explained is how far a project is explained for a period.
type Explained struct {
	Project *measure.Project
	Written []measure.Words // overall first
	Wanted  bool            // it is at watch or act, or declared better than computed
}

// Wants reports whether a project is to be explained: it is at watch or at act, or declared better than computed.
func Wants(p *measure.Project) bool { return p.Health.Overall >= health.Watch || lookout.Better(p) > 0 }

// Owed reports whether an open project wants an explanation and has none.
func Owed(p *measure.Project) bool { return p.Status == measure.Open && Wants(p) && len(p.Words) == 0 }

// CountExplained counts the projects of a list that are to be explained, and those of them that are.
func CountExplained(projects []*measure.Project) (written, wanted int) {
	for _, p := range projects {
		if p.Status != measure.Open || !Wants(p) {
			continue
		}
		wanted++
		if !Owed(p) {
			written++
		}
	}
	return written, wanted
}

// Explained lists the projects of a scope with what was written to them, those that want it first.
func (o *Office) Explained(ctx context.Context, a *assess.Assessment, s *assess.Scope) ([]Explained, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	list := make([]Explained, len(s.Projects))
	for i, p := range s.Projects {
		list[i] = Explained{Project: p, Written: p.Words, Wanted: Wants(p)}
	}
	slices.SortStableFunc(list, func(x, y Explained) int {
		return cmp.Or(-cmp.Compare(x.rank(), y.rank()), -cmp.Compare(x.Project.Health.Overall, y.Project.Health.Overall),
			-cmp.Compare(x.Project.Health.Stake, y.Project.Health.Stake))
	})
	return list, nil
}

func (x *Explained) rank() int {
	switch {
	case x.Wanted && len(x.Written) == 0:
		return 2
	case x.Wanted:
		return 1
	}
	return 0
}

// scopeNumber is the number under which what belongs to a scope is kept: a node's id with a minus, 0 for the whole.
func scopeNumber(a *assess.Assessment, code string) (int64, error) {
	if code == "" {
		return 0, nil
	}
	for i := range a.Masters.Nodes {
		if a.Masters.Nodes[i].Code == code {
			return -a.Masters.Nodes[i].ID, nil
		}
	}
	return 0, fmt.Errorf("scope %q: %w", fault.Clip(code, 60), fault.ErrNotFound)
}

// Note is what the office wrote to a portfolio, a programme or the whole for the period, and for the one before. Who does not see a whole
// scope does not see its note.
func (o *Office) Note(ctx context.Context, a *assess.Assessment, scope string) (now, last kept.Commentary, err error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return now, last, err
	}
	number, err := scopeNumber(a, scope)
	if err != nil || a.Narrowed || a.NoMoney { // a project has texts of its own
		return now, last, nil
	}
	period := a.Env.Period()
	err = o.store.Commentaries(ctx, []int64{number}, period-1, period, a.Known(), func(c kept.Commentary) {
		if c.Period == period {
			now = c
		} else {
			last = c
		}
	})
	return now, last, err
}

// Noted gives a Lookout what the office wrote to its scope.
func (o *Office) Noted(ctx context.Context, a *assess.Assessment, l *lookout.Lookout) error {
	now, _, err := o.Note(ctx, a, l.Scope.Code)
	l.Note = measure.Words{On: health.Overall, Text: now.Text, Who: now.Who}
	return err
}

// WriteNote keeps what the office writes to a portfolio, a programme or the whole, over the text of its ID, as Write does for projects.
func (o *Office) WriteNote(ctx context.Context, a *assess.Assessment, scope string, c kept.Commentary) error {
	actor, err := access.PermitWhole(ctx, access.Judge)
	if err != nil {
		return err
	}
	number, err := scopeNumber(a, scope)
	if err != nil {
		return err
	}
	if a.Closed != nil {
		return fault.Conflict("%s is closed: what was written to it stays", a.Closed.Span.Name())
	}
	if c.Text, err = written(c); err != nil {
		return err
	}
	c.Scope, c.Period, c.On, c.Who, c.At = number, a.Env.Period(), health.Overall, actor.Name, o.now()
	err = o.store.SaveCommentaries(ctx, []kept.Commentary{c}, o.audit.Entry(ctx, "write a commentary", cmp.Or(scope, "the whole")+" "+
		c.Period.String(), "", ""))
	if errors.Is(err, fault.ErrConflict) {
		return &fault.StateError{Says: "Somebody else wrote to this meanwhile; yours is kept below, theirs stands above it"}
	}
	return err
}

// written is a text as it is kept; one that is too long is a FieldError.
func written(c kept.Commentary) (string, error) {
	text := strings.TrimSpace(strings.ReplaceAll(c.Text, "\r\n", "\n"))
	if n := utf8.RuneCountInString(text); n > MaxCommentary || !utf8.ValidString(text) {
		return "", fault.Field(c.On.String(), fault.Clip(text, 60), fmt.Sprintf("at most %d characters; this has %d", MaxCommentary, n))
	}
	return text, nil
}
