package desk

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/record"
)

func thing(code, state string, due calendar.Date) Item {
	return Item{Kind: record.Actions, Holder: &measure.Project{Info: measure.Info{Code: "A1"}}, Code: code, State: state, Due: due}
}

// By hand: B has another day, C has come, D has gone, A is as it was. Who never looked is told nothing.
func TestWhatChangedSinceTheLastVisit(t *testing.T) {
	was := Look{At: time.Unix(1, 0), Items: map[string]string{}}
	for _, x := range []Item{thing("A", "open", 10), thing("B", "open", 10), thing("D", "open", 10)} {
		was.Items[x.key()] = x.stood()
	}
	told := func(w Look) (s []string, gone int) {
		d := Desk{Items: []Item{thing("A", "open", 10), thing("B", "open", 11), thing("C", "open", 0)}}
		d.since(&w)
		for _, x := range d.Items {
			switch {
			case x.New:
				s = append(s, x.Code+" new")
			case x.Changed:
				s = append(s, x.Code+" changed")
			}
		}
		return s, d.Gone
	}
	list, gone := told(was)
	assert.Equal(t, []string{"B changed", "C new"}, list)
	assert.Equal(t, 1, gone)
	list, gone = told(Look{})
	assert.Empty(t, list)
	assert.Zero(t, gone)
}

// A visit goes on until nobody looked for half an hour: what was new stays new on it.
func TestWhereAVisitEnds(t *testing.T) {
	start := time.Date(2026, 11, 2, 9, 0, 0, 0, time.UTC)
	first, second, third := map[string]string{"1": ""}, map[string]string{"2": ""}, map[string]string{"3": ""}
	l := Looks{}.next(start, first)
	assert.True(t, l.Former.At.IsZero())
	l = l.next(start.Add(29*time.Minute), second)
	assert.True(t, l.Former.At.IsZero(), "the same visit")
	l = l.next(start.Add(59*time.Minute), third)
	assert.Equal(t, Look{start.Add(29 * time.Minute), second}, l.Former)
	l = l.next(start.Add(80*time.Minute), first)
	assert.Equal(t, second, l.Former.Items, "still against the visit before")
	assert.Equal(t, first, l.Now.Items)
}
