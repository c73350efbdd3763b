package check

import (
	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/schedule"
)

// errorRules are what cannot be right: two inputs, or an input and the day, that exclude each other.
func errorRules() []Rule {
	return []Rule{
		{ID: "nothing_remaining", Severity: Error, Name: "Unfinished with nothing remaining", Records: "activities", run: nothingRemaining,
			Says: "An activity that is not finished has no working days left.", Mend: "Give the remaining days, or the actual finish."},
		{ID: "finish_missing", Severity: Error, Name: "Finished without an actual finish", Records: "activities", run: finishMissing,
			Says: "An activity or milestone is 100 % complete and has no actual finish.",
			Mend: "Give the actual finish, or a lower percentage."},
		{ID: "actual_ahead", Severity: Error, Name: "Actual date after the as-of date", Records: "activities", run: actualAhead,
			Says: "An actual start or finish lies after the as-of date.", Mend: "Give the day on which it happened."},
		{ID: "finish_before_start", Severity: Error, Name: "Finish before start", Records: "activities", run: finishBeforeStart,
			Says: "A finish lies before the start of its own pair: baseline, expected or actual.",
			Mend: "Correct the earlier or the later date."},
		{ID: "closed_code", Severity: Error, Name: "Actual cost on a closed or unknown code", Records: "cost codes", run: closedCode,
			Says: "Cost is posted on a cost code that takes no more, or that is not in the tree.",
			Mend: "Post it on an open code, or open this one."},
		{ID: "budget_sum", Severity: Error, Name: "Budget does not add up to what was approved", Records: "approved changes",
			run:  budgetSum,
			Says: "The budget lines of an approved change add up to another amount than was approved, in one of their currencies.",
			Mend: "Correct the lines of the change, or its amount."},
		{ID: "no_baseline", Severity: Error, Name: "No baseline", Records: "projects", run: noBaseline,
			Says: "No activity of the project has a baseline finish.", Mend: "Send the baseline dates with the schedule."},
		{ID: "link_cycle", Severity: Error, Name: "Dependencies in a circle", Records: "projects", run: linkCycle,
			Says: "Activities wait for one another in a circle, so that the network cannot date them.",
			Mend: "Take out one of the dependencies."},
		{ID: "date_passed", Severity: Error, Name: "Expected date has passed", Records: "activities", run: datePassed,
			Says: "An expected start or finish lies on or before the as-of date, and nothing says that it happened.",
			Mend: "Give the actual date, or a new expected one."},
		{ID: "missing_rate", Severity: Error, Name: "Missing exchange rate", Records: "inputs", run: missingRate,
			Says: "An amount cannot be converted, so that sums with it are not known.", Mend: "Send the rate of the month."},
		{ID: "posted_twice", Severity: Error, Name: "Document in the ledger twice", Records: "documents", run: postedTwice,
			Says: "The same document stands in the ledger more than once, with the same day, code, currency and amount.",
			Mend: "Withdraw the load that brought it again, or send a credit."},
		{ID: "negative_actual", Severity: Error, Name: "Negative actual cost", Records: "projects", run: negativeActual,
			Says: "Actual cost up to the as-of date is below zero.", Mend: "Look for a credit without its invoice."},
	}
}

// work calls f for every activity that is no summary and was not cancelled: of such nothing is asked any more.
func (in *In) work(f func(a *schedule.Activity)) {
	for i := range in.Activities {
		if a := &in.Activities[i]; a.Kind != schedule.Summary && !a.Withdrawn() {
			f(a)
		}
	}
}

// expected are the days that the team sent, also where the network's stand over them.
func (in *In) expected(a *schedule.Activity) (start, finish calendar.Date) {
	if in.Driven && a.Sent != (schedule.Span{}) {
		return a.Sent.Start, a.Sent.Finish
	}
	return a.Start, a.Finish
}

const full = 10_000 // one hundred percent

// nothingRemaining tests activities and deliverables. One that is 100 % complete is finishMissing's.
func nothingRemaining(in *In, t *Tally) {
	in.work(func(a *schedule.Activity) {
		if a.Kind == schedule.Milestone {
			return
		}
		t.test(1)
		if a.ActualFinish == 0 && a.Remaining.Given && a.Remaining.N == 0 && a.Percent.N < full {
			t.fail("activities", a.Code, "remaining", a.Ref, "%s %s is not finished and has no working days left", a.Code, a.Name)
		}
	})
}

// finishMissing fails from 100 % on where the finish is not sent; an activity without a percent passes.
func finishMissing(in *In, t *Tally) {
	in.work(func(a *schedule.Activity) {
		t.test(1)
		if a.ActualFinish == 0 && a.Percent.Given && a.Percent.N >= full {
			t.fail("activities", a.Code, "actual_finish", a.Ref, "%s %s is 100 %% complete without an actual finish", a.Code, a.Name)
		}
	})
}

