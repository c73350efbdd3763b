package capacity_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"turret/internal/core/calendar"
	"turret/internal/core/capacity"
	"turret/internal/core/fact"
)

// slowTable looks at each day of each person and at each assignment on that day, without any shortcut.
func slowTable(e *capacity.Env, s *capacity.Staff, by capacity.By, spans []capacity.Span) map[string][2]int64 {
	sums := map[string][2]int64{}
	put := func(name string, span capacity.Span, available, demand int64) {
		if available != 0 || demand != 0 {
			key := name + " " + span.Name
			x := sums[key]
			sums[key] = [2]int64{x[0] + available, x[1] + demand}
		}
	}
	for _, span := range spans {
		for d := span.First; d <= span.Last; d++ {
			for i := range s.People {
				p := &s.People[i]
				if !p.Calendar.Working(d) {
					continue
				}
				hours := e.Standard
				if p.Hours.Given {
					hours = p.Hours.N
				}
				left := hours
				for _, a := range p.Absences {
					if d >= a.From && d <= a.To {
						if !a.Hours.Given {
							left = 0
						}
						left -= a.Hours.N
					}
				}
				if left < 0 || d < p.From || p.To != 0 && d > p.To {
					left = 0
				}
				demand := int64(0)
				for _, a := range s.Assigned {
					if a.Person == int32(i) && d >= a.From && d <= a.To {
						demand += a.Percent * hours
					}
				}
				put(by.Of(p), span, left*10_000, demand)
			}
			for _, a := range s.Assigned {
				if a.Person < 0 && d >= a.From && d <= a.To && e.Calendar.Working(d) {
					name := ""
					if by == capacity.ByRole {
						name = a.Role
					}
					put(name, span, 0, a.Percent*e.Standard)
				}
			}
		}
	}
	return sums
}

func anyStaff(t *rapid.T, start calendar.Date, length int) *capacity.Staff {
	day := rapid.Custom(func(t *rapid.T) calendar.Date {
		return start + calendar.Date(rapid.IntRange(-20, length+20).Draw(t, "day"))
	})
	role := rapid.SampledFrom([]string{"", "diver", "surveyor"})
	week := rapid.SampledFrom([][7]bool{{true, true, true, true, true}, {true, false, true}, {6: true, 5: true}})
	optional := func(name string, lo, hi int64) fact.Int {
		if rapid.Bool().Draw(t, name) {
			return fact.Some(rapid.Int64Range(lo, hi).Draw(t, name))
		}
		return fact.Int{}
	}
	s := &capacity.Staff{}
	for i := range rapid.IntRange(0, 5).Draw(t, "people") {
		c, _ := calendar.New(week.Draw(t, "week"), map[calendar.Date]bool{day.Draw(t, "exception"): rapid.Bool().Draw(t, "worked")})
		p := capacity.Person{Code: fmt.Sprint("P", i), Role: role.Draw(t, "role"), Team: role.Draw(t, "team"), Calendar: c,
			Hours: optional("hours", 0, 120_000)}
		if rapid.Bool().Draw(t, "comes") {
			p.From = day.Draw(t, "from")
		}
		if rapid.Bool().Draw(t, "leaves") {
			p.To = day.Draw(t, "to")
		}
		for range rapid.IntRange(0, 3).Draw(t, "absences") {
			from := day.Draw(t, "away")
			p.Absences = append(p.Absences, capacity.Absence{From: from, To: from + calendar.Date(rapid.IntRange(0, 15).Draw(t, "long")),
				Hours: optional("away hours", 1, 120_000)})
		}
		s.People = append(s.People, p)
	}
	for range rapid.IntRange(0, 6).Draw(t, "assignments") {
		from := day.Draw(t, "begins")
		s.Assigned = append(s.Assigned, capacity.Assignment{Person: int32(rapid.IntRange(-1, len(s.People)-1).Draw(t, "person")),
			Role: role.Draw(t, "of role"), From: from, To: from + calendar.Date(rapid.IntRange(0, 40).Draw(t, "length")),
			Percent: rapid.Int64Range(0, 400_00).Draw(t, "percent")})
	}
	return s
}

// Any table is what looking at each day comes to, and what makes up a row adds up to it.
func TestTablesAsByLookingAtEachDay(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		start := calendar.On(2026, 1, 1) + calendar.Date(rapid.IntRange(0, 400).Draw(t, "start"))
		length := rapid.IntRange(1, 70).Draw(t, "days")
		s := anyStaff(t, start, length)
		e := &capacity.Env{Standard: 80_000, Calendar: calendar.Standard, AsOf: start + 10}
		last := start + calendar.Date(length-1)
		spans := capacity.Weeks(start, last)
		if rapid.Bool().Draw(t, "months") {
			spans = capacity.Months(start.Month(), last.Month())
		}
		by := capacity.By(rapid.IntRange(0, 2).Draw(t, "by"))
		got := map[string][2]int64{}
		for _, r := range capacity.Table(e, s, by, spans) {
			x := spans[r.Span]
			got[r.Name+" "+x.Name] = [2]int64{r.Available, r.Demand}
			d := capacity.Explain(e, s, by, r.Name, x.First, x.Last)
			assert.Equal(t, []int64{r.Available, r.Demand, r.Unstaffed}, []int64{d.Total.Available, d.Total.Demand, d.Total.Unstaffed})
		}
		assert.Equal(t, slowTable(e, s, by, spans), got)
	})
}

// Five hundred people with 4,000 assignments over 104 weeks.
func BenchmarkTable(b *testing.B) {
	start := calendar.On(2026, 1, 5)
	s := &capacity.Staff{}
	for i := range 500 {
		s.People = append(s.People, capacity.Person{Code: fmt.Sprintf("P%03d", i), Role: fmt.Sprint("R", i%12), Calendar: calendar.Standard,
			Absences: []capacity.Absence{{From: start + 100, To: start + 110}}})
		for j := range 8 {
			from := start + calendar.Date(60*j+i%50)
			s.Assigned = append(s.Assigned, capacity.Assignment{Person: int32(i), From: from, To: from + 120, Percent: 25_00})
		}
	}
	e := &capacity.Env{Standard: 80_000, Calendar: calendar.Standard}
	spans := capacity.Weeks(start, start+104*7-1)
	for b.Loop() {
		capacity.Table(e, s, capacity.ByPerson, spans)
	}
}

// BenchmarkLevel puts off twelve tasks of a role that may each wait twenty days, which is more ways than are tried.
func BenchmarkLevel(b *testing.B) {
	first := calendar.On(2026, 11, 2)
	env := &capacity.Env{Standard: 80_000, Calendar: calendar.Standard, AsOf: first - 1}
	staff := &capacity.Staff{People: []capacity.Person{{Code: "A", Role: "diver"}}}
	var tasks []capacity.Task
	for i := range 12 {
		from := first + calendar.Date(i%5)
		staff.Assigned = append(staff.Assigned, capacity.Assignment{Person: capacity.Nobody, Role: "diver", From: from, To: from + 9,
			Percent: int64(3_000 + 1_000*(i%4))})
		tasks = append(tasks, capacity.Task{Float: 20, Wants: []int32{int32(i)}})
	}
	for b.Loop() {
		capacity.Level(env, staff, tasks, first, first+365)
	}
}
