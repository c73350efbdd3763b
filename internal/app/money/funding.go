package money

import (
	"cmp"
	"context"
	"slices"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/core/cost"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/record"
)

// FunderLine is what one who pays bears of a project.
type FunderLine struct {
	Project *measure.Project
	cost.Borne
	Problem error
}

// FunderTotal adds up the lines of one who pays, or of all.
type FunderTotal struct {
	Funder                                  string
	Projects                                int
	Budget, Actual, ToGo, Granted, Received money.Amount
}

// Estimate is what the funder is expected to bear in all.
func (t *FunderTotal) Estimate() money.Amount { return t.Actual + t.ToGo }

func (t *FunderTotal) add(b *cost.Borne) {
	t.Projects++
	t.Budget += b.Budget
	t.Actual += b.Actual
	t.ToGo += b.ToGo
	t.Granted += b.Granted
	t.Received += b.Received
}

// Funded is who pays for the projects of a scope.
type Funded struct {
	Lines    []FunderLine
	Totals   []FunderTotal
	Sum      FunderTotal
	Unfunded []*measure.Project // open, and without a row of funding
}

// funds are the rows that a project's cost is split by.
type funds struct {
	shares           []cost.Share
	budget, forecast []cost.Line
	postings         []cost.Posting
	bookings         []cost.Booking
}

// Funding splits the cost of a scope among those who pay.
func (o *Office) Funding(ctx context.Context, a *assess.Assessment, s *assess.Scope) (*Funded, error) {
	if _, err := assess.PermitMoney(ctx, access.Read); err != nil {
		return nil, err
	}
	by, err := fundsOf(ctx, a, s)
	if err != nil {
		return nil, err
	}
	f := &Funded{}
	for _, p := range s.Projects {
		x := by[p.ID]
		if x == nil {
			if p.Status == measure.Open {
				f.Unfunded = append(f.Unfunded, p)
			}
			continue
		}
		list, err := x.borne(a, p)
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

// fundsOf reads the rows of the projects that somebody is named for, as figures know them: those of a closed period are of then.
func fundsOf(ctx context.Context, a *assess.Assessment, s *assess.Scope) (map[int64]*funds, error) {
	by := map[int64]*funds{}
	ids := make([]int64, 0, len(s.Projects))
	var timed []int64 // whose labour is known from timesheets
	for _, p := range s.Projects {
		ids = append(ids, p.ID)
		if p.Labour == cost.Timesheets {
			timed = append(timed, p.ID)
		}
	}
	if len(ids) == 0 {
		return by, nil
	}
	err := a.Reading.Shares(ctx, ids, func(project int64, x cost.Share) {
		if by[project] == nil {
			by[project] = &funds{}
		}
		by[project].shares = append(by[project].shares, x)
	})
	if err != nil || len(by) == 0 {
		return by, err
	}
	ids = slices.DeleteFunc(ids, func(id int64) bool { return by[id] == nil })
	err = a.Reading.Lines(ctx, record.Budget, ids, func(project int64, l cost.Line) { by[project].budget = append(by[project].budget, l) })
	if err == nil {
		err = a.Reading.Lines(ctx, record.Forecast, ids,
			func(project int64, l cost.Line) { by[project].forecast = append(by[project].forecast, l) })
	}
	if err == nil {
		err = a.Reading.Amounts(ctx, ids, func(project int64, x *cost.Posting) { by[project].postings = append(by[project].postings, *x) })
	}
	if timed = slices.DeleteFunc(timed, func(id int64) bool { return by[id] == nil }); err == nil && len(timed) > 0 {
		err = a.Reading.Bookings(ctx, timed,
			func(project int64, x *cost.Booking) { by[project].bookings = append(by[project].bookings, *x) })
	}
	return by, err
}

// borne splits the actual cost as it counts: labour that is known from timesheets or as planned stands for what the ledger has of it.
func (x *funds) borne(a *assess.Assessment, p *measure.Project) ([]cost.Borne, error) {
	r := cost.Records{Ledger: x.postings, Bookings: x.bookings, Forecast: x.forecast}
	counted := r.Counted(p.Labour, &a.Classes, a.Masters.Tariffs, a.Env.Calendar, a.Env.AsOf)
	timed, err := cost.NewTimed(x.budget, x.forecast, counted, a.Rates, a.Env.Calendar, a.Env.AsOf, p.Held())
	if err != nil {
		return nil, err
	}
	return cost.Bear(x.shares, timed, a.Rates, a.Env.AsOf)
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
		f.Totals[k].add(&l.Borne)
		f.Sum.add(&l.Borne)
	}
	slices.SortStableFunc(f.Totals, func(x, y FunderTotal) int {
		return cmp.Or(cmp.Compare(y.Actual, x.Actual), cmp.Compare(x.Funder, y.Funder))
	})
}