// actualAhead fails after the as-of date, not on it, and once for each activity: by its start first.
func actualAhead(in *In, t *Tally) {
	in.work(func(a *schedule.Activity) {
		t.test(1)
		switch {
		case a.ActualStart > in.AsOf:
			t.fail("activities", a.Code, "actual_start", a.Ref, "%s %s is said to have started on %s", a.Code, a.Name,
				a.ActualStart.Human())
		case a.ActualFinish > in.AsOf:
			t.fail("activities", a.Code, "actual_finish", a.Ref, "%s %s is said to have finished on %s", a.Code, a.Name,
				a.ActualFinish.Human())
		}
	})
}

// finishBeforeStart fails once for each activity, by its baseline, then its expected, then its actual days. The same day is no fault, and
// a pair of which one is missing passes.
func finishBeforeStart(in *In, t *Tally) {
	for i := range in.Activities {
		a := &in.Activities[i]
		t.test(1)
		start, finish := in.expected(a)
		switch {
		case a.BaselineFinish != 0 && a.BaselineFinish < a.BaselineStart:
			t.fail("activities", a.Code, "baseline_finish", a.Ref, "%s %s: baseline finish %s before baseline start %s", a.Code, a.Name,
				a.BaselineFinish.Human(), a.BaselineStart.Human())
		case finish != 0 && finish < start:
			t.fail("activities", a.Code, "finish", a.Ref, "%s %s: expected finish %s before expected start %s", a.Code, a.Name,
				finish.Human(), start.Human())
		case a.ActualFinish != 0 && a.ActualFinish < a.ActualStart:
			t.fail("activities", a.Code, "actual_finish", a.Ref, "%s %s: actual finish %s before actual start %s", a.Code, a.Name,
				a.ActualFinish.Human(), a.ActualStart.Human())
		}
	}
}

// closedCode tests each code that cost was posted on.
func closedCode(in *In, t *Tally) {
	for _, c := range in.Codes {
		t.test(1)
		if c.Closed {
			t.fail("actuals", c.Name, "cost_code", fact.Ref{}, "%s posted on %s, which takes no more", c.Amount.Human(in.Currency), c.Name)
		}
	}
}

// budgetSum tests each pair of an approved change and a currency that its lines are in.
func budgetSum(in *In, t *Tally) {
	for _, c := range in.Changes {
		t.test(1)
		switch {
		case c.Lines == c.Approved:
		case c.Other:
			t.fail("budget", c.Change+" "+string(c.Currency), "currency", c.Ref,
				"Change %s was approved in another currency; budget lines that name it add up to %s", c.Change,
				c.Lines.Human(c.Currency))
		default:
			t.fail("budget", c.Change, "amount", c.Ref, "Change %s was approved with %s; the budget lines that name it add up to %s",
				c.Change,
				c.Approved.Human(c.Currency), c.Lines.Human(c.Currency))
		}
	}
}

// noBaseline tests the project: one activity with a baseline finish is enough.
func noBaseline(in *In, t *Tally) {
	t.test(1)
	for i := range in.Activities {
		if in.Activities[i].BaselineFinish != 0 {
			return
		}
	}
	t.project("activities", "baseline_finish", in.Project, "No activity has a baseline finish")
}

// linkCycle tells the fault of the network, which names the activities of the circle in order.
func linkCycle(in *In, t *Tally) {
	t.test(1)
	if in.Logic != nil && in.Logic.Fault != nil {
		t.project("links", "from", in.Project, "The network cannot date the project: %s", in.Logic.Fault)
	}
}

// datePassed fails on the as-of date and before it. Milestones have no start of their own.
func datePassed(in *In, t *Tally) {
	in.work(func(a *schedule.Activity) {
		t.test(1)
		start, finish := in.expected(a)
		switch {
		case a.ActualFinish != 0 || a.Percent.N >= full: // the second is another check's
		case finish != 0 && finish <= in.AsOf:
			t.fail("activities", a.Code, "finish", a.Ref, "%s %s was expected on %s and has no actual finish", a.Code, a.Name,
				finish.Human())
		case a.Kind != schedule.Milestone && a.ActualStart == 0 && start != 0 && start <= in.AsOf:
			t.fail("activities", a.Code, "start", a.Ref, "%s %s was expected to start on %s and has no actual start", a.Code, a.Name,
				start.Human())
		}
	})
}

// missingRate tests each input that is converted, and names each rate that is missing once.
func missingRate(in *In, t *Tally) {
	t.test(len(in.Rates))
	seen := map[string]bool{}
	for _, err := range in.Rates {
		if err != nil && !seen[err.Error()] {
			seen[err.Error()] = true
			t.fail("rates", err.Error(), "rate", fact.Ref{}, "%s", err)
		}
	}
}

// postedTwice tests each document; a document that stands there three times is one finding.
func postedTwice(in *In, t *Tally) {
	t.test(in.Ledger.Documents)
	for _, d := range in.Ledger.Twice {
		t.fail("actuals", d.Document, "document", d.Ref, "Document %s stands %d times in the ledger with the same day, code, currency "+
			"and amount", d.Document, d.Rows)
	}
}

// negativeActual fails below zero, not at it.
func negativeActual(in *In, t *Tally) {
	t.test(1)
	if in.AC.Known && in.AC.N < 0 {
		t.project("actuals", "amount", in.Project, "Actual cost is %s", in.money(in.AC))
	}
}
