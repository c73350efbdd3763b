package kept

import (
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/health"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
	"turret/internal/record"
)

// File is one input file as read: rows of its kind that are well formed by themselves, not yet held against the others.
type File struct {
	Name       string
	Kind       record.Kind
	Digest     string // SHA-256, hexadecimal
	Size       int64
	Rows       int
	Recognised string   // the dialect found, in words
	Ignored    []string // heads of columns that the kind does not have
	Round      bool     // amounts are rounded to what their currency has
	Remarks    []Remark // what is worth knowing of how it was read

	// Own are the columns that the office made for projects; they stand behind those of everybody. Only files of projects have them.
	Own []record.Column

	Nodes      []NodeRow
	Projects   []ProjectRow
	Calendars  []CalendarRow
	Activities []ActivityRow
	Links      []LinkRow
	CostCodes  []CostCodeRow
	Lines      []LineRow
	Postings   []PostingRow
	Statuses   []StatusRow
	Rates      []RateRow
	Records    []RecordRow
}

// Remark is something worth knowing of how a file was read.
type Remark struct {
	Row  int32 // 0 for the file as a whole
	Says string
	Odd  bool // it may be a mistake
}

// RecordRow is a row of a kind without a type of its own: its cells as files hold them, in the order of the kind's columns, well
// formed by themselves.
type RecordRow struct {
	Row   int32
	Load  int64 // that brought it; 0 where it is not taken in yet
	Cells []string
}

// NodeRow is a portfolio or programme.
type NodeRow struct {
	Row                              int32
	Code, Name, Level, Parent, Owner string
}

// ProjectRow is a project.
type ProjectRow struct {
	Row                                         int32
	Code, Name, Parent, Lead, Sponsor, Category string
	Stage, BusinessUnit, Status                 string
	// Own is what stands in fields of the office's own, by their codes. Of a file that was read, one that is empty is to be emptied and
	// one that is not there keeps what stands.
	Own                                         map[string]string
	Currency                                    money.Currency
	PlannedStart, PlannedFinish, RequiredFinish calendar.Date
	Driven, EarnedValue                         bool
	Labour                                      cost.Way
}

// EmptyOwn empties the fields of the office's own in columns of these names.
func (p *ProjectRow) EmptyOwn(columns []string) {
	for _, name := range columns {
		key, ok := record.Column{Name: name}.Own()
		if !ok {
			continue
		}
		if p.Own == nil {
			p.Own = map[string]string{}
		}
		p.Own[key] = ""
	}
}

// CalendarRow is one weekday (from 0 for Monday) or one dated exception of a calendar.
type CalendarRow struct {
	Row      int32
	Calendar string
	Date     calendar.Date
	Weekday  fact.Int
	Working  bool
	Name     string
}

// ActivityRow is an activity; its Activity lacks the calendar, which is named, and the reference.
type ActivityRow struct {
	Row               int32
	Project, Calendar string
	Activity          schedule.Activity
	Weight            fact.Int // ten-thousandths
	EVMethod          string
	NotBefore         calendar.Date
	NotAfter          calendar.Date
	Low, Likely, High fact.Int // working days remaining
}

// LinkRow is a dependency; FromProject and ToProject are empty where they are Project.
type LinkRow struct {
	Row                    int32
	Project, From, To      string
	Type                   string
	Lag                    int64 // working days
	FromProject, ToProject string
}

// CostCodeRow is a cost code.
type CostCodeRow struct {
	Row                      int32
	Code, Name, Parent, Type string
	Closed, Contingency      bool
	Labour                   bool
}

// LineRow is a budget or forecast line. Units are ten-thousandths of the major unit, as the currency may still be open.
type LineRow struct {
	Row                  int32
	Part                 int32 // of the row, where a row has a column for each month
	Project, CostCode    string
	Units                int64
	Amount               money.Amount // set when the currency is settled
	Month                calendar.Month
	From, To             calendar.Date
	Profile              uint8 // cost.Profile
	Currency             money.Currency
	Centre, Change, Note string
	Activity             string
}

// PostingRow is an actual cost.
type PostingRow struct {
	Row                              int32
	Project, CostCode                string
	Date                             calendar.Date
	Units                            int64
	Amount                           money.Amount // set when the currency is settled
	Currency                         money.Currency
	Centre, Document, Supplier, Note string
	Activity                         string
}

// StatusRow is what a lead declared.
type StatusRow struct {
	Row        int32
	Project    string
	Overall    health.Status
	By         [5]health.Status
	Percent    fact.Int // hundredths of a percent
	Commentary string
}

// RateRow is an exchange rate.
type RateRow struct {
	Row      int32
	Currency money.Currency
	Month    calendar.Month
	Plan     bool
	Rate     money.Rate
}

// Cell is the cell of the ith row by the name of its column; empty where the kind has none of that name.
func (f *File) Cell(i int, column string) string {
	at := f.Input().At(column)
	if at < 0 {
		return ""
	}
	return f.Cells(i)[at]
}

// Person is one who works here.
type Person struct {
	Code, Name, Role, Team, Centre string
	Calendar                       string // its name; empty for that of the organisation
	From, To                       calendar.Date
	HoursPerDay, Target            fact.Int // ten-thousandths of an hour, hundredths of a percent
	Ref                            fact.Ref
}

// Allocation is what a portfolio or programme has been given for a year, from above.
type Allocation struct {
	Node     string
	Year     int
	Amount   money.Amount
	Currency money.Currency
	Note     string
	Ref      fact.Ref
}

// ZeroAt reports whether the row at an index is of an amount of nothing.
func (f *File) ZeroAt(i int) bool {
	switch {
	case len(f.Lines) > 0:
		return f.Lines[i].Units == 0 && f.Lines[i].Amount == 0
	case len(f.Postings) > 0:
		return f.Postings[i].Units == 0 && f.Postings[i].Amount == 0
	}
	return false
}
