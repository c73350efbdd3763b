package demo

import (
	"fmt"

	"turret/internal/core/calendar"
	"turret/internal/record"
)

// backlogs are the projects that work off a list: how many items they began with, and how many came later.
var backlogs = map[string][2]int{"DT-02": {132, 33}, "DT-03": {140, 9}, "DT-05": {70, 3}, "BV-05": {105, 8}}

// wishes are what items ask for.
var wishes = []string{"Level of gauge on the map", "Alarm by text message", "Log in with the staff card", "Export of a month",
	"Battery warning", "Photo with each visit", "Price of a berth in advance", "Map of free berths", "Undo a booking",
	"History of an asset"}

// fortnight is how long iterations are, in calendar days.
const fortnight = 14

// iterationAt is the code of the iteration of a project that holds a day.
func iterationAt(s *spec, day calendar.Date) string {
	return fmt.Sprintf("I%02d", 1+max(0, int(day-s.start))/fortnight)
}

// writeIterations writes those of a project up to the second after the day.
func writeIterations(m *maker, s *spec) {
	for from := s.start; from <= m.asOf+2*fortnight; from += fortnight {
		m.add(record.Iterations, "project", s.code, "code", iterationAt(s, from), "from", from.String(), "to", (from +
			fortnight - 1).String())
	}
}

// surprised is the project into whose iteration under way a third of its points came after it had begun.
const surprised = "DT-02"

// writeBacklog writes what a project works off: what is accepted by and by, what is under way, and what came later.
func writeBacklog(m *maker, s *spec) {
	n, ok := backlogs[s.code]
	if !ok {
		return
	}
	writeIterations(m, s)
	r := own(s, "backlog")
	done := slope(m.reached(s, min(m.asOf, AsOf)))
	now := iterationAt(s, m.asOf)
	begun := s.start + calendar.Date(int(m.asOf-s.start)/fortnight*fortnight)
	for i := range n[0] + n[1] {
		added := s.start
		if i >= n[0] {
			added = s.start + calendar.Date(60+(i-n[0])*170/n[1])
		}
		points := []int{3, 5, 5, 8}[r.IntN(4)]
		if i >= n[0] {
			points = 5
		}
		if added > m.asOf {
			continue
		}
		pairs := []string{"project", s.code, "code", fmt.Sprintf("B%03d", i+1), "title", wishes[i%len(wishes)] +
			fmt.Sprintf(", site %d", 1+i/len(wishes)), "points", fmt.Sprint(points), "rank", fmt.Sprint(i + 1), "owner", s.lead}
		x := float64(i+1) / float64(n[0])
		state := []string{"state", "todo"}
		switch {
		case x <= done && i < n[0]:
			at := min(s.start+calendar.Date(x*float64(AsOf-s.start)/max(0.05, slope(m.reached(s, AsOf)))), m.asOf)
			state = []string{"state", "accepted", "started", max(at-9, s.start).String(), "done_on", max(at-2, s.start).String(),
				"accepted",
				at.String(), "iteration", iterationAt(s, at)}
		case x <= done+0.05 && i < n[0]:
			state = []string{"state", "doing", "started", max(begun, s.start).String(), "iteration", now}
		case s.code == surprised && i >= n[0] && i < n[0]+4 && m.asOf == AsOf: // what the flood office asked for within a week
			added, state = min(begun+5, m.asOf), []string{"state", "todo", "iteration", now}
		}
		if i%29 == 28 && state[1] == "doing" {
			state = append(state, "blocked", "no test device is free")
		}
		m.add(record.Backlog, append(append(pairs, "added", added.String()), state...)...)
	}
}

// Moved is how an item of a backlog stands after a move, as a tracker tells it.
type Moved struct {
	Project   string `json:"project"`
	Code      string `json:"code"`
	Title     string `json:"title,omitempty"`
	Points    int    `json:"points,omitempty"`
	State     string `json:"state"`
	Iteration string `json:"iteration,omitempty"`
	Added     string `json:"added,omitempty"`
	Started   string `json:"started,omitempty"`
	Done      string `json:"done,omitempty"`
	Accepted  string `json:"accepted,omitempty"`
}

// tracked are the projects whose items a tracker keeps, with after how many days each accepts another one.
var tracked = []struct {
	project string
	every   calendar.Date
}{{"DT-02", 2}, {"DT-03", 3}}

// Moves are what happened to the items of trackers after AsOf up to the end of a month: work begins, is made and accepted, and
// now and then something new is asked for.
func Moves(until calendar.Month) ([]Moved, error) {
	rows, err := rowsOf(AsOf.Month(), func(m *maker) {
		for _, s := range open() {
			writeBacklog(m, &s)
		}
	})
	if err != nil {
		return nil, err
	}
	var list []Moved
	for _, t := range tracked {
		s := specOf(t.project)
		at, n := AsOf+2, 0
		for _, r := range rows[record.Backlog] {
			if r["project"] != t.project || r["state"] == "accepted" {
				continue
			}
			if at > until.Last() {
				break
			}
			x := Moved{Project: t.project, Code: r["code"], State: "doing", Iteration: iterationAt(s, at), Started: (at - 1).String()}
			list = append(list, x)
			x.State, x.Started, x.Done, x.Accepted = "accepted", "", at.String(), at.String()
			list = append(list, x)
			if n++; n%8 == 0 {
				list = append(list, Moved{Project: t.project, Code: fmt.Sprintf("W%03d", n), Points: 3, State: "todo", Added: at.String(),
					Title: fmt.Sprintf("What field test %d found", n/8)})
			}
			at += t.every
		}
	}
	return list, nil
}

func specOf(code string) *spec {
	for _, s := range open() {
		if s.code == code {
			return &s
		}
	}
	return nil
}
