package measure

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"turret/internal/core/health"
)

// A group of one project has that project's figures, but for statuses without a budget to weigh them.
func TestGroupOfOneIsTheProject(t *testing.T) {
	p := project("P", 1000, 700, 400)
	g := Roll([]*Project{p}, env)
	for i, d := range All() {
		if p.Values[i].Known {
			assert.Equal(t, p.Values[i].Text(d.Unit, "EUR"), g.Values[i].Text(d.Unit, "EUR"), d.Key)
		} else {
			assert.False(t, g.Values[i].Known, d.Key)
		}
	}
}

// Sums add up whatever the parts, differences are those of the sums, and the order of projects does not matter.
func TestRollUpAddsUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var list, reversed []*Project
		for i := range rapid.IntRange(1, 12).Draw(t, "projects") {
			p := project(fmt.Sprint("P", i), rapid.Int64Range(0, 5000).Draw(t, "budget"), rapid.Int64Range(0, 5000).Draw(t, "spent"),
				rapid.Int64Range(0, 5000).Draw(t, "to go"))
			if rapid.Bool().Draw(t, "no forecast") {
				p.Account.ForecastLines = 0
				Assess(p, env)
			}
			list = append(list, p)
			reversed = append([]*Project{p}, reversed...)
		}
		g, back := Roll(list, env), Roll(reversed, env)
		for _, d := range All() {
			assert.Equal(t, g.Value(d.Key), RollOf(d.Key, list, env), "%s alone", d.Key)
		}
		var bac, ac, matched, eac int64
		with := 0
		for _, p := range list {
			bac += p.Value(BAC).N
			ac += p.Value(AC).N
			if e := p.Value(EAC); e.Known {
				eac += e.N
				matched += p.Value(BAC).N
				with++
			}
		}
		for key, want := range map[Key]int64{BAC: bac, AC: ac, EAC: eac, VAC: matched - eac, RemainingBudget: bac - ac} {
			got := g.Value(key)
			if with == 0 && (key == EAC || key == VAC) {
				if got.Known {
					t.Fatalf("%s is known of nothing", key)
				}
				continue
			}
			if got.N != want {
				t.Fatalf("%s: got %d, want %d", key, got.N, want)
			}
		}
		if g.CountOf(VAC) != with {
			t.Fatalf("variance counts %d projects, not %d", g.CountOf(VAC), with)
		}
		for i := range g.Values {
			if g.Values[i] != back.Values[i] {
				t.Fatalf("%s depends on the order of projects", All()[i].Key)
			}
		}
	})
}

// Every trace of a group names each project once: in it or left out.
func TestGroupTraceNamesEveryProject(t *testing.T) {
	c := project("C", 500, 100, 0)
	c.Account.ForecastLines = 0
	Assess(c, env)
	g := Roll([]*Project{project("A", 100, 50, 60), c}, env)
	for _, d := range All() {
		n, ok := ExplainGroup(g, env, d.Key)
		assert.True(t, ok)
		seen := map[string]bool{}
		var walk func(n Node)
		walk = func(n Node) {
			if n.Project != "" {
				seen[n.Project] = true
			}
			for _, child := range n.Children {
				walk(child)
			}
		}
		walk(n)
		assert.Len(t, seen, 2, d.Key)
	}
	_, ok := ExplainGroup(g, env, KeyOf("nonsense"))
	assert.False(t, ok)
}

// Health traces lead from the status over its trigger to the figure that fired it.
func TestHealthTraceLeadsToTheFigure(t *testing.T) {
	p := project("P", 1000, 700, 400)
	n, _ := Explain(p, &Evidence{Env: env, CodeNames: func(int32) string { return "" }}, OverallHealth)
	var path []string
	for len(n.Children) > 0 {
		path = append(path, n.Label)
		n = n.Children[0]
	}
	assert.Equal(t, []string{"Overall health", "Cost health", "Estimate at completion 10.0 % over budget",
		"Variance at completion, share"}, path[:4])
	assert.Equal(t, health.Watch, p.Health.Overall)
}
