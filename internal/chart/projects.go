package chart

import (
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
	"turret/internal/core/write"
)

// ProjectGroup is a heading with the projects below it.
type ProjectGroup struct {
	Name     string
	Projects []*measure.Project
}

// ProjectTie joins two projects by their codes.
type ProjectTie struct {
	Giver, Taker string
	From, To     calendar.Date // as of a TimelineTie
	Strained     bool
}

// ProjectRows lays out a row per project under its group, with the milestones that wants takes on it, and the dependencies between
// projects.
func ProjectRows(env measure.Env, groups []ProjectGroup, ties []ProjectTie, wants func(*schedule.Activity, schedule.State) bool) (
	[]TimelineRow, []TimelineTie) {
	var rows []TimelineRow
	at := map[string]int{}
	for _, g := range groups {
		if g.Name != "" {
			rows = append(rows, TimelineRow{Name: g.Name, Heading: true})
		}
		for _, p := range g.Projects {
			if _, ok := at[p.Code]; !ok {
				at[p.Code] = len(rows)
			}
			rows = append(rows, projectRow(env, p, wants))
		}
	}
	var list []TimelineTie
	for _, k := range ties {
		from, ok1 := at[k.Giver]
		to, ok2 := at[k.Taker]
		if ok1 && ok2 {
			list = append(list, TimelineTie{FromRow: from, ToRow: to, From: k.From, To: k.To, Strained: k.Strained})
		}
	}
	return rows, list
}

func projectRow(env measure.Env, p *measure.Project, wants func(*schedule.Activity, schedule.State) bool) TimelineRow {
	bars := schedule.Bars(p.Activities, env.Calendar, env.AsOf)
	r := TimelineRow{Name: p.Code + " " + p.Name, Tall: true, Bar: bars[len(bars)-1], Title: p.Name}
	if v := p.Value(measure.FinishDeviation); v.Known {
		r.Soft = write.Signed(v.N)
		r.Title += ", " + schedule.Lateness(v.N)
	}
	for _, e := range p.Events {
		x := &p.Activities[e.Activity]
		if wants(x, e.State) {
			r.Flags = append(r.Flags, EventFlag(x, e))
		}
	}
	return r
}

// EventFlag is the pennant of a milestone.
func EventFlag(x *schedule.Activity, e schedule.Event) TimelineFlag {
	return TimelineFlag{Date: e.Date, Baseline: x.BaselineFinish, Label: x.Name, Status: StateStatus(e.State),
		Done: e.State == schedule.Done || e.State == schedule.DoneLate, Title: title(e, x)}
}

// ActivityRows lays out the schedule of a project, with the ghost of another one where was gives it by code, and marks what blocked says
// is
// blocked.
func ActivityRows(env measure.Env, list []schedule.Activity, critical func(i int) bool, was map[string]schedule.Bar,
	blocked map[string]string) []TimelineRow {
	bars := schedule.Bars(list, env.Calendar, env.AsOf)
	depth := depths(list)
	var rows []TimelineRow
	for i := range list {
		x := &list[i]
		r := TimelineRow{Name: x.Name, Soft: x.Code, Depth: depth[i], Bar: bars[i], Was: was[x.Code], Critical: critical(i),
			Title: x.Code + " " + x.Name}
		if text := blocked[x.Code]; text != "" {
			r.Blocked, r.Title = true, r.Title+"; "+text
		}
		if x.Kind == schedule.Milestone {
			e := schedule.EventOf(x, env.Calendar, schedule.Options{AsOf: env.AsOf})
			r.Bar, r.Flags = schedule.Bar{}, []TimelineFlag{EventFlag(x, e)}
			r.Flags[0].Label = ""
		}
		rows = append(rows, r)
	}
	return rows
}

// depths are how deep each activity lies under its summaries.
func depths(list []schedule.Activity) []int {
	parent := make(map[string]string, len(list))
	for i := range list {
		parent[list[i].Code] = list[i].Parent
	}
	depth := make([]int, len(list))
	for i := range list {
		for up := list[i].Parent; up != "" && depth[i] < 8; up = parent[up] {
			if _, ok := parent[up]; !ok {
				break
			}
			depth[i]++
		}
	}
	return depth
}
