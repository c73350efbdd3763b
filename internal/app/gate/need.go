package gate

import (
	"context"
	"errors"
	"fmt"
	"strings"

	"turret/internal/app/assess"
	"turret/internal/app/condition"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/app/stage"
	"turret/internal/core/check"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/write"
	"turret/internal/record"
)

// checks hold what the gate of a stage needs against a project.
func (l *look) checks(ctx context.Context, x *measure.Project, s *stage.Stage) ([]Check, error) {
	list := make([]Check, len(s.Needs))
	for i := range s.Needs {
		c := &list[i]
		c.Need = s.Needs[i]
		var err error
		switch c.Kind {
		case record.NeedField:
			l.field(x, c)
		case record.NeedCondition:
			l.condition(x, c)
		case record.NeedMoney:
			l.money(x, s, c)
		case record.NeedScore:
			err = l.scored(ctx, x, c)
		case record.NeedRisks:
			rated(x, c)
		case record.NeedBenefits:
			l.benefits(x, c)
		case record.NeedNoErrors:
			n := x.Checks.Failed(check.Error)
			c.Met, c.Found = n == 0, write.Count(n, "error", "errors")
		}
		if err != nil {
			return nil, err
		}
	}
	return list, nil
}

// field asks for a field of the project, of its proposal, or of the office's own.
func (l *look) field(x *measure.Project, c *Check) {
	var text string
	switch c.Of {
	case "lead":
		text = x.Lead
	case "sponsor":
		text = x.Sponsor
	case "category":
		text = x.Category
	case "business_unit":
		text = x.BusinessUnit
	case "planned_start":
		text = kept.DayText(x.PlannedStart)
	case "planned_finish":
		text = kept.DayText(x.PlannedFinish)
	case "required_finish":
		text = kept.DayText(x.RequiredFinish)
	case "purpose":
		if d := l.p.Proposals[x.Code]; d != nil {
			text = d.Purpose
		}
	default:
		column, ok := l.a.OwnField(c.Of)
		if !ok {
			c.Found = "there is no field " + fault.Clip(c.Of, 40)
			return
		}
		text = assess.OwnText(x, column)
	}
	if c.Met = strings.TrimSpace(text) != ""; c.Met {
		c.Found = fault.Clip(text, 80)
	} else {
		c.Found = "not given"
	}
}

// mostSteps bounds the work of a condition on one project.
const mostSteps = 1_000_000

func (l *look) condition(x *measure.Project, c *Check) {
	e, err := condition.Compile(c.Of, "project")
	if err == nil {
		err = e.Knows(l.a)
	}
	if err == nil && l.a.NoMoney && e.TellsCosts() {
		c.Hidden = true
		return
	}
	if err == nil {
		c.Met, err = e.Holds(l.a, x, &condition.Work{Most: mostSteps})
	}
	if e != nil {
		c.Found = l.figures(x, e)
	}
	if f := (*fault.FieldError)(nil); errors.As(err, &f) {
		c.Found = "cannot be computed: expected " + f.Expected
	} else if err != nil {
		c.Found = "cannot be computed: " + err.Error()
	}
}

// figures are what the measures of a condition come to, else the condition itself.
func (l *look) figures(x *measure.Project, e *condition.Expression) string {
	var list []string
	for _, key := range e.Measures() {
		d := measure.Of(key)
		v := x.Value(key)
		text := v.Human(d.Unit, l.a.Env.Currency)
		if !v.Known {
			text = "not known, " + v.Reason
		}
		list = append(list, d.Name+" "+text)
	}
	if len(list) == 0 {
		return e.Text
	}
	return strings.Join(list, "; ")
}

// money asks for the budget as deep and as finely as the stage does.
func (l *look) money(x *measure.Project, s *stage.Stage, c *Check) {
	if c.Hidden = l.a.NoMoney; c.Hidden {
		return
	}
	lines := l.lines[x.ID]
	if len(lines) == 0 {
		c.Found = "no budget"
		return
	}
	flat, coarse := 0, 0
	for i := range lines {
		y := &lines[i]
		if l.depth[y.Code] < s.Level {
			flat++
		}
		if y.Month == 0 && !within(y.From, y.To, s.By, l.a.Env.YearMonth) {
			coarse++
		}
	}
	c.Met = flat == 0 && coarse == 0
	c.Found = write.Count(len(lines), "line", "lines")
	if flat > 0 {
		c.Found += fmt.Sprintf(", %s on codes above level %d", write.Whole(flat), s.Level)
	}
	if coarse > 0 {
		c.Found += fmt.Sprintf(", %s over more than a %s", write.Whole(coarse), s.By)
	}
}

func (l *look) scored(ctx context.Context, x *measure.Project, c *Check) error {
	model, least, _ := record.ScoreOf(c.Of)
	n, ok, err := l.score(ctx, x, model)
	switch {
	case errors.Is(err, fault.ErrNotFound):
		c.Found = "there is no model " + fault.Clip(model, 40)
		return nil
	case err != nil:
		return err
	case !ok:
		c.Found = "not rated"
	default:
		c.Met, c.Found = n >= least, "scored "+money.Plain(n, 6)
	}
	if !c.Met && ok {
		c.Found += ", asked is " + money.Plain(least, 6)
	}
	return nil
}

// rated asks for risks that are all rated; a project without any has not looked for them.
func rated(x *measure.Project, c *Check) {
	open, missing := 0, 0
	for i := range x.Risks {
		r := &x.Risks[i]
		if !r.Open(x.Env().AsOf) {
			continue
		}
		open++
		if !r.Likelihood.Given || !r.Consequence.Given {
			missing++
		}
	}
	c.Met = len(x.Risks) > 0 && missing == 0
	c.Found = write.Count(open, "open risk", "open risks")
	if missing > 0 {
		c.Found += ", " + write.Whole(missing) + " not rated"
	}
	if len(x.Risks) == 0 {
		c.Found = "no risk was ever written down"
	}
}

func (l *look) benefits(x *measure.Project, c *Check) {
	if c.Hidden = l.a.NoMoney; c.Hidden {
		return
	}
	n := 0
	for i := range x.Benefits {
		if x.Benefits[i].Planned > 0 {
			n++
		}
	}
	if c.Met, c.Found = n > 0, "planned in "+write.Count(n, "month", "months"); n == 0 {
		c.Found = "none planned"
	}
}
