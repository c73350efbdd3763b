package evidence

import (
	"fmt"

	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/write"
)

// OfLines are lines of a plan by cost code, in the reporting currency, as far as pick takes of each month of them; lines that nothing is
// taken of are left out. A line that cannot be converted says why.
func (ev *Rows) OfLines(lines []cost.Line, pick func(cost.Portion) money.Amount) []Node {
	cut := cost.NewCut(ev.Env.AsOf, ev.Env.Calendar)
	var groups byCode
	for _, l := range lines {
		parts, err := cost.Portions(l, ev.Rates, ev.Env.Calendar, cut)
		if err != nil {
			groups.add(l.Code, Node{Label: l.Label(), Unit: figure.Money, Value: unknown(err.Error()), Ref: l.Ref})
			continue
		}
		var sum money.Amount
		for _, p := range parts {
			sum += pick(p)
		}
		if sum == 0 && l.Amount != 0 {
			continue
		}
		n := Node{Label: l.Label(), Unit: figure.Money, Value: amount(sum), Ref: l.Ref, Detail: ev.detail(l, parts, sum, cut)}
		if l.Currency != ev.Env.Currency {
			n.Children = rateNodes(parts)
		}
		groups.add(l.Code, n)
	}
	return groups.nodes(ev.CodeNames)
}

// detail says how a line became the amount taken of it: its rate, and which part of it lies on which side of the day.
func (ev *Rows) detail(l cost.Line, parts []cost.Portion, sum money.Amount, cut cost.Cut) string {
	s := ""
	if l.Currency != ev.Env.Currency {
		s = fmt.Sprintf("%s %s at %s", write.Decimal(int64(l.Amount), l.Currency.Decimals()), l.Currency, parts[0].Rate.Rate)
	}
	var all money.Amount
	for _, p := range parts {
		all += p.Amount
	}
	if sum != all {
		if s != "" {
			s += ", "
		}
		s += fmt.Sprintf("part of %s", all.Human(ev.Env.Currency))
		if l.Month == cut.Month {
			s += fmt.Sprintf(": %d of %d working days passed", cut.Passed, cut.All)
		}
	}
	return s
}

// rateNodes are the rates that portions were converted at, each once.
func rateNodes(parts []cost.Portion) []Node {
	var list []Node
	for i, p := range parts {
		if i == 0 || p.Rate.Ref != parts[i-1].Rate.Ref {
			list = append(list, rateNode(p.Rate))
		}
	}
	return list
}

// rateNode is the row of one rate.
func rateNode(r cost.RateRow) Node {
	label := fmt.Sprintf("Rate of %s in %s: %s", r.Currency, r.Month, r.Rate)
	if r.Plan {
		label = fmt.Sprintf("Plan rate of %s from %s: %s", r.Currency, r.Month, r.Rate)
	}
	return Node{Label: label, Unit: figure.Share, Value: figure.Value{Reason: "a rate"}, Ref: r.Ref}
}

// OfLinesIn are those of some months.
func (ev *Rows) OfLinesIn(lines []cost.Line, in func(calendar.Month) bool, pick func(cost.Portion) money.Amount) []Node {
	return ev.OfLines(lines, func(x cost.Portion) money.Amount {
		if !in(x.Month) {
			return 0
		}
		return pick(x)
	})
}

// Planned is a leaf of an amount in a currency, converted at the plan rate of a month; where there is none its value says so.
func (ev *Rows) Planned(a money.Amount, c money.Currency, m calendar.Month) Node {
	worth, rate, err := ev.Rates.Planned(a, c, m)
	return ev.converted(a, worth, c, rate, err)
}

// converted is a leaf of an amount that was converted already, or the reason why it could not be.
func (ev *Rows) converted(own, worth money.Amount, c money.Currency, rate cost.RateRow, err error) Node {
	n := Node{Unit: figure.Money, Value: amount(worth)}
	switch {
	case err != nil:
		n.Value = unknown(err.Error())
	case c != ev.Env.Currency:
		n.Detail = fmt.Sprintf("%s %s at %s", write.Decimal(int64(own), c.Decimals()), c, rate.Rate)
		n.Children = []Node{rateNode(rate)}
	}
	return n
}

// OfCommitments are what is ordered and not posted yet, by cost code, at plan rates.
func (ev *Rows) OfCommitments() []Node {
	var groups byCode
	for _, c := range ev.Commitments {
		n := ev.Planned(c.Amount, c.Currency, c.Month(ev.Env.AsOf))
		n.Label, n.Ref = c.Document+" "+c.Supplier, c.Ref
		if c.Due != 0 {
			n.Label += ", due " + c.Due.String()
		}
		groups.add(c.Code, n)
	}
	return groups.nodes(ev.CodeNames)
}

// OfPostings are the postings up to the as-of date that keep takes, all where it is nil, by cost code; convert gives what each is worth in
// the reporting currency. Labour that is not of the ledger stands under one node that names the way.
func (ev *Rows) OfPostings(keep func(cost.Posting) bool, convert func(money.Amount, money.Currency, calendar.Month) (money.Amount,
	cost.RateRow, error)) []Node {
	var groups, labour byCode
	way := cost.Ledger
	for _, x := range ev.Postings {
		if x.Date > ev.Env.AsOf || keep != nil && !keep(x) {
			continue
		}
		a, rate, err := convert(x.Amount, x.Currency, x.Date.Month())
		n := ev.converted(x.Amount, a, x.Currency, rate, err)
		n.Label, n.Ref = x.Label(), x.Ref
		if x.Work == nil {
			groups.add(x.Code, n)
			continue
		}
		way = x.Work.Way
		labour.add(x.Code, workNode(n, &x))
	}
	return append(groups.nodes(ev.CodeNames), ev.labour(labour.nodes(ev.CodeNames), way)...)
}

// OfBillings are what is planned to be billed, at plan rates.
func (ev *Rows) OfBillings() []Node {
	var list []Node
	for _, b := range ev.Billings {
		n := ev.Planned(b.Planned, b.Currency, b.Month)
		n.Label, n.Ref = b.Month.String()+" "+b.Code+" "+b.Name, b.Ref
		list = append(list, n)
	}
	return list
}

// OfBilled are what was billed by the as-of date, at the rate of its month.
func (ev *Rows) OfBilled() []Node {
	var list []Node
	for _, b := range ev.Billings {
		own := b.BilledBy(ev.Env.AsOf)
		if own == 0 {
			continue
		}
		a, rate, err := ev.Rates.Actual(own, b.Currency, b.BilledDay().Month())
		n := ev.converted(own, a, b.Currency, rate, err)
		n.Label, n.Ref = b.BilledDay().String()+" "+b.Code+" "+b.Name, b.Ref
		list = append(list, n)
	}
	return list
}

// OfShares are the parts of what funders pay.
func (ev *Rows) OfShares(pick func(cost.Share) money.Amount) []Node {
	var list []Node
	for _, s := range ev.Shares {
		if pick(s) == 0 {
			continue
		}
		n := ev.Planned(pick(s), s.Currency, s.Month(ev.Env.AsOf))
		n.Label, n.Ref = s.Funder, s.Ref
		list = append(list, n)
	}
	return list
}

func known(n int64) figure.Value         { return figure.Value{Known: true, N: n} }
func unknown(reason string) figure.Value { return figure.Value{Reason: reason} }
func amount(a money.Amount) figure.Value { return known(int64(a)) }
