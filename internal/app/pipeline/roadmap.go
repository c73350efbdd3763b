package pipeline

import (
	"cmp"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/core/calendar"
	"turret/internal/core/capacity"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
	"turret/internal/core/write"
	"turret/internal/record"
)

// Moves are by how many months the start of proposals is put off on a roadmap; negative ones are brought forward.
type Moves map[string]int

// mostMoved bounds a move.
const mostMoved = 60

// ParseMoves reads moves such as LW-P1:3, one after another. What is wrong is a FieldError.
func ParseMoves(list []string) (Moves, error) {
	m := Moves{}
	for _, text := range list {
		at := strings.LastIndex(text, ":")
		if at < 1 {
			return nil, fault.Field("move", fault.Clip(text, 40), "a proposal and months, such as LW-P1:3")
		}
		n, err := strconv.Atoi(text[at+1:])
		if err != nil || n < -mostMoved || n > mostMoved {
			return nil, fault.Field("move", fault.Clip(text, 40), fmt.Sprintf("a whole number of months, at most %d", mostMoved))
		}
		if m[text[:at]] = n; n == 0 {
			delete(m, text[:at])
		}
	}
	return m, nil
}

// Later is a day so many months later, at the latest the last of its month.
func Later(d calendar.Date, months int) calendar.Date {
	if d == 0 || months == 0 {
		return d
	}
	m := d.Month() + calendar.Month(months)
	return min(m.First()+(d-d.Month().First()), m.Last())
}

// Roadmap is what runs and what is proposed, in lanes over the years.
type Roadmap struct {
	Lanes    []Lane
	Needs    []Need // among what is drawn
	Undated  []*measure.Project
	From, To calendar.Date
}

// Need is a project or proposal that another needs: all of it, by a requirement of the choice, or what a link of their plans is still to
// give.
type Need struct {
	Of, By   string        // codes
	Given    calendar.Date // when it is there
	Wanted   calendar.Date // when the other begins, or the last day on which it is not held up
	Strained bool          // it is there too late
	Title    string
}

// needsOf are what projects that are drawn need of each other.
func needsOf(a *assess.Assessment, p *Pipeline, drawn map[string]Bar) (list []Need) {
	for by, all := range p.Requirements {
		for _, q := range all {
			giver, ok := drawn[q.Other]
			taker, both := drawn[by]
			if q.Kind == record.Needs && ok && both {
				list = append(list, Need{Of: q.Other, By: by, Given: giver.To, Wanted: taker.From, Strained: giver.To >= taker.From,
					Title: by + " needs " + q.Other})
			}
		}
	}
	for _, t := range a.Ties(func(d *schedule.Dependency) bool { return d.Crosses() }) {
		_, ok := drawn[t.FromCode]
		_, both := drawn[t.ToCode]
		if ok && both && t.Known && !t.Settled && t.Promised != 0 && t.NeedBy != 0 {
			list = append(list, Need{Of: t.FromCode, By: t.ToCode, Given: t.Promised, Wanted: t.NeedBy, Strained: t.Room < 0,
				Title: t.ToCode + " needs " + t.From.Name + " of " + t.FromCode})
		}
	}
	slices.SortFunc(list, func(x, y Need) int {
		return cmp.Or(strings.Compare(x.Of, y.Of), strings.Compare(x.By, y.By), cmp.Compare(x.Given, y.Given), strings.Compare(x.Title,
			y.Title))
	})
	return list
}

// Lane is a part of a roadmap.
type Lane struct {
	Name string
	Bars []Bar
}

// Bar is a project from its start to its expected finish. Milestones are those of portfolio level.
type Bar struct {
	Project    *measure.Project
	From, To   calendar.Date
	Moved      int // months
	Milestones []Milestone
}

// Note is what stands beside a proposal on a roadmap: its rank, 0 for none, what was decided, and by how much it is moved.
func (b *Bar) Note(p *Pipeline, rank int) string {
	if b.Project.Status != measure.Proposed {
		return ""
	}
	var notes []string
	if rank > 0 {
		notes = append(notes, "rank "+strconv.Itoa(rank))
	}
	if d := p.Proposals[b.Project.Code]; d != nil && d.Decision != "" {
		notes = append(notes, d.Decision)
	}
	if b.Moved != 0 {
		notes = append(notes, "moved by "+write.Signed(b.Moved))
	}
	return strings.Join(notes, ", ")
}

