package measure

import (
	"cmp"
	"fmt"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
)

// Explain traces one figure of a project down to its rows. The leaves of an amount add up to it.
func Explain(p *Project, ev *Evidence, key Key) (Node, bool) {
	if key == None {
		return Node{}, false
	}
	i := places[key]
	d := &catalogue[i]
	n := Node{Label: d.Name, Key: d.Key.String(), Unit: d.Unit, Value: p.Values[i], Rule: d.Formula}
	if n.Value.Reason == NoMoney {
		return n, true
	}
	for _, input := range d.Inputs {
		child, _ := Explain(p, ev, input)
		n.Children = append(n.Children, child)
	}
	if d.explain != nil {
		n.Children = append(n.Children, d.explain(p, ev)...)
	}
	return n, true
}

// ExplainGroup traces one figure of a group: the projects in it, and after them those left out with the reason.
func ExplainGroup(g *Group, env Env, key Key) (Node, bool) {
	if key == None {
		return Node{}, false
	}
	i := places[key]
	d := &catalogue[i]
	n := Node{Label: d.Name, Key: d.Key.String(), Unit: d.Unit, Value: g.Values[i],
		Rule: fmt.Sprintf("%s Over %d of %d projects: %s.", d.Formula, g.With[i], len(g.Projects), d.Rollup)}
	left := map[*Project]string{}
	for _, m := range g.Left[i] {
		left[m.Project] = m.Reason
	}
	var members []*Project
	for _, p := range g.Projects {
		if _, out := left[p]; !out {
			members = append(members, p)
		}
	}
	held := d.holders(g.Nodes, i)
	members = append(members, held...)
	if len(held) > 0 {
		n.Rule += fmt.Sprintf(" Records of %d portfolios or programmes count too.", len(held))
	}
	if d.Rollup == Derived {
		for _, k := range d.inputs {
			n.Children = append(n.Children, groupInput(k, members, env))
		}
	} else {
		n.Children = memberNodes(i, members)
	}
	for _, m := range g.Left[i] {
		n.Children = append(n.Children, Node{Label: m.Project.Code + " " + m.Project.Name, Project: m.Project.Code, Key: key.String(),
			Unit: d.Unit, Value: unknown(m.Reason), Detail: "left out: " + m.Reason})
	}
	return n, true
}

// groupInput is a basic figure of a group, over the projects that the derived one runs over.
func groupInput(i int, members []*Project, env Env) Node {
	d := &catalogue[i]
	return Node{Label: d.Name, Key: d.Key.String(), Unit: d.Unit, Value: rolled(i, members, env), Rule: d.Formula,
		Children: memberNodes(i, members)}
}

// memberNodes are the figures of a group's projects, what weighs most first.
func memberNodes(i int, members []*Project) []Node {
	d := &catalogue[i]
	var list []Node
	for _, p := range members {
		n := Node{Label: p.Code + " " + p.Name, Project: p.Code, Key: d.Key.String(), Unit: d.Unit, Value: p.Values[i]}
		if p.Node {
			n.Project, n.Children = "", d.explain(p, nil)
		}
		list = append(list, n)
	}
	switch { // what makes the figure stands first
	case d.Unit == Money || d.Rollup == Most || d.Rollup == Latest:
		slices.SortStableFunc(list, func(a, b Node) int { return cmp.Compare(b.Value.N, a.Value.N) })
	case d.Rollup == Least || d.Rollup == Earliest:
		slices.SortStableFunc(list, func(a, b Node) int { return cmp.Compare(a.Value.N, b.Value.N) })
	}
	return list
}

// rowsOf explains by rows alone, whatever the project is.
func rowsOf(list func(*Evidence) []Node) func(*Project, *Evidence) []Node {
	return func(_ *Project, ev *Evidence) []Node { return list(ev) }
}

// explainBudget traces the lines of the current budget.
func explainBudget(p *Project, ev *Evidence) []Node {
	return ev.OfLines(current(p, ev.Budget), whole)
}

// explainBudgetToDate traces the part of each line up to the as-of date.
func explainBudgetToDate(p *Project, ev *Evidence) []Node {
	return ev.OfLines(current(p, ev.Budget), func(x cost.Portion) money.Amount { return x.Before })
}

// explainForecast traces the part of each line after the as-of date.
func explainForecast(p *Project, ev *Evidence) []Node {
	return ev.OfLines(ev.Forecast, cost.Portion.After)
}

// explainEstimate traces what the estimate is made of: the declared forecast, or the cost index.
func explainEstimate(p *Project, ev *Evidence) []Node {
	if p.Statistical() {
		return explainKeys(p, ev, EACByCPI)
	}
	return explainDeclaredEstimate(p, ev)
}

// explainDeclaredEstimate traces actual cost and forecast to go.
func explainDeclaredEstimate(p *Project, ev *Evidence) []Node {
	return explainKeys(p, ev, AC, ForecastToGo)
}

// explainKeys traces several figures.
func explainKeys(p *Project, ev *Evidence, keys ...Key) []Node {
	var list []Node
	for _, key := range keys {
		n, _ := Explain(p, ev, key)
		list = append(list, n)
	}
	return list
}

// activityNode is the row that a date comes from: that of an activity, else the project's own.
func activityNode(p *Project, i int, what string, d calendar.Date) []Node {
	if i < 0 {
		if d == 0 {
			return nil
		}
		return []Node{{Label: "Planned in the project's own row", Unit: Day, Value: date(d), Ref: p.Ref}}
	}
	a := &p.Activities[i]
	return []Node{{Label: a.Code + " " + a.Name + ", " + what, Unit: Day, Value: date(d), Ref: a.Ref}}
}

