package money

import (
	"context"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/core/breakdown"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
)

// Accounts is a project's money by the activities that its amounts name.
type Accounts struct {
	Project *measure.Project
	List    []breakdown.Account
	Worst   *breakdown.Account // of what stands alone, the one that has lost most against what it earned; nil where none has lost
	Unnamed int                // activities that no amount names, nor a phase that they lie in
}

// Accounts parts a project's money by activity and phase.
func (o *Office) Accounts(ctx context.Context, a *assess.Assessment, project string) (*Accounts, error) {
	if _, err := assess.PermitMoney(ctx, access.Read); err != nil {
		return nil, err
	}
	p, err := a.Project(project)
	if err != nil {
		return nil, err
	}
	ev, err := o.trace.Evidence(ctx, a, p)
	if err != nil {
		return nil, err
	}
	x := &Accounts{Project: p, List: breakdown.Accounts(p, ev)}
	x.Worst = worst(x.List)
	x.Unnamed = unnamed(p, x.List)
	return x, nil
}

// worst is the account without others below it whose cost variance is the lowest below zero.
func worst(list []breakdown.Account) (w *breakdown.Account) {
	lost := int64(0)
	for i := range list {
		if v := list[i].All.Value(measure.CV); !list[i].Phase && v.Known && v.N < lost {
			w, lost = &list[i], v.N
		}
	}
	return w
}

// unnamed counts the activities and deliverables of a plan that have no account and lie in no phase that has one of its own.
func unnamed(p *measure.Project, list []breakdown.Account) int {
	named, parent := map[string]bool{}, map[string]string{}
	for i := range list {
		named[list[i].Code] = list[i].Own != nil
	}
	for i := range p.Activities {
		parent[p.Activities[i].Code] = p.Activities[i].Parent
	}
	within := func(code string) bool {
		for range p.Activities { // no chain of parents is longer
			if code == "" || named[code] {
				break
			}
			code = parent[code]
		}
		return code != "" && named[code]
	}
	n := 0
	for i := range p.Activities {
		if a := &p.Activities[i]; (a.Kind == schedule.Work || a.Kind == schedule.Deliverable) && !within(a.Code) {
			n++
		}
	}
	return n
}
