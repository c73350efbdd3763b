package explain

import (
	"errors"
	"net/url"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/edit"
	"turret/internal/app/intake"
	"turret/internal/core/calendar"
	"turret/internal/core/risk"
	"turret/internal/core/write"
	"turret/internal/record"
	webedit "turret/internal/web/edit"
	"turret/internal/web/page"
)

// asking is what of a kind is asked on the page of a lead: the columns, those that are only read, and the rows that matter now.
type asking struct {
	kind           record.Kind
	says           string
	columns, fixed []string
	keep           func(cell func(string) string, in calendar.Period) bool
}

// askings are the parts of the page of a lead, in their order.
var askings = []asking{
	{record.Statuses, "How it stands by your own judgement.", []string{"overall", "schedule", "cost", "scope", "risk", "benefit",
		"percent_complete"}, nil, func(func(string) string, calendar.Period) bool { return true }},
	{record.Activities, "What is due or in work, and what ended in the period.", []string{"code", "name", "baseline_finish", "actual_start",
		"finish", "actual_finish", "percent_complete", "remaining"}, []string{"code", "name", "baseline_finish"}, inWork},
	{record.Forecast, "What is still to be spent in the three months ahead.", []string{"month", "cost_code", "amount"},
		[]string{"month", "cost_code"}, ahead},
	{record.Risks, "Those that are open.", []string{"code", "title", "likelihood", "consequence", "response", "review", "state"},
		[]string{"code", "title"}, unclosed},
	{record.Issues, "Those that are open.", []string{"code", "title", "priority", "due", "state"}, []string{"code", "title"}, unclosed},
	{record.Actions, "Those that are not done.", []string{"code", "title", "due", "percent_complete", "state"}, []string{"code", "title"},
		func(cell func(string) string, _ calendar.Period) bool {
			return cell("done_on") == "" && !risk.State(cell("state")).Over()
		}},
}

func unclosed(cell func(string) string, _ calendar.Period) bool {
	return cell("closed") == "" && !risk.State(cell("state")).Over()
}

// inWork are activities that are not done and begin by the end of the period ahead, and those that ended in this one.
func inWork(cell func(string) string, in calendar.Period) bool {
	if cell("kind") == "summary" {
		return false
	}
	day := func(name string) calendar.Date {
		d, err := calendar.ParseDate(cell(name))
		if err != nil {
			return 0
		}
		return d
	}
	if done := day("actual_finish"); done != 0 {
		return done > (in-1).Last() && done <= in.Last()
	}
	begins := day("actual_start")
	for _, name := range []string{"start", "finish", "baseline_start", "baseline_finish"} {
		if begins == 0 {
			begins = day(name)
		}
	}
	return begins != 0 && begins <= (in+1).Last()
}

// ahead are lines of single months among the three after the period.
func ahead(cell func(string) string, in calendar.Period) bool {
	m, err := calendar.ParseMonth(cell("month"))
	last := in.Last().Month()
	return err == nil && m > last && m <= last+3
}

// parts are the tables of the page of a lead, as far as the one who asks may send them.
func (v *projectExplainView) parts(r *page.Request, code string, kinds []record.Kind, typed map[record.Kind][]intake.Edited,
	refused *edit.Error) error {
	if access.ActorOf(r.Context()).Role != access.Lead {
		return nil
	}
	for _, x := range askings {
		if !slices.Contains(kinds, x.kind) {
			continue
		}
		g, err := r.Server.Office.Edit.Grid(r.Context(), x.kind, code)
		if err != nil {
			return err
		}
		var fault *edit.Error
		if len(typed[x.kind]) > 0 {
			fault = refused
		}
		matters := func(cell func(string) string) bool { return x.keep(cell, r.Period()) }
		p := webedit.PartOf(g, x.columns, x.fixed, matters, typed[x.kind], fault)
		if x.kind == record.Forecast {
			names := map[string]string{}
			for _, code := range r.Figures.Masters.CostCodes {
				names[code.Code] = code.Name
			}
			p.ByMonth(g, names)
		}
		p.Says, p.All = x.says, r.To(page.EditPath(x.kind, code))
		v.Tables = append(v.Tables, p)
	}
	return nil
}

// send saves what a lead changed in the tables of the page, all of it or nothing.
func (s *pages) send(c fiber.Ctx) error {
	r, p, err := s.OfProject(c)
	if err != nil {
		return err
	}
	q, err := url.ParseQuery(string(c.Body()))
	if err != nil {
		return fiber.NewError(fiber.StatusBadRequest, "The form cannot be read.")
	}
	typed := map[record.Kind][]intake.Edited{}
	var tables []edit.TableEdit
	n := 0
	for _, x := range askings {
		edits := webedit.PartEdits(q, x.kind, p.Code)
		if len(edits) == 0 {
			continue
		}
		typed[x.kind], n = edits, n+len(edits)
		tables = append(tables, edit.TableEdit{Kind: x.kind, Edits: edits})
	}
	to := r.ExplainPath(p.Code)
	if n == 0 {
		page.Tell(c, "Nothing was changed, so nothing was saved.")
		return page.Go(c, to)
	}
	_, err = s.Office.Edit.SaveTables(c.Context(), p.Code, tables, edit.SaveAs{})
	if refused := page.Refused(err); refused != nil {
		return s.showRefused(c, refused, typed)
	}
	if err != nil {
		return err
	}
	var kinds []string
	for _, t := range tables {
		kinds = append(kinds, write.Within(t.Kind.Title()))
	}
	page.Tell(c, write.Count(n, "row", "rows")+" saved"+r.InPeriod()+": "+strings.Join(kinds, ", ")+".")
	return page.Go(c, to)
}

// showRefused shows the page with what was typed and what is wrong with it.
func (s *pages) showRefused(c fiber.Ctx, refused error, typed map[record.Kind][]intake.Edited) error {
	var fault *edit.Error
	errors.As(refused, &fault)
	return s.showExplainWith(c, refused, nil, typed, fault)
}

// confirm sends what is still awaited of a lead and has not changed.
func (s *pages) confirm(c fiber.Ctx, r *page.Request, code string) (string, error) {
	if access.ActorOf(c.Context()).Role != access.Lead {
		return "", nil
	}
	kinds, err := s.Office.Edit.Editable(c.Context(), code)
	if err != nil {
		return "", err
	}
	m, err := s.Office.Gather.Matrix(c.Context(), r.Period(), s.Today())
	if err != nil {
		return "", err
	}
	var awaited []record.Kind
	for i := range m.Rows {
		for _, slot := range m.Rows[i].Slots {
			if m.Rows[i].Project.Code == code && slot.Wanting() && slices.Contains(kinds, slot.Kind) {
				awaited = append(awaited, slot.Kind)
			}
		}
	}
	sent, err := s.Office.Edit.Confirm(c.Context(), code, awaited)
	if err != nil || len(sent) == 0 {
		return "", err
	}
	words := make([]string, len(sent))
	for i, k := range sent {
		words[i] = write.Within(k.Title())
	}
	return " Confirmed as it stood: " + strings.Join(words, ", ") + ".", nil
}
