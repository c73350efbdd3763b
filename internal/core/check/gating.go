package check

import (
	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/figure"
)

// Gating is what checks need of the stages that a project goes through, and of what waits for a decision.
type Gating struct {
	Behind   []Behind     // the gates before the stage that it is in
	Released figure.Value // by the gate passed last, in the currency of the figures; unknown where it released nothing
	Last     string       // code of the stage of that gate
	LastName string
	Ref      fact.Ref      // of that gate
	Waits    calendar.Date // the day since which a proposal waits for a decision; 0 where it does not
	Proposal fact.Ref      // row of the proposal
}

// Behind is a gate that a project has to have passed.
type Behind struct {
	Stage, Name string // code and name of the stage that it ends
	Passed      bool   // by its last decision up to the as-of date
	Says        string // what became of it last, where it was asked for and not passed
	Ref         fact.Ref
}

// gatingRules are about stages, gates and decisions. All are warnings.
func gatingRules() []Rule {
	list := []Rule{
		{ID: "gate_skipped", Name: "Past a gate without a decision", Records: "gates behind", run: gateSkipped,
			Says: "A project is in a later stage than a gate that it never passed.",
			Mend: "Have the gate decided, or put the project back into the stage that it is in."},
		{ID: "gate_beyond", Name: "Money beyond what the gate released", Records: "released amounts", run: gateBeyond,
			Says: "More is spent and ordered than the gate passed last released.",
			Mend: "Ask for the next gate, or for more money at this one."},
		{ID: "proposal_waits", Name: "Proposal without a decision", Records: "proposals", run: proposalWaits, on: proposed,
			Limit: &Limit{"days", 90, false},
			Says:  "A proposal waits for its decision for more days than the limit, since it was asked for or was to be looked at again.",
			Mend:  "Accept it, put it off to a later day, or decline it."},
	}
	for i := range list {
		list[i].Severity = Warning
	}
	return list
}

// gateSkipped tests each gate before the stage that the project is in.
func gateSkipped(in *In, t *Tally) {
	for i := range in.Gating.Behind {
		x := &in.Gating.Behind[i]
		t.test(1)
		switch {
		case x.Passed:
		case x.Says != "":
			t.fail("gates", x.Stage, "decision", x.Ref, "The gate of %s is behind it and was not passed: %s", x.Name, x.Says)
		default:
			t.fail("gates", x.Stage, "decision", x.Ref, "The gate of %s is behind it and was never asked for", x.Name)
		}
	}
}

// gateBeyond fails above what was released, not at it. Where the gate released nothing there is nothing to test.
func gateBeyond(in *In, t *Tally) {
	g := &in.Gating
	beyond, known := g.Beyond(in.AC, in.Open)
	if !known {
		return
	}
	t.test(1)
	if beyond > 0 {
		t.fail("gates", g.Last, "released", g.Ref, "%s spent and ordered where the gate of %s released %s",
			in.money(figure.Value{N: g.Released.N + beyond}), g.LastName, in.money(g.Released))
	}
}

// Beyond is by how much more is spent and ordered than the gate passed last released, less than 0 where it is within; false where nothing
// was released, or what is spent is not known. What is ordered and not known counts as nothing.
func (g *Gating) Beyond(spent, ordered figure.Value) (int64, bool) {
	return spent.N + ordered.N - g.Released.N, g.Released.Known && spent.Known
}

// proposalWaits counts calendar days since the day from which it waits, and fails above the limit.
func proposalWaits(in *In, t *Tally) {
	limit := in.limit("proposal_waits")
	if in.Gating.Waits == 0 {
		return
	}
	t.test(1)
	if days := int(in.AsOf - in.Gating.Waits); float64(days) > limit {
		t.project("proposals", "decision", in.Gating.Proposal, "It waits for a decision since %s, %d days", in.Gating.Waits.Human(), days)
	}
}
