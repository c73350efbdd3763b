package pipeline

import (
	"context"
	"fmt"
	"strings"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/core/fact"
	"turret/internal/core/figure"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/selection"
	"turret/internal/record"
)

// Question is what a choice is to be made by.
type Question struct {
	Value  string // key of a measure, or score: and a model
	Limits []*Limit
	Scope  string
	Quick  bool // for looking on: less is tried, and prices may be missing
}

// Choice is what is best chosen, or why nothing can be.
type Choice struct {
	Question
	Rows     []Chosen // by code
	Result   *selection.Result
	Unmet    *selection.Unmet
	Unit     figure.Unit // of values
	Places   int         // decimals of values
	Currency money.Currency

	problem *selection.Problem
	gauge   *gauge
}

// Chosen is a candidate and how it came out.
type Chosen struct {
	Project *measure.Project
	Value   fact.Int // whole numbers of the places of the choice; none where it has no value
	In      bool
	Price   fact.Int
	Use     []int64 // of each limit, as Used and Most count
}

// Choose finds what is best chosen of the proposals of a scope that are not declined. Where nothing keeps to musts and limits the choice
// says why.
func Choose(ctx context.Context, a *assess.Assessment, p *Pipeline, q Question) (*Choice, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	s, err := a.Scope(q.Scope)
	if err != nil {
		return nil, err
	}
	c := &Choice{Question: q, Currency: a.Env.Currency, problem: &selection.Problem{}}
	if err := c.candidates(ctx, a, p, s); err != nil {
		return nil, err
	}
	if err := c.uses(ctx, a); err != nil {
		return nil, err
	}
	c.requirements(a, p)
	effort := selection.Usual(len(c.Rows))
	if q.Quick {
		effort.Main, effort.Price = effort.Main/quicker, effort.Price/quicker
	}
	if c.Result, c.Unmet = selection.Solve(ctx, c.problem, effort); c.Result != nil {
		for i := range c.Rows {
			c.Rows[i].In, c.Rows[i].Price = c.Result.Chosen[i], c.Result.Price[i]
		}
	}
	return c, ctx.Err()
}

// quicker is by how much less is tried where somebody looks on.
const quicker = 8

// candidates are the proposals of the scope with their values.
func (c *Choice) candidates(ctx context.Context, a *assess.Assessment, p *Pipeline, s *assess.Scope) error {
	value, err := c.valuer(ctx, a, p, s)
	if err != nil {
		return err
	}
	for _, x := range s.Projects {
		if x.Status == measure.Proposed && !p.Declined(x.Code) {
			c.Rows = append(c.Rows, Chosen{Project: x, Value: value(x)})
		}
	}
	return nil
}

// valuer tells what projects are worth.
func (c *Choice) valuer(ctx context.Context, a *assess.Assessment, p *Pipeline, s *assess.Scope) (func(*measure.Project) fact.Int, error) {
	if model, ok := strings.CutPrefix(c.Question.Value, "score:"); ok {
		r, err := RankOf(ctx, a, p, s, model)
		if err != nil {
			return nil, err
		}
		c.Unit, c.Places = figure.Score, 6
		at := map[string]fact.Int{}
		for i := range r.Rows {
			at[r.Rows[i].Code] = fact.Int{N: r.Rows[i].Score, Given: r.Rows[i].Scored}
		}
		return func(x *measure.Project) fact.Int { return at[x.Code] }, nil
	}
	d, ok := measure.Lookup(c.Question.Value)
	if !ok || d.Unit.Worded() {
		return nil, fault.Field("value", fault.Clip(c.Question.Value, 60), "the key of a measure that is a number, or score: and a model")
	}
	c.Unit, c.Places = d.Unit, places(d.Unit, c.Currency)
	return func(x *measure.Project) fact.Int {
		v := x.Value(d.Key)
		n, ok := Amount(v, d.Unit, c.Currency)
		if !ok {
			return fact.Int{}
		}
		if c.Places != 6 {
			return fact.Some(v.N)
		}
		return fact.Some(int64(money.MulDiv(money.Amount(n.Num), figureUnits, n.Den)))
	}, nil
}

// figureUnits are the millionths in which ratios count.
const figureUnits = 1_000_000

// uses fills in what candidates use of limits.
func (c *Choice) uses(ctx context.Context, a *assess.Assessment) error {
	if a.NoMoney && len(c.Limits) > 0 {
		for _, l := range c.Limits {
			if l.Money() {
				return fmt.Errorf("limits of money: %w", access.ErrForbidden)
			}
		}
	}
	list := make([]*measure.Project, len(c.Rows))
	for i := range c.Rows {
		list[i] = c.Rows[i].Project
	}
	var err error
	if c.gauge, err = newGauge(ctx, a, c.Limits, list); err != nil {
		return err
	}
	for _, l := range c.Limits {
		c.problem.Limits = append(c.problem.Limits, selection.Limit{Name: l.Name, Most: c.gauge.most(l)})
	}
	for i := range c.Rows {
		r := &c.Rows[i]
		r.Use = make([]int64, len(c.Limits))
		for k, l := range c.Limits {
			if r.Use[k], err = c.gauge.use(l, r.Project); err != nil {
				return err
			}
		}
		c.problem.Candidates = append(c.problem.Candidates, selection.Candidate{Code: r.Project.Code, Valued: r.Value.Given,
			Value: r.Value.N, Use: r.Use})
	}
	return nil
}

// requirements fills in what the choice has to keep to. What is running or done is there already: it meets needs, and forbids what may not
// go with it. What is neither there nor a candidate cannot be had.
func (c *Choice) requirements(a *assess.Assessment, p *Pipeline) {
	at := map[string]int{}
	for i := range c.Rows {
		at[c.Rows[i].Project.Code] = i
	}
	there := func(code string) bool {
		i := a.Index(code)
		return i >= 0 && (a.All[i].Status == measure.Open || a.All[i].Status == measure.Closed)
	}
	x := c.problem
	for code, list := range p.Requirements {
		i, candidate := at[code]
		for _, r := range list {
			k, other := at[r.Other]
			switch {
			case r.Kind == record.NotWith && candidate && other:
				x.Apart = append(x.Apart, [2]int{i, k})
			case r.Kind == record.NotWith && candidate && there(r.Other):
				x.Never = append(x.Never, i)
			case r.Kind == record.NotWith && other && there(code):
				x.Never = append(x.Never, k)
			case !candidate:
			case r.Kind == record.Must:
				x.Must = append(x.Must, i)
			case r.Kind == record.Never:
				x.Never = append(x.Never, i)
			case r.Kind == record.Needs && other:
				x.Needs = append(x.Needs, [2]int{i, k})
			case r.Kind == record.Needs && !there(r.Other):
				x.Never = append(x.Never, i)
			}
		}
	}
	order(x)
}
