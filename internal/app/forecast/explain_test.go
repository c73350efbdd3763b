package forecast_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/app/forecast"
	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/figure"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// lines writes an explanation, a line for each node: its label, figure and detail, and a star where it leads to a row.
func lines(n *measure.Node, depth int) (list []string) {
	text := strings.Repeat(" ", depth) + n.Label + ": " + n.Value.Human(n.Unit, "EUR")
	if n.Detail != "" {
		text += ", " + n.Detail
	}
	if n.Ref.Row != 0 {
		text += " *"
	}
	list = append(list, text)
	for i := range n.Children {
		list = append(list, lines(&n.Children[i], depth+1)...)
	}
	return list
}

// ranged are the ranges of A, which waits for G of another project.
func ranged(t *testing.T) (*forecast.Ranges, *assess.Assessment, *forecast.Row) {
	t.Helper()
	o, _, _ := office(t)
	apptest.Send(t, o, apptest.Sent{Kind: record.Activities, Period: apptest.October,
		Text: "project,code,name,kind,baseline_start,baseline_finish,duration,low,likely,high\n" +
			"A,1,Dig,,2026-11-02,2026-11-06,5,,,\nA,M,Done,milestone,,2026-11-06,,,,\nA,2,Fill,,2026-11-09,2026-11-10,2,1,2,2\nX,G,Give,,2026-11-02,2026-11-02,1,,,\n"})
	apptest.Send(t, o, apptest.Sent{Kind: record.Links, Period: apptest.October,
		Text: "project,from,to,from_project\nA,1,2,\nA,2,M,\nA,G,1,X\n"})
	a := apptest.Assessed(t, o, calendar.On(2026, 10, 31))
	sc, err := a.Scope("")
	require.NoError(t, err)
	got, err := o.Forecast.Range(ctx, a, sc, forecast.Ask{Runs: 1_000, Seed: 1, Milestones: true})
	require.NoError(t, err)
	return got, a, &got.Rows[0]
}

// G takes one day, Dig five and, in every run, two for its risk, Fill one or two: it ends on 12 or 13 November.
func TestAPercentileIsExplainedDownToRows(t *testing.T) {
	got, a, row := ranged(t)
	n, known := got.Explain(a, row, forecast.FinishOf(90))
	require.True(t, known)
	assert.Equal(t, []string{"P90 of the finish: 13 Nov 2026", " Work left: 2", "  1 Dig: 5, as planned in every run *",
		"  2 Fill: 2, drawn from 1, 2 and 2 working days *", " Risks: 1", "  R1 Clay: 100.0 %, 2 working days on 1 *",
		" Projects it waits for: 1", "  X Yew: 2 Nov 2026"}, lines(&n, 0))
	assert.Contains(t, n.Rule, "at least 90 % of 1,000 runs")

	n, known = got.Explain(a, row, forecast.CostOf(80))
	require.True(t, known)
	assert.Equal(t, []string{"P80 of the cost: €120.00", " Actual cost: €20.00", " Cost to go: €90.00, as forecast in every run",
		"  Forecast to go: €90.00", " Risks: 1", "  R1 Clay: 100.0 %, €10.00 *"}, lines(&n, 0))
	assert.Equal(t, "ac", n.Children[0].Key, "which has a trace of its own")

	veiled := *a
	veiled.ByCode = map[string]*measure.Project{"A": a.ByCode["A"]}
	n, _ = got.Explain(&veiled, row, forecast.FinishOf(50))
	assert.Equal(t, []string{" Projects it waits for: 1", "  in other scopes: 1"}, lines(&n, 0)[6:])
}

func TestChancesAreExplained(t *testing.T) {
	got, a, row := ranged(t)
	for name, want := range map[string]string{forecast.OfBaseline: "Baseline finish: 10 Nov 2026",
		forecast.OfRequired: "Required finish: 10 Nov 2026", forecast.OfBudget: "Budget at completion: €100.00"} {
		n, known := got.Explain(a, row, name)
		require.True(t, known, name)
		assert.Equal(t, figure.Share, n.Unit)
		assert.Zero(t, n.Value.Exact.Num, name)
		assert.Equal(t, want, lines(&n.Children[0], 0)[0][:len(want)])
	}
	milestone := &got.Rows[1]
	require.NotNil(t, milestone.Milestone)
	n, known := got.Explain(a, milestone, forecast.OfBaseline)
	require.True(t, known)
	day, known := got.Explain(a, milestone, forecast.FinishOf(50))
	require.True(t, known)
	assert.Equal(t, "P50 of M Done: 13 Nov 2026", lines(&day, 0)[0])
	assert.Equal(t, []string{"Baseline: 6 Nov 2026 *"}, lines(&n.Children[0], 0))
	for _, name := range []string{"range.finish.7", "range.finish.", "range.cost.x", "range", "bac", forecast.CostOf(50) + "0"} {
		_, known := got.Explain(a, row, name)
		assert.False(t, known, name)
	}
	bare := *row
	bare.Cost, bare.Finish = nil, nil
	for _, name := range []string{forecast.CostOf(50), forecast.FinishOf(50), forecast.OfBudget} {
		_, known := got.Explain(a, &bare, name)
		assert.False(t, known, name)
	}
	shown := *a
	shown.Shown = true
	_, known = got.Explain(&shown, row, forecast.CostOf(50))
	assert.False(t, known, "costs are drawn in the reporting currency alone")
}

// A risk that is left out stands in no explanation, and none does where risks are.
func TestRisksThatAreLeftOutAreNotExplained(t *testing.T) {
	o, a, sc := office(t)
	for text, q := range map[string]forecast.Ask{"P50 of the finish: 10 Nov 2026": {Runs: 50, Project: "A"},
		"P50 of the finish: 6 Nov 2026":  {Runs: 50, Project: "A", Without: "R1"},
		"P50 of the finish: 6 Nov 2026 ": {Runs: 50, Project: "A", NoRisks: true}} {
		got, err := o.Forecast.Range(ctx, a, sc, q)
		require.NoError(t, err)
		n, _ := got.Explain(a, &got.Rows[0], forecast.FinishOf(50))
		list := lines(&n, 0)
		assert.Equal(t, strings.TrimSpace(text), list[0])
		assert.Equal(t, q.Without == "" && !q.NoRisks, strings.Contains(strings.Join(list, ";"), "R1 Clay"), q)
	}
}

// One programme that holds all there is stands once, as itself; of two or none all together is told last. A chance that is not known is a
// dash.
func TestGroupsStandOnce(t *testing.T) {
	row := func(name string, members int) forecast.Row { return forecast.Row{Name: name, Members: members} }
	one := row("A project", 0)
	one.Project = &measure.Project{}
	names := func(rows ...forecast.Row) (list []string) {
		for _, x := range (&forecast.Ranges{Rows: rows}).Groups() {
			list = append(list, x.Name)
		}
		return list
	}
	assert.Equal(t, []string{"Programme"}, names(one, one, row("Programme", 2), row("All", 2)))
	assert.Equal(t, []string{"P", "Q", "All"}, names(one, row("P", 1), row("Q", 1), row("All", 2)))
	assert.Equal(t, []string{"All"}, names(one, row("All", 1)))
	assert.Empty(t, names())
	assert.Equal(t, []string{"–", "67 %"}, []string{forecast.PercentOf(fact.Ratio{}), forecast.PercentOf(fact.Of(2, 3))})
}
