package pipeline

import (
	"context"
	"slices"
	"strings"

	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/core/fact"
	"turret/internal/core/figure"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/priority"
	"turret/internal/core/write"
)

// Axis is a figure by which projects are put on a plane: a measure that is a number, or the score of a model.
type Axis struct {
	Name     string
	unit     figure.Unit
	currency money.Currency
	of       func(*measure.Project) (fact.Ratio, bool)
}

// AxisOf finds an axis: the key of a measure, or score: and a model. One that the reader may not see, or that is no number, is a
// FieldError.
func AxisOf(ctx context.Context, a *assess.Assessment, p *Pipeline, key string) (*Axis, error) {
	x := &Axis{currency: a.Env.Currency}
	if model, ok := strings.CutPrefix(key, "score:"); ok {
		scope, err := a.Scope("")
		if err != nil {
			return nil, err
		}
		ranking, err := RankOf(ctx, a, p, scope, model)
		if err != nil {
			return nil, err
		}
		at := map[string]int64{}
		for i := range ranking.Rows {
			if ranking.Rows[i].Scored {
				at[ranking.Rows[i].Code] = ranking.Rows[i].Score
			}
		}
		x.Name, x.unit = "score of "+model, figure.Score
		x.of = func(y *measure.Project) (fact.Ratio, bool) {
			n, ok := at[y.Code]
			return fact.Ratio{Num: n, Den: priority.Micro}, ok
		}
		return x, nil
	}
	d, ok := measure.Lookup(key)
	if !ok || d.Unit.Worded() || a.NoMoney && d.IsCost() {
		return nil, fault.Field("axis", fault.Clip(key, 60), "a figure that an axis can show")
	}
	x.Name, x.unit = write.Within(d.Name), d.Unit
	x.of = func(y *measure.Project) (fact.Ratio, bool) { return Amount(y.Value(d.Key), d.Unit, x.currency) }
	return x, nil
}

// Text writes a number of the axis.
func (x *Axis) Text(n fact.Ratio) string { return AmountText(n, x.unit, x.currency) }

// Tick writes a number along the axis.
func (x *Axis) Tick(v float64) string { return x.Text(fact.Decimal(v)) }

// Range bounds an axis, its bounds included; what is not given is none. Limit is drawn only.
type Range struct{ From, To, Limit fact.Ratio }

func (s Range) holds(n fact.Ratio) bool {
	return (!s.From.Given() || n.Cmp(s.From) >= 0) && (!s.To.Given() || n.Cmp(s.To) <= 0)
}

// Plane are projects by two figures, a third being their size.
type Plane struct {
	Points  []Point
	Without []*measure.Project // that have not both figures
	Outside int                // of the ranges
}

// Point is a project on a plane: across, up, and its size, which may be missing.
type Point struct {
	Project *measure.Project
	Values  [3]fact.Ratio
}

// PlaneOf puts projects on a plane: those that are open or proposed, or of the states that are asked for.
func PlaneOf(list []*measure.Project, states []measure.State, axes [3]*Axis, ranges [2]Range) *Plane {
	m := &Plane{}
	if len(states) == 0 {
		states = []measure.State{measure.Open, measure.Proposed}
	}
	for _, x := range list {
		if !slices.Contains(states, x.Status) {
			continue
		}
		p := Point{Project: x}
		known := true
		for i, axis := range axes {
			n, ok := axis.of(x)
			if known = known && (ok || i == 2); ok {
				p.Values[i] = n
			}
		}
		switch {
		case !known:
			m.Without = append(m.Without, x)
		case !ranges[0].holds(p.Values[0]) || !ranges[1].holds(p.Values[1]):
			m.Outside++
		default:
			m.Points = append(m.Points, p)
		}
	}
	return m
}
