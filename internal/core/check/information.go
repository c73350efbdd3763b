package check

import (
	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/core/health"
	"turret/internal/core/write"
)

// informationRules are what is worth knowing and needs no mending.
func informationRules() []Rule {
	list := []Rule{
		{ID: "over_to_date", Name: "Actual above budget to date", Records: "projects", run: overToDate,
			Says: "More is spent than the plan had for the time up to the as-of date.", Mend: "Nothing to fix; ask why where it is much."},
		{ID: "estimate_far_below", Name: "Estimate far below budget", Records: "projects", run: farBelow,
			Limit: &Limit{"below the budget", 0.20, true},
			Says:  "The estimate at completion is far below the budget: money could be given back.",
			Mend:  "Ask whether the forecast is complete."},
		{ID: "declared_better", Name: "Declared better than computed", Records: "statuses", run: declaredBetter,
			Says: "The lead declares a better status than the figures give, overall or for a dimension.",
			Mend: "Ask what the figures do not know."},
		{ID: "baseline_moved", Name: "Baseline changed this period", Records: "projects", run: baselineMoved,
			Says: "The baseline finish is another than in the period before.", Mend: "Nothing to fix where it was approved."},
		{ID: "no_contingency", Name: "Risk without contingency", Records: "projects", run: noContingency,
			Says: "Open risks are expected to cost something and no contingency is left.",
			Mend: "Set aside contingency, or reduce the risks."},
	}
	for i := range list {
		list[i].Severity = Information
	}
	return list
}

// day reads a figure as a day.
func day(f figure.Value) calendar.Date { return calendar.Date(f.N) }

// overToDate fails above the budget to date, not at it.
func overToDate(in *In, t *Tally) {
	t.test(1)
	if in.AC.Known && in.ToDate.Known && in.AC.N > in.ToDate.N {
		t.project("actuals", "amount", in.Project, "%s posted where the plan had %s by now", in.money(in.AC), in.money(in.ToDate))
	}
}

// farBelow fails where the estimate is more than the limit's share of the budget below it.
func farBelow(in *In, t *Tally) {
	limit := in.limit("estimate_far_below")
	t.test(1)
	if in.BAC.Known && in.EAC.Known && in.BAC.N > 0 && beyond(in.BAC.N-in.EAC.N, in.BAC.N, limit) {
		t.project("forecast", "amount", in.Project, "The estimate is %s below the budget",
			write.Percent(float64(in.BAC.N-in.EAC.N)/float64(in.BAC.N), 1))
	}
}

// declaredBetter tests the overall status, and each dimension that is both declared and computed.
func declaredBetter(in *In, t *Tally) {
	t.test(1)
	if n, ok := health.Steps(in.Declared, in.Computed); ok && n > 0 {
		t.project("status", "overall", in.Status, "Declared %s; the figures say %s", in.Declared, in.Computed)
	}
	for _, d := range health.Dimensions() {
		n, ok := health.Steps(in.DeclaredOn[d], in.ComputedOn[d])
		if !ok {
			continue
		}
		t.test(1)
		if n > 0 {
			t.fail("status", d.String(), d.String(), in.Status, "Declared %s for %s; the figures say %s", in.DeclaredOn[d], d,
				in.ComputedOn[d])
		}
	}
}

// baselineMoved compares with the last closed period; without one it passes.
func baselineMoved(in *In, t *Tally) {
	t.test(1)
	if m, ok := in.before(); ok && m.BaselineFinish.Known && in.BaselineFinish.Known && m.BaselineFinish.N != in.BaselineFinish.N {
		t.project("activities", "baseline_finish", in.Project, "The baseline finish went from %s to %s since %s",
			day(m.BaselineFinish).Human(), day(in.BaselineFinish).Human(), m.Period.Name())
	}
}

// noContingency fails where open risks are expected to cost more than 0 and nothing is left, or nothing was ever set aside.
func noContingency(in *In, t *Tally) {
	t.test(1)
	if in.Threat.Known && in.Threat.N > 0 && (!in.Contingency.Known || in.Contingency.N <= 0) {
		t.project("risks", "cost_impact", in.Project, "Open risks are expected to cost %s and there is no contingency", in.money(in.Threat))
	}
}
