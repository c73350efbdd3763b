package app

import (
	"cmp"
	"context"
	"slices"

	"turret/internal/core/cost"
	"turret/internal/core/measure"
	"turret/internal/core/money"
)

// FunderLine is what one who pays bears of a project.
type FunderLine struct {
	Project *measure.Project
	cost.Borne
	Problem error
}

// FunderTotal adds up the lines of one who pays.
type FunderTotal struct {
	Funder                                                        string
	Projects                                                      int
	Budget, Actual, ToGo, Granted, Received, Undrawn, Ahead, Over money.Amount
}

// Estimate is what the funder is expected to bear in all.
func (t *FunderTotal) Estimate() money.Amount { return t.Actual + t.ToGo }

// Funded is who pays for the projects of a scope.
type Funded struct {
	Lines    []FunderLine
	Totals   []FunderTotal
	Unfunded []*measure.Project // without a row of funding
}

// Funding splits the cost of a scope among those who pay.
func (o *Office) Funding(ctx context.Context, a *Assessment, s *Scope) (*Funded, error) {
	if _, err := permitMoney(ctx, Read); err != nil {
		return nil, err
	}
	shares := map[int64][]cost.Share{}
	var ids []int64
	for _, p := range s.Projects {
		ids = append(ids, p.ID)
	}
	f := &Funded{}
	if len(ids) == 0 {
		return f, nil
	}
	if err := o.store.Shares(ctx, ids, func(project int64, x cost.Share) { shares[project] = append(shares[project], x) }); err != nil {
		return nil, err
	}
	for _, p := range s.Projects {
		if len(shares[p.ID]) == 0 {
			if p.Status == "open" {
				f.Unfunded = append(f.Unfunded, p)
			}
			continue
		}
		list, err := o.borne(ctx, a, p, shares[p.ID])
		if err != nil {
			f.Lines = append(f.Lines, FunderLine{Project: p, Problem: err})
			continue
		}
		for i := range list {
			f.Lines = append(f.Lines, FunderLine{Project: p, Borne: list[i]})
		}
	}
	f.total()
	return f, nil
}

func (o *Office) borne(ctx context.Context, a *Assessment, p *measure.Project, shares []cost.Share) ([]cost.Borne, error) {
	ev, err := o.evidence(ctx, a, p)
	if err != nil {
		return nil, err
	}
	timed, err := cost.NewTimed(ev.Budget, ev.Forecast, ev.Postings, a.Rates, a.Env.Calendar, a.Env.AsOf, measure.Held(p))
	if err != nil {
		return nil, err
	}
	return cost.Bear(shares, timed, a.Rates, a.Env.AsOf)
}

func (f *Funded) total() {
	at := map[string]int{}
	for i := range f.Lines {
		l := &f.Lines[i]
		if l.Problem != nil {
			continue
		}
		k, ok := at[l.Funder]
		if !ok {
			k = len(f.Totals)
			at[l.Funder] = k
			f.Totals = append(f.Totals, FunderTotal{Funder: l.Funder})
		}
		t := &f.Totals[k]
		t.Projects++
		t.Budget += l.Budget
		t.Actual += l.Actual
		t.ToGo += l.ToGo
		t.Granted += l.Granted
		t.Received += l.Received
		t.Undrawn += l.Undrawn
		t.Ahead += l.Ahead
		t.Over += max(0, l.Actual+l.ToGo-l.Granted)
	}
	slices.SortStableFunc(f.Totals, func(x, y FunderTotal) int {
		return cmp.Or(cmp.Compare(y.Actual, x.Actual), cmp.Compare(x.Funder, y.Funder))
	})
}
