// Package people is the door to what people have and what is wanted of them.
package people

import (
	"context"
	"fmt"
	"slices"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/core/calendar"
	"turret/internal/core/capacity"
	"turret/internal/core/measure"
)

// Ask says which hours are asked for.
type Ask struct {
	By        capacity.By
	Weeks     bool // else months
	Days      bool // else those; of a quarter at most
	From, To  calendar.Month
	Proposals bool
	Booked    bool // also what was worked, which is read for it
}

// mostMonths bounds how many months are told of at a time, and mostDays how many of them day by day.
const (
	mostMonths = 240
	mostDays   = 3
)

// Sheet is what people have and what is wanted of them by name and span, and what it was counted from.
type Sheet struct {
	Ask
	Env   *capacity.Env
	Staff *capacity.Staff
	Spans []capacity.Span
	Rows  []capacity.Row
}

// ParseBy reads whose hours are asked for.
func ParseBy(s string) (capacity.By, error) {
	at := slices.Index([]string{"person", "role", "team", "centre"}, s)
	if at < 0 {
		return 0, fault.Field("by", fault.Clip(s, 40), "person, role, team or centre")
	}
	return capacity.By(at), nil
}

// SpansOf are the months or weeks that are asked for. A range that ends before it begins, or is too long, is a FieldError.
func SpansOf(ask *Ask) ([]capacity.Span, error) {
	switch n := int(ask.To-ask.From) + 1; {
	case n < 1:
		return nil, fault.Field("to", ask.To.String(), "a month on or after "+ask.From.String())
	case ask.To > calendar.MaxDate.Month():
		return nil, fault.Field("to", ask.To.String(), "a month up to "+calendar.MaxDate.Month().String())
	case n > mostMonths:
		return nil, fault.Field("to", ask.To.String(), fmt.Sprintf("at most %d months from %s on", mostMonths, ask.From))
	}
	if ask.Days {
		if ask.To-ask.From >= mostDays {
			return nil, fault.Field("to", ask.To.String(), fmt.Sprintf("at most %d months from %s on, day by day", mostDays, ask.From))
		}
		return capacity.Days(ask.From.First(), ask.To.Last()), nil
	}
	if ask.Weeks {
		return capacity.Weeks(ask.From.First(), ask.To.Last()), nil
	}
	return capacity.Months(ask.From, ask.To), nil
}

// MayName refuses to tell of people by name to those who only read: it is for those who plan with them.
func MayName(ctx context.Context) error {
	_, err := access.Permit(ctx, access.Send)
	return err
}

// SheetOf counts the hours of everybody, over all projects: somebody is as busy as all of them make them, also where the one who asks
// does not see them all.
func SheetOf(ctx context.Context, a *assess.Assessment, ask Ask) (*Sheet, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	if ask.By == capacity.ByPerson {
		if err := MayName(ctx); err != nil {
			return nil, err
		}
	}
	spans, err := SpansOf(&ask)
	if err != nil {
		return nil, err
	}
	staff := assess.StaffOf(a, a.All, ask.Proposals)
	if ask.Booked {
		if err := assess.ReadBooked(ctx, a, staff, a.All); err != nil {
			return nil, err
		}
	}
	s := &Sheet{Ask: ask, Env: assess.CapacityOf(a), Staff: staff, Spans: spans}
	s.Rows = capacity.Table(s.Env, staff, ask.By, spans)
	return s, nil
}

// Line is the row of one name, a cell for each span.
type Line struct {
	Name   string
	Person *capacity.Person // where the row is of a person
	Cells  []capacity.Cell
	Total  capacity.Cell
}

// Lines are the rows by name. Spans in which somebody has and is wanted for nothing have empty cells.
func (s *Sheet) Lines() []Line {
	var list []Line
	full := make([]int64, len(s.Spans))
	for i := range s.Rows {
		r := &s.Rows[i]
		full[r.Span] = r.Full
		if n := len(list); n == 0 || list[n-1].Name != r.Name {
			list = append(list, Line{Name: r.Name, Cells: make([]capacity.Cell, len(s.Spans))})
		}
		l := &list[len(list)-1]
		l.Cells[r.Span] = r.Cell
		l.Total.Add(&r.Cell)
	}
	at := map[string]*capacity.Person{}
	if s.By == capacity.ByPerson {
		for i := range s.Staff.People {
			at[s.Staff.People[i].Code] = &s.Staff.People[i]
		}
	}
	for i := range list {
		list[i].Person = at[list[i].Name]
		for k := range list[i].Cells {
			list[i].Cells[k].Full = full[k]
		}
		for _, n := range full {
			list[i].Total.Full += n
		}
	}
	return list
}

// Names are some of the rows of a sheet.
type Names map[string]bool

// Of are the names whose hours projects want: the rows that a scope narrows a sheet to.
func (s *Sheet) Of(a *assess.Assessment, projects []*measure.Project) Names {
	in := map[int32]bool{}
	for _, p := range projects {
		in[int32(a.Index(p.Code))] = true
	}
	names := Names{}
	for i := range s.Staff.Assigned {
		if x := &s.Staff.Assigned[i]; in[x.Project] {
			names[s.Staff.RowOf(x, s.By)] = true
		}
	}
	return names
}
