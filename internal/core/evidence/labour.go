package evidence

import (
	"fmt"

	"turret/internal/core/cost"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/write"
)

// OfHours are the hours of timesheets, by person.
func (ev *Rows) OfHours() []Node {
	return ev.bookings(func(b cost.Booking) (Node, bool) { return Node{Unit: figure.Hours, Value: known(b.Hours)}, true })
}

// OfLabour are the rows of timesheets at the rate in force, by person; of billing only what can be billed, at its rate. Hours times the
// rate are rounded in the rate's own currency first and then converted, row by row.
func (ev *Rows) OfLabour(billing bool) []Node {
	return ev.bookings(func(b cost.Booking) (Node, bool) {
		if billing && !b.Billable {
			return Node{}, false
		}
		n := Node{Unit: figure.Money}
		a, x, err := ev.Tariffs.Worth(b, billing, ev.Rates)
		if err != nil {
			n.Value = unknown(err.Error())
			return n, true
		}
		per := x.Cost
		if billing {
			per = x.Billing
		}
		n.Value = amount(a)
		return priced(n, b.Hours, per, &x), true
	})
}

// bookings gathers the rows of timesheets by person.
func (ev *Rows) bookings(leaf func(cost.Booking) (Node, bool)) []Node {
	at := map[string]int{}
	var list []Node
	for _, b := range ev.Bookings {
		if b.Date > ev.Env.AsOf {
			continue
		}
		n, ok := leaf(b)
		if !ok {
			continue
		}
		n.Label, n.Ref = b.Date.String(), b.Ref
		i, met := at[b.Person]
		if !met {
			i = len(list)
			at[b.Person] = i
			list = append(list, Node{Label: b.Person, Unit: n.Unit, Value: known(0)})
		}
		list[i].Children = append(list[i].Children, n)
		list[i].Value.N += n.Value.N
	}
	for i := range list {
		list[i].Rule = "Sum of " + write.Count(len(list[i].Children), "row", "rows") + "."
	}
	return list
}

// priced says how hours became the value of a node.
func priced(n Node, hours int64, per money.Amount, x *cost.Tariff) Node {
	at := fmt.Sprintf("%s h at %s", known(hours).Text(figure.Hours, ""), per.Human(x.Currency))
	if n.Detail != "" {
		at += ": " + n.Detail
	}
	n.Detail = at
	n.Children = append(n.Children, Node{Label: "Rate in force: " + per.Human(x.Currency), Unit: figure.Share, Value: unknown("a rate"),
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
func (ev *Rows) labour(codes []Node, way cost.Way) []Node {
	if way == cost.Ledger {
		return nil
	}
	n := Node{Label: "Labour from timesheets", Unit: figure.Money, Value: known(0), Children: codes,
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
		n.Detail = write.Count(aside, "row", "rows") + " of the ledger on codes of labour not counted"
	}
	for i := range codes {
		n.Value.N += codes[i].Value.N
	}
	return []Node{n}
}
