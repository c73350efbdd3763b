package main

import (
	"cmp"
	"encoding/csv"
	"math/big"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// table is a CSV file as rows of cells by the heads of its columns.
func table(t *testing.T, path string) []map[string]string {
	t.Helper()
	f, err := os.Open(path)
	require.NoError(t, err)
	defer f.Close()
	rows, err := csv.NewReader(f).ReadAll()
	require.NoError(t, err)
	var list []map[string]string
	for _, row := range rows[1:] {
		m := map[string]string{}
		for i, head := range rows[0] {
			m[head] = row[i]
		}
		list = append(list, m)
	}
	return list
}

// plain computes the measures of a portfolio from its files a second time: with exact fractions, one project and one row after another,
// and a calendar that is asked day by day. Nothing of it is shared with the program.
type plain struct {
	t     *testing.T
	asOf  time.Time
	off   map[string]bool // days without work, by date
	rates map[string]*big.Rat
	files map[string][]map[string]string // by kind
}

func (c *plain) day(s string) time.Time {
	d, err := time.Parse(time.DateOnly, s)
	require.NoError(c.t, err)
	return d
}

func (c *plain) works(d time.Time) bool {
	if off, named := c.off[d.Format(time.DateOnly)]; named {
		return !off
	}
	return d.Weekday() != time.Saturday && d.Weekday() != time.Sunday
}

// between counts the working days after one day up to another; negative backwards.
func (c *plain) between(from, to time.Time) int64 {
	if to.Before(from) {
		return -c.between(to, from)
	}
	n := int64(0)
	for d := from.AddDate(0, 0, 1); !d.After(to); d = d.AddDate(0, 0, 1) {
		if c.works(d) {
			n++
		}
	}
	return n
}

func (c *plain) count(from, to time.Time) int64 { return c.between(from.AddDate(0, 0, -1), to) }

func frac(s string) *big.Rat {
	if s == "" {
		return new(big.Rat)
	}
	r, _ := new(big.Rat).SetString(s)
	return r
}

// cents rounds an amount half to even.
func cents(r *big.Rat) int64 {
	x := new(big.Rat).Mul(r, big.NewRat(100, 1))
	q, m := new(big.Int).DivMod(x.Num(), x.Denom(), new(big.Int))
	switch twice := new(big.Int).Lsh(m, 1); twice.Cmp(x.Denom()) {
	case 1:
		q.Add(q, big.NewInt(1))
	case 0:
		if q.Bit(0) == 1 {
			q.Add(q, big.NewInt(1))
		}
	}
	return q.Int64()
}

// planned is a line of the budget or forecast at the plan rate.
func (c *plain) planned(r map[string]string) int64 {
	n := frac(r["amount"])
	if r["currency"] != "" {
		n.Mul(n, c.rates[r["currency"]])
	}
	return cents(n)
}

func euros(n int64) string { return big.NewRat(n, 100).FloatString(2) }

func share(a, b int64) string {
	if b == 0 {
		return ""
	}
	return big.NewRat(a, b).FloatString(6)
}

// earned shares the budget among activities by weight, by largest remainder with ties by code, and takes each by its percentage.
func (c *plain) earned(bac int64, acts []map[string]string) int64 {
	type part struct {
		code      string
		cents     int64
		remainder *big.Rat
		percent   *big.Rat
	}
	all := new(big.Rat)
	for _, a := range acts {
		all.Add(all, frac(a["weight"]))
	}
	var parts []*part
	left := bac
	for _, a := range acts {
		if a["kind"] == "summary" {
			continue
		}
		exact := new(big.Rat).Quo(new(big.Rat).Mul(big.NewRat(bac, 1), frac(a["weight"])), all)
		whole := new(big.Int).Quo(exact.Num(), exact.Denom()).Int64()
		left -= whole
		parts = append(parts, &part{a["code"], whole, exact.Sub(exact, big.NewRat(whole, 1)), frac(a["percent_complete"])})
	}
	slices.SortFunc(parts, func(p, q *part) int { return cmp.Or(q.remainder.Cmp(p.remainder), cmp.Compare(p.code, q.code)) })
	ev := int64(0)
	for i, p := range parts {
		if int64(i) < left {
			p.cents++
		}
		ev += cents(new(big.Rat).Quo(new(big.Rat).Mul(big.NewRat(p.cents, 100), p.percent), big.NewRat(100, 1)))
	}
	return ev
}

func (c *plain) of(project string) map[string]string {
	rows := func(kind string) (list []map[string]string) {
		for _, r := range c.files[kind] {
			if r["project"] == project {
				list = append(list, r)
			}
		}
		return list
	}
	month := c.asOf.Format("2006-01")
	var bac, toDate, toGo, ac int64
	byMonth := map[string]int64{}
	for _, r := range rows("budget") {
		n := c.planned(r)
		bac += n
		byMonth[r["month"]] += n
		if r["month"] <= month {
			toDate += n
		}
	}
	for _, r := range rows("forecast") {
		if r["month"] > month {
			toGo += c.planned(r)
		}
	}
	for _, r := range rows("actuals") {
		if r["date"] > c.asOf.Format(time.DateOnly) {
			continue
		}
		n := frac(r["amount"])
		if r["currency"] != "" {
			n = new(big.Rat).Mul(n, c.rates[r["currency"]+r["date"][:7]])
		}
		ac += cents(n)
	}
	acts := rows("activities")
	ev := c.earned(bac, acts)
	eac := ac + toGo
	m := map[string]string{"bac": euros(bac), "budget_to_date": euros(toDate), "pv": euros(toDate), "ac": euros(ac),
		"forecast_to_go": euros(toGo), "eac": euros(eac),
		"vac": euros(bac - eac), "vac_share": share(bac-eac, bac), "spent_share": share(ac, bac), "ev": euros(ev), "cv": euros(ev - ac),
		"sv":  euros(ev - toDate),
		"cpi": share(ev, ac), "spi": share(ev, toDate), "percent_complete": share(ev, bac), "percent_planned": share(toDate, bac),
		"tcpi_bac": share(bac-ev, bac-ac), "tcpi_eac": share(bac-ev, eac-ac)}
	if ev > 0 && ac > 0 {
		m["eac_cpi"] = euros(cents(new(big.Rat).Quo(new(big.Rat).Mul(big.NewRat(bac, 100), big.NewRat(ac, 1)), big.NewRat(ev, 1))))
		m["eac_budget_rate"] = euros(ac + bac - ev)
	}
	c.time(m, byMonth, ev)
	c.dates(m, acts)
	c.health(m, bac, eac, ev, ac)
	return m
}

// time is earned schedule: whole months whose planned value is earned, and a part of the next.
func (c *plain) time(m map[string]string, byMonth map[string]int64, ev int64) {
	var months []string
	for k := range byMonth {
		months = append(months, k)
	}
	slices.Sort(months)
	first, _ := time.Parse("2006-01", months[0])
	last, _ := time.Parse("2006-01", months[len(months)-1])
	es, sum := new(big.Rat), int64(0)
	for d := first; !d.After(last); d = d.AddDate(0, 1, 0) {
		n := byMonth[d.Format("2006-01")]
		if sum+n > ev {
			if n > 0 {
				es.Add(es, big.NewRat(ev-sum, n))
			}
			break
		}
		sum += n
		es.Add(es, big.NewRat(1, 1))
	}
	passed := int64(c.asOf.Year()-first.Year())*12 + int64(c.asOf.Month()-first.Month()) + 1
	if passed > 0 {
		m["es"], m["at"] = es.FloatString(6), big.NewRat(passed, 1).FloatString(6)
		m["spi_t"] = new(big.Rat).Quo(es, big.NewRat(passed, 1)).FloatString(6)
	}
}

func (c *plain) dates(m map[string]string, acts []map[string]string) {
	start, base, expected := "9", "", ""
	var done, missed, finished int64
	worst := "on track" // of missed milestones
	for _, a := range acts {
		if a["kind"] == "summary" {
			continue
		}
		is := a["finish"]
		if a["actual_finish"] != "" {
			is = a["actual_finish"]
			finished++
		}
		base, expected = max(base, a["baseline_finish"]), max(expected, is)
		if a["baseline_start"] != "" {
			start = min(start, a["baseline_start"])
		}
		if a["kind"] != "milestone" {
			continue
		}
		switch {
		case a["actual_finish"] != "":
			done++
		case !c.day(a["baseline_finish"]).After(c.asOf):
			missed++
			if a["report_to"] == "project" {
				continue
			}
			until := c.day(is)
			if until.Before(c.asOf) {
				until = c.asOf
			}
			if late := c.between(c.day(a["baseline_finish"]), until); late > 20 {
				worst = "act"
			} else if late > 0 && worst != "act" {
				worst = "watch"
			}
		}
	}
	planned := c.count(c.day(start), c.day(base))
	late := c.between(c.day(base), c.day(expected))
	m["baseline_start"], m["baseline_finish"], m["expected_finish"] = start, base, expected
	m["finish_deviation"], m["planned_duration"], m["finish_share"] = itoa(late), itoa(planned), share(late, planned)
	m["milestones_done"], m["milestones_missed"], m["activities_finished"] = itoa(done), itoa(missed), itoa(finished)
	m["missed"], m["elapsed"] = worst, share(c.count(c.day(start), c.asOf), planned)
}

func itoa(n int64) string { return big.NewInt(n).String() }

func (c *plain) health(m map[string]string, bac, eac, ev, ac int64) {
	rank := []string{"on track", "watch", "act"}
	above := func(r *big.Rat, watch, act string) int {
		switch {
		case r.Cmp(frac(act)) > 0:
			return 2
		case r.Cmp(frac(watch)) > 0:
			return 1
		}
		return 0
	}
	less := func(s, watch, act string) int { // an index; muted while it is early
		if s == "" || frac(m["elapsed"]).Cmp(frac("0.15")) < 0 {
			return 0
		}
		return above(new(big.Rat).Neg(frac(s)), "-"+watch, "-"+act)
	}
	sched := max(above(frac(m["finish_share"]), "0.05", "0.10"), slices.Index(rank, m["missed"]), less(m["spi_t"], "0.95", "0.85"))
	money := max(above(big.NewRat(eac-bac, bac), "0.05", "0.10"), less(m["cpi"], "0.95", "0.90"))
	m["schedule_health"], m["cost_health"], m["overall_health"] = rank[sched], rank[money], rank[max(sched, money)]
	delete(m, "missed")
	delete(m, "elapsed")
}

// Two hundred generated projects come to the same figures by both ways of computing, to the cent, the day and the sixth decimal.
func TestMeasuresOfAPortfolioAgreeWithAPlainCalculation(t *testing.T) {
	dir := t.TempDir()
	out, db := filepath.Join(dir, "out"), filepath.Join(dir, "g.db")
	for _, args := range [][]string{{"generate", "--projects", "200", "--activities", "4000", "--ledger", "12000", "--seed", "11", out},
		{"init", "--db", db},
		{"import", "--db", db, "--period", "2026-10", out}} {
		_, errs, code := run(t, args...)
		require.Zero(t, code, errs)
	}
	c := &plain{t: t, asOf: time.Date(2026, 10, 31, 0, 0, 0, 0, time.UTC), off: map[string]bool{}, rates: map[string]*big.Rat{},
		files: map[string][]map[string]string{}}
	for _, kind := range []string{"budget", "forecast", "actuals", "activities"} {
		c.files[kind] = table(t, filepath.Join(out, kind+".csv"))
	}
	for _, r := range table(t, filepath.Join(out, "calendars.csv")) {
		if r["date"] != "" && r["working"] == "no" {
			c.off[r["date"]] = true
		}
	}
	for _, r := range table(t, filepath.Join(out, "rates.csv")) {
		if r["kind"] == "month" {
			c.rates[r["currency"]+r["month"]] = frac(r["rate"])
		} else {
			c.rates[r["currency"]] = frac(r["rate"]) // one for all months
		}
	}
	printed, errs, code := run(t, "measures", "--db", db, "--as-of", "2026-10-31", "--format", "csv")
	require.Zero(t, code, errs)
	figures := filepath.Join(dir, "measures.csv")
	require.NoError(t, os.WriteFile(figures, []byte(printed), 0o600))
	seen, colours := 0, map[string]int{}
	for _, row := range table(t, figures) {
		if row["project"] == "*" {
			continue
		}
		seen++
		want := c.of(row["project"])
		for key, w := range want {
			assert.Equal(t, w, strings.TrimSpace(row[key]), "%s of %s", key, row["project"])
		}
		colours[want["overall_health"]]++
	}
	assert.Equal(t, 200, seen)
	assert.Len(t, colours, 3, "projects of every status are among them: %v", colours)
}
