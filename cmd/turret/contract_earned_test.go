package main

import (
	"math/big"
	"slices"
	"time"
)

// earned2 is earned value by the contract's paragraph on its basis.
func (c *second) earned2(p string, bac *big.Rat, acts []map[string]string) *big.Rat {
	credits := func(m map[string]string) bool {
		for _, a := range acts {
			if m["kind"] == "milestone" && m["parent"] != "" && a["code"] == m["parent"] && a["kind"] != "summary" &&
				a["ev_method"] == "milestones" {
				return true
			}
		}
		return false
	}
	given := slices.ContainsFunc(acts, func(a map[string]string) bool {
		return a["kind"] != "summary" && a["weight"] != "" && !credits(a)
	})
	var with []map[string]string
	var weights []*big.Rat
	for _, a := range acts { // they stand in the order of their codes
		w := num(0)
		switch {
		case a["kind"] == "summary" || credits(a):
		case given:
			w = frac(a["weight"])
		case a["kind"] == "activity" && a["baseline_start"] != "" && a["baseline_finish"] >= a["baseline_start"]:
			w = num(c.count(c.day(a["baseline_start"]), c.day(a["baseline_finish"])))
		}
		if w.Sign() > 0 {
			with, weights = append(with, a), append(weights, w)
		}
	}
	accepted, points, items := c.points(p)
	if len(with) == 0 {
		switch rows := c.rowsOf("status", p); {
		case items:
			return even(times(bac, over(accepted, points)))
		case len(rows) > 0:
			return even(times(bac, over(frac(rows[0]["percent_complete"]), num(100))))
		}
		return undefined
	}
	ev := num(0)
	for i, share := range shared(bac.Num().Int64(), weights) {
		ev = plus(ev, even(times(num(share), c.credit(acts, with[i], accepted, points, items))))
	}
	return ev
}

func (c *second) points(p string) (accepted, all *big.Rat, items bool) {
	accepted, all = num(0), num(0)
	for _, r := range c.rowsOf("backlog", p) {
		items = true
		if r["added"] > c.asOf.Format(time.DateOnly) {
			continue
		}
		all = plus(all, frac(r["points"]))
		if r["state"] == "accepted" {
			accepted = plus(accepted, frac(r["points"]))
		}
	}
	return accepted, all, items
}

func (c *second) credit(acts []map[string]string, a map[string]string, accepted, points *big.Rat, items bool) *big.Rat {
	started := a["actual_start"] != "" && !c.day(a["actual_start"]).After(c.asOf)
	method := a["ev_method"]
	switch {
	case method == "effort":
		if a["baseline_start"] == "" || a["baseline_finish"] < a["baseline_start"] {
			return undefined
		}
		start, finish := c.day(a["baseline_start"]), c.day(a["baseline_finish"])
		until := finish
		if c.asOf.Before(until) {
			until = c.asOf
		}
		passed := num(0)
		if !until.Before(start) {
			passed = num(c.count(start, until))
		}
		return over(passed, num(c.count(start, finish)))
	case c.done(a):
		return num(1)
	case method == "0/100", method == "50/50" && !started, method == "25/75" && !started:
		return num(0)
	case method == "50/50":
		return big.NewRat(1, 2)
	case method == "25/75":
		return big.NewRat(1, 4)
	case method == "points" && !items:
		return undefined
	case method == "points":
		return over(accepted, points)
	case method == "milestones":
		done, all := num(0), num(0)
		for _, m := range acts {
			if m["kind"] != "milestone" || m["parent"] != a["code"] {
				continue
			}
			w := num(1)
			if m["weight"] != "" {
				w = frac(m["weight"])
			}
			if all = plus(all, w); c.done(m) {
				done = plus(done, w)
			}
		}
		return over(done, all)
	}
	return over(frac(a["percent_complete"]), num(100))
}

// earnedTime is es and at by the contract, from the months of a plan.
func (c *second) earnedTime(months map[string]int64, ev *big.Rat, end time.Time) (es, at *big.Rat) {
	var names []string
	for m, n := range months {
		if n != 0 {
			names = append(names, m)
		}
	}
	if len(names) == 0 || ev == nil {
		return nil, nil
	}
	slices.Sort(names)
	first, last := c.day(names[0]+"-01"), c.day(names[len(names)-1]+"-01")
	n, at0, sum, next, k := int64(0), int64(0), int64(0), int64(0), int64(0)
	for d := first; !d.After(last); d = d.AddDate(0, 1, 0) {
		k++
		sum += months[d.Format("2006-01")]
		if num(sum).Cmp(ev) <= 0 {
			n, at0 = k, sum
		}
	}
	es = num(n)
	if d := first.AddDate(0, int(n), 0); !d.After(last) {
		if next = months[d.Format("2006-01")]; next > 0 && ev.Cmp(num(at0)) > 0 {
			es = plus(es, over(minus(ev, num(at0)), num(next)))
		}
	}
	at = num(0)
	if !end.Before(first) {
		begin := time.Date(end.Year(), end.Month(), 1, 0, 0, 0, 0, time.UTC)
		whole := int64(end.Year()-first.Year())*12 + int64(end.Month()-first.Month())
		at = plus(num(whole), over(num(c.count(begin, end)), num(c.count(begin, begin.AddDate(0, 1, -1)))))
	}
	return es, at
}
