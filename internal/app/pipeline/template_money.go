package pipeline

import (
	"cmp"
	"context"
	"errors"
	"maps"
	"slices"

	"turret/internal/app/assess"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/record"
)

// weight is what a part of a cost counts for.
type weight struct {
	code, activity string
	month          calendar.Month
	n              int64
}

// gathered adds up weights of the same code, activity and month, in an order of their own; what comes to nothing or less is left out.
func gathered(list []weight) []weight {
	slices.SortFunc(list, func(x, y weight) int {
		return cmp.Or(cmp.Compare(x.month, y.month), cmp.Compare(x.code, y.code), cmp.Compare(x.activity, y.activity))
	})
	var out []weight
	for _, w := range list {
		if k := len(out) - 1; k >= 0 && out[k].month == w.month && out[k].code == w.code && out[k].activity == w.activity {
			out[k].n += w.n
		} else {
			out = append(out, w)
		}
	}
	return slices.DeleteFunc(out, func(w weight) bool { return w.n <= 0 })
}

func withoutActivities(list []weight) []weight {
	for i := range list {
		list[i].activity = ""
	}
	return gathered(list)
}

// weights are the shares of the steps, each spread over its months by working days.
func (t *Template) weights(start calendar.Date, c *calendar.Calendar) (list []weight) {
	for i := range t.Steps {
		s := &t.Steps[i]
		if s.Share == 0 {
			continue
		}
		from, to := s.Span(start, c)
		months, parts := cost.Spread(cost.Line{From: from, To: to, Amount: money.Amount(s.Share) * 1_000_000}, c)
		for k, m := range months {
			list = append(list, weight{s.CostCode, s.Code, m, int64(parts[k])})
		}
	}
	return gathered(list)
}

// weightsOf are the budget lines of a project without its changes, in the reporting currency. The middle of each month is moved by as many
// working days as the plan is; none comes before the start.
func (o *Office) weightsOf(ctx context.Context, a *assess.Assessment, p *measure.Project, start calendar.Date) ([]weight, error) {
	codes := make(map[int32]string, len(a.Masters.CostCodes))
	for _, c := range a.Masters.CostCodes {
		codes[int32(c.ID)] = c.Code
	}
	first := calendar.Date(0)
	for i := range p.Activities {
		for _, d := range []calendar.Date{p.Activities[i].BaselineStart, p.Activities[i].BaselineFinish} {
			if d != 0 && (first == 0 || d < first) {
				first = d
			}
		}
	}
	var list []weight
	c := a.Env.Calendar
	var missing error
	err := a.Reading.Lines(ctx, record.Budget, []int64{p.ID}, func(_ int64, l cost.Line) {
		if l.Change != "" {
			return
		}
		months, amounts := cost.Spread(l, c)
		for k, m := range months {
			n, _, err := a.Rates.Planned(amounts[k], l.Currency, m)
			if err != nil {
				missing = err
				continue
			}
			to := c.Add(start, c.Between(first, max(m.First()+14, first))).Month()
			list = append(list, weight{codes[l.Code], l.Activity, to, int64(n)})
		}
	})
	return gathered(list), errors.Join(err, missing)
}

// laidOut has the cost of a project lie as weights say, each currency by itself and to the last cent. What approved changes added stays.
func (o *Office) laidOut(ctx context.Context, p *measure.Project, weights []weight) ([]intake.Edited, error) {
	if len(weights) == 0 {
		return nil, fault.Field("template", "", "one that says how its cost lies")
	}
	g, err := edit.GridOf(ctx, o.store, record.Budget, p.Code)
	if err != nil {
		return nil, err
	}
	in := g.Input
	total, centre := map[money.Currency]money.Amount{}, map[money.Currency]string{}
	var edits []intake.Edited
	for _, row := range g.Rows {
		if row[in.At("change")] != "" {
			continue
		}
		currency := money.Currency(row[in.At("currency")])
		n, err := money.Parse(row[in.At("amount")], cmp.Or(currency, p.Currency))
		if err != nil {
			return nil, fault.Field("amount of "+p.Code, fault.Clip(row[in.At("amount")], 40), "an amount")
		}
		total[currency] += n
		if x := row[in.At("cost_centre")]; x != "" {
			centre[currency] = x
		}
		edits = append(edits, intake.Edited{Old: row})
	}
	ns := make([]int64, len(weights))
	for i := range weights {
		ns[i] = weights[i].n
	}
	for _, currency := range slices.Sorted(maps.Keys(total)) {
		for i, part := range money.Split(total[currency], ns) {
			if part == 0 {
				continue
			}
			edits = append(edits, made(record.Budget, map[string]string{"project": p.Code, "cost_code": weights[i].code,
				"amount": part.Text(cmp.Or(currency, p.Currency)), "month": weights[i].month.String(), "currency": string(currency),
				"cost_centre": centre[currency], "activity": weights[i].activity}))
		}
	}
	return edits, nil
}
