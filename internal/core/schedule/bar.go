package schedule

import (
	"turret/internal/core/calendar"
	"turret/internal/core/fact"
)

// Bar is where an activity lies in time: from its actual or expected start to its actual or expected finish, with its baseline.
// Dates not known are zero; an event has no start. Done is the share of its working days that is behind it, 0 to 1.
type Bar struct {
	Start, Finish, BaselineStart, BaselineFinish calendar.Date // as days, both included
	Done                                         float64       // of its working days; a summary's by those below it
	Deviation                                    fact.Int      // working days of its calendar from the baseline finish, positive when later
}

// Bars lays out the activities of a schedule and, last, the whole of it. Summaries span what is below them, and are done as far as
// it is, weighed by working days; one with nothing below stands by its own dates.
func Bars(activities []Activity, org *calendar.Calendar, asOf calendar.Date) []Bar {
	bars := make([]Bar, len(activities)+1)
	days, done := make([]float64, len(bars)), make([]float64, len(bars))
	at := make(map[string]int, len(activities))
	for i := range activities {
		at[activities[i].Code] = i
	}
	whole := len(activities)
	for i := range activities {
		a := &activities[i]
		if a.Kind == Summary {
			continue
		}
		bars[i] = a.bar(org, asOf)
		length := float64(a.Days(org))
		for up, depth := a.Parent, 0; depth < 50; depth++ {
			j, ok := at[up]
			if up == "" || !ok || j == i {
				break
			}
			bars[j].widen(bars[i])
			days[j] += length
			done[j] += length * bars[i].Done
			up = activities[j].Parent
		}
		bars[whole].widen(bars[i])
		days[whole] += length
		done[whole] += length * bars[i].Done
	}
	for i := range bars {
		b, c := &bars[i], org
		switch {
		case i < whole && activities[i].Kind != Summary:
			c = activities[i].days(org)
		case days[i] > 0:
			b.Done = done[i] / days[i]
		case i < whole && *b == Bar{}:
			*b = activities[i].bar(org, asOf)
		}
		if b.Finish != 0 && b.BaselineFinish != 0 {
			b.Deviation = fact.Some(int64(c.Between(b.BaselineFinish, b.Finish)))
		}
	}
	return bars
}

// bar lays out one activity. Done is the percent sent, else what the working days left leave of all; summaries take theirs from what is
// below them.
func (a *Activity) bar(org *calendar.Calendar, asOf calendar.Date) Bar {
	b := Bar{Start: a.Start, Finish: a.Expected(org, asOf), BaselineStart: a.BaselineStart, BaselineFinish: a.BaselineFinish}
	if a.ActualStart != 0 {
		b.Start = a.ActualStart
	}
	if a.Kind == Milestone || b.Start > b.Finish {
		b.Start = 0
	}
	switch days := a.Days(org); {
	case a.Done(asOf):
		b.Done = 1
	case a.ActualStart == 0 || a.ActualStart > asOf:
	case a.Percent.Given:
		b.Done = min(max(float64(a.Percent.N)/10000, 0), 1)
	case days > 0:
		b.Done = max(0, float64(days-a.left(org, asOf))/float64(days))
	}
	return b
}

// widen has a bar span another as well; an event counts by its day at both ends.
func (b *Bar) widen(o Bar) {
	earlier := func(to *calendar.Date, d calendar.Date) {
		if d != 0 && (*to == 0 || d < *to) {
			*to = d
		}
	}
	start, baseline := o.Start, o.BaselineStart
	if start == 0 {
		start = o.Finish
	}
	if baseline == 0 {
		baseline = o.BaselineFinish
	}
	earlier(&b.Start, start)
	earlier(&b.BaselineStart, baseline)
	b.Finish, b.BaselineFinish = max(b.Finish, o.Finish), max(b.BaselineFinish, o.BaselineFinish)
}

// ReceivedOn and AcceptedOn are the days of a deliverable: it begins when the party that owes it hands it over, and is finished
// when it is accepted. 0 is not yet.
func (a *Activity) ReceivedOn() calendar.Date { return a.ActualStart }

// AcceptedOn is the day on which a deliverable was accepted.
func (a *Activity) AcceptedOn() calendar.Date { return a.ActualFinish }
