package pipeline

import (
	"fmt"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/fault"
	"turret/internal/app/pipeline"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/money"
	"turret/internal/web/page"
)

// newView is the form in which somebody proposes.
type newView struct {
	page.SectionFrame
	Action                        string
	Name, Purpose, Start, Finish  string
	Programmes, Codes, Categories []page.Option
	Years                         []yearField
	Goals                         []goalField
	Problem                       string
	Shut                          string // why nothing can be proposed now
	Money                         bool
}

type yearField struct{ Field, Label, Value string }

type goalField struct {
	Code, Name, Statement string
	Ratings               []page.Option
}

// yearsAsked is for how many budget years cost is asked.
const yearsAsked = 4

func (s *pages) fresh(c fiber.Ctx) error { return s.showNew(c, nil) }

func (s *pages) showNew(c fiber.Ctx, refused error) error {
	r, _, p, err := s.read(c)
	if err != nil {
		return err
	}
	v := newView{SectionFrame: frame(r, "Propose"), Action: r.To("/pipeline/new"), Money: !r.Figures.NoMoney}
	v.Headline = []page.Spoken{{Text: "What should be done, and why?"}}
	get := func(name string) string {
		if refused == nil {
			return ""
		}
		return strings.Clone(c.FormValue(name))
	}
	v.Name, v.Purpose, v.Start, v.Finish = get("name"), get("purpose"), get("start"), get("finish")
	v.options(r, get)
	for i := range yearsAsked {
		first := firstYear(r) + calendar.Month(12*i)
		name := cost.YearName(first)
		v.Years = append(v.Years, yearField{"cost." + first.String(), name, get("cost." + first.String())})
	}
	for _, g := range p.Goals {
		f := goalField{Code: g.Code, Name: g.Name, Statement: get("why." + g.Code)}
		now := get("goal." + g.Code)
		for _, x := range [][2]string{{"", "nothing"}, {"1", "1, a little"}, {"2", "2"}, {"3", "3, much"}, {"4", "4"}, {"5",
			"5, it is for that"}} {
			f.Ratings = append(f.Ratings, page.Option{Value: x[0], Text: x[1], Selected: x[0] == now})
		}
		v.Goals = append(v.Goals, f)
	}
	if r.Figures.Closed != nil {
		v.Shut = r.Figures.Closed.Span.Name() + " is closed. What is proposed now is proposed in the period in work."
	}
	if refused != nil {
		c.Status(fiber.StatusUnprocessableEntity)
		v.Problem = page.RefusedText(refused)
	}
	return r.Answer("pipeline-new", &v.Page, &v)
}

func firstYear(r *page.Request) calendar.Month { return r.Figures.Env.YearBegins(r.AsOf) }

func (v *newView) options(r *page.Request, get func(string) string) {
	at := get("programme")
	if at == "" {
		at = r.Scope
	}
	v.Programmes = append(v.Programmes, page.Option{Text: "not known yet"})
	for i := range r.Figures.Masters.Nodes {
		n := &r.Figures.Masters.Nodes[i]
		v.Programmes = append(v.Programmes, page.Option{Value: n.Code, Text: n.Name, Selected: n.Code == at})
	}
	above := map[string]bool{} // codes that others lie beneath
	for _, x := range r.Figures.Masters.CostCodes {
		above[x.Parent] = true
	}
	for i := range r.Figures.Masters.CostCodes {
		x := &r.Figures.Masters.CostCodes[i]
		if !x.Closed && !above[x.Code] {
			v.Codes = append(v.Codes, page.Option{Value: x.Code, Text: x.Code + " " + x.Name, Selected: x.Code == get("cost_code")})
		}
	}
}

// propose takes in what was typed. Cost is spread over no months: it stands in the first of its budget year, or of the start where that is
// later.
func (s *pages) propose(c fiber.Ctx) error {
	r, _, p, err := s.read(c)
	if err != nil {
		return err
	}
	get := func(name string) string { return strings.TrimSpace(strings.Clone(c.FormValue(name))) }
	x := &pipeline.Idea{Name: get("name"), Purpose: get("purpose"), Programme: get("programme"), CostCode: get("cost_code"),
		Cost: map[string]string{}, Goals: map[string]string{}, Statements: map[string]string{}}
	for _, d := range []struct {
		name string
		to   *calendar.Date
	}{{"start", &x.Start}, {"finish", &x.Finish}} {
		if text := get(d.name); text != "" && err == nil {
			if *d.to, err = calendar.ParseDate(text); err != nil {
				err = fault.Field(d.name, fault.Clip(text, 40), "a day as YYYY-MM-DD")
			}
		}
	}
	if err == nil && !r.Figures.NoMoney {
		err = costOf(r, x, get)
	}
	for _, g := range p.Goals {
		x.Goals[g.Code], x.Statements[g.Code] = get("goal."+g.Code), get("why."+g.Code)
	}
	code := ""
	if err == nil {
		code, _, err = s.Office.Pipeline.Propose(c.Context(), x, r.AsOf)
	}
	to := "/pipeline/proposals"
	if err == nil {
		page.Tell(c, fmt.Sprintf("%s is proposed as %s%s. What becomes of it stands here.", x.Name, code, r.InPeriod()))
	}
	return page.Answered(c, err, to, func(refused error) error { return s.showNew(c, refused) })
}

func costOf(r *page.Request, x *pipeline.Idea, get func(string) string) error {
	for i := range yearsAsked {
		first := firstYear(r) + calendar.Month(12*i)
		text := get("cost." + first.String())
		if text == "" {
			continue
		}
		amount, err := money.Parse(page.Decimal(text), r.Figures.Masters.Reporting)
		if err != nil || amount < 0 {
			return fault.Field("cost of "+cost.YearName(first), fault.Clip(text, 40), "an amount of 0 or more, such as 250000")
		}
		month := first
		if x.Start != 0 && x.Start.Month() > first && x.Start.Month() < first+12 {
			month = x.Start.Month()
		}
		x.Cost[month.String()] = amount.Text(r.Figures.Masters.Reporting)
	}
	return nil
}
