package pipeline

import (
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"
	"unicode/utf8"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// Ruling is what is decided of proposals together, such as at a meeting of a board.
type Ruling struct {
	Projects  []string // codes
	Decision  string   // accepted, put off or declined
	On        calendar.Date
	By        string
	Reason    string
	LookAgain calendar.Date // of what is put off
	Opens     bool          // what is accepted becomes an open project at once
	Template  string        // that its plan comes from; none where it is empty
	LayOut    bool          // its cost lies as the template has it
}

// mostReason bounds what is written to a decision.
const mostReason = 2_000

func (r *Ruling) check() error {
	switch {
	case len(r.Projects) == 0:
		return fault.Field("project", "", "at least one proposal")
	case !slices.Contains([]string{record.Accepted, record.PutOff, record.Declined}, r.Decision):
		return fault.Field("decision", fault.Clip(r.Decision, 40), "accepted, put off or declined")
	case r.On == 0:
		return fault.Field("decided_on", "", "the day of the decision")
	case strings.TrimSpace(r.By) == "":
		return fault.Field("decided_by", "", "who decided")
	case strings.TrimSpace(r.Reason) == "" || utf8.RuneCountInString(r.Reason) > mostReason:
		return fault.Field("reason", fault.Clip(r.Reason, 40), fmt.Sprintf("why, in at most %d letters", mostReason))
	case r.Decision == record.PutOff && r.LookAgain <= r.On:
		return fault.Field("look_again", r.LookAgain.String(), "the day to look again, after "+r.On.String())
	case r.Template != "" && (!r.Opens || r.Decision != record.Accepted):
		return fault.Field("template", fault.Clip(r.Template, 40), "nothing, unless what is accepted is an open project at once")
	case r.LayOut && r.Template == "":
		return fault.Field("template", "", "one, where the cost is to lie as it has it")
	case r.Decision != record.PutOff && r.LookAgain != 0:
		return fault.Field("look_again", r.LookAgain.String(), "nothing, unless it is put off")
	}
	return nil
}

// Decide writes down what was decided, of all proposals or of none. Earlier decisions stay as revisions. What is accepted and opens is a
// project from then on, with all that it was proposed with.
func (o *Office) Decide(ctx context.Context, a *assess.Assessment, r Ruling) (*intake.Receipt, error) {
	if _, err := access.Permit(ctx, access.Judge); err != nil {
		return nil, err
	}
	if err := r.check(); err != nil {
		return nil, err
	}
	set := map[string]string{"decision": r.Decision, "decided_on": r.On.String(), "decided_by": strings.TrimSpace(r.By),
		"reason": strings.TrimSpace(r.Reason), "look_again": ""}
	if r.LookAgain != 0 {
		set["look_again"] = r.LookAgain.String()
	}
	category, err := o.categoryOf(ctx, a, r.Template)
	if err != nil {
		return nil, err
	}
	var tables []edit.TableEdit
	for _, code := range r.Projects {
		p, err := a.Project(code)
		if err != nil {
			return nil, err
		}
		if p.Status != measure.Proposed {
			return nil, fault.Conflict("%s is %s, and no proposal any more. Nothing was decided", code, p.Status)
		}
		now := maps.Clone(set)
		if r.Template != "" {
			now["template"] = r.Template
		}
		t, err := o.changed(ctx, record.Proposals, code, func([]string) bool { return true }, now)
		if err != nil {
			return nil, err
		}
		tables = append(tables, *t)
		if r.Opens && r.Decision == record.Accepted {
			t, err := o.changed(ctx, record.Projects, code, func(row []string) bool {
				return row[record.Projects.Input().At("code")] == code
			}, opened(p, category))
			if err != nil {
				return nil, err
			}
			tables = append(tables, *t)
			more, err := o.planned(ctx, a, code, r.Template, r.LayOut)
			if err != nil {
				return nil, err
			}
			tables = append(tables, more...)
		}
	}
	receipt, err := o.edit.SaveTables(ctx, r.Projects[0], tables, edit.SaveAs{Reason: r.Decision + ": " + fault.Clip(set["reason"], 120)})
	if err == nil && r.Opens && r.Template != "" {
		if wrong := o.begun(ctx, a, r.Template, r.Projects); wrong != nil {
			err = fault.Conflict("What was decided stands. What the template sets besides its plan could not be set: %s", wrong)
		}
	}
	return receipt, err
}

// opened are the cells of a project that a proposal becomes: with the category of its template, where it has none, so that it goes through
// the same stages.
func opened(p *measure.Project, category string) map[string]string {
	cells := map[string]string{"status": "open"}
	if p.Category == "" && category != "" {
		cells["category"] = category
	}
	return cells
}

// categoryOf is the category that a template passes on.
func (o *Office) categoryOf(ctx context.Context, a *assess.Assessment, template string) (string, error) {
	if template == "" {
		return "", nil
	}
	t, p, err := o.source(ctx, a, template)
	switch {
	case err != nil:
		return "", err
	case t != nil:
		return t.Category, nil
	}
	return p.Category, nil
}

// changed sets cells in the row of a table that which picks; where there is none, a row is added.
func (o *Office) changed(ctx context.Context, kind record.Kind, project string, which func([]string) bool,
	set map[string]string) (*edit.TableEdit, error) {
	g, err := edit.GridOf(ctx, o.store, kind, project)
	if err != nil {
		return nil, err
	}
	var e intake.Edited
	row := make([]string, len(g.Input.Columns))
	if at := slices.IndexFunc(g.Rows, which); at >= 0 {
		e.Old = g.Rows[at]
		row = slices.Clone(e.Old)
	} else if at := g.Input.At("project"); at >= 0 {
		row[at] = project
	}
	for name, value := range set {
		row[g.Input.At(name)] = value
	}
	e.New = row
	return &edit.TableEdit{Kind: kind, Holder: project, Edits: []intake.Edited{e}}, nil
}

// Rate sets ratings of projects in a model, as decimals by project and criterion; an empty one takes a rating back. All are taken or none.
func (o *Office) Rate(ctx context.Context, model string, by map[string]map[string]string, reason string) (*intake.Receipt, error) {
	if _, err := access.Permit(ctx, access.Judge); err != nil {
		return nil, err
	}
	var tables []edit.TableEdit
	codes := make([]string, 0, len(by))
	for code := range by {
		codes = append(codes, code)
	}
	slices.Sort(codes)
	for _, code := range codes {
		g, err := edit.GridOf(ctx, o.store, record.Ratings, code)
		if err != nil {
			return nil, err
		}
		if edits := rated(g, code, model, by[code]); len(edits) > 0 {
			tables = append(tables, edit.TableEdit{Kind: record.Ratings, Holder: code, Edits: edits})
		}
	}
	if len(tables) == 0 {
		return &intake.Receipt{}, nil
	}
	return o.edit.SaveTables(ctx, tables[0].Holder, tables, edit.SaveAs{Reason: reason})
}

// rated are the rows of ratings that change.
func rated(g *edit.Grid, project, model string, ratings map[string]string) (edits []intake.Edited) {
	in := g.Input
	names := make([]string, 0, len(ratings))
	for criterion := range ratings {
		names = append(names, criterion)
	}
	slices.Sort(names)
	for _, criterion := range names {
		value := strings.TrimSpace(ratings[criterion])
		at := slices.IndexFunc(g.Rows, func(row []string) bool {
			return row[in.At("model")] == model && row[in.At("criterion")] == criterion
		})
		switch {
		case at < 0 && value == "", at >= 0 && g.Rows[at][in.At("rating")] == value:
		case at >= 0 && value == "":
			edits = append(edits, intake.Edited{Old: g.Rows[at]})
		default:
			row := make([]string, len(in.Columns))
			row[in.At("project")], row[in.At("model")], row[in.At("criterion")], row[in.At("rating")] = project, model, criterion, value
			e := intake.Edited{New: row}
			if at >= 0 {
				e.Old = g.Rows[at]
			}
			edits = append(edits, e)
		}
	}
	return edits
}
