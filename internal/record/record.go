// Package record describes the kinds of input, one descriptor for each: its columns and what stands in them, by what a row is known again,
// who owns it, how a new file stands to an earlier one, and what is wrong with a row. Reading, mapping, editing, templates, export, store,
// access and documentation all go by it; a new kind is its descriptor here, a table of its name, and what is computed from it.
package record

import (
	"cmp"
	"slices"
)

// Kind is a kind of input.
type Kind string

// The kinds.
const (
	Structure  Kind = "structure"
	Calendars  Kind = "calendars"
	CostCodes  Kind = "cost_codes"
	Rates      Kind = "rates"
	Projects   Kind = "projects"
	Activities Kind = "activities"
	Links      Kind = "links"
	Budget     Kind = "budget"
	Forecast   Kind = "forecast"
	Actuals    Kind = "actuals"
	Statuses   Kind = "status"

	Commitments Kind = "commitments"
	Changes     Kind = "changes"
	Funding     Kind = "funding"
	Revenue     Kind = "revenue"
	People      Kind = "people"
	LabourRates Kind = "labour_rates"
	Timesheets  Kind = "timesheets"
	Allocations Kind = "allocations"

	Risks       Kind = "risks"
	Issues      Kind = "issues"
	Actions     Kind = "actions"
	Backlog     Kind = "backlog"
	Benefits    Kind = "benefits"
	Assignments Kind = "assignments"
	Absences    Kind = "absences"

	OwnFields Kind = "own_fields"
	Contacts  Kind = "contacts"
	Documents Kind = "documents"

	Checklist Kind = "checklist"
	Meetings  Kind = "meetings"
	Decisions Kind = "decisions"
	Lessons   Kind = "lessons"

	ReadyRisks  Kind = "ready_risks"
	Discussion  Kind = "discussion"
	Outside     Kind = "outside_records"
	Attachments Kind = "attachments"

	Proposals     Kind = "proposals"
	Goals         Kind = "goals"
	Contributions Kind = "contributions"
	Criteria      Kind = "criteria"
	Ratings       Kind = "ratings"
	Requirements  Kind = "requirements"

	Iterations Kind = "iterations"

	Stages    Kind = "stages"
	GateNeeds Kind = "gate_needs"
	Gates     Kind = "gates"
)

// inputs are the descriptors, in an order in which each refers only to those before it.
var inputs = []*Input{structure, calendars, costCodes, rates, ownFields, projects, activities, links, budget, forecast, actuals, statuses,
	commitments, changes, funding, revenue, people, labourRates, timesheets, allocations,
	risks, issues, meetings, decisions, actions, checklist, lessons, iterations, backlog, benefits, assignments, absences, contacts,
	documents, readyRisks, discussion, outside, attachments,
	goals, criteria, proposals, contributions, ratings, requirements,
	stages, gateNeeds, gates}

// Owner says whose rows of a kind are.
type Owner uint8

// Owners. A row of a project has a column project, except the project's own.
const (
	OfNobody Owner = iota
	OfProject
	OfNode
	OfPerson
)

// Rows says what a new file does to what came before.
type Rows uint8

// Merged rows take the place of those of the same key; Revised ones of all those of their project; Added ones come to those there.
const (
	Merged Rows = iota
	Revised
	Added
)

// Input describes a kind of input as files hold it.
type Input struct {
	Kind    Kind
	Title   string // in words
	Says    string // what it is, in a sentence
	Columns []Column
	Key     []string // the columns by which a row is known again
	Owner   Owner
	Nodes   bool // rows may belong to a node in place of a project
	Rows    Rows
	Money   bool   // rows tell of costs
	Typed   bool   // read and kept by a row type of its own
	Sent    bool   // projects send it period by period
	Front   int    // among tables to edit those with more stand first
	Sample  string // a few rows that fit those of the other kinds: cells parted by |

	Check    func(Row, Fail)                                              // of each row, nil for none
	CheckAll func([]Row, func(row int32, column, value, expected string)) // of all rows of a file together, nil for none

	at map[string]int // columns by name
}

var byKind = func() map[Kind]*Input {
	all := map[Kind]*Input{}
	for _, in := range inputs {
		all[in.Kind] = in
		in.at = map[string]int{}
		for i, c := range in.Columns {
			in.at[c.Name] = i
		}
	}
	return all
}()

// Kinds lists every kind, each before those that refer to it.
func Kinds() []Kind {
	list := make([]Kind, len(inputs))
	for i, in := range inputs {
		list[i] = in.Kind
	}
	return list
}

// MatrixKinds are the inputs that projects send period by period.
func MatrixKinds() []Kind {
	return slices.DeleteFunc(Kinds(), func(k Kind) bool { return !k.Input().Sent })
}

// Tables lists the kinds whose rows are edited as they stand, in the order in which they are offered. Rows that are added are not.
func Tables() []Kind {
	list := slices.DeleteFunc(Kinds(), Kind.Adds)
	slices.SortStableFunc(list, func(a, b Kind) int { return cmp.Compare(b.Input().Front, a.Input().Front) })
	return list
}

// Input describes the kind; nil for what is none.
func (k Kind) Input() *Input { return byKind[k] }

// Title is the kind in words.
func (k Kind) Title() string {
	if in := byKind[k]; in != nil {
		return in.Title
	}
	return string(k)
}

// IsRecord reports whether rows of the kind are kept as records, by the columns of its description.
func (k Kind) IsRecord() bool { return k.Input() != nil && !k.Input().Typed }

// IsCost reports whether rows of the kind tell of costs.
func (k Kind) IsCost() bool { return k.Input() != nil && k.Input().Money }

// IsRevision reports whether a load of the kind makes a revision of each project in it.
func (k Kind) IsRevision() bool { return k.Input() != nil && k.Input().Rows == Revised }

// Adds reports whether rows of the kind are added to those there, where others take the place of theirs.
func (k Kind) Adds() bool { return k.Input() != nil && k.Input().Rows == Added }

// OfProject reports whether rows of the kind are owned by projects, those of the projects themselves included.
func (k Kind) OfProject() bool { return k.Input() != nil && k.Input().Owner == OfProject }

// OfNodes reports whether rows of the kind may belong to a portfolio or programme in place of a project.
func (k Kind) OfNodes() bool { return k.Input() != nil && k.Input().Nodes }

// PerProject reports whether rows of the kind are kept by project, each of which may have many.
func (k Kind) PerProject() bool { return k.Adds() || k.IsRevision() }

// Column finds a column by its name.
func (in *Input) Column(name string) (Column, bool) {
	i, ok := in.at[name]
	if !ok {
		return Column{}, false
	}
	return in.Columns[i], true
}

// At is the place of a column among those of the kind; -1 where it has none of that name.
func (in *Input) At(name string) int {
	if i, ok := in.at[name]; ok {
		return i
	}
	return -1
}

// Required lists the columns that a file must have.
func (in *Input) Required() []string {
	var names []string
	for _, c := range in.Columns {
		if c.Required {
			names = append(names, c.Name)
		}
	}
	return names
}
