// Package plan holds the pages of the plan of a project and its versions.
package plan

import (
	"embed"
	"encoding/json"
	"errors"
	"fmt"
	"html/template"
	"maps"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/plan"
	"turret/internal/chart"
	"turret/internal/core/breakdown"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
	"turret/internal/core/write"
	"turret/internal/record"
	"turret/internal/web/page"
	"turret/internal/web/timeline"
)

//go:embed templates/*.html
var templates embed.FS

// pages are those of one server.
type pages struct{ *page.Server }

// Routes adds the addresses of the plan of a project and its versions.
func Routes(base *page.Server) {
	s := &pages{base}
	s.Show(templates)
	s.App.Get("/projects/:code/plan", s.plan)
	s.App.Post("/projects/:code/plan/answer", s.planAnswer)
	s.App.Post("/projects/:code/plan", s.savePlan)
	s.App.Get("/projects/:code/versions", s.versions)
	s.App.Post("/projects/:code/baseline", s.setBaseline)
}

type planPage struct {
	Page     page.Page
	Title    string
	Code     string
	Driven   bool
	Headline []page.Spoken
	Others   []page.Link
	Static   template.HTML
	Data     string
	Columns  []planColumn
	Rows     [][]planCell
	May      bool
	Empty    string
}

type planColumn struct{ Name, Head, Says string }

type planCell struct {
	Field, Value, Kind string
	Choices            []string
	Fixed              bool
}

// planFields are the columns of the plan's table, the code first.
var planFields = []planColumn{{"code", "Code", ""}, {"name", "Name", ""},
	{"predecessors", "Waits for", "P2.1, P2.2 SS +3, X-01/M4 −2: the activity before, of another project behind its code and a " +
		"stroke; then FS, SS, FF or SF (FS where none stands) and the lag in working days"},
	{"start", "Start", "as expected"}, {"finish", "Finish", "as expected"},
	{"duration", "Days", "working days"}, {"remaining", "Remaining", "working days left"}, {"percent_complete", "%", "complete"},
	{"actual_start", "Actual start", ""},
	{"actual_finish", "Actual finish", ""}, {"not_before", "Not before", "earliest start"}, {"not_after", "Not after", "latest finish"}}

// moneyFields are the columns that only tell, where amounts name activities.
var moneyFields = []planColumn{{"money_bac", "Budget", "of it and what is below it"}, {"money_eac", "Estimate", "at completion"},
	{"money_cpi", "Cost index", "what is earned over what is spent"}}

// accounts is the money of a project's activities by their codes, each a text by column; empty where no amount names one, or where costs
// are kept from the reader.
func (s *pages) accounts(r *page.Request, project string) (map[string]map[string]string, error) {
	if r.Figures.NoMoney {
		return nil, nil
	}
	m, err := s.Office.Money.Accounts(r.Ctx.Context(), r.Figures, project)
	if err != nil {
		return nil, err
	}
	by := map[string]map[string]string{}
	for i := range m.List {
		if a := &m.List[i]; a.Activity != nil {
			by[a.Code] = map[string]string{"money_bac": short(r, a, measure.BAC), "money_eac": short(r, a, measure.EAC),
				"money_cpi": short(r, a,
					measure.CPI)}
		}
	}
	return by, nil
}

func short(r *page.Request, a *breakdown.Account, key measure.Key) string {
	d := measure.Of(key)
	v := a.All.Value(key)
	if v.Known && d.Unit == measure.Money {
		return v.Amount().Short(r.Figures.Env.Currency)
	}
	return v.Human(d.Unit, r.Figures.Env.Currency)
}

