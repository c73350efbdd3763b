package demo

import (
	"fmt"

	"turret/internal/core/calendar"
	"turret/internal/record"
)

// engaged is what share of their days people of a role are promised to projects by name, in percent. Electrical engineers are few, and are
// asked for by role alone.
var engaged = map[string]int{"project lead": 60, "civil engineer": 60, "mechanical engineer": 40, "ecologist": 50, "surveyor": 50,
	"developer": 30, "site supervisor": 30}

// staffing writes who is promised to which project, and when people are away. A few are promised twice before the winter closure.
func staffing(m *maker, list []person) {
	if m.asOf < AsOf {
		return
	}
	projects := open()
	for i, p := range list {
		share := engaged[roles[p.role].name]
		if share == 0 {
			continue
		}
		assign := func(s *spec, from, to calendar.Date, percent int) {
			if to = min(to, m.days.Finish(s.start, s.days)+40); s.code != "DT-01" && from <= to {
				m.add(record.Assignments, "person", p.code, "project", s.code, "from", from.String(), "to", to.String(), "percent",
					fmt.Sprint(percent))
			}
		}
		first, second := &projects[(i*3)%len(projects)], &projects[(i*3+1)%len(projects)]
		assign(first, max(first.start, firstReport.First()), day(2027, 3, 31), share-20)
		assign(second, max(second.start, firstReport.First()), day(2027, 1, 29)+calendar.Date(7*(i%9)), 20)
		if i%17 == 3 {
			assign(&projects[(i*3+5)%len(projects)], day(2026, 11, 9), day(2026, 12, 18), 70)
		}
		if i%3 == 0 {
			m.add(record.Absences, "person", p.code, "from", "2026-12-21", "to", "2027-01-01", "reason", "winter holiday")
		}
		if i%7 == 2 {
			from := day(2026, 11, 2) + calendar.Date(7*(i%8))
			m.add(record.Absences, "person", p.code, "from", from.String(), "to", (from + 4).String(), "hours", "4", "reason", "training")
		}
	}
}
