package measure

import (
	"cmp"

	"turret/internal/core/health"
	"turret/internal/core/money"
)

// Missing is a project left out of a group's figure, and why.
type Missing struct {
	Project *Project
	Reason  string // why, in words
}

// Group is the roll-up of some projects. With says, for each measure, how many of Projects went into it; Left names the rest.
type Group struct {
	Projects []*Project
	Nodes    []*Project  // whose registers count in it
	Values   []Value     // in the order of the catalogue, as With and Left
	With     []int       // how many projects are in the figure
	Left     [][]Missing // and which are not, with the reason
}

// Value returns the group's figure of a key of the catalogue.
func (g *Group) Value(key Key) Value { return pick(g.Values, key) }

// Roll adds amounts and counts over the projects, then computes ratios and differences from the sums. A derived figure's
// sums run over the projects that have all of its inputs; statuses weigh by budget. Records of nodes count once, in the measures of
// registers alone, and in no ratio.
func Roll(projects []*Project, env Env, nodes ...*Project) *Group {
	g := grouped(projects, nodes)
	for i := range catalogue {
		g.roll(i, env)
	}
	return g
}

// RollOf is one figure of what Roll gives, without the others.
func RollOf(key Key, projects []*Project, env Env, nodes ...*Project) Value {
	g := grouped(projects, nodes)
	if key != None {
		g.roll(places[key], env)
	}
	return pick(g.Values, key)
}

// grouped is a group of which nothing is computed yet.
func grouped(projects, nodes []*Project) *Group {
	return &Group{Projects: projects, Nodes: nodes, Values: make([]Value, len(catalogue)),
		With: make([]int, len(catalogue)), Left: make([][]Missing, len(catalogue))}
}

// roll computes the figure of catalogue entry i.
func (g *Group) roll(i int, env Env) {
	members := make([]*Project, 0, len(g.Projects))
	sieve := func(*Project) string { return "" }
	if catalogue[i].sieve != nil {
		sieve = catalogue[i].sieve(g.Projects)
	}
	for _, p := range g.Projects {
		if reason := cmp.Or(catalogue[i].lacks(p.Values, i), sieve(p)); reason == "" {
			members = append(members, p)
		} else {
			g.Left[i] = append(g.Left[i], Missing{p, reason})
		}
	}
	g.With[i] = len(members)
	members = append(members, catalogue[i].holders(g.Nodes, i)...)
	g.Values[i] = rolled(i, members, env)
	if catalogue[i].Unit == Health && len(members) == 0 && unassessed(g.Left[i]) {
		g.Values[i] = status(health.NotAssessed)
	}
}

// holders are the nodes that have measure i.
func (d *Definition) holders(nodes []*Project, i int) (list []*Project) {
	for _, n := range nodes {
		if d.noded && n.Values[i].Known {
			list = append(list, n)
		}
	}
	return list
}

// unassessed reports whether projects are left out because they are not assessed, and for nothing else.
func unassessed(left []Missing) bool {
	for _, m := range left {
		if m.Reason != health.NotAssessed.String() {
			return false
		}
	}
	return len(left) > 0
}

// lacks says why a project cannot take part in the roll-up of measure i, empty where it can. A ratio that is undefined
// for one project alone, over a zero, takes part with its inputs.
func (d *Definition) lacks(values []Value, i int) string {
	if d.Rollup == Derived || len(d.needed) > 0 {
		for _, list := range [][]int{d.inputs, d.needed} {
			for _, k := range list {
				if !values[k].Known {
					return cmp.Or(values[k].Reason, "not known")
				}
			}
		}
		return ""
	}
	if v := values[i]; !v.Known {
		return v.Reason
	} else if d.Unit == Health && v.Status() == health.NotAssessed {
		return health.NotAssessed.String()
	}
	return ""
}

// rolled is the figure of catalogue entry i over projects that all have it.
func rolled(i int, members []*Project, env Env) Value {
	d := &catalogue[i]
	if len(members) == 0 {
		return unknown("no project in scope has it")
	}
	switch d.Rollup {
	case Derived:
		in := make([]Value, len(d.inputs))
		for j, k := range d.inputs {
			if in[j] = rolled(k, members, env); !in[j].Known {
				return unknown(in[j].Reason)
			}
		}
		return d.derive(env, in)
	case ByBudget:
		list := make([]health.Member, len(members))
		for j, p := range members {
			list[j] = health.Member{Status: p.Values[i].Status(), BAC: p.budget()}
		}
		return status(health.Group(list, env.Tolerances.GroupShare))
	}
	switch d.Rollup {
	case Months, Pooled:
		return d.group(members, env)
	}
	v := known(members[0].Values[i].N)
	for _, p := range members[1:] {
		switch n := p.Values[i].N; d.Rollup {
		case Sum:
			v.N += n
		case Earliest, Least:
			v.N = min(v.N, n)
		case Latest, Most:
			v.N = max(v.N, n)
		}
	}
	return v
}

// budget is what a project weighs in the status of a group, also where costs are kept from the reader.
func (p *Project) budget() money.Amount {
	if p.weight != 0 {
		return p.weight
	}
	if v := p.Value(BAC); v.Known {
		return v.Amount()
	}
	return 0
}

// CountOf is the number of projects that went into the figure of a key.
func (g *Group) CountOf(key Key) int { return g.With[places[key]] }
