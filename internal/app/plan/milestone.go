package plan

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"sort"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
	"turret/internal/record"
)

// MilestoneLine is a milestone with its project.
type MilestoneLine struct {
	Project  *measure.Project
	Activity *schedule.Activity
	Event    schedule.Event
	Why      string
}

// Milestones lists those that a timeline's filter lets pass, by date.
func Milestones(a *assess.Assessment, t *Timeline) []MilestoneLine {
	var list []MilestoneLine
	for _, p := range t.Shown {
		for _, e := range p.Events {
			x := &p.Activities[e.Activity]
			if t.Filter.Wants(x, e.State, a.Env.Calendar, a.Env.AsOf) {
				list = append(list, MilestoneLine{p, x, e, Why(a, p, e.Activity)})
			}
		}
	}
	sort.SliceStable(list, func(i, j int) bool { return list[i].when() < list[j].when() })
	return list
}

// CountStates counts milestones by their state.
func CountStates(list []MilestoneLine) map[schedule.State]int {
	n := map[schedule.State]int{}
	for i := range list {
		n[list[i].Event.State]++
	}
	return n
}

func (m *MilestoneLine) when() calendar.Date { return cmp.Or(m.Event.Date, m.Activity.BaselineFinish) }

// Handover is a deliverable: who owes it, when it is due, received and accepted.
type Handover struct {
	Project                      *measure.Project
	Activity                     *schedule.Activity
	Due                          calendar.Date // by the baseline, else as expected
	Expected, Received, Accepted calendar.Date
	State                        string
	Late                         int // working days overdue as of the day, or that it came late
}

// Handovers lists the deliverables of a timeline, by the day they are due.
func Handovers(a *assess.Assessment, t *Timeline) []Handover {
	var list []Handover
	for _, p := range t.Shown {
		for i := range p.Activities {
			x := &p.Activities[i]
			if x.Kind == schedule.Deliverable && t.Filter.Wants(x, 0, a.Env.Calendar, a.Env.AsOf) {
				list = append(list, HandoverOf(a, p, x))
			}
		}
	}
	slices.SortStableFunc(list, func(x, y Handover) int { return cmp.Compare(x.Due, y.Due) })
	return list
}

// HandoverOf tells how far a deliverable is from being handed over.
func HandoverOf(a *assess.Assessment, p *measure.Project, x *schedule.Activity) Handover {
	h := Handover{Project: p, Activity: x, Expected: x.Expected(a.Env.Calendar, a.Env.AsOf), Received: x.ReceivedOn(),
		Accepted: x.AcceptedOn()}
	h.Due = cmp.Or(x.BaselineFinish, h.Expected)
	day := a.Env.AsOf
	switch {
	case h.Accepted != 0 && h.Accepted <= a.Env.AsOf:
		h.State, day = "accepted", h.Accepted
	case h.Received != 0 && h.Received <= a.Env.AsOf:
		h.State = "received"
	case h.Due != 0 && h.Due <= a.Env.AsOf:
		h.State = "overdue"
	default:
		h.State = "to come"
	}
	if h.Due != 0 && h.Due < day {
		h.Late = a.Env.Calendar.Between(h.Due, day)
	}
	return h
}

// SlipPoint is what was forecast of a milestone in the report of a period.
type SlipPoint struct {
	Period   calendar.Period
	Date     calendar.Date
	Baseline calendar.Date
	Load     int64
	Row      int32
}

// Slip is the history of a milestone's forecasts, by period, the last as it stands now.
type Slip struct {
	MilestoneLine
	Points []SlipPoint
	Moves  int // periods in which the forecast went later
	Run    int // of those, the last ones in a row
	Crept  int // working days that it moved in that run
	Days   int // working days from the first forecast to the last
}

// Slips are the histories of the milestones of a timeline, those that keep moving furthest first. Periods after the as-of date do not
// count.
func (o *Office) Slips(ctx context.Context, a *assess.Assessment, t *Timeline) ([]Slip, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	list, at := make([]Slip, 0, 64), map[string]int{}
	ids := make([]int64, 0, len(t.Shown))
	for _, p := range t.Shown {
		ids = append(ids, p.ID)
	}
	for _, m := range Milestones(a, t) {
		at[key(m.Project.ID, m.Activity.Code)] = len(list)
		list = append(list, Slip{MilestoneLine: m})
	}
	if len(ids) == 0 {
		return nil, nil
	}
	err := a.Reading.History(ctx, ids, func(project int64, period calendar.Period, x *kept.ActivityFact) {
		i, ok := at[key(project, x.Code)]
		if d := x.Expected(a.Env.Calendar, min(period.Last(), a.Env.AsOf)); ok && d != 0 && period <= a.Env.Period() {
			list[i].Points = append(list[i].Points, SlipPoint{period, d, x.BaselineFinish, x.Ref.Load, x.Ref.Row})
		}
	})
	for i := range list {
		list[i].sum(a.Env.Calendar)
	}
	slices.SortStableFunc(list, func(x, y Slip) int {
		if x.Crept != y.Crept {
			return cmp.Compare(y.Crept, x.Crept)
		}
		return cmp.Compare(y.Days, x.Days)
	})
	return list, err
}

// creepingRun is how many reports in a row a milestone moves later before it is called one that keeps moving.
const creepingRun = 3

// CountCreeping counts the milestones that moved later in each of the last three reports, or more.
func CountCreeping(list []Slip) int {
	n := 0
	for i := range list {
		if list[i].Creeps() {
			n++
		}
	}
	return n
}

// Creeps says whether a milestone keeps moving later.
func (s *Slip) Creeps() bool { return s.Run >= creepingRun }

func key(project int64, code string) string { return fmt.Sprint(project, " ", code) }

func (s *Slip) sum(org *calendar.Calendar) {
	for i := 1; i < len(s.Points); i++ {
		if s.Points[i].Date > s.Points[i-1].Date {
			s.Moves++
			s.Run++
		} else {
			s.Run = 0
		}
	}
	if n := len(s.Points); n > 1 {
		s.Days = org.Between(s.Points[0].Date, s.Points[n-1].Date)
		s.Crept = org.Between(s.Points[n-1-s.Run].Date, s.Points[n-1].Date)
	}
}

// Raise sets the level that an activity is reported to, as a revision. A milestone alone has a level.
func (o *Office) Raise(ctx context.Context, a *assess.Assessment, project, activity string, level schedule.Level) error {
	p, err := a.Project(project)
	if err != nil {
		return err
	}
	i := slices.IndexFunc(p.Activities, func(x schedule.Activity) bool { return x.Code == activity && x.Kind != schedule.Summary })
	if i < 0 {
		return fmt.Errorf("activity %q of %s: %w", fault.Clip(activity, 40), project, fault.ErrNotFound)
	}
	d, err := o.draftPlan(ctx, a, project, Base{})
	if err != nil {
		return err
	}
	name := level.String()
	if err := d.apply([]Op{{Op: "set", Code: activity, Field: "report_to", Value: name}}); err != nil {
		return err
	}
	_, err = o.edit.SaveTables(ctx, project, []edit.TableEdit{{Kind: record.Activities, Edits: d.edits()}},
		edit.SaveAs{Reason: activity + " is reported to " + name +
			" level"})
	return err
}