func (s *pages) plan(c fiber.Ctx) error {
	r, p, err := s.OfProject(c)
	if err != nil {
		return err
	}
	v := planPage{Page: r.Page("Plan of "+p.Code+" "+p.Name, "Timeline"), Title: p.Name, Code: p.Code, Driven: p.Driven,
		Others: []page.Link{
			{Text: "Versions and baselines", Href: r.To(page.ProjectPath(p.Code) + "/versions")}}}
	r.Of(&v.Page, p, page.PlanTab)
	v.Headline = planSentence(r, p)
	kinds, err := s.Office.Edit.Editable(c.Context(), p.Code)
	if err != nil {
		return err
	}
	v.May = r.Figures.Closed == nil && slices.Contains(kinds, record.Activities) && slices.Contains(kinds, record.Links)
	if len(p.Activities) == 0 {
		v.Empty = "This project has no schedule yet. It comes with the file activities, or is begun in the table."
	}
	rows := chart.ActivityRows(r.Figures.Env, p.Activities[:min(len(p.Activities), 200)], func(i int) bool { return critical(r, p, i) },
		nil, chart.BlockedBy(p.Activities, p.Issues, r.AsOf))
	// the scene escapes texts
	v.Static = template.HTML(chart.Timeline("Plan of "+p.Name, rows, nil, chart.TimelineOptions{W: page.StripWidth, Names: 260,
		AsOf:     r.AsOf,
		Calendar: r.Figures.Env.Calendar}).SVG())
	v.Data = page.ProjectPath(p.Code) + "/plan/answer"
	v.Columns = planFields
	money, err := s.accounts(r, p.Code)
	if err != nil {
		return err
	}
	if len(money) > 0 {
		v.Columns = append(slices.Clone(planFields), moneyFields...)
		v.Others = append(v.Others, page.Link{Text: "Money by activity", Href: r.To(page.ProjectPath(p.Code) + "/money/activities")})
	}
	return r.Answer("plan", &v.Page, &v)
}

func critical(r *page.Request, p *measure.Project, i int) bool {
	return i < len(p.Logic.Times) && p.Logic.Times[i].Critical && !p.Logic.Times[i].Finished
}

func planSentence(r *page.Request, p *measure.Project) []page.Spoken {
	if p.Outlook.Counted == 0 {
		return []page.Spoken{{Text: p.Name + " has no schedule yet."}}
	}
	trace := func(key measure.Key, text string) page.Spoken {
		return page.Spoken{Text: text, Href: r.Project(p.Code, "trace", key.String()), Trace: key}
	}
	list := []page.Spoken{{Text: p.Name + " ends on "}, trace(measure.ExpectedFinish, p.Value(measure.ExpectedFinish).Human(measure.Day,
		""))}
	if v := p.Value(measure.FinishDeviation); v.Known {
		list = append(list, page.Spoken{Text: ", "}, trace(measure.FinishDeviation, schedule.Lateness(v.N)))
	}
	if v := p.Value(measure.ComputedFinish); v.Known && v.N != p.Value(measure.ExpectedFinish).N {
		list = append(list, page.Spoken{Text: "; its links make it "}, trace(measure.ComputedFinish, v.Human(measure.Day, "")))
	}
	if p.Driven {
		list = append(list, page.Spoken{Text: ". Its dates follow its links"})
	}
	return append(list, page.Spoken{Text: "."})
}

// planRequest is what the page sends: what was done so far.
type planRequest struct {
	Ops    []plan.Op `json:"ops"`
	Reason string    `json:"reason"`
	Base   plan.Base `json:"base"`
	Carry  bool      `json:"carry"`
}

// planResponse is the plan as it would be, and what it moves.
type planResponse struct {
	Rows     timeline.RowsJSON   `json:"rows"`
	Table    []map[string]string `json:"table"`
	Shifts   []shiftJSON         `json:"shifts"`
	Sentence string              `json:"sentence"`
	Days     timeline.Data       `json:"days"`
	Base     plan.Base           `json:"base"`
	To       string              `json:"to,omitempty"`
}

type shiftJSON struct {
	Project string `json:"project"`
	Code    string `json:"code"`
	Name    string `json:"name"`
	From    string `json:"from"`
	To      string `json:"to"`
	Days    int    `json:"days"`
	Own     bool   `json:"own"`
	Event   bool   `json:"event"`
	Through string `json:"through"`
}

func (s *pages) planAsked(c fiber.Ctx) (*page.Request, string, *planRequest, error) {
	code, err := page.Decoded(c, "code")
	if err != nil {
		return nil, "", nil, err
	}
	var asked planRequest
	if err := json.Unmarshal(c.Body(), &asked); err != nil {
		return nil, "", nil, fiber.NewError(fiber.StatusBadRequest, "The changes cannot be read.")
	}
	r, err := s.Read(c)
	return r, code, &asked, err
}

