package check

import (
	"math/big"

	"turret/internal/core/fact"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/risk"
	"turret/internal/core/schedule"
	"turret/internal/core/write"
)

// warningRules are what is unlikely: it may be right, and somebody should say so.
func warningRules() []Rule {
	list := []Rule{
		{ID: "budget_raised", Name: "Budget raised, forecast untouched", Records: "projects", run: budgetRaised,
			Limit: &Limit{"rise of the budget", 0.01, true},
			Says: "The budget was raised within the last three periods and the forecast is the same as before, in the months that " +
				"both hold.", Mend: "Send a forecast that knows the new budget."},
		{ID: "estimate_low", Name: "Estimate below actual and ordered", Records: "projects", run: estimateLow,
			Says: "The declared estimate at completion is below actual cost plus open commitments.",
			Mend: "Send a forecast that covers what is ordered."},
		{ID: "forecast_asleep", Name: "Forecast unchanged while the cost index moved", Records: "projects", run: forecastAsleep,
			Limit: &Limit{"movement of the cost index", 0.05, false},
			Says: "The forecast has stood unchanged for three periods, in the months that it still holds, and the cost index has " +
				"moved meanwhile.", Mend: "Ask for a new forecast."},
		{ID: "percent_fell", Name: "Percent complete went down", Records: "projects", run: percentFell, Limit: &Limit{"fall", 0.001, true},
			Says: "The project is less complete than in the period before, by the limit or more.",
			Mend: "Ask what was taken back, or what was added."},
		{ID: "finish_silent", Name: "Finish moved without commentary", Records: "projects", run: finishSilent,
			Limit: &Limit{"working days", 5, false},
			Says:  "The expected finish moved by the limit or more since the period before, and nothing was written for this one.",
			Mend:  "Ask for a commentary."},
		{ID: "loose_end", Name: "Loose end", Records: "open activities", run: loose,
			Says: "An open activity waits for nothing, or nothing waits for it; the first start and the last finish excepted.",
			Mend: "Add the dependency."},
		{ID: "lead", Name: "Negative lag", Records: "dependencies", run: leads,
			Says: "An activity begins before what it waits for has ended, by a negative lag.", Mend: "Split the earlier activity."},
		{ID: "long_lag", Name: "Long lag", Records: "dependencies", run: longLags, Limit: &Limit{"working days", schedule.LongLag, false},
			Says: "A dependency waits for longer than the limit without work.", Mend: "Make the wait an activity with an owner."},
		{ID: "hard_date", Name: "Hard date", Records: "open activities", run: hardDates,
			Says: "An open activity has a latest finish set, which hides what its predecessors do.",
			Mend: "Take out the date, or have it agreed."},
		{ID: "high_float", Name: "Much float", Records: "open activities", run: highFloat,
			Limit: &Limit{"working days", schedule.HighFloat, false},
			Says:  "An open activity could move by more than the limit without anything else moving.",
			Mend:  "Look for the missing dependency."},
		{ID: "long_duration", Name: "Long duration", Records: "open activities", run: longDuration,
			Limit: &Limit{"working days", schedule.LongDuration, false},
			Says:  "An open activity is longer than the limit, too long to tell how far it is.", Mend: "Split it."},
		{ID: "estimate_hopeful", Name: "Estimate not realistic", Records: "projects", run: hopeful,
			Limit: &Limit{"above the cost index", 0.10, false},
			Says:  "To end at the estimate the rest must go much better than the work so far did.",
			Mend:  "Ask what will be different, or raise the forecast."},
		{ID: "cost_idle", Name: "Cost without progress", Records: "projects", run: costIdle, Limit: &Limit{"cost, share of the budget",
			0.01, true},
			Says: "Cost rose since the period before and no work was done, by earned value or the percent reported.",
			Mend: "Ask for the progress, or for what the cost was."},
		{ID: "progress_free", Name: "Progress without cost", Records: "projects", run: progressFree,
			Limit: &Limit{"earned, share of the budget", 0.01, true},
			Says:  "Work was done since the period before, by earned value or the percent reported, and nothing was posted.",
			Mend:  "Look for the missing postings."},
		{ID: "input_late", Name: "Input older than its due date", Records: "inputs", run: inputLate,
			Says: "An input that is expected each period has not come for this one.", Mend: "Ask for it in Gather."},
		{ID: "cost_after_finish", Name: "Cost after the finish", Records: "projects", run: costAfter,
			Says: "Cost is still posted after the last activity has finished.", Mend: "Close the cost codes, or say what is still open."},
		{ID: "no_owner", Name: "Nobody answers for it", Records: "milestones and risks", run: noOwner,
			Says: "An open milestone or risk has no owner.", Mend: "Name the owner."},
		{ID: "risk_unrated", Name: "Risk without ratings", Records: "open risks", run: riskUnrated,
			Says: "An open risk lacks its likelihood or its consequence, so that its exposure is not known.",
			Mend: "Rate both from 1 to 5."},
		{ID: "risk_review", Name: "Review of a risk is past", Records: "open risks", run: riskReview,
			Says: "The day on which an open risk was to be looked at has passed.", Mend: "Look at it, and set the next day."},
		{ID: "hours_idle", Name: "Hours on a finished activity", Records: "rows of timesheets", run: hoursIdle,
			Says: "Hours are booked on an activity after it has finished.", Mend: "Book them on an open activity, or open this one."},
	}
	for i := range list {
		list[i].Severity = Warning
	}
	return list
}

