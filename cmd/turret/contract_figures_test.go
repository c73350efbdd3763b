package main

import (
	"math/big"
	"slices"
	"strconv"
	"time"
)

// figures are the measures of sums, those of a project or of a group's members.
func (c *second) figures(m map[string]string, s *sums, end time.Time) {
	eac := s.eac()
	es, at := c.earnedTime(s.months, s.ev, end)
	for key, a := range map[string]*big.Rat{"bac": s.bac, "pv": s.pv, "ac": s.ac, "forecast_to_go": s.toGo, "ev": s.ev, "eac": eac,
		"vac": minus(s.bac, eac), "cv": minus(s.ev, s.ac), "sv": minus(s.ev, s.pv),
		"remaining_budget": minus(s.bac, s.ac), "run_rate": s.run, "eac_budget_rate": plus(s.ac, minus(s.bac, s.ev)),
		"eac_cpi": even(over(times(s.bac, s.ac), nonzero(s.ev, s.ac))),
		"eac_cpi_spi": plus(s.ac,
			even(over(times(minus(s.bac, s.ev), times(s.ac, s.pv)), nonzero(nonzero(times(s.ev, s.ev), s.ac), s.pv))))} {
		m[key] = money2(a)
	}
	for key, a := range map[string]*big.Rat{"vac_share": over(minus(s.bac, eac), s.bac), "spent_share": over(s.ac, s.bac),
		"cpi": over(s.ev, s.ac), "spi": over(s.ev, s.pv), "tcpi_bac": over(minus(s.bac, s.ev), minus(s.bac, s.ac)),
		"tcpi_eac": over(minus(s.bac, s.ev), minus(eac, s.ac)), "tcpi_gap": minus(over(minus(s.bac, s.ev), minus(eac, s.ac)),
			over(s.ev, s.ac)), "percent_planned": over(s.pv, s.bac),
		"es": es, "at": at, "spi_t": over(es, at), "sv_t": minus(es, at)} {
		m[key] = ratio6(a)
	}
}

// schedule is bei, the expected finish and the longest slip.
func (c *second) schedule(m map[string]string, acts []map[string]string) {
	var finished, due int64
	var expected time.Time
	slip, slips := int64(0), false
	only := !slices.ContainsFunc(acts, func(a map[string]string) bool { return a["kind"] != "summary" })
	for _, a := range acts {
		if a["kind"] == "activity" && a["ev_method"] != "effort" {
			if c.done(a) {
				finished++
			}
			if a["baseline_finish"] != "" && !c.day(a["baseline_finish"]).After(c.asOf) {
				due++
			}
		}
		is := c.expected(a)
		if (a["kind"] != "summary" || only) && is.After(expected) {
			expected = is
		}
		if a["kind"] != "milestone" || c.done(a) || a["baseline_finish"] == "" {
			continue
		}
		base := c.day(a["baseline_finish"])
		if !base.After(c.asOf) && is.Before(c.asOf) {
			is = c.asOf
		}
		if !is.IsZero() {
			if n := c.between(base, is); !slips || n > slip {
				slip, slips = n, true
			}
		}
	}
	m["bei"], m["expected_finish"], m["longest_slip"] = ratio6(over(num(finished), num(due))), "", ""
	if !expected.IsZero() {
		m["expected_finish"] = expected.Format(time.DateOnly)
	}
	if slips {
		m["longest_slip"] = itoa(slip)
	}
}

// expected is the finish sent, else what follows from the remaining duration or from the start.
func (c *second) expected(a map[string]string) time.Time {
	place := func(d time.Time, days string) time.Time {
		n, _ := strconv.Atoi(days)
		for !c.works(d) {
			d = d.AddDate(0, 0, 1)
		}
		for ; n > 1; n-- {
			for d = d.AddDate(0, 0, 1); !c.works(d); d = d.AddDate(0, 0, 1) {
			}
		}
		return d
	}
	switch next := c.asOf.AddDate(0, 0, 1); {
	case a["actual_finish"] != "":
		return c.day(a["actual_finish"])
	case a["finish"] != "":
		return c.day(a["finish"])
	case a["remaining"] != "" && a["kind"] != "milestone":
		if s := a["start"]; (a["actual_start"] == "" || c.day(a["actual_start"]).After(c.asOf)) && s != "" && c.day(s).After(next) {
			next = c.day(s)
		}
		return place(next, a["remaining"])
	case a["duration"] != "" && a["actual_start"] != "":
		return place(c.day(a["actual_start"]), a["duration"])
	case a["duration"] != "" && a["start"] != "":
		return place(c.day(a["start"]), a["duration"])
	}
	return time.Time{}
}

// labour is the cost of the hours and the price of those that are billed.
func (c *second) labour(m map[string]string, p string) {
	cost, billed, any := num(0), num(0), false
	for _, r := range c.rowsOf("timesheets", p) {
		if r["date"] > c.asOf.Format(time.DateOnly) {
			continue
		}
		any = true
		worth := func(kind string) *big.Rat {
			per, currency := c.tariff(r, kind)
			own := even(times(per, times(frac(r["hours"]), num(100))))
			return even(times(own, c.rate(currency, r["date"][:7], false)))
		}
		cost = plus(cost, worth("cost_rate"))
		if r["billable"] == "yes" {
			billed = plus(billed, worth("billing_rate"))
		}
	}
	if !any {
		cost, billed = nil, nil
	}
	m["labour_cost"], m["billable_value"] = money2(cost), money2(billed)
}

// tariff is the rate of the person, else the role, else the cost code that the timesheet names, in force on the day.
func (c *second) tariff(r map[string]string, kind string) (*big.Rat, string) {
	role := ""
	for _, x := range c.files["people"] {
		if x["code"] == r["person"] {
			if x[kind] != "" {
				return frac(x[kind]), x["currency"]
			}
			role = x["role"]
		}
	}
	for _, is := range []func(x map[string]string) bool{func(x map[string]string) bool { return x["role"] == role },
		func(x map[string]string) bool { return r["cost_code"] != "" && x["cost_code"] == r["cost_code"] }} {
		for _, x := range c.files["labour_rates"] {
			if is(x) && x[kind] != "" && x["from"] <= r["date"] {
				return frac(x[kind]), x["currency"]
			}
		}
	}
	return undefined, ""
}

// group adds up the sums of projects that have all that a measure is computed from.
func group(list []*sums, has func(*sums) bool) *sums {
	g := &sums{months: map[string]int64{}}
	for _, s := range list {
		if !has(s) {
			continue
		}
		for _, x := range []struct{ to, from **big.Rat }{{&g.bac, &s.bac}, {&g.pv, &s.pv}, {&g.ac, &s.ac}, {&g.ev, &s.ev}} {
			if *x.to == nil {
				*x.to = num(0)
			}
			*x.to = plus(*x.to, *x.from)
		}
		if g.toGo == nil {
			g.toGo = num(0)
		}
		g.toGo = plus(g.toGo, minus(s.eac(), s.ac)) // so that the estimate is the sum of estimates
		for m, n := range s.months {
			g.months[m] += n
		}
	}
	return g
}
