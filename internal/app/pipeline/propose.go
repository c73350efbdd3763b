package pipeline

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"turret/internal/app/access"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/record"
)

// Idea is what somebody proposes.
type Idea struct {
	Name, Programme, Purpose, Category string
	Start, Finish                      calendar.Date
	Cost                               map[string]string // amounts by month, YYYY-MM, in the reporting currency
	CostCode                           string            // that the cost stands on
	Goals                              map[string]string // ratings by goal
	Statements                         map[string]string // by goal
}

// mostName and mostPurpose bound what is written to a proposal.
const (
	mostName    = 120
	mostPurpose = 4_000
)

func (x *Idea) check() error {
	switch {
	case strings.TrimSpace(x.Name) == "" || len(x.Name) > mostName:
		return fault.Field("name", fault.Clip(x.Name, 40), fmt.Sprintf("what it is called, in at most %d letters", mostName))
	case strings.TrimSpace(x.Purpose) == "" || len(x.Purpose) > mostPurpose:
		return fault.Field("purpose", fault.Clip(x.Purpose, 40), fmt.Sprintf("why it is wanted, in at most %d letters", mostPurpose))
	case x.Finish != 0 && x.Start != 0 && x.Finish < x.Start:
		return fault.Field("finish", x.Finish.String(), "a day on or after "+x.Start.String())
	case len(x.Cost) > 0 && x.CostCode == "":
		return fault.Field("cost_code", "", "what the cost stands on")
	}
	return nil
}

// Propose takes in what somebody proposes: whoever is signed in may. It is a project with status proposed from then on, led by them, and
// has
// the code that is returned.
func (o *Office) Propose(ctx context.Context, x *Idea, on calendar.Date) (code string, r *intake.Receipt, err error) {
	actor, err := access.Permit(ctx, access.Book)
	if err != nil {
		return "", nil, err
	}
	if err := x.check(); err != nil {
		return "", nil, err
	}
	m, err := o.store.Masters(ctx)
	if err != nil {
		return "", nil, err
	}
	code = nextCode(m)
	rows := map[record.Kind][]map[string]string{
		record.Projects: {{"code": code, "name": strings.TrimSpace(x.Name), "parent": x.Programme, "lead": actor.Name,
			"category":      x.Category,
			"planned_start": kept.DayText(x.Start), "planned_finish": kept.DayText(x.Finish), "status": "proposed"}},
		record.Proposals: {{"project": code, "asked_by": actor.Name, "asked_on": on.String(), "purpose": strings.TrimSpace(x.Purpose)}},
	}
	for month, amount := range x.Cost {
		rows[record.Budget] = append(rows[record.Budget], map[string]string{"project": code, "cost_code": x.CostCode, "amount": amount,
			"month": month})
	}
	for goal, rating := range x.Goals {
		if rating != "" {
			rows[record.Contributions] = append(rows[record.Contributions], map[string]string{"project": code, "goal": goal,
				"rating":    rating,
				"statement": x.Statements[goal]})
		}
	}
	files, err := o.files(m, code, rows)
	if err != nil {
		return "", nil, err
	}
	r, err = o.intake.Import(access.Lend(ctx), files, intake.Origin{Source: "proposal of " + actor.Name, Author: actor.Name})
	return code, r, err
}

// nextCode is the first code of proposals that nothing has.
func nextCode(m *kept.Masters) string {
	for n := 1; ; n++ {
		code := fmt.Sprintf("NEW-%02d", n)
		if m.Holder(code) == 0 {
			return code
		}
	}
}

// files are rows as files of their kinds, in an order that resolves.
func (o *Office) files(m *kept.Masters, name string, rows map[record.Kind][]map[string]string) ([]*kept.File, error) {
	var files []*kept.File
	for _, kind := range record.Kinds() {
		if len(rows[kind]) == 0 {
			continue
		}
		in := kind.InputWith(m.Own)
		var list [][]string
		for _, set := range rows[kind] {
			row := make([]string, len(in.Columns))
			for column, value := range set {
				row[in.At(column)] = value
			}
			list = append(list, row)
		}
		slices.SortFunc(list, func(x, y []string) int { return slices.Compare(x, y) })
		f, problems := o.reader.With(m.Own).Typed(kind, list)
		if len(problems) > 0 {
			return nil, fault.Field(problems[0].Column, problems[0].Value, problems[0].Expected)
		}
		f.Name, f.Recognised = kind.Title()+" "+name, "typed"
		f.Digest, f.Size = edit.DigestRows(list)
		files = append(files, f)
	}
	return files, nil
}
