package check

import (
	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/write"
)

// Staffing is what checks need of who works on a project. People are told by their codes: findings are read by those, too, who are not
// shown
// their names.
type Staffing struct {
	Assigned []Assigned
	Named    []Loaded // the people assigned by name, each once
}

// Assigned is a promise of somebody's days.
type Assigned struct {
	Who      string        // code of the person; empty for a role
	Unknown  bool          // nobody has the code
	To       calendar.Date // its last day
	From     calendar.Date
	Here     calendar.Date // the first day of the person here; 0 for always
	Gone     calendar.Date // the last one; 0 for none
	Ref      fact.Ref
	Activity string
}

// Loaded is for how long somebody is overloaded from the as-of date on, all projects together.
type Loaded struct {
	Who   string        // code
	Weeks int           // in a row, the longest run that this project has a part in
	First calendar.Date // its first day
	Ref   fact.Ref      // of an assignment in it
}

// staffingRules are about who works on a project. All are warnings.
func staffingRules() []Rule {
	list := []Rule{
		{ID: "assigned_gone", Name: "Assigned while not here", Records: "assignments by name", run: assignedGone,
			Says: "Somebody is assigned before the first or after the last day here.", Mend: "Name somebody else, or end it in time."},
		{ID: "assigned_nobody", Name: "Assigned without a person", Records: "assignments", run: assignedNobody,
			Says: "An assignment names a person who is not in the register of people any more.", Mend: "Name somebody who is, or a role."},
		{ID: "overload", Name: "Overloaded for weeks", Records: "people assigned", run: overload, Limit: &Limit{"weeks in a row", 3,
			false},
			Says: "Somebody of the project is wanted for more hours than are there, for the limit of weeks or longer, by all projects " +
				"together.", Mend: "Look under People for who could take some of it."},
		{ID: "hours_closed", Name: "Hours on a closed project", Records: "closed projects", run: hoursClosed, on: closed,
			Says: "Hours are booked on a project after it has finished and was closed.", Mend: "Book them on an open project."},
	}
	for i := range list {
		list[i].Severity = Warning
	}
	return list
}

// assignedGone tests assignments that name somebody who is known; one that begins too early and ends too late is told by its end.
func assignedGone(in *In, t *Tally) {
	for i := range in.Staffing.Assigned {
		x := &in.Staffing.Assigned[i]
		if x.Who == "" || x.Unknown {
			continue
		}
		t.test(1)
		switch {
		case x.Gone != 0 && x.To > x.Gone:
			t.fail("assignments", x.Who+" "+x.From.String(), "to", x.Ref, "%s is assigned until %s and leaves on %s", x.Who, x.To.Human(),
				x.Gone.Human())
		case x.Here != 0 && x.From < x.Here:
			t.fail("assignments", x.Who+" "+x.From.String(), "from", x.Ref, "%s is assigned from %s and comes on %s", x.Who,
				x.From.Human(),
				x.Here.Human())
		}
	}
}

// assignedNobody tests every assignment; one of a role alone passes.
func assignedNobody(in *In, t *Tally) {
	for i := range in.Staffing.Assigned {
		x := &in.Staffing.Assigned[i]
		t.test(1)
		if x.Unknown {
			t.fail("assignments", x.Who+" "+x.From.String(), "person", x.Ref, "%s is in no register of people", x.Who)
		}
	}
}

// overload tests each person named once, and fails from the limit of weeks on.
func overload(in *In, t *Tally) {
	limit := in.limit("overload")
	for i := range in.Staffing.Named {
		x := &in.Staffing.Named[i]
		t.test(1)
		if x.Weeks > 0 && float64(x.Weeks) >= limit {
			t.fail("assignments", x.Who, "percent", x.Ref, "%s is overloaded for %d weeks from %s on", x.Who, x.Weeks, x.First.Human())
		}
	}
}

// hoursClosed is of closed projects alone.
func hoursClosed(in *In, t *Tally) {
	x := &in.Ledger.Late
	t.test(1)
	if x.Rows > 0 {
		t.fail("timesheets", "", "project", x.Ref, "%s booked on a closed project after its finish, the last on %s",
			write.Count(x.Rows, "row of hours", "rows of hours"), x.Last.Human())
	}
}