// explainBaselineStart names the activity that begins first.
func explainBaselineStart(p *Project, _ *Evidence) []Node {
	return activityNode(p, p.Outlook.BaselineStartBy, "baseline start", p.Outlook.BaselineStart)
}

// explainBaselineFinish names the activity that was to end last.
func explainBaselineFinish(p *Project, _ *Evidence) []Node {
	return activityNode(p, p.Outlook.BaselineBy, "baseline finish", p.Outlook.BaselineFinish)
}

// explainExpectedFinish names the activity that ends last, and the chain that leads to it where the project is driven.
func explainExpectedFinish(p *Project, ev *Evidence) []Node {
	what := "expected finish"
	if i := p.Outlook.ExpectedBy; i >= 0 && p.Activities[i].ActualFinish != 0 {
		what = "actual finish"
	}
	list := activityNode(p, p.Outlook.ExpectedBy, what, p.Outlook.ExpectedFinish)
	if p.Driven && len(list) > 0 {
		if p.Logic.Fault != nil {
			list[0].Detail = "as sent, since the network cannot date the project: " + p.Logic.Fault.Error()
		} else {
			list[0].Detail = "dated by the network"
			list = append(list, explainComputedFinish(p, ev)...)
		}
	}
	return list
}

// explainEvents traces the milestones in some states.
func explainEvents(p *Project, states ...schedule.State) []Node {
	var list []schedule.Event
	for _, e := range p.Events {
		if slices.Contains(states, e.State) {
			list = append(list, e)
		}
	}
	return eventNodes(p, list)
}

// eventNodes are milestones with their days.
func eventNodes(p *Project, events []schedule.Event) []Node {
	var list []Node
	for _, e := range events {
		a := &p.Activities[e.Activity]
		n := Node{Label: a.Code + " " + a.Name, Unit: Day, Value: dateOr(e.Date, "no date"), Ref: a.Ref, Detail: e.State.String()}
		if a.BaselineFinish != 0 {
			n.Detail += ", baseline " + a.BaselineFinish.Human()
		}
		list = append(list, n)
	}
	return list
}

// explainDone traces milestones done on time and late.
func explainDone(p *Project, _ *Evidence) []Node {
	return explainEvents(p, schedule.Done, schedule.DoneLate)
}

// explainMissed traces milestones missed.
func explainMissed(p *Project, _ *Evidence) []Node { return explainEvents(p, schedule.Missed) }

// explainSlipping traces milestones slipping.
func explainSlipping(p *Project, _ *Evidence) []Node { return explainEvents(p, schedule.Slipping) }

// explainDeclared is the row in which the lead declared a status.
func explainDeclared(p *Project, _ *Evidence) []Node {
	if p.Declared == nil {
		return nil
	}
	return []Node{{Label: "Status as sent by the lead", Unit: Health, Value: status(p.Declared.Overall), Ref: p.Declared.Ref}}
}

// ExplainActivity traces the deviation of an activity or milestone: its dates, the network's dates beside them, and the chain that
// drives it. An unknown code gives false.
func ExplainActivity(p *Project, ev *Evidence, code string) (Node, bool) {
	for i := range p.Activities {
		if a := &p.Activities[i]; a.Code == code {
			return explainActivity(p, ev, a, i), true
		}
	}
	return Node{}, false
}

// explainActivity is ExplainActivity of the activity at an index.
func explainActivity(p *Project, ev *Evidence, a *schedule.Activity, i int) Node {
	n := Node{Label: a.Code + " " + a.Name, Unit: Days, Value: unknown("no baseline or no date"),
		Rule: "Working days from its baseline finish to its actual or expected finish, positive when later."}
	expected := a.Expected(ev.Env.Calendar, ev.Env.AsOf)
	if a.Kind == schedule.Milestone {
		n.Label = a.Name
		for _, e := range p.Events {
			if e.Activity == i {
				n.Label += ", " + e.State.String()
			}
		}
	}
	if a.BaselineFinish != 0 && expected != 0 {
		n.Value = known(int64(a.On(ev.Env.Calendar).Between(a.BaselineFinish, expected)))
	}
	what := "Expected finish"
	if a.ActualFinish != 0 {
		what = "Actual finish"
	}
	n.Children = []Node{{Label: "Baseline finish", Unit: Day, Value: dateOr(a.BaselineFinish, "no baseline"), Ref: a.Ref},
		{Label: what, Unit: Day, Value: dateOr(expected, "no date"), Ref: a.Ref}}
	if p.Driven && a.Sent.Finish != 0 && a.Sent.Finish != expected {
		n.Children = append(n.Children, Node{Label: "Sent by the team", Unit: Day, Value: date(a.Sent.Finish), Ref: a.Ref,
			Detail: "the project is driven: its dates are the network's"})
	}
	if i >= len(p.Logic.Times) || p.Logic.Times[i].EarlyFinish == 0 {
		if p.Logic.Fault != nil {
			n.Children = append(n.Children, Node{Label: "By the network", Unit: Day, Value: unknown(p.Logic.Fault.Error())})
		}
		return n
	}
	x := p.Logic.Times[i]
	net := Node{Label: "Finish by the network", Unit: Day, Value: date(x.EarlyFinish), Ref: a.Ref,
		Rule: "Forward pass from the day after the as-of date, as predecessors demand."}
	if !x.Finished {
		net.Detail = fmt.Sprintf("at the latest %s: total float %d, free float %d working days", x.LateFinish.Human(), x.TotalFloat,
			x.FreeFloat)
		if x.Critical {
			net.Detail += "; critical"
		}
	}
	if ev.Chain != nil {
		steps := ev.Chain(i)
		for k := len(steps) - 2; k >= 0; k-- {
			net.Children = append(net.Children, stepNode(p, steps[k]))
		}
	}
	n.Children = append(n.Children, net)
	return n
}
