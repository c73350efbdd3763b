package measure

import (
	"fmt"

	"turret/internal/core/calendar"
	"turret/internal/core/schedule"
	"turret/internal/core/write"
)

// network says why there is nothing of the network to tell, empty where there is.
func (p *Project) network() string {
	switch {
	case p.Outlook.Counted == 0:
		return "no schedule"
	case p.Logic.Fault != nil:
		return p.Logic.Fault.Error()
	}
	return ""
}

// computedFinish is the network's, whether the project is driven or reported.
func computedFinish(p *Project) Value {
	if reason := p.network(); reason != "" {
		return unknown(reason)
	}
	return dateOr(p.Logic.Finish, "no activity that can be dated")
}

// finishFloat is undefined where everything is finished, since nothing can move any more.
func finishFloat(p *Project) Value {
	switch reason := p.network(); {
	case reason != "":
		return unknown(reason)
	case p.Logic.Last < 0:
		return unknown("no activity that can be dated")
	case len(p.Logic.Open) == 0:
		return unknown("everything is finished")
	}
	return known(int64(p.Logic.Times[p.Logic.Last].TotalFloat))
}

// explainFinishFloat traces the float of the activity that finishes last, and what leads to it.
func explainFinishFloat(p *Project, ev *Evidence) []Node {
	if p.network() != "" || p.Logic.Last < 0 {
		return nil
	}
	a, x := &p.Activities[p.Logic.Last], p.Logic.Times[p.Logic.Last]
	return []Node{{Label: a.Code + " " + a.Name + ", total float", Unit: Days, Value: known(int64(x.TotalFloat)), Ref: a.Ref,
		Detail:   fmt.Sprintf("early finish %s, late finish %s", x.EarlyFinish.Human(), x.LateFinish.Human()),
		Children: explainComputedFinish(p, ev)}}
}

// explainComputedFinish traces the driving chain, the last activity first.
func explainComputedFinish(p *Project, ev *Evidence) []Node {
	if p.network() != "" || p.Logic.Last < 0 {
		return nil
	}
	if ev.Chain == nil {
		return activityNode(p, p.Logic.Last, "early finish", p.Logic.Finish)
	}
	var list []Node
	steps := ev.Chain(p.Logic.Last)
	for i := len(steps) - 1; i >= 0; i-- {
		list = append(list, stepNode(p, steps[i]))
	}
	return list
}

// stepNode is one activity of a chain, with the link by which it drives the next.
func stepNode(p *Project, s Step) Node {
	label := s.Activity.Code + " " + s.Activity.Name
	if s.Project != p.Code {
		label = s.Project + " " + label
	}
	n := Node{Label: label, Unit: Day, Value: dateOr(s.Times.EarlyFinish, "no date"), Ref: s.Activity.Ref,
		Detail: fmt.Sprintf("%s to %s, total float %d", s.Times.EarlyStart.Human(), s.Times.EarlyFinish.Human(), s.Times.TotalFloat)}
	if s.Link != nil {
		n.Children = []Node{{Label: "Drives the one above: " + LinkText(s.Link), Unit: Day, Value: unknown("a link"), Ref: s.Link.Ref}}
	}
	return n
}

// LinkText writes a link's type and lag, such as "FS +3".
func LinkText(d *schedule.Dependency) string {
	if d.Lag == 0 {
		return d.Type.String()
	}
	return d.Type.String() + " " + write.Signed(int64(d.Lag))
}

// openOnes are unfinished activities.
func openOnes(l *schedule.Logic) []int { return l.Open }

// criticalOnes are open ones on a critical path.
func criticalOnes(l *schedule.Logic) []int { return l.Critical }

// looseOnes are open ones without a predecessor or a successor.
func looseOnes(l *schedule.Logic) []int { return l.Loose }

// hardOnes are open ones with a latest finish.
func hardOnes(l *schedule.Logic) []int { return l.Hard }

// slackOnes are open ones with much float.
func slackOnes(l *schedule.Logic) []int { return l.Slack }

// longOnes are open ones that are long.
func longOnes(l *schedule.Logic) []int { return l.Long }

// leadLinks are links with a negative lag.
func leadLinks(l *schedule.Logic) []schedule.Dependency { return l.Leads }

// lagLinks are links with a long lag.
func lagLinks(l *schedule.Logic) []schedule.Dependency { return l.Lags }

// logicCount counts activities that the network found.
func logicCount(of func(*schedule.Logic) []int) func(*Project) Value {
	return func(p *Project) Value {
		if reason := p.network(); reason != "" {
			return unknown(reason)
		}
		return known(int64(len(of(&p.Logic))))
	}
}

// explainLogic traces activities that the network found, with its dates.
func explainLogic(of func(*schedule.Logic) []int) func(*Project, *Evidence) []Node {
	return func(p *Project, _ *Evidence) []Node {
		var list []Node
		for _, i := range of(&p.Logic) {
			a, x := &p.Activities[i], p.Logic.Times[i]
			list = append(list, Node{Label: a.Code + " " + a.Name, Unit: Day, Value: dateOr(x.EarlyFinish, "no date"), Ref: a.Ref,
				Detail: fmt.Sprintf("computed %s to %s, total float %d", x.EarlyStart.Human(), x.EarlyFinish.Human(), x.TotalFloat)})
		}
		return list
	}
}

// linkCount counts links that the network found.
func linkCount(of func(*schedule.Logic) []schedule.Dependency) func(*Project) Value {
	return func(p *Project) Value {
		if reason := p.network(); reason != "" {
			return unknown(reason)
		}
		return known(int64(len(of(&p.Logic))))
	}
}