// Milestone is one of portfolio level.
type Milestone struct {
	Name   string
	Date   calendar.Date
	Status health.Status
	Done   bool
}

// LanesBy are what lanes go by.
func LanesBy() []string { return []string{"programme", "goal", "category"} }

// RoadmapOf draws up the open projects and the proposals that are not declined.
func RoadmapOf(a *assess.Assessment, p *Pipeline, s *assess.Scope, by string, moves Moves) *Roadmap {
	m := &Roadmap{}
	at, drawn := map[string]int{}, map[string]Bar{}
	for _, x := range s.Projects {
		if x.Status != measure.Open && (x.Status != measure.Proposed || p.Declined(x.Code)) {
			continue
		}
		b := Bar{Project: x, From: x.PlannedStart, To: cmp.Or(x.Outlook.ExpectedFinish, x.PlannedFinish)}
		if x.Status == measure.Proposed {
			b.Moved = moves[x.Code]
			b.From, b.To = Later(b.From, b.Moved), Later(b.To, b.Moved)
		}
		if b.From == 0 || b.To < b.From {
			m.Undated = append(m.Undated, x)
			continue
		}
		b.Milestones = milestonesOf(x)
		if m.From == 0 || b.From < m.From {
			m.From = b.From
		}
		m.To = max(m.To, b.To)
		drawn[x.Code] = b
		lane := laneOf(a, p, x, by)
		k, ok := at[lane]
		if !ok {
			k = len(m.Lanes)
			at[lane], m.Lanes = k, append(m.Lanes, Lane{Name: lane})
		}
		m.Lanes[k].Bars = append(m.Lanes[k].Bars, b)
	}
	m.Needs = needsOf(a, p, drawn)
	slices.SortFunc(m.Lanes, func(x, y Lane) int { return strings.Compare(x.Name, y.Name) })
	for i := range m.Lanes {
		slices.SortStableFunc(m.Lanes[i].Bars, func(x, y Bar) int {
			return cmp.Or(cmp.Compare(x.From, y.From), strings.Compare(x.Project.Code, y.Project.Code))
		})
	}
	return m
}

// laneOf is the lane of a project: its programme, the goal it does most for, or its category.
func laneOf(a *assess.Assessment, p *Pipeline, x *measure.Project, by string) string {
	switch by {
	case "goal":
		best, most := "", int64(0)
		for _, c := range p.Contributions[x.Code] {
			if c.Rating > most {
				best, most = c.Goal, c.Rating
			}
		}
		for _, g := range p.Goals {
			if g.Code == best {
				return g.Name
			}
		}
		return "no goal"
	case "category":
		return cmp.Or(x.Category, "no category")
	}
	if n := a.Programme(x); n != nil {
		return n.Name
	}
	return "no programme"
}

func milestonesOf(x *measure.Project) (list []Milestone) {
	for _, e := range x.Events {
		act := &x.Activities[e.Activity]
		if act.Level != schedule.PortfolioLevel || e.Date == 0 {
			continue
		}
		status := health.OnTrack
		if e.Deviation.Given && e.Deviation.N > 0 {
			status = health.Watch
		}
		list = append(list, Milestone{act.Name, e.Date, status, e.State == schedule.Done || e.State == schedule.DoneLate})
	}
	return list
}

// Effect is what moves do to a budget year, or to a role in a quarter.
type Effect struct {
	Name          string
	Role          bool
	Running       int64    // what open projects take of it: minor units, or units of an hour
	Before, After int64    // what proposals take besides, without the moves and with them
	Free          fact.Int // of a role: what running projects leave of it
	full          int64
}

// Total is what a year has in all with the moves.
func (e *Effect) Total() int64 { return e.Running + e.After }

// Left is what is left of a role with the moves; below nothing too few are there.
func (e *Effect) Left() int64 { return e.Free.N - e.After }

// FTE is a number of hours of a role as people at work, in hundredths.
func (e *Effect) FTE(units int64) fact.Int {
	c := capacity.Cell{Full: e.full}
	return c.FTE(units)
}

