package pipeline

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"turret/internal/core/fact"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/priority"
	"turret/internal/core/selection"
	"turret/internal/core/write"
)

// order puts what came out of maps in order, so that the same question has the same answer.
func order(p *selection.Problem) {
	slices.Sort(p.Must)
	slices.Sort(p.Never)
	pairs := func(x, y [2]int) int { return cmp.Or(x[0]-y[0], x[1]-y[1]) }
	slices.SortFunc(p.Needs, pairs)
	slices.SortFunc(p.Apart, pairs)
}

// Text writes a value or a price as files hold it; empty where there is none.
func (c *Choice) Text(n fact.Int) string {
	if !n.Given {
		return ""
	}
	if c.Places == 4 {
		return money.Plain(n.N, c.Places)
	}
	return money.Decimal(n.N, c.Places)
}

// Words writes a value or a price for reading; a dash where there is none.
func (c *Choice) Words(n fact.Int) string {
	switch {
	case !n.Given:
		return "–"
	case c.Unit == measure.Money:
		return money.Amount(n.N).Short(c.Currency)
	case c.Unit == measure.Score:
		return Points(n.N)
	case c.Places == 6:
		return money.Decimal(n.N/10_000, 2)
	}
	return c.Text(n)
}

// Points writes a score, in millionths, with one decimal.
func Points(score int64) string {
	tenths := (score + priority.Micro/20) / (priority.Micro / 10)
	return write.Whole(int(tenths/10)) + "." + string(rune('0'+tenths%10))
}

// By is what a choice has most of, in words.
func (c *Choice) By() string {
	if model, ok := strings.CutPrefix(c.Value, "score:"); ok {
		return "score of " + model
	}
	if d, ok := measure.Lookup(c.Value); ok {
		return write.Within(d.Name)
	}
	return c.Value
}

// Used is what the choice uses of a limit, as files hold it: major units, or people at work with two decimals.
func (c *Choice) Used(k int) string { return c.amount(k, c.Result.Used[k]) }

// Allowed is a limit as files hold it.
func (c *Choice) Allowed(k int) string {
	l := c.Limits[k]
	if l.Money() {
		return c.amount(k, c.problem.Limits[k].Most)
	}
	return l.Most
}

func (c *Choice) amount(k int, n int64) string {
	l := c.Limits[k]
	if l.Money() {
		return money.Amount(n).Text(c.Currency)
	}
	r := c.gauge.share(l, n)
	if !r.Given() {
		return "0.00"
	}
	return money.Decimal(int64(money.MulDiv(money.Amount(r.Num), 100, r.Den)), 2)
}

// Most is a limit in what uses are counted in.
func (c *Choice) Most(k int) int64 { return c.problem.Limits[k].Most }

// Amount writes a use of a limit as files hold it.
func (c *Choice) Amount(k int, n int64) string { return c.amount(k, n) }

// Why says in sentences why nothing keeps to musts and limits; none where something does.
func (c *Choice) Why() []string {
	u := c.Unmet
	if u == nil {
		return nil
	}
	if u.Unknown {
		return []string{"No choice was found that keeps to the musts and limits, and it is not proved that there is none."}
	}
	code := func(i int) string { return c.Rows[i].Project.Code }
	var list []string
	for _, x := range u.Clashes {
		var chain []string
		for _, i := range x.Chain {
			chain = append(chain, code(i))
		}
		last := chain[len(chain)-1]
		text := code(x.Must) + " must be chosen"
		for i := 1; i < len(chain); i++ {
			text += ", " + chain[i-1] + " needs " + chain[i]
		}
		switch x.Why {
		case selection.IsNever:
			text += ", and " + last + " may not be chosen"
		case selection.HasNoValue:
			text += ", and " + last + " has no value"
		case selection.IsApart:
			text += ", and " + last + " does not go with " + code(x.Other) + ", which must be chosen too"
		}
		list = append(list, text+".")
	}
	for _, x := range u.Short {
		list = append(list, fmt.Sprintf("What must be chosen uses %s of %s, which allows %s; it would have to be %s at least.",
			c.amount(x.Limit, x.Least), c.Limits[x.Limit].Name, c.Allowed(x.Limit), c.least(x.Limit, x.Least)))
	}
	return list
}

// least is a use in what its limit is given in, rounded up, so that a limit of that much lets it through.
func (c *Choice) least(k int, n int64) string {
	l := c.Limits[k]
	if l.Money() {
		return c.amount(k, n)
	}
	r := c.gauge.share(l, n)
	if !r.Given() {
		return "0"
	}
	up := int64(money.MulDiv(money.Amount(r.Num), 10_000, r.Den))
	if (fact.Ratio{Num: up, Den: 10_000}).Cmp(r) < 0 {
		up++
	}
	return money.Plain(up, 4)
}

// Refusal is Why in one line.
func (c *Choice) Refusal() error {
	if c.Unmet == nil {
		return nil
	}
	return fmt.Errorf("no choice keeps to the musts and limits: %s", strings.Join(c.Why(), " "))
}
