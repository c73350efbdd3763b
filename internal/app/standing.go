package app

import (
	"context"
	"time"

	"turret/internal/app/access"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
)

// PeriodState is how far a period is.
type PeriodState string

// The states of a period: nothing has come for it, it is being worked on, it is looked over before it is closed, it is closed.
const (
	PeriodOpen      PeriodState = "open"
	PeriodInWork    PeriodState = "in work"
	PeriodInReview  PeriodState = "in review"
	PeriodPublished PeriodState = "published"
)

// Review says whether a period is looked over before it is closed.
type Review struct {
	On  bool
	Who string
	At  time.Time
}

// State tells how far the period assessed is.
func (o *Office) State(ctx context.Context, a *Assessment) (PeriodState, Review, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return "", Review{}, err
	}
	if a.Closed != nil {
		return PeriodPublished, Review{}, nil
	}
	r, err := o.store.Review(ctx, a.Env.Period())
	switch {
	case err != nil:
		return "", r, err
	case r.On:
		return PeriodInReview, r, nil
	case a.begun:
		return PeriodInWork, r, nil
	}
	return PeriodOpen, r, nil
}

// SetReview says that a period is in review, or in work again.
func (o *Office) SetReview(ctx context.Context, period calendar.Period, on bool) error {
	actor, err := access.PermitWhole(ctx, access.Publish)
	if err != nil {
		return err
	}
	if err := o.closable(ctx, period); err != nil {
		return err
	}
	act := "in work again"
	if on {
		act = "in review"
	}
	return o.store.SaveReview(ctx, period, Review{On: on, Who: actor.Name, At: o.now()}, o.note(ctx, act, period.String(), "", ""))
}

// Step is one of the five steps of a period.
type Step string

// The steps in their order.
const (
	GatherStep  Step = "gather"
	CheckStep   Step = "check"
	AssessStep  Step = "assess"
	ExplainStep Step = "explain"
	PublishStep Step = "publish"
)

// Steps lists the steps of a period in their order.
func Steps() []Step { return []Step{GatherStep, CheckStep, AssessStep, ExplainStep, PublishStep} }

// usualDue are the working days after the as-of date by which the steps are due where the settings say nothing.
var usualDue = map[Step]int{GatherStep: 5, CheckStep: 6, AssessStep: 7, ExplainStep: 8, PublishStep: 10}

// StepDue is how many working days after the as-of date a step is due.
func (s *Settings) StepDue(step Step) int {
	if n, ok := s.StepsDue[step]; ok {
		return n
	}
	return usualDue[step]
}

// DueOn is the day by which a step of the period assessed is due.
func (a *Assessment) DueOn(step Step) calendar.Date {
	return a.Env.Calendar.Add(a.Env.Period().Last(), a.Settings.StepDue(step))
}

// StepCounts are how far the steps of a period are, over the open projects.
type StepCounts struct {
	Open, Clean     int // projects, and those without an open error
	Errors          int
	Unlike          int // projects declared better than they were computed
	Written, Wanted int // projects that are explained, of those that want it
}

// CountSteps counts how far the open ones of some projects are.
func CountSteps(projects []*measure.Project) StepCounts {
	var n StepCounts
	for _, p := range projects {
		if p.Status != "open" {
			continue
		}
		n.Open++
		errors := int(p.Value("errors").N)
		n.Errors += errors
		if errors == 0 {
			n.Clean++
		}
		if Better(p) > 0 {
			n.Unlike++
		}
	}
	n.Written, n.Wanted = CountExplained(projects)
	return n
}