// planAnswer says what the changes so far would move.
func (s *pages) planAnswer(c fiber.Ctx) error {
	r, code, asked, err := s.planAsked(c)
	if err != nil {
		return Problem(c, err)
	}
	ans, err := s.Office.Plan.Answer(c.Context(), r.Figures, code, asked.Base, asked.Ops)
	if err != nil {
		return Problem(c, err)
	}
	out := planResponse{Base: ans.Base, Shifts: []shiftJSON{}, Table: []map[string]string{}}
	out.Days.Days(r.Figures)
	out.Days.AsOf = r.AsOf
	out.Rows = timeline.RowsOf(r, ans.Project, &plan.TimelineFilter{})
	out.Rows.Ties = timeline.OwnTies(r, ans.Ties)
	events := 0
	for i := range ans.Shifts {
		if x := &ans.Shifts[i]; !x.Hidden {
			out.Shifts = append(out.Shifts, shift(x, code))
			if x.Activity.Kind >= schedule.Milestone {
				events++
			}
		}
	}
	money, err := s.accounts(r, code)
	if err != nil {
		return err
	}
	out.table(ans, money)
	switch {
	case len(asked.Ops) == 0:
	case len(out.Shifts) == 0:
		out.Sentence = "Nothing moves: the float takes it up."
	default:
		out.Sentence = fmt.Sprintf("%s, %s among them.", write.Count(len(out.Shifts), "activity moves", "activities move"),
			write.Count(events, "milestone", "milestones"))
	}
	return page.SendJSON(r, out)
}

func shift(x *plan.Shift, own string) shiftJSON {
	var chain []string
	for _, step := range x.Chain {
		chain = append(chain, step.Project+" "+step.Activity.Code)
	}
	if n := len(chain); n > 6 {
		chain = append([]string{chain[0], "…"}, chain[n-4:]...)
	}
	return shiftJSON{x.Project.Code, x.Activity.Code, x.Activity.Name, x.From.Human(), x.To.Human(), x.Days, x.Project.Code == own,
		x.Activity.Kind >= schedule.Milestone, strings.Join(chain, " → ")}
}

// table are the cells of the plan as changed, with the money of each activity as it stands.
func (out *planResponse) table(ans *plan.Answer, money map[string]map[string]string) {
	in := record.Activities.Input()
	for _, cells := range ans.Rows {
		row := map[string]string{"predecessors": ans.Waits[cells[1]]}
		for i, c := range in.Columns {
			row[c.Name] = cells[i]
		}
		maps.Copy(row, money[cells[1]])
		out.Table = append(out.Table, row)
	}
}

// Problem answers what is wrong with the changes in a form that the page can put where it belongs.
func Problem(c fiber.Ctx, err error) error {
	var op *plan.OpError
	var edit *edit.Error
	var field *fault.FieldError
	var state *fault.StateError
	out := fiber.Map{"error": page.Sentence(err.Error())}
	switch {
	case errors.As(err, &op):
		out["code"], out["field"] = op.Code, op.Field
		c.Status(fiber.StatusUnprocessableEntity)
	case errors.As(err, &edit):
		out["error"] = page.EditText(edit)
		c.Status(fiber.StatusConflict)
	case errors.As(err, &state):
		c.Status(fiber.StatusConflict)
	case errors.As(err, &field):
		out["field"] = field.Field
		c.Status(fiber.StatusUnprocessableEntity)
	default:
		return err
	}
	return c.JSON(out)
}

func (s *pages) savePlan(c fiber.Ctx) error {
	r, code, asked, err := s.planAsked(c)
	if err != nil {
		return Problem(c, err)
	}
	if _, err := s.Office.Plan.Save(c.Context(), r.Figures, code, plan.Save{Reason: asked.Reason, Carry: asked.Carry, Base: asked.Base,
		Ops: asked.Ops}); err != nil {
		return Problem(c, err)
	}
	page.Tell(c, "Saved as a revision"+r.InPeriod()+". What stood before is under Versions and baselines.")
	return page.SendJSON(r, planResponse{To: r.To(page.ProjectPath(code) + "/plan")})
}
