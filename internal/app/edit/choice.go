package edit

import (
	"sort"

	"turret/internal/app/assess"
	"turret/internal/app/kept"
	"turret/internal/record"
)

// ChoicesOf lists what may stand in a column, nil where it is open.
func ChoicesOf(c record.Column, m *kept.Masters) []string {
	var list []string
	switch c.Refers {
	case record.Projects:
		for _, p := range m.Projects {
			list = append(list, p.Code)
		}
	case record.CostCodes:
		for _, k := range m.CostCodes {
			list = append(list, k.Code)
		}
	case record.Structure:
		for _, n := range m.Nodes {
			list = append(list, n.Code)
		}
	case record.Calendars:
		list = append(list, assess.DefaultCalendar)
		for name := range kept.Weeks(m.Calendars) {
			if name != assess.DefaultCalendar {
				list = append(list, name)
			}
		}
		sort.Strings(list[1:])
	default:
		list = c.Choices
	}
	return list
}