// explainLinks traces links that the network found.
func explainLinks(of func(*schedule.Logic) []schedule.Dependency) func(*Project, *Evidence) []Node {
	return func(p *Project, _ *Evidence) []Node {
		var list []Node
		for _, d := range of(&p.Logic) {
			list = append(list, Node{Label: fmt.Sprintf("%s to %s, %s", d.From, d.To, LinkText(&d)), Unit: Count, Value: known(1),
				Ref: d.Ref})
		}
		return list
	}
}

// finished takes activities that ended on or before the day.
func finished(a *schedule.Activity, asOf calendar.Date) bool { return a.Done(asOf) }

// promised takes activities whose baseline ends on or before the day.
func promised(a *schedule.Activity, asOf calendar.Date) bool {
	return a.BaselineFinish != 0 && a.BaselineFinish <= asOf
}

// discrete narrows a test to work that ends by being done: no milestone or deliverable, and no level of effort.
func discrete(test activityTest) activityTest {
	return func(a *schedule.Activity, asOf calendar.Date) bool {
		return a.Kind == schedule.Work && a.Method != "effort" && test(a, asOf)
	}
}

// startedLate takes work that was to begin by the day and began after its baseline, or has not. What ended without a start is left out.
func startedLate(a *schedule.Activity, asOf calendar.Date) bool {
	return a.BaselineStart != 0 && a.BaselineStart <= asOf && a.Kind == schedule.Work &&
		(a.ActualStart == 0 || a.ActualStart > a.BaselineStart) && (a.ActualStart != 0 || a.ActualFinish == 0)
}

// finishedLate takes work that was to end by the day and ended after its baseline, or has not.
func finishedLate(a *schedule.Activity, asOf calendar.Date) bool {
	return promised(a, asOf) && a.Kind == schedule.Work && (a.ActualFinish == 0 || a.ActualFinish > a.BaselineFinish)
}

type activityTest func(a *schedule.Activity, asOf calendar.Date) bool

// where lists the activities, summaries aside, that pass a test.
func (p *Project) where(test activityTest) []int {
	var list []int
	for i := range p.Activities {
		if a := &p.Activities[i]; a.Kind != schedule.Summary && !a.Withdrawn() && test(a, p.env.AsOf) {
			list = append(list, i)
		}
	}
	return list
}

// countWhere counts activities that pass a test; undefined without a schedule.
func countWhere(test activityTest) func(*Project) Value {
	return func(p *Project) Value {
		if p.Outlook.Counted == 0 {
			return unknown("no schedule")
		}
		return known(int64(len(p.where(test))))
	}
}

// explainWhere traces activities that pass a test.
func explainWhere(test activityTest) func(*Project, *Evidence) []Node {
	return func(p *Project, ev *Evidence) []Node {
		var list []Node
		for _, i := range p.where(test) {
			a := &p.Activities[i]
			detail := "baseline " + a.BaselineFinish.Human()
			if a.ActualFinish != 0 {
				detail += ", finished " + a.ActualFinish.Human()
			}
			list = append(list, Node{Label: a.Code + " " + a.Name, Unit: Day, Value: dateOr(a.Expected(ev.Env.Calendar, ev.Env.AsOf),
				"no date"), Ref: a.Ref,
				Detail: detail})
		}
		return list
	}
}

// ofLevel lists the milestones of a level in a state.
func (p *Project) ofLevel(level schedule.Level, state schedule.State) []schedule.Event {
	var list []schedule.Event
	for _, e := range p.Events {
		if e.State == state && p.Activities[e.Activity].Level == level {
			list = append(list, e)
		}
	}
	return list
}

// countLevel counts milestones of a level in a state.
func countLevel(level schedule.Level, state schedule.State) func(*Project) Value {
	return func(p *Project) Value {
		if p.Outlook.Counted == 0 {
			return unknown("no schedule")
		}
		return known(int64(len(p.ofLevel(level, state))))
	}
}

// explainLevel traces milestones of a level in a state.
func explainLevel(level schedule.Level, state schedule.State) func(*Project, *Evidence) []Node {
	return func(p *Project, _ *Evidence) []Node { return eventNodes(p, p.ofLevel(level, state)) }
}

// slip is by how many working days a milestone not done is later than its baseline; a missed one at least to the as-of date, also where
// nobody says for when it is expected.
func slip(e schedule.Event) (int64, bool) {
	switch e.State {
	case schedule.Done, schedule.DoneLate, schedule.NoBaseline:
		return 0, false
	case schedule.Missed:
		return int64(e.Late), true
	}
	return e.Deviation.N, e.Deviation.Given
}

// worst is the milestone not done that slips the most; false where none has a baseline and a date.
func (p *Project) worst() (best schedule.Event, days int64, ok bool) {
	for _, e := range p.Events {
		if n, known := slip(e); known && (!ok || n > days) {
			best, days, ok = e, n, true
		}
	}
	return best, days, ok
}

// longestSlip is in working days and may be below 0, where every milestone to come is early.
func longestSlip(p *Project) Value {
	_, days, ok := p.worst()
	if !ok {
		return unknown("no milestone to come with a baseline and a date")
	}
	return known(days)
}

// explainLongestSlip names the milestone that slips the most.
func explainLongestSlip(p *Project, _ *Evidence) []Node {
	e, days, ok := p.worst()
	if !ok {
		return nil
	}
	n := eventNodes(p, []schedule.Event{e})[0]
	n.Detail += ", expected " + n.Value.Human(Day, "")
	n.Unit, n.Value = Days, known(days)
	return []Node{n}
}
