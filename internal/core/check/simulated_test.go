package check_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/core/check"
	"turret/internal/core/figure"
)

// simulatedSays is what is found once a sound project, expected on 30 September for 990 with 40 of contingency left, was simulated.
func simulatedSays(runs check.Runs, change func(*check.In), opt check.Options, accepted ...check.Acceptance) (list []string,
	tested int64) {
	in := sound()
	if change != nil {
		change(in)
	}
	r := check.RunSimulated(in, runs, opt, accepted)
	for _, f := range r.Findings {
		if f.Accepted == nil {
			list = append(list, f.Rule.ID+": "+f.Says)
		}
	}
	_, tested = r.Weights()
	return list, tested
}

// The day by which one in ten runs ends is kept by a date on it, and not by one a day before.
func TestADateThatHardlyARunKeeps(t *testing.T) {
	list, _ := simulatedSays(check.Runs{Early: date(day(2026, 9, 30))}, nil, check.Options{})
	assert.Empty(t, list)
	runs := check.Runs{Early: date(day(2026, 10, 1))}
	list, tested := simulatedSays(runs, nil, check.Options{})
	assert.Equal(t, []string{"date_hopeful: Expected on 30 Sep 2026; only one run in ten ends by 1 Oct 2026"}, list)
	assert.EqualValues(t, 2, tested, "a warning")
	list, _ = simulatedSays(runs, func(in *check.In) { in.ExpectedFinish = figure.Value{} }, check.Options{})
	assert.Empty(t, list, "no date is told")
	list, _ = simulatedSays(check.Runs{}, nil, check.Options{})
	assert.Empty(t, list, "nothing was drawn")
	for days, want := range map[float64]int{2: 1, 3: 0} { // 30 September is a Wednesday, 2 October two working days later
		list, _ = simulatedSays(check.Runs{Early: date(day(2026, 10, 2))}, nil,
			check.Options{Limits: map[string]float64{"date_hopeful": days}})
		assert.Len(t, list, want, days)
	}
	list, _ = simulatedSays(runs, nil, check.Options{Off: map[string]bool{"date_hopeful": true}})
	assert.Empty(t, list)
	list, _ = simulatedSays(runs, nil, check.Options{}, check.Acceptance{Rule: "date_hopeful"})
	assert.Empty(t, list, "accepted")
}

// Half of the runs cost up to 1,030.00: 40 over the estimate of 990, which are left; a cent more is not.
func TestContingencyBelowWhatHalfOfTheRunsNeed(t *testing.T) {
	list, _ := simulatedSays(check.Runs{Half: money(1030)}, nil, check.Options{})
	assert.Empty(t, list)
	runs := check.Runs{Half: figure.Value{N: 103_001, Known: true}}
	list, _ = simulatedSays(runs, nil, check.Options{})
	assert.Equal(t, []string{"contingency_short: €40.00 of contingency are left, and half of the runs need more than €40.01"}, list)
	for name, change := range map[string]func(*check.In){
		"no contingency is known": func(in *check.In) { in.Contingency.Known = false },
		"no estimate is known":    func(in *check.In) { in.EAC.Known = false },
	} {
		list, _ = simulatedSays(runs, change, check.Options{})
		assert.Empty(t, list, name)
	}
	overdrawn := func(in *check.In) { in.Contingency.N = -1 }
	list, _ = simulatedSays(check.Runs{Half: money(900)}, overdrawn, check.Options{})
	assert.Equal(t, []string{"contingency_short: −€0.01 of contingency are left, and half of the runs need more than €0.00"}, list,
		"runs that cost less than estimated need nothing, which is more than an overdrawn contingency has")
}

// With each load, and in closed or proposed projects, what is simulated is not asked about.
func TestSimulatedChecksRunWithNothingElse(t *testing.T) {
	in := sound()
	in.Runs = check.Runs{Early: date(day(2027, 1, 1)), Half: money(5000)}
	for _, r := range []check.Result{run(in, chain(), check.Options{}), check.RunClosed(in, check.Options{}, nil),
		check.RunProposed(in, check.Options{}, nil)} {
		for _, c := range r.Tested {
			assert.NotContains(t, []string{"date_hopeful", "contingency_short"}, c.Rule.ID)
		}
	}
}
