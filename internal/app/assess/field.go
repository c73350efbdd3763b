package assess

import (
	"slices"
	"strings"

	"turret/internal/app/say"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// OwnField finds a field of the office's own by the name of its column, such as own.county; false for what is none, and for one that is
// closed.
func (a *Assessment) OwnField(name string) (record.Column, bool) {
	i := slices.IndexFunc(a.Masters.Own, func(c record.Column) bool { return c.Name == name })
	if i < 0 {
		return record.Column{}, false
	}
	return a.Masters.Own[i], true
}

// OwnText is what a project has in a field of the office's own, as people read it; empty for nothing.
func OwnText(p *measure.Project, c record.Column) string {
	key, _ := c.Own()
	s := p.Own[key]
	switch c.Cell {
	case record.Day:
		if d, err := calendar.ParseDate(s); err == nil {
			return d.Human()
		}
	case record.Number:
		return say.Decimal(s)
	}
	return s
}

// CompareOwn orders projects by a field of the office's own: numbers as numbers, choices in their order, what is not there last.
func CompareOwn(p, q *measure.Project, c record.Column, reverse bool) int {
	key, _ := c.Own()
	x, y := p.Own[key], q.Own[key]
	switch {
	case x == y:
		return 0
	case x == "":
		return 1
	case y == "":
		return -1
	}
	n := strings.Compare(x, y)
	switch c.Cell {
	case record.Number:
		n = say.CompareDecimals(x, y)
	case record.Choice:
		n = slices.Index(c.Choices, x) - slices.Index(c.Choices, y)
	}
	if reverse {
		return -n
	}
	return n
}
