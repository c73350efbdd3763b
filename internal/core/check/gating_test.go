package check_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/core/check"
	"turret/internal/core/figure"
)

// Each gate behind a project counts; one that was refused or waits is told with what became of it, one never asked for as that.
func TestPastAGateWithoutADecision(t *testing.T) {
	in := sound()
	tested, list := said(in, "gate_skipped")
	assert.Zero(t, tested, "a project in no stage has nothing behind it")
	assert.Empty(t, list)
	in.Gating.Behind = []check.Behind{{Stage: "ST1", Name: "Idea", Passed: true, Says: "passed on 1 Jun 2026"}, {Stage: "ST2",
		Name: "Study"},
		{Stage: "ST3", Name: "Design", Says: "refused on 2 Jun 2026"}}
	tested, list = said(in, "gate_skipped")
	assert.Equal(t, 3, tested)
	assert.Equal(t, []string{"ST2: The gate of Study is behind it and was never asked for",
		"ST3: The gate of Design is behind it and was not passed: refused on 2 Jun 2026"}, list)
}

// Of 495 spent and 50 ordered, a gate that released 545 is not passed by; one that released a cent less is.
func TestMoneyBeyondTheGate(t *testing.T) {
	for released, want := range map[int64][]string{54_500: nil,
		54_499: {"ST1: €545.00 spent and ordered where the gate of Idea released €544.99"},
		0:      {"ST1: €545.00 spent and ordered where the gate of Idea released €0.00"}} {
		in := sound()
		in.Gating.Last, in.Gating.LastName, in.Gating.Released = "ST1", "Idea", figure.Value{N: released, Known: true}
		tested, list := said(in, "gate_beyond")
		assert.Equal(t, 1, tested)
		assert.Equal(t, want, list, released)
	}
	in := sound()
	tested, _ := said(in, "gate_beyond")
	assert.Zero(t, tested, "no gate released anything")
	in.Gating.Released, in.AC.Known = money(1), false
	tested, _ = said(in, "gate_beyond")
	assert.Zero(t, tested, "what is spent is not known")
	in.AC.Known, in.Open = true, figure.Value{}
	_, list := said(in, "gate_beyond")
	assert.Equal(t, []string{": €495.00 spent and ordered where the gate of  released €1.00"}, list, "nothing ordered counts as nothing")
}

// A proposal of 90 days is in time, one of 91 is not; the limit may be set. No other check is of proposals, and this one of nothing else.
func TestAProposalWaitsTooLong(t *testing.T) {
	in := sound()
	in.Activities = nil // which an open project is told of
	found := func(opt check.Options) []string {
		var list []string
		r := check.RunProposed(in, opt, nil)
		for _, f := range r.Findings {
			list = append(list, f.Rule.ID+": "+f.Says)
		}
		failed, tested := r.Weights()
		assert.Equal(t, failed, tested, "what is in time weighs nothing")
		return list
	}
	assert.Empty(t, found(check.Options{}), "it does not wait")
	in.Gating.Waits = asOf - 90
	assert.Empty(t, found(check.Options{}))
	in.Gating.Waits = asOf - 91
	assert.Equal(t, []string{"proposal_waits: It waits for a decision since 31 Mar 2026, 91 days"}, found(check.Options{}))
	assert.Empty(t, found(check.Options{Limits: map[string]float64{"proposal_waits": 91}}))
	assert.Empty(t, found(check.Options{Off: map[string]bool{"proposal_waits": true}}))
	_, list := said(in, "proposal_waits")
	assert.Empty(t, list, "an open project waits for nothing")
}
