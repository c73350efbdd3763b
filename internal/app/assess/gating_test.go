package assess_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/core/measure"
	"turret/internal/record"
)

func saysOf(p *measure.Project, rules ...string) (list []string) {
	for _, f := range p.Checks.Findings {
		for _, rule := range rules {
			if f.Rule.ID == rule {
				list = append(list, f.Record+": "+f.Says)
			}
		}
	}
	return list
}

// A stands in the third of three stages: it passed the first, was refused at the second and then never asked again. The one passed last
// released 4 000 kronor, which are 400 euros at the plan rate; 500 are spent.
func TestGatesAreChecked(t *testing.T) {
	o := apptest.House(t,
		apptest.Sent{Kind: record.Projects, Text: "code,name,parent,stage\nA,Weir,PF,delivery\n"},
		apptest.Sent{Kind: record.Stages, Text: "model,code,name,place\nM,idea,Idea,1\nM,study,Study,2\nM,delivery,Delivery,3\n"},
		apptest.Sent{Kind: record.Rates, Period: apptest.October,
			Text: "currency,month,rate,kind\nSEK,2026-10,0.1,month\nSEK,2026-01,0.1,plan\n"},
		apptest.Sent{Kind: record.Gates, Text: "project,stage,asked_on,decision,decided_on,decided_by,released,currency\n" +
			"A,idea,2026-03-01,passed,2026-03-02,Board,4000,SEK\nA,study,2026-05-01,refused,2026-05-02,Board,,\n"},
		apptest.Sent{Kind: record.Actuals, Period: apptest.October,
			Text: "project,cost_code,date,amount,currency,document\nA,C,2026-10-05,500,EUR,D1\n"})
	p, err := apptest.Assessed(t, o, apptest.Last).Project("A")
	require.NoError(t, err)
	assert.Equal(t, []string{"study: The gate of Study is behind it and was not passed: refused on 2 May 2026 by Board",
		"idea: €500.00 spent and ordered where the gate of Idea released €400.00"}, saysOf(p, "gate_skipped", "gate_beyond"))

	// One project sent again is computed alone, with its gates.
	apptest.Send(t, o, apptest.Sent{Kind: record.Gates, Text: "project,stage,asked_on,decision,decided_on,decided_by,released\n" +
		"A,idea,2026-03-01,passed,2026-03-02,Board,\nA,study,2026-05-01,passed,2026-05-02,Board,500\n"})
	p, err = apptest.Assessed(t, o, apptest.Last).Project("A")
	require.NoError(t, err)
	assert.Empty(t, saysOf(p, "gate_skipped", "gate_beyond"), "500 spent of 500 released")
	assert.Equal(t, measure.Value{N: 50_000, Known: true}, p.Audit.Gating.Released)
}

// A proposal waits from the day on which it was asked for, or from the day to look again where it was put off; one decided waits no more.
func TestProposalsThatWait(t *testing.T) {
	for row, want := range map[string]string{
		"A,2026-08-01,,":                  ": It waits for a decision since 1 Aug 2026, 91 days",
		"A,2026-08-02,,":                  "",
		"A,2026-01-01,put off,2026-08-01": ": It waits for a decision since 1 Aug 2026, 91 days",
		"A,2026-01-01,put off,2026-12-01": "",
		"A,2026-01-01,accepted,":          "",
		"A,2026-01-01,declined,":          "",
		"A,,,":                            "",
	} {
		o := apptest.House(t, apptest.Sent{Kind: record.Projects, Text: "code,name,parent,status\nA,Weir,PF,proposed\n"},
			apptest.Sent{Kind: record.Proposals, Text: "project,asked_on,decision,look_again\n" + row + "\n"})
		p, err := apptest.Assessed(t, o, apptest.Last).Project("A")
		require.NoError(t, err)
		var said string
		if list := saysOf(p, "proposal_waits"); len(list) > 0 {
			said = list[0]
		}
		assert.Equal(t, want, said, row)
		assert.Len(t, p.Checks.Findings, len(saysOf(p, "proposal_waits")), "nothing else is asked of a proposal")
	}
}