// EffectsOf tells what moves do to budget years and roles. Roles are told where moves change them, or where too few are there with them.
func EffectsOf(a *assess.Assessment, p *Pipeline, s *assess.Scope, moves Moves) (list []Effect) {
	var proposals []*measure.Project
	for _, x := range s.Projects {
		if x.Status == measure.Proposed && !p.Declined(x.Code) {
			proposals = append(proposals, x)
		}
	}
	if !a.NoMoney {
		list = yearEffects(a, s, proposals, moves)
	}
	return append(list, roleEffects(a, proposals, moves)...)
}

func yearEffects(a *assess.Assessment, s *assess.Scope, proposals []*measure.Project, moves Moves) (list []Effect) {
	at := map[calendar.Month]*Effect{}
	add := func(m calendar.Month, n money.Amount, to func(*Effect) *int64) {
		first := a.Env.YearBegins(m.First())
		if at[first] == nil {
			at[first] = &Effect{Name: cost.YearName(first)}
		}
		*to(at[first]) += int64(n)
	}
	for _, x := range s.Projects {
		for i, n := range x.Account.BudgetBy {
			if m := x.Account.First + calendar.Month(i); x.Status == measure.Open && n != 0 && m > a.Env.AsOf.Month() {
				add(m, n, func(e *Effect) *int64 { return &e.Running })
			}
		}
	}
	for _, x := range proposals {
		for i, n := range x.Account.BudgetBy {
			if m := x.Account.First + calendar.Month(i); n != 0 {
				add(m, n, func(e *Effect) *int64 { return &e.Before })
				add(m+calendar.Month(moves[x.Code]), n, func(e *Effect) *int64 { return &e.After })
			}
		}
	}
	for _, e := range at {
		list = append(list, *e)
	}
	slices.SortFunc(list, func(x, y Effect) int { return strings.Compare(x.Name, y.Name) })
	return list
}

// mostEffects bounds how many roles in quarters are told.
const mostEffects = 20

func roleEffects(a *assess.Assessment, proposals []*measure.Project, moves Moves) (list []Effect) {
	before, after := &capacity.Staff{People: a.People}, &capacity.Staff{People: a.People}
	last := calendar.Date(0)
	for _, x := range proposals {
		for i := range x.Shares {
			y := x.Shares[i].Assignment
			before.Assigned = append(before.Assigned, y)
			last = max(last, y.To)
			y.From, y.To = Later(y.From, moves[x.Code]), Later(y.To, moves[x.Code])
			after.Assigned = append(after.Assigned, y)
			last = max(last, y.To)
		}
	}
	if last <= a.Env.AsOf {
		return nil
	}
	env, spans := assess.CapacityOf(a), quarters(a.Env.AsOf+1, min(last, a.Env.AsOf+mostAhead))
	type key struct {
		role string
		span int
	}
	at := map[key]*Effect{}
	of := func(r *capacity.Row) *Effect {
		k := key{r.Name, int(r.Span)}
		if at[k] == nil {
			at[k] = &Effect{Name: r.Name + ", " + spans[r.Span].Name, Role: true, full: r.Full, Free: fact.Some(0)}
		}
		return at[k]
	}
	read := func(s *capacity.Staff, take func(*Effect, *capacity.Row)) {
		for _, r := range capacity.Table(env, s, capacity.ByRole, spans) {
			if r.Name != "" {
				take(of(&r), &r)
			}
		}
	}
	read(assess.StaffOf(a, a.All, false), func(e *Effect, r *capacity.Row) {
		e.Running, e.Free = r.Demand, fact.Some(r.Available-r.Demand)
	})
	read(before, func(e *Effect, r *capacity.Row) { e.Before = r.Demand })
	read(after, func(e *Effect, r *capacity.Row) { e.After = r.Demand })
	for _, e := range at {
		if e.Before != e.After || e.After > 0 && e.Left() < 0 {
			list = append(list, *e)
		}
	}
	slices.SortFunc(list, func(x, y Effect) int {
		return cmp.Or(cmp.Compare(x.Left(), y.Left()), strings.Compare(x.Name, y.Name))
	})
	return list[:min(len(list), mostEffects)]
}
