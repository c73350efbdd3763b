package main

import (
	"fmt"
	"math/rand/v2"
	"strconv"
	"time"
)

// odd draws a portfolio of projects that stand at the edges: methods of every kind, weights and none, spans and months, credits, empty
// months, work without dates, hours taken back, kronor without a rate in one month.
func odd(r *rand.Rand, projects int) map[string]string {
	pick := func(list ...string) string { return list[r.IntN(len(list))] }
	day := func(from, span int) string {
		return time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC).AddDate(0, 0, from+r.IntN(span)).Format(time.DateOnly)
	}
	maybe := func(s string) string { return pick("", s, s) }
	f := map[string]string{
		"structure":    "code,name,level\nPF,Portfolio,portfolio\n",
		"calendars":    "calendar,date,weekday,working,name\ndefault,,sat,no,\ndefault,,sun,no,\ndefault,2026-04-03,,no,Holiday\ndefault,2026-05-01,,no,Holiday\ndefault,2026-05-09,,yes,Made up\n",
		"cost_codes":   "code,name,type\nK,Capital,capital\nO,Operating,operating\n",
		"rates":        "currency,month,rate,kind\nSEK,2025-01,0.0871,plan\nSEK,2026-03,0.0905,plan\nSEK,2026-01,0.0911,month\nSEK,2026-03,0.0907,month\nSEK,2026-04,0.0899,month\n",
		"projects":     "code,name,parent,earned_value,planned_start,planned_finish\n",
		"activities":   "project,code,name,parent,kind,baseline_start,baseline_finish,start,finish,actual_start,actual_finish,duration,remaining,percent_complete,weight,ev_method,report_to\n",
		"budget":       "project,cost_code,amount,month,from,to,profile,currency\n",
		"forecast":     "project,cost_code,amount,month,from,to,profile,currency\n",
		"actuals":      "project,cost_code,date,amount,currency\n",
		"status":       "project,percent_complete\n",
		"backlog":      "project,code,title,points,state,added,accepted\n",
		"people":       "code,name,role,cost_rate,billing_rate,currency\nP,Pat,mason,40.05,,\nQ,Quinn,diver,,70.10,SEK\n",
		"labour_rates": "person,role,cost_code,from,cost_rate,billing_rate,currency\n,diver,,2026-02-02,50.25,,\n,,K,,33.33,44.44,SEK\n",
		"timesheets":   "person,project,date,hours,billable,cost_code\n",
	}
	add := func(kind, format string, args ...any) { f[kind] += fmt.Sprintf(format, args...) }
	line := func(kind, p string) {
		amount, code, currency := fmt.Sprintf("%d.%02d", r.IntN(9000)-900, r.IntN(100)), pick("K", "O"), pick("", "", "SEK")
		if r.IntN(3) == 0 {
			from := r.IntN(200)
			add(kind, "%s,%s,%s,,%s,%s,%s,%s\n", p, code, amount, day(from, 1), day(from+r.IntN(120), 1),
				pick("even", "early", "late", "bell"), currency)
			return
		}
		add(kind, "%s,%s,%s,2026-%02d,,,,%s\n", p, code, amount, 1+r.IntN(9), currency)
	}
	for i := range projects {
		p := fmt.Sprintf("P%03d", i)
		add("projects", "%s,%s,PF,%s,2026-01-05,2026-09-30\n", p, p, pick("yes", "yes", "yes", "no"))
		weighted := r.IntN(3) == 0
		for k := range r.IntN(6) {
			method, kind, parent, weight := pick("", "percent", "0/100", "50/50", "25/75", "effort", "milestones", "points"),
				pick("activity", "activity", "activity", "milestone", "deliverable", "summary"), "", ""
			if k > 0 && r.IntN(2) == 0 {
				parent = fmt.Sprintf("A%d", r.IntN(k))
			}
			if weighted && r.IntN(3) > 0 {
				weight = strconv.Itoa(r.IntN(9))
			}
			bs := r.IntN(120)
			bf, as, af := day(bs+r.IntN(60), 1), day(60, 80), ""
			if r.IntN(3) == 0 {
				af = day(145, 25)
			}
			if kind == "milestone" {
				as = ""
			}
			add("activities", "%s,A%d,Work,%s,%s,%s,%s,%s,%s,%s,%s,%s,%s,%d,%s,%s,%s\n", p, k, parent, kind, maybe(day(bs, 1)), maybe(bf),
				maybe(day(100, 60)), pick("", day(150, 100)), maybe(as), af,
				pick("", strconv.Itoa(r.IntN(40))), pick("", "", strconv.Itoa(r.IntN(20))), r.IntN(101), weight, method,
				pick("project", "programme", "portfolio"))
		}
		for range r.IntN(5) {
			line("budget", p)
		}
		for range r.IntN(4) {
			line("forecast", p)
		}
		for range r.IntN(7) {
			add("actuals", "%s,%s,%s,%d.%02d,%s\n", p, pick("K", "O"), day(0, 170), r.IntN(5000)-500, r.IntN(100), pick("", "", "", "SEK"))
		}
		if r.IntN(2) == 0 {
			add("status", "%s,%d\n", p, r.IntN(101))
		}
		if r.IntN(3) == 0 {
			for k := range 1 + r.IntN(4) {
				add("backlog", "%s,B%d,Item,%s,%s,%s,\n", p, k, pick("", "0", "3", "5", "8"), pick("todo", "accepted"), maybe(day(0, 200)))
			}
		}
		for range r.IntN(3) {
			add("timesheets", "%s,%s,%s,%s,%s,%s\n", pick("P", "Q"), p, day(0, 170), pick("7.25", "-3.5", "8"), pick("yes", "no"),
				pick("", "K"))
		}
	}
	return f
}
