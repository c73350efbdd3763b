// Package capacity sets the hours that people have against the hours that projects want of them.
//
// Hours of a day are ten-thousandths. Sums are kept without rounding in hundred-millionths of an hour (Unit), since a share of an hour
// given in hundredths of a percent comes to that exactly.
//
// # Invariants
//
// Tables by person, by role, by team and by cost centre of the same days add up to the same available, wanted and booked hours: what
// belongs to nobody stands in a row with an empty name. An absence lowers what is available and never what is wanted, so that a promise
// made for somebody who is away shows as a shortfall. Hours are told up to the as-of date where they were worked, and on all days where
// they are wanted.
//
// # Deviations from common practice
//
// A full-time equivalent is not a fixed number of hours a month but the hours that one person has on the organisation's working days of
// the same span, so that a short month is no overload. Percentages above 100 are allowed: they are what an overload is made of.
package capacity

import (
	"turret/internal/core/calendar"
	"turret/internal/core/fact"
)

// Unit is the number of parts of an hour in which sums are kept.
const Unit = 100_000_000

// dayUnit is the number of those parts in a ten-thousandth of an hour.
const dayUnit = 10_000

// Person is somebody whose hours are counted from the first day here to the last, both included; either may be 0 for no bound.
type Person struct {
	Code, Name, Role, Team, Centre string

	From, To calendar.Date
	Hours    fact.Int           // of a working day, in ten-thousandths; those of the organisation where none are given
	Target   fact.Int           // share of the hours meant for projects, in hundredths of a percent
	Calendar *calendar.Calendar // nil for that of the organisation
	Absences []Absence          // they may overlap; hours of a day add up
	Ref      fact.Ref
}

// Absence is when somebody is away: some hours of each working day, or all of them where none are given.
type Absence struct {
	From, To calendar.Date // both included
	Hours    fact.Int      // a day, in ten-thousandths
	Reason   string
	Ref      fact.Ref
}

// Assignment is a share of somebody's working days that a project wants, or of those of a role where nobody is named. Both ends belong to
// it. A percent of 0 wants nothing.
type Assignment struct {
	Person   int32  // index among the people; Nobody where only a role is wanted
	Role     string // where nobody is named
	Project  int32  // index of the project
	Activity string
	From, To calendar.Date // both included
	Percent  int64         // hundredths of a percent of a working day; it may exceed the whole
	Ref      fact.Ref
}

// Nobody is the person of an assignment that only names a role.
const Nobody = int32(-1)

// Booking are hours that somebody worked on a project, below zero where they take back what was booked. Bookings after the as-of date are
// not counted, those of days off are.
type Booking struct {
	Person   int32 // index among the people; Nobody where the person is not known
	Project  int32
	Date     calendar.Date
	Hours    int64 // ten-thousandths
	Billable bool  // to whoever pays for the project
}

// Env is what all are counted by: the hours of a working day of the organisation and its calendar, and the day up to which hours are known
// to be worked. The calendar must be given; Standard is above 0.
type Env struct {
	Standard int64 // ten-thousandths of an hour
	Calendar *calendar.Calendar
	AsOf     calendar.Date // hours worked count on and before it
}

// Staff is everything that hours are counted from. Assignments and bookings are those that count: of no cancelled project, and of
// proposals only where they are asked for.
type Staff struct {
	People   []Person
	Assigned []Assignment
	Booked   []Booking
}

// hours are those of a working day of a person.
func (e *Env) hours(p *Person) int64 {
	if p.Hours.Given {
		return p.Hours.N
	}
	return e.Standard
}

// calendarOf is the calendar that a person works by, the organisation's where they have none.
func (e *Env) calendarOf(p *Person) *calendar.Calendar {
	if p.Calendar != nil {
		return p.Calendar
	}
	return e.Calendar
}
