package forecast

import (
	"context"
	"time"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/core/forecast"
	"turret/internal/core/health"
	"turret/internal/core/measure"
)

// Outlook is an open project with what it is expected to come to.
type Outlook struct {
	Project    *measure.Project
	Prediction *forecast.Prediction // nil where nothing is predicted
	Reason     string               // why not
	Declared   health.Status
	Computed   health.Status
}

// Predicted is the status that is likeliest at completion; not assessed where nothing is predicted.
func (x *Outlook) Predicted() health.Status {
	if x.Prediction == nil {
		return health.NotAssessed
	}
	return Statuses[x.Prediction.Likeliest]
}

// Statuses are the outcomes that are told apart, in the order of forecast.Chances.
var Statuses = [forecast.Classes]health.Status{health.OnTrack, health.Watch, health.Act}

// Outlooks are the open projects of a scope with what is expected of them, in the order of the scope.
type Outlooks struct {
	Learned *forecast.Learned
	List    []Outlook
}

// AtAct counts the projects that are predicted at act, and those of them that are declared on track.
func (o *Outlooks) AtAct() (act, declared int) {
	for i := range o.List {
		if x := &o.List[i]; x.Predicted() == health.Act {
			act++
			if x.Declared == health.OnTrack {
				declared++
			}
		}
	}
	return act, declared
}

// Predict tells what the open projects of a scope are expected to come to. It is learned from all finished projects, whoever asks.
func (o *Office) Predict(ctx context.Context, a *assess.Assessment, s *assess.Scope) (*Outlooks, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	l, err := o.lesson(ctx, a)
	if err != nil {
		return nil, err
	}
	return l.outlooks(s.Projects), nil
}

// Known is what Predict tells where it is there within a while; else it is nil, and there when it is asked for later.
func (o *Office) Known(ctx context.Context, a *assess.Assessment, s *assess.Scope, within time.Duration) *Outlooks {
	ctx, cancel := context.WithTimeout(ctx, within)
	defer cancel()
	out, err := o.Predict(ctx, a, s)
	if err != nil {
		return nil
	}
	return out
}

// outlooks are those of the open ones among some projects.
func (l *lesson) outlooks(projects []*measure.Project) *Outlooks {
	out := &Outlooks{Learned: l.learned}
	for _, p := range projects {
		if p.Status != measure.Open {
			continue
		}
		x := Outlook{Project: p, Declared: p.DeclaredOn(health.Overall), Computed: p.Health.Overall, Reason: l.learned.Reason,
			Prediction: l.ahead[p.Code]}
		if x.Prediction == nil && x.Reason == "" {
			x.Reason = "no period is closed that tells of it"
		}
		out.List = append(out.List, x)
	}
	return out
}
