package page

import (
	"fmt"
	"strconv"
	"time"

	"turret/internal/app/records"
	"turret/internal/app/say"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/write"
	"turret/internal/record"
)

// Shown is a cell of a record as people read it.
type Shown struct {
	Text, Title string
	Number      bool
}

// Stated is a cell of a record with what stands over it.
type Stated struct{ Name, Text string }

// RecordEvent is what a load did to a record, in words.
type RecordEvent struct {
	What, When, Href string
	Changes          []string
}

// Numeric reports whether numbers stand in a column.
func Numeric(c record.Column) bool {
	switch c.Cell {
	case record.Units, record.Number, record.Whole, record.Percent, record.Portion:
		return true
	}
	return false
}

// Names are what codes stand for, by the kind they refer to.
type Names struct{ codes, activities, projects, nodes map[string]string }

// NamesOf are the names that records of a project or node refer to.
func NamesOf(r *Request, p *measure.Project) *Names {
	n := &Names{map[string]string{}, map[string]string{}, map[string]string{}, map[string]string{}}
	for _, c := range r.Figures.Masters.CostCodes {
		n.codes[c.Code] = c.Name
	}
	for i := range p.Activities {
		n.activities[p.Activities[i].Code] = p.Activities[i].Name
	}
	for code, other := range r.Figures.ByCode {
		n.projects[code] = other.Name
	}
	for _, x := range r.Figures.Masters.Nodes {
		n.nodes[x.Code] = x.Name
	}
	return n
}

// of finds what a code in a column stands for; empty where that is not known.
func (n *Names) of(c record.Column, code string) string {
	switch {
	case c.Refers == record.CostCodes:
		return n.codes[code]
	case c.Refers == record.Projects:
		return n.projects[code]
	case c.Refers == record.Structure:
		return n.nodes[code]
	case c.Name == "activity", c.Name == "from" && c.Cell == record.Code, c.Name == "to" && c.Cell == record.Code, c.Name == "blocks":
		return n.activities[code]
	}
	return ""
}

// Show writes a cell as people read it: days and amounts in full, codes with what they stand for.
func (n *Names) Show(c record.Column, cell string) Shown {
	x := Shown{Text: cell, Number: Numeric(c)}
	switch {
	case cell == "":
	case c.Cell == record.Day:
		if d, err := calendar.ParseDate(cell); err == nil {
			x.Text = d.Human()
		}
	case c.Cell == record.Month:
		if m, err := calendar.ParseMonth(cell); err == nil {
			x.Text = m.Name()
		}
	case c.Cell == record.Units || c.Cell == record.Number:
		x.Text = say.Decimal(cell)
	case c.Cell == record.Code:
		if name := n.of(c, cell); name != "" {
			x.Text, x.Title = cell+" "+name, cell
		}
	}
	return x
}

// EventOf says what a load did to a record.
func EventOf(r *Request, n *Names, e *records.Event) RecordEvent {
	l := &e.Load
	x := RecordEvent{What: write.Capital(string(e.Act)) + " with load " + strconv.FormatInt(l.ID, 10), Href: r.To(fmt.Sprintf("/loads/%d",
		l.ID)),
		When: When(l.ReceivedAt) + ", " + l.Author + ", " + l.File}
	if e.From > 0 {
		x.When += " row " + strconv.Itoa(int(e.From))
	}
	if l.Period != 0 {
		x.When += ", for " + l.Period.Name()
	}
	or := func(s string) string {
		if s == "" {
			return "nothing"
		}
		return s
	}
	for _, c := range e.Changes {
		x.Changes = append(x.Changes, fmt.Sprintf("%s: %s, was %s", c.Column.Head(), or(n.Show(c.Column, c.Is).Text),
			or(n.Show(c.Column, c.Was).Text)))
	}
	return x
}

// When is a moment as people read it; nothing for none.
func When(t time.Time) string {
	if t.IsZero() {
		return ""
	}
	return say.Moment(t)
}