// money writes an amount of the project with its currency.
func (in *In) money(f figure.Value) string {
	return money.Amount(f.N).Human(in.Currency)
}

// before is the last closed period before the one assessed.
func (in *In) before() (*Moment, bool) {
	if len(in.Past) == 0 {
		return nil, false
	}
	return &in.Past[len(in.Past)-1], true
}

// Span is how many closed periods changes are looked for in.
const Span = 3

// budgetRaised looks for the first of the last three closed periods since which the budget rose by more than the limit's share of what it
// was while the forecast stayed the same.
func budgetRaised(in *In, t *Tally) {
	limit := in.limit("budget_raised")
	t.test(1)
	if !in.BAC.Known || in.ForecastLines == 0 {
		return
	}
	for i := max(0, len(in.Past)-Span); i < len(in.Past); i++ {
		m := &in.Past[i]
		rise := in.BAC.N - m.BAC.N
		if m.BAC.Known && m.SameForecast && rise > 0 && beyond(rise, m.BAC.N, limit) {
			t.project("forecast", "amount", in.Project, "The budget rose by %s since %s; the forecast is the one of then",
				in.money(figure.Value{N: rise}), m.Period.Name())
			return
		}
	}
}

// beyond reports whether an amount is more than a share of another, without rounding. The share is the decimal that it is written as.
func beyond(n, of int64, share float64) bool {
	limit := fact.Decimal(share).Rat()
	return big.NewRat(n, 1).Cmp(limit.Mul(limit, big.NewRat(of, 1))) > 0
}

// estimateLow fails below what is posted and ordered, not at it. A statistical estimate is not tested.
func estimateLow(in *In, t *Tally) {
	t.test(1)
	if in.ForecastLines > 0 && in.EAC.Known && in.AC.Known && in.EAC.N < in.AC.N+in.Open.N {
		t.project("forecast", "amount", in.Project, "The estimate of %s is below %s posted and %s ordered", in.money(in.EAC),
			in.money(in.AC), in.money(in.Open))
	}
}

// forecastAsleep compares the cost index with that of three closed periods ago, in either direction, and fails above the limit.
func forecastAsleep(in *In, t *Tally) {
	limit := in.limit("forecast_asleep")
	t.test(1)
	n := len(in.Past)
	if n < Span || in.ForecastLines == 0 || !in.CPI.Known {
		return
	}
	for _, m := range in.Past[n-Span:] {
		if !m.SameForecast {
			return
		}
	}
	m := &in.Past[n-Span]
	was, is := m.cpi(), in.CPI.Fraction()
	if by := is.Minus(was); by.Given() && max(by.Cmp(fact.Decimal(limit)), fact.Decimal(-limit).Cmp(by)) > 0 {
		t.project("forecast", "amount", in.Project, "The forecast has not changed since %s; the cost index went from %.2f to %.2f",
			m.Period.Name(), was.Float(), is.Float())
	}
}

// percentFell fails from the limit on; shares are compared as fractions, so that 0.1 points are exactly that.
func percentFell(in *In, t *Tally) {
	limit := in.limit("percent_fell")
	t.test(1)
	m, ok := in.before()
	if !ok || !in.Percent.Known {
		return
	}
	was, is := m.percent(), in.Percent.Fraction()
	if fell := was.Minus(is); fell.Given() && fell.Num > 0 && fell.Cmp(fact.Decimal(limit)) >= 0 {
		t.project("activities", "percent_complete", in.Project, "%s complete, after %s in %s", write.Percent(is.Float(), 1),
			write.Percent(was.Float(), 1), m.Period.Name())
	}
}

