package measure

import (
	"fmt"

	"turret/internal/core/capacity"
	"turret/internal/core/cost"
	"turret/internal/core/money"
)

// past and ahead pick what an assignment wants up to the as-of date, and after it.
func past(s *capacity.Share) int64  { return s.Past }
func ahead(s *capacity.Share) int64 { return s.Ahead }

// hours are units of core/capacity in ten-thousandths of an hour, half to even.
func hours(units int64) Value {
	return known(int64(money.MulDiv(money.Amount(units), 1, capacity.Unit/10_000)))
}

// staffHours are the hours of a project's assignments, added up before they are rounded.
func staffHours(pick func(*capacity.Share) int64) func(*Project) Value {
	return func(p *Project) Value {
		switch {
		case p.Status == "cancelled":
			return unknown("the project is cancelled")
		case len(p.Shares) == 0:
			return unknown("no assignments")
		}
		sum := int64(0)
		for i := range p.Shares {
			sum += pick(&p.Shares[i])
		}
		return hours(sum)
	}
}

func explainShares(pick func(*capacity.Share) int64) func(*Project, *Evidence) []Node {
	return func(p *Project, _ *Evidence) []Node {
		var list []Node
		for i := range p.Shares {
			x := &p.Shares[i]
			if n := pick(x); n != 0 {
				list = append(list, Node{Label: x.Who, Unit: Hours, Value: hours(n), Ref: x.Ref,
					Detail: fmt.Sprintf("%s of a working day from %s to %s", Value{Known: true,
						Ratio: float64(x.Percent) / 10_000}.Human(Share,
						""), x.From.Human(), x.To.Human())})
			}
		}
		return list
	}
}

// priced says how hours became the value of a node.
func priced(n Node, hours int64, per money.Amount, x *cost.Tariff) Node {
	at := fmt.Sprintf("%s h at %s", known(hours).Text(Hours, ""), per.Human(x.Currency))
	if n.Detail != "" {
		at += ": " + n.Detail
	}
	n.Detail = at
	n.Children = append(n.Children, Node{Label: "Rate in force: " + per.Human(x.Currency), Unit: Share, Value: unknown("a rate"),
		Ref: x.Ref})
	return n
}

// workNode says what a posting of labour was made of.
func workNode(n Node, x *cost.Posting) Node {
	w := x.Work
	switch {
	case w.Err != nil:
		n.Value, n.Detail, n.Children = unknown(w.Err.Error()), "", nil
	case w.Way == cost.Timesheets:
		n = priced(n, w.Hours, w.Tariff.Cost, &w.Tariff)
	default:
		n.Label = "Forecast of " + x.Date.Month().Name()
	}
	return n
}

// labourNodes put cost of labour that is not of the ledger under one node that names the way.
func labourNodes(codes []Node, way cost.Way, ev *Evidence) []Node {
	if way == cost.Ledger {
		return nil
	}
	n := Node{Label: "Labour from timesheets", Unit: Money, Value: known(0), Children: codes,
		Rule: "Hours times the rate in force on the day, instead of postings on codes of labour."}
	if way == cost.AsPlanned {
		n.Label, n.Rule = "Labour as planned", "The forecast on codes of labour of months that have passed, instead of postings on them."
	}
	aside := 0
	for i := range ev.Ledger {
		if x := &ev.Ledger[i]; x.Date <= ev.Env.AsOf && !way.Counts(&ev.Classes, x) {
			aside++
		}
	}
	if aside > 0 {
		n.Detail = fmt.Sprintf("%d %s of the ledger on codes of labour not counted", aside, rowWord(aside))
	}
	for i := range codes {
		n.Value.N += codes[i].Value.N
	}
	return []Node{n}
}
