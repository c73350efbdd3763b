package edit

import (
	"slices"
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
	case record.People:
		for i := range m.People {
			list = append(list, m.People[i].Code)
		}
	default:
		list = c.Choices
	}
	return list
}

// named are the columns in which people stand by their names. Whoever is known is offered; any other name may be typed.
var named = []string{"lead", "sponsor", "owner", "raised_by", "asked_by", "decided_by"}

// namesOf are the people that a file knows: those of its register, and those who lead or sponsor a project.
func namesOf(m *kept.Masters) []string {
	var list []string
	for i := range m.People {
		list = append(list, m.People[i].Name)
	}
	for i := range m.Projects {
		list = append(list, m.Projects[i].Lead, m.Projects[i].Sponsor)
	}
	slices.Sort(list)
	return slices.DeleteFunc(slices.Compact(list), func(name string) bool { return name == "" })
}