// finishSilent counts working days in either direction and fails from the limit on.
func finishSilent(in *In, t *Tally) {
	limit := in.limit("finish_silent")
	t.test(1)
	m, ok := in.before()
	if !ok || !m.ExpectedFinish.Known || !in.ExpectedFinish.Known || in.Commentary != "" {
		return
	}
	was, is := day(m.ExpectedFinish), day(in.ExpectedFinish)
	if days := in.Days.Between(was, is); days != 0 && float64(max(days, -days)) >= limit {
		t.project("status", "commentary", in.Status, "The finish moved from %s to %s and nothing is said about it", was.Human(), is.Human())
	}
}

// open calls f for the activities that are not finished.
func (in *In) open(f func(i int, a *schedule.Activity)) {
	if in.Logic == nil {
		return
	}
	for _, i := range in.Logic.Open {
		f(i, &in.Activities[i])
	}
}

// listed fails activities that the network has found already, by their indexes.
func listed(in *In, t *Tally, which []int, field, what string) {
	for _, i := range which {
		a := &in.Activities[i]
		t.fail("activities", a.Code, field, a.Ref, "%s %s %s", a.Code, a.Name, what)
	}
}

// loose tests open activities; the network says which ends are loose.
func loose(in *In, t *Tally) {
	if in.Logic != nil {
		t.test(len(in.Logic.Open))
		for _, i := range in.Logic.Loose {
			a := &in.Activities[i]
			t.fail("links", a.Code, "from", a.Ref, "%s %s has no predecessor or no successor", a.Code, a.Name)
		}
	}
}

// leads tests links between activities that are there.
func leads(in *In, t *Tally) {
	if in.Logic == nil {
		return
	}
	t.test(in.Logic.Linked)
	for _, d := range in.Logic.Leads {
		t.fail("links", d.From+" → "+d.To, "lag", d.Ref, "%s → %s by %s has a lag of %d working days", d.From, d.To, d.Type, d.Lag)
	}
}

// longLags fails above the limit of working days, not at it.
func longLags(in *In, t *Tally) {
	limit := in.limit("long_lag")
	if in.Logic == nil {
		return
	}
	t.test(in.Logic.Linked)
	for _, d := range in.Logic.Lagged {
		if float64(d.Lag) > limit {
			t.fail("links", d.From+" → "+d.To, "lag", d.Ref, "%s → %s by %s has a lag of %d working days", d.From, d.To, d.Type, d.Lag)
		}
	}
}

// hardDates tests open activities for a latest finish.
func hardDates(in *In, t *Tally) {
	if in.Logic != nil {
		t.test(len(in.Logic.Open))
		listed(in, t, in.Logic.Hard, "not_after", "must be finished by a set date")
	}
}

// highFloat fails above the limit of working days, not at it.
func highFloat(in *In, t *Tally) {
	limit := in.limit("high_float")
	in.open(func(i int, a *schedule.Activity) {
		t.test(1)
		if x := in.Logic.Times[i]; float64(x.TotalFloat) > limit {
			t.fail("links", a.Code, "to", a.Ref, "%s %s has a float of %d working days", a.Code, a.Name, x.TotalFloat)
		}
	})
}

// longDuration fails above the limit of working days, not at it.
func longDuration(in *In, t *Tally) {
	limit := in.limit("long_duration")
	in.open(func(i int, a *schedule.Activity) {
		t.test(1)
		if days := in.Logic.Durations[i]; float64(days) > limit {
			t.fail("activities", a.Code, "duration", a.Ref, "%s %s takes %d working days", a.Code, a.Name, days)
		}
	})
}

// hopeful compares the index to come with the one so far and fails above the limit. Without a declared forecast it passes.
func hopeful(in *In, t *Tally) {
	limit := in.limit("estimate_hopeful")
	t.test(1)
	if in.ForecastLines > 0 && in.TCPI.Known && in.CPI.Known && in.TCPI.Fraction().Minus(in.CPI.Fraction()).Cmp(fact.Decimal(limit)) > 0 {
		t.project("forecast", "amount", in.Project, "To end at %s the rest must go at %.2f; so far it went at %.2f", in.money(in.EAC),
			in.TCPI.Fraction().Float(), in.CPI.Fraction().Float())
	}
}

