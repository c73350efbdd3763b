package publish

import (
	"context"
	"time"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/explain"
	"turret/internal/app/lookout"
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
func (o *Office) State(ctx context.Context, a *assess.Assessment) (PeriodState, Review, error) {
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
	case a.Begun:
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
	return o.store.SaveReview(ctx, period, Review{On: on, Who: actor.Name, At: o.now()}, o.audit.Entry(ctx, act, period.String(), "", ""))
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
		if p.Status != measure.Open {
			continue
		}
		n.Open++
		errors := int(p.Value(measure.Errors).N)
		n.Errors += errors
		if errors == 0 {
			n.Clean++
		}
		if lookout.Better(p) > 0 {
			n.Unlike++
		}
	}
	n.Written, n.Wanted = explain.CountExplained(projects)
	return n
}
