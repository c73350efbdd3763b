package pipeline

import (
	"fmt"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/app/setting"
	"turret/internal/core/calendar"
	"turret/internal/record"
)

// Idea is what somebody proposes. Lines of which nothing is written are left out.
type Idea struct {
	Name, Programme, Purpose, Category string
	Start, Finish                      calendar.Date
	Cost                               map[string]string // amounts by month, YYYY-MM, in the reporting currency
	CostCode                           string            // that the cost stands on
	Goals                              map[string]string // ratings by goal
	Statements                         map[string]string // by goal
	People                             []Wish
	Benefits                           []Gain
	Risks                              []Doubt
	Needs                              []string          // codes of projects and proposals without which it cannot be
	Own                                map[string]string // by columns of projects, own.KEY
}

// Wish is somebody who is needed.
type Wish struct{ Role, From, To, Percent string }

// Gain is what it would bring, as amounts by month in the reporting currency.
type Gain struct {
	Name string
	By   map[string]string
}

// Doubt is what may happen. Likelihood and consequence are 1 to 5.
type Doubt struct{ Title, Likelihood, Consequence, Response string }

// mostName and mostPurpose bound what is written to a proposal.
const (
	mostName    = 120
	mostPurpose = 4_000
)

// check refuses an idea that lacks what the form asks for, or holds what cannot be.
func (x *Idea) check(parts []setting.FormPart) error {
	switch {
	case strings.TrimSpace(x.Name) == "" || utf8.RuneCountInString(x.Name) > mostName:
		return fault.Field("name", fault.Clip(x.Name, 40), fmt.Sprintf("what it is called, in at most %d letters", mostName))
	case strings.TrimSpace(x.Purpose) == "" || utf8.RuneCountInString(x.Purpose) > mostPurpose:
		return fault.Field("purpose", fault.Clip(x.Purpose, 40), fmt.Sprintf("why it is wanted, in at most %d letters", mostPurpose))
	case x.Finish != 0 && x.Start != 0 && x.Finish < x.Start:
		return fault.Field("finish", x.Finish.String(), "a day on or after "+x.Start.String())
	case len(x.Cost) > 0 && x.CostCode == "":
		return fault.Field("cost code", "", "what the cost stands on")
	}
	for _, p := range parts {
		if p.Required && !x.has(p.Part) {
			return fault.Field(p.Part, "", "something: the form asks for it")
		}
	}
	return nil
}

// has tells whether something is written to a part of the form.
func (x *Idea) has(part string) bool {
	switch part {
	case setting.PartCategory:
		return x.Category != ""
	case setting.PartDates:
		return x.Start != 0 && x.Finish != 0
	case setting.PartCost:
		return len(x.Cost) > 0
	case setting.PartGoals:
		for _, rating := range x.Goals {
			if rating != "" {
				return true
			}
		}
		return false
	case setting.PartPeople:
		return slices.ContainsFunc(x.People, func(w Wish) bool { return w != Wish{} })
	case setting.PartBenefits:
		return slices.ContainsFunc(x.Benefits, func(g Gain) bool { return len(g.By) > 0 })
	case setting.PartRisks:
		return slices.ContainsFunc(x.Risks, func(d Doubt) bool { return d != Doubt{} })
	case setting.PartNeeds:
		return len(x.Needs) > 0
	}
	return x.Own[part] != ""
}

// rows are the records of an idea by their kinds.
func (x *Idea) rows(code, who, on string) map[record.Kind][]map[string]string {
	master := map[string]string{"code": code, "name": strings.TrimSpace(x.Name), "parent": x.Programme, "lead": who,
		"category": x.Category, "planned_start": kept.DayText(x.Start), "planned_finish": kept.DayText(x.Finish), "status": "proposed"}
	for column, value := range x.Own {
		master[column] = value
	}
	rows := map[record.Kind][]map[string]string{
		record.Projects:  {master},
		record.Proposals: {{"project": code, "asked_by": who, "asked_on": on, "purpose": strings.TrimSpace(x.Purpose)}},
	}
	add := func(kind record.Kind, cells map[string]string) {
		cells["project"] = code
		rows[kind] = append(rows[kind], cells)
	}
	for month, amount := range x.Cost {
		add(record.Budget, map[string]string{"cost_code": x.CostCode, "amount": amount, "month": month})
	}
	for goal, rating := range x.Goals {
		if rating != "" {
			add(record.Contributions, map[string]string{"goal": goal, "rating": rating, "statement": x.Statements[goal]})
		}
	}
	for _, w := range x.People {
		if w != (Wish{}) {
			add(record.Assignments, map[string]string{"role": w.Role, "from": w.From, "to": w.To, "percent": w.Percent})
		}
	}
	for i, g := range x.Benefits {
		for month, amount := range g.By {
			add(record.Benefits, map[string]string{"code": "V" + strconv.Itoa(i+1), "name": g.Name, "month": month, "planned": amount,
				"owner": who})
		}
	}
	for i, d := range x.Risks {
		if d != (Doubt{}) {
			add(record.Risks, map[string]string{"code": "R" + strconv.Itoa(i+1), "title": d.Title, "likelihood": d.Likelihood,
				"consequence": d.Consequence, "response": d.Response, "owner": who, "raised": on, "state": "open"})
		}
	}
	for _, other := range x.Needs {
		add(record.Requirements, map[string]string{"kind": record.Needs, "other": other})
	}
	return rows
}