// since is what was spent, and the work done, since the period before; false where one is not known.
func (in *In) since() (cost, done int64, when string, ok bool) {
	if m, found := in.before(); found && m.AC.Known && m.Work.Known && in.AC.Known && in.Work.Known {
		return in.AC.N - m.AC.N, in.Work.N - m.Work.N, "since " + m.Period.Name(), true
	}
	return in.AC.N, in.Work.N, "so far", in.AC.Known && in.Work.Known
}

// costIdle fails where cost rose by more than the limit's share of the budget and the work done did not rise.
func costIdle(in *In, t *Tally) {
	limit := in.limit("cost_idle")
	t.test(1)
	if cost, done, when, ok := in.since(); ok && done <= 0 && cost > 0 && beyond(cost, in.BAC.N, limit) {
		t.project("activities", "percent_complete", in.Project, "%s spent %s and no work done", in.money(figure.Value{N: cost}), when)
	}
}

// progressFree fails where the work done rose by more than the limit's share of the budget and cost did not.
func progressFree(in *In, t *Tally) {
	limit := in.limit("progress_free")
	t.test(1)
	if cost, done, when, ok := in.since(); ok && cost <= 0 && done > 0 && beyond(done, in.BAC.N, limit) {
		t.project("actuals", "amount", in.Project, "Work worth %s done %s and nothing spent", in.money(figure.Value{N: done}), when)
	}
}

// inputLate tests each input that is expected every period.
func inputLate(in *In, t *Tally) {
	t.test(in.Tested)
	for _, l := range in.Late {
		t.fail(l.Kind, l.Kind, "", in.Project, "No %s for this period; the last came for %s", l.Kind, l.Last)
	}
}

// costAfter fails once for the project, however many postings there are.
func costAfter(in *In, t *Tally) {
	t.test(1)
	if in.Finished != 0 && in.Ledger.AfterFinish > 0 {
		t.project("actuals", "date", in.Project, "%d postings after the finish on %s, the last on %s", in.Ledger.AfterFinish,
			in.Finished.Human(), in.Ledger.LastPosting.Human())
	}
}

// noOwner tests milestones that are not done, and open risks.
func noOwner(in *In, t *Tally) {
	in.work(func(a *schedule.Activity) {
		if a.Kind != schedule.Milestone || a.Done(in.AsOf) {
			return
		}
		t.test(1)
		if a.Owner == "" {
			t.fail("activities", a.Code, "owner", a.Ref, "Milestone %s %s has no owner", a.Code, a.Name)
		}
	})
	in.risks(func(r *risk.Risk) {
		t.test(1)
		if r.Owner == "" {
			t.fail("risks", "risk "+r.Code, "owner", r.Ref, "Risk %s %s has no owner", r.Code, r.Title)
		}
	})
}

// risks calls f for the risks that are open on the day.
func (in *In) risks(f func(*risk.Risk)) {
	for i := range in.Risks {
		if in.Risks[i].Open(in.AsOf) {
			f(&in.Risks[i])
		}
	}
}

// riskUnrated fails where likelihood or consequence is missing: such a risk has no exposure rather than one of 0.
func riskUnrated(in *In, t *Tally) {
	in.risks(func(r *risk.Risk) {
		t.test(1)
		if _, ok := r.Exposure(); !ok {
			t.fail("risks", r.Code, "likelihood", r.Ref, "Risk %s %s has no likelihood or no consequence", r.Code, r.Title)
		}
	})
}

// riskReview fails on the day of the review and after it.
func riskReview(in *In, t *Tally) {
	in.risks(func(r *risk.Risk) {
		t.test(1)
		if r.Review != 0 && r.Review <= in.AsOf {
			t.fail("risks", r.Code, "review", r.Ref, "Risk %s %s was to be looked at on %s", r.Code, r.Title, r.Review.Human())
		}
	})
}

// hoursIdle tests each row of a timesheet that names an activity; each activity is one finding.
func hoursIdle(in *In, t *Tally) {
	t.test(in.Ledger.Hours)
	for _, x := range in.Ledger.Idle {
		t.fail("timesheets", x.Activity, "activity", x.Ref, "%s booked on %s after its finish, the last on %s",
			write.Count(x.Rows, "row of hours", "rows of hours"), x.Activity,
			x.Last.Human())
	}
}
