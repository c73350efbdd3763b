package check

import (
	"turret/internal/core/calendar"
	"turret/internal/core/figure"
)

// simulatedRules are run on what a simulation came to, by RunSimulated: not with each load, since it takes its time.
func simulatedRules() []Rule {
	list := []Rule{
		{ID: "date_hopeful", Name: "Date that hardly a run keeps", Records: "dates simulated", run: dateHopeful, on: simulated,
			Limit: &Limit{"working days too early, at least", 1, false},
			Says:  "A project is expected before the day by which one in ten runs of its simulation ends.",
			Mend:  "Tell a later finish, or what makes the plan shorter than it is drawn."},
		{ID: "contingency_short", Name: "Contingency below what half of the runs need", Records: "costs simulated", run: contingencyShort,
			on:   simulated,
			Says: "The contingency left is less than what half of the runs of a simulation cost over the estimate.",
			Mend: "Raise the estimate or the contingency, or lower a risk."},
	}
	for i := range list {
		list[i].Severity = Warning
	}
	return list
}

// Simulated reports whether the check is run on what a simulation came to.
func (r *Rule) Simulated() bool { return r.on == simulated }

// Runs are what the runs of a simulation came to.
type Runs struct {
	Early figure.Value // P10 of the finish, a date
	Half  figure.Value // P50 of the cost, in the currency of the figures
}

// RunSimulated tests a project that was simulated, and counts as RunClosed does. Such findings weigh nothing in the data score.
func RunSimulated(in *In, runs Runs, opt Options, accepted []Acceptance) Result {
	in.Runs = runs
	return in.run(simulated, opt, accepted)
}

// dateHopeful counts working days from the expected finish to the day by which one run in ten ends, and fails from the limit on.
func dateHopeful(in *In, t *Tally) {
	told, early := in.ExpectedFinish, in.Runs.Early
	if !told.Known || !early.Known {
		return
	}
	t.test(1)
	days := in.Days.Between(calendar.Date(told.N), calendar.Date(early.N))
	if told.N < early.N && float64(days) >= in.limit("date_hopeful") {
		t.project("statuses", "", in.Status, "Expected on %s; only one run in ten ends by %s",
			calendar.Date(told.N).Human(), calendar.Date(early.N).Human())
	}
}

// contingencyShort fails where half of the runs cost more than the estimate and the contingency left together.
func contingencyShort(in *In, t *Tally) {
	left := in.Contingency
	if !left.Known || !in.EAC.Known || !in.Runs.Half.Known {
		return
	}
	t.test(1)
	if need := max(0, in.Runs.Half.N-in.EAC.N); need > left.N {
		t.project("budget", "amount", in.Project, "%s of contingency are left, and half of the runs need more than %s", in.money(left),
			in.money(figure.Value{N: need}))
	}
}
