package main

import (
	"math/big"
	"time"
)

func (c *second) rate(currency, month string, plan bool) *big.Rat {
	if currency == "" {
		return num(1)
	}
	best, at := undefined, ""
	for _, r := range c.files["rates"] {
		isPlan := r["kind"] == "plan"
		if r["currency"] != currency || isPlan != plan || !plan && r["month"] != month || plan && r["month"] > month {
			continue
		}
		if r["month"] >= at {
			best, at = frac(r["rate"]), r["month"]
		}
	}
	return best
}

// monthly is the part of a line in each month, in euro cents at the plan rate, and how much of it lies up to the day.
type monthly struct {
	month      string
	all, until int64
}

func (c *second) spread(r map[string]string) (list []monthly) {
	own := cents(frac(r["amount"]))
	if r["month"] != "" {
		first := c.day(r["month"] + "-01")
		return []monthly{c.cut(r, r["month"], own, first, first.AddDate(0, 1, -1))}
	}
	from, to := c.day(r["from"]), c.day(r["to"])
	n := func(a, b time.Time) int64 { return c.count(a, b) }
	if n(from, to) == 0 {
		n = func(a, b time.Time) int64 { return int64(b.Sub(a).Hours()/24) + 1 }
	}
	all := n(from, to)
	share := func(days int64) *big.Rat {
		x, one := big.NewRat(days, all), num(1)
		switch r["profile"] {
		case "early":
			back := new(big.Rat).Sub(one, x)
			return one.Sub(one, back.Mul(back, back))
		case "late":
			return x.Mul(x, x)
		case "bell":
			square := new(big.Rat).Mul(x, x)
			return new(big.Rat).Sub(times(num(3), square), times(num(2), new(big.Rat).Mul(square, x)))
		}
		return x
	}
	var weights []*big.Rat
	var spans [][2]time.Time
	before := new(big.Rat)
	for d := time.Date(from.Year(), from.Month(), 1, 0, 0, 0, 0, time.UTC); !d.After(to); d = d.AddDate(0, 1, 0) {
		a, b := d, d.AddDate(0, 1, -1)
		if a.Before(from) {
			a = from
		}
		if b.After(to) {
			b = to
		}
		through := share(n(from, b))
		weights, spans = append(weights, new(big.Rat).Sub(through, before)), append(spans, [2]time.Time{a, b})
		before = through
	}
	for i, part := range shared(own, weights) {
		list = append(list, c.cut(r, spans[i][0].Format("2006-01"), part, spans[i][0], spans[i][1]))
	}
	return list
}

// cut converts a month's part and splits it by the working days up to the day.
func (c *second) cut(r map[string]string, month string, own int64, from, to time.Time) monthly {
	m := monthly{month: month, all: even(times(num(own), c.rate(r["currency"], month, true))).Num().Int64()}
	switch {
	case !to.After(c.asOf):
		m.until = m.all
	case from.After(c.asOf):
	default:
		all, passed := c.count(from, to), c.count(from, c.asOf)
		if all == 0 {
			all, passed = int64(to.Sub(from).Hours()/24)+1, int64(c.asOf.Sub(from).Hours()/24)+1
		}
		m.until = even(new(big.Rat).Quo(times(num(m.all), num(passed)), num(all))).Num().Int64()
	}
	return m
}

// sums are the basic figures of a project, undefined where an input is missing.
type sums struct {
	bac, pv, ac, toGo, ev, run *big.Rat
	statistical                bool
	months                     map[string]int64 // of the budget
	finished                   time.Time        // of all its work; zero while some is open
}

func (s *sums) eac() *big.Rat {
	switch {
	case s.toGo != nil:
		return plus(s.ac, s.toGo)
	case s.statistical:
		return even(over(times(s.bac, s.ac), nonzero(s.ev, s.ac)))
	}
	return undefined
}

// nonzero is a, where b is not zero.
func nonzero(a, b *big.Rat) *big.Rat {
	if b == nil || b.Sign() == 0 {
		return undefined
	}
	return a
}

func (c *second) rowsOf(kind, p string) (list []map[string]string) {
	for _, r := range c.files[kind] {
		if r["project"] == p {
			list = append(list, r)
		}
	}
	return list
}

func (c *second) sumsOf(p string, earns bool) *sums {
	s := &sums{months: map[string]int64{}}
	if rows := c.rowsOf("budget", p); len(rows) > 0 {
		s.bac, s.pv = num(0), num(0)
		for _, r := range rows {
			for _, m := range c.spread(r) {
				s.bac, s.pv = plus(s.bac, num(m.all)), plus(s.pv, num(m.until))
				s.months[m.month] += m.all
			}
		}
	}
	if rows := c.rowsOf("forecast", p); len(rows) > 0 {
		s.toGo = num(0)
		for _, r := range rows {
			for _, m := range c.spread(r) {
				s.toGo = plus(s.toGo, num(m.all-m.until))
			}
		}
	} else {
		s.statistical = earns
	}
	s.ac, s.run = num(0), num(0)
	next := c.asOf.AddDate(0, 0, 1) // the last whole month ends on the day before this one's
	firstRun, beyond, posted := time.Date(next.Year(), next.Month()-3, 1, 0, 0, 0, 0, time.UTC).Format("2006-01"), next.Format("2006-01"),
		false
	for _, r := range c.rowsOf("actuals", p) {
		if r["date"] > c.asOf.Format(time.DateOnly) {
			continue
		}
		posted = true
		n := even(times(num(cents(frac(r["amount"]))), c.rate(r["currency"], r["date"][:7], false)))
		s.ac = plus(s.ac, n)
		if r["date"][:7] >= firstRun && r["date"][:7] < beyond {
			s.run = plus(s.run, n)
		}
	}
	if s.run = even(over(s.run, num(3))); !posted {
		s.run = undefined
	}
	acts := c.rowsOf("activities", p)
	s.finished = c.finish(acts)
	if earns && s.bac != nil {
		s.ev = c.earned2(p, s.bac, acts)
	}
	return s
}

// finish is the day on which the last of a project's work ended, zero while some of it is open.
func (c *second) finish(acts []map[string]string) (last time.Time) {
	for _, a := range acts {
		if a["kind"] == "summary" {
			continue
		}
		if !c.done(a) {
			return time.Time{}
		}
		if d := c.day(a["actual_finish"]); d.After(last) {
			last = d
		}
	}
	return last
}

func (c *second) done(a map[string]string) bool {
	return a["actual_finish"] != "" && !c.day(a["actual_finish"]).After(c.asOf)
}
