package schedule

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"turret/internal/core/calendar"
)

func TestCompareSaysMovedStretchedAddedRemovedRelinked(t *testing.T) {
	work := func(code, start, finish string) Activity {
		return Activity{Code: code, Name: "Work " + code, Start: on(start), Finish: on(finish), BaselineStart: on("2026-11-02"),
			BaselineFinish: on("2026-11-06")}
	}
	was := &Version{Activities: []Activity{work("A", "2026-11-02", "2026-11-06"), work("B", "2026-11-09", "2026-11-13"),
		work("C", "2026-11-16", "2026-11-20"), work("D", "2026-11-16", "2026-11-20"),
		{Code: "M", Kind: Milestone, Finish: on("2026-11-20")}},
		Links: []Dependency{{From: "A", To: "B"}, {From: "B", To: "C"}}}
	is := &Version{Activities: []Activity{work("A", "2026-11-02", "2026-11-06"), work("B", "2026-11-11", "2026-11-17"),
		work("C", "2026-11-16", "2026-11-24"), work("E", "2026-12-01", "2026-12-02"),
		{Code: "M", Kind: Milestone, Finish: on("2026-11-18"), Level: PortfolioLevel}},
		Links: []Dependency{{From: "A", To: "B", Lag: 2}, {From: "B", To: "C"}}}
	list := Compare(was, is, calendar.Standard)
	require.Len(t, list, 5)
	b, c, e, m, d := list[0], list[1], list[2], list[3], list[4]
	assert.Equal(t, []any{"B", true, false, true, 2, 2, 0, "A", "A +2"}, []any{b.Code, b.Moved, b.Stretched, b.Relinked, b.StartDays,
		b.FinishDays, b.Longer, b.LinksWas, b.LinksIs})
	assert.Equal(t, []any{"C", true, 0, 2, 2, false}, []any{c.Code, c.Stretched, c.StartDays, c.FinishDays, c.Longer, c.Relinked})
	assert.Equal(t, []any{"E", true, "2026-12-02"}, []any{e.Code, e.Added, e.Is.Finish.String()})
	assert.Equal(t, []any{"M", -2, true}, []any{m.Code, m.FinishDays, m.Changed})
	assert.Equal(t, []any{"D", true, "2026-11-16"}, []any{d.Code, d.Removed, d.Was.Start.String()})

	is.Basis = Baseline
	list = Compare(&Version{Activities: is.Activities, Links: is.Links}, is, calendar.Standard)
	assert.Equal(t, []any{"B", -7, -7}, []any{list[0].Code, list[0].StartDays, list[0].FinishDays}, "the plan against its own baseline")
}

func TestPredecessorNotation(t *testing.T) {
	project := func(code string) bool { return code == "LW-11" }
	for _, c := range []struct {
		text string
		want []Predecessor
		back string
	}{
		{"P2.1", []Predecessor{{Code: "P2.1"}}, "P2.1"},
		{" P2.2 SS+3,P2.1 ", []Predecessor{{Code: "P2.2", Type: StartStart, Lag: 3}, {Code: "P2.1"}}, "P2.1, P2.2 SS +3"},
		{"LW-11/M4 fs - 2", []Predecessor{{Project: "LW-11", Code: "M4", Lag: -2}}, "LW-11/M4 -2"},
		{"A \u22123", []Predecessor{{Code: "A", Lag: -3}}, "A -3"},
		{"A-1 +5", []Predecessor{{Code: "A-1", Lag: 5}}, "A-1 +5"},
		{"A-1", []Predecessor{{Code: "A-1"}}, "A-1"},
		{"12/3 FF", []Predecessor{{Code: "12/3", Type: FinishFinish}}, "12/3 FF"},
		{"Gate 3, SS", []Predecessor{{Code: "Gate 3"}, {Code: "SS"}}, "Gate 3, SS"},
		{"", nil, ""},
	} {
		got, err := ParsePredecessors(c.text, project)
		require.NoError(t, err, c.text)
		assert.Equal(t, c.want, got, c.text)
		assert.Equal(t, c.back, Predecessors(got))
	}
	for text, why := range map[string]string{"P1, P1": "each link once", " SS +3": "", "A SS, A SS +2": "each link once"} {
		_, err := ParsePredecessors(text, project)
		if why == "" {
			assert.NoError(t, err, text)
			continue
		}
		var fault *NotationError
		require.ErrorAs(t, err, &fault, text)
		assert.Contains(t, fault.Why, why)
	}
}

func TestNotationIsReadBackAsWritten(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var list []Predecessor
		for i := range rapid.IntRange(0, 5).Draw(t, "n") {
			p := Predecessor{Code: string(rune('A'+i)) + rapid.StringMatching(`[A-Z0-9.\-]{0,6}`).Draw(t, "code"),
				Type: LinkType(rapid.IntRange(0, 3).Draw(t, "type")), Lag: int32(rapid.IntRange(-99, 99).Draw(t, "lag"))}
			if rapid.Bool().Draw(t, "crosses") {
				p.Project = "X-1"
			}
			list = append(list, p)
		}
		text := Predecessors(list)
		got, err := ParsePredecessors(text, func(code string) bool { return code == "X-1" })
		if err != nil || Predecessors(got) != text || len(got) != len(list) {
			t.Fatalf("%q came back as %q, %v", text, Predecessors(got), err)
		}
	})
}

// A plan does not differ from itself; what was added one way was removed the other way, and what moved later moved earlier.
func TestComparisonsLookTheSameFromBothSides(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		some := func(name string) *Version {
			v := &Version{}
			for i := range rapid.IntRange(0, 7).Draw(t, name) {
				if rapid.IntRange(0, 3).Draw(t, "left out") == 0 {
					continue
				}
				start := on("2026-11-02") + calendar.Date(rapid.IntRange(0, 60).Draw(t, "start"))
				v.Activities = append(v.Activities, Activity{Code: string(rune('A' + i)), Start: start, Finish: start +
					calendar.Date(rapid.IntRange(0, 20).Draw(t, "length"))})
				if i > 0 && rapid.Bool().Draw(t, "linked") {
					v.Links = append(v.Links, Dependency{From: "A", To: string(rune('A' + i)),
						Lag: int32(rapid.IntRange(-3, 3).Draw(t, "lag"))})
				}
			}
			return v
		}
		a, b := some("was"), some("is")
		if list := Compare(a, a, calendar.Standard); len(list) > 0 {
			t.Fatalf("%s differs from itself", list[0].Code)
		}
		there, back := map[string]Change{}, map[string]Change{}
		for _, c := range Compare(a, b, calendar.Standard) {
			there[c.Code] = c
		}
		for _, c := range Compare(b, a, calendar.Standard) {
			back[c.Code] = c
		}
		if len(there) != len(back) {
			t.Fatalf("%d changes there, %d back", len(there), len(back))
		}
		for code, x := range there {
			y := back[code]
			if x.Added != y.Removed || x.Removed != y.Added || x.StartDays != -y.StartDays || x.FinishDays != -y.FinishDays ||
				x.Longer != -y.Longer || x.Relinked != y.Relinked {
				t.Fatalf("%s: %+v there, %+v back", code, x, y)
			}
			if !x.Added && !x.Removed && x.Was != y.Is {
				t.Fatalf("%s was %v and is %v", code, x.Was, y.Is)
			}
		}
	})
}
