package kept

import (
	"turret/internal/core/calendar"
	"turret/internal/core/capacity"
	"turret/internal/core/fact"
	"turret/internal/core/money"
	"turret/internal/core/risk"
	"turret/internal/record"
)

// day is the day in a cell of the ith row; 0 for none.
func (f *File) day(i int, column string) calendar.Date {
	d, err := calendar.ParseDate(f.Cell(i, column))
	if err != nil {
		return 0
	}
	return d
}

func (f *File) ref(i int) fact.Ref { return fact.Ref{Load: f.Records[i].Load, Row: f.Records[i].Row} }

// Issue is the ith row of a register of issues.
func (f *File) Issue(i int) risk.Issue {
	return risk.Issue{Code: f.Cell(i, "code"), Title: f.Cell(i, "title"), Category: f.Cell(i, "category"),
		Description: f.Cell(i, "description"), Priority: risk.Priority(f.Cell(i, "priority")), Owner: f.Cell(i, "owner"),
		State:    risk.State(f.Cell(i, "state")),
		FromRisk: f.Cell(i, "from_risk"), Blocks: f.Cell(i, "blocks"), EscalatedTo: f.Cell(i, "escalated_to"),
		EscalatedWhy: f.Cell(i, "escalated_why"), Raised: f.day(i, "raised"), Due: f.day(i, "due"), Closed: f.day(i, "closed"),
		Ref: f.ref(i)}
}

// Action is the ith row of a list of actions.
func (f *File) Action(i int) risk.Action {
	x := risk.Action{Code: f.Cell(i, "code"), Title: f.Cell(i, "title"), Description: f.Cell(i, "description"),
		Priority: risk.Priority(f.Cell(i, "priority")), Owner: f.Cell(i, "owner"), State: risk.State(f.Cell(i, "state")),
		Source:  f.Cell(i, "source"),
		Meeting: f.Cell(i, "meeting"), Raised: f.day(i, "raised"), Due: f.day(i, "due"), DoneOn: f.day(i, "done_on"), Ref: f.ref(i)}
	if n, err := money.ParseDecimal(f.Cell(i, "percent_complete"), record.Percent.Places()); err == nil {
		x.Percent = fact.Some(n)
	}
	return x
}

// Step is the ith row of a checklist.
func (f *File) Step(i int) risk.Step {
	return risk.Step{Action: f.Cell(i, "action"), Text: f.Cell(i, "text"), Done: f.Cell(i, "done") == "yes", Ref: f.ref(i)}
}

// Decision is the ith row of a register of decisions.
func (f *File) Decision(i int) risk.Decision {
	return risk.Decision{Code: f.Cell(i, "code"), Title: f.Cell(i, "title"), Reason: f.Cell(i, "reason"), By: f.Cell(i, "decided_by"),
		Meeting: f.Cell(i, "meeting"), State: risk.State(f.Cell(i, "state")), On: f.day(i, "decided_on"), Ref: f.ref(i)}
}

// Meeting is the ith row of a list of meetings.
func (f *File) Meeting(i int) risk.Meeting {
	return risk.Meeting{Code: f.Cell(i, "code"), Title: f.Cell(i, "title"), People: f.Cell(i, "people"), Minutes: f.Cell(i, "minutes"),
		Date: f.day(i, "date"), Ref: f.ref(i)}
}

// Lesson is the ith row of a list of lessons.
func (f *File) Lesson(i int) risk.Lesson {
	return risk.Lesson{Code: f.Cell(i, "code"), Title: f.Cell(i, "title"), Text: f.Cell(i, "text"), Category: f.Cell(i, "category"),
		By: f.Cell(i, "raised_by"), Raised: f.day(i, "raised"), Ref: f.ref(i)}
}

// Absence is the ith row of a list of absences.
func (f *File) Absence(i int) capacity.Absence {
	x := capacity.Absence{From: f.day(i, "from"), To: f.day(i, "to"), Reason: f.Cell(i, "reason"), Ref: f.ref(i)}
	if n, err := money.ParseDecimal(f.Cell(i, "hours"), 4); err == nil {
		x.Hours = fact.Some(n)
	}
	return x
}

// Assignment is the ith row of a list of assignments, without its person.
func (f *File) Assignment(i int) capacity.Assignment {
	x := capacity.Assignment{Person: capacity.Nobody, Role: f.Cell(i, "role"), Activity: f.Cell(i, "activity"), From: f.day(i, "from"),
		To: f.day(i, "to"), Ref: f.ref(i)}
	x.Percent, _ = money.ParseDecimal(f.Cell(i, "percent"), record.Portion.Places())
	return x
}
