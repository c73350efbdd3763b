// Package explain holds the pages of what is said of figures.
package explain

import (
	"embed"
	"html/template"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	appedit "turret/internal/app/edit"
	"turret/internal/app/explain"
	"turret/internal/app/fault"
	"turret/internal/app/gather"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/app/say"
	"turret/internal/app/setting"
	"turret/internal/core/health"
	"turret/internal/core/write"
	"turret/internal/prose"
	"turret/internal/record"
	"turret/internal/web/assess"
	"turret/internal/web/edit"
	"turret/internal/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// pages are those of one server.
type pages struct{ *page.Server }

// Routes adds the addresses of what is said of figures.
func Routes(base *page.Server) {
	s := &pages{base}
	s.Show(templates)
	s.App.Get("/explain", s.explain)
	s.App.Post("/explain", s.writeNote)
	s.App.Get("/projects/:code/explain", s.projectExplain)
	s.App.Post("/projects/:code/explain", s.write)
	s.App.Post("/projects/:code/sending", s.send)
	s.App.Post("/projects/:code/say", s.say)
}

type explainView struct {
	Pager    page.Pager
	Page     page.Page
	Headline []page.Spoken
	Rows     []explainRow
	Empty    string
	Of       string // whose note stands on the page; empty where there is none to see or write
	Note     explainPart
	May      bool
	Problem  string
	Saved    string
	Asked    string
}

type explainRow struct {
	Code, Name, Lead, Href string
	Cell                   assess.Cell
	Why, First, State      string
	Wanted                 bool
	Write                  string
}

func (s *pages) explain(c fiber.Ctx) error { return s.showExplained(c, nil, nil) }

func (s *pages) showExplained(c fiber.Ctx, problem error, typed *kept.Commentary) error {
	r, scope, err := s.ReadOpen(c)
	if err != nil {
		return err
	}
	list, err := s.Office.Explain.Explained(c.Context(), r.Figures, scope)
	if err != nil {
		return err
	}
	v := explainView{Page: r.Page("Explain", "Explain")}
	written, wanted := explain.CountExplained(scope.Projects)
	list, v.Pager = page.Cut(r, list)
	for i := range list {
		x := &list[i]
		row := explainRow{Code: x.Project.Code, Name: x.Project.Name, Lead: x.Project.Lead, Href: r.Project(x.Project.Code),
			Cell: assess.CellOf(r, x.Project, health.Overall),
			Why:  x.Project.Health.Reason(), Wanted: x.Wanted, Write: r.ExplainPath(x.Project.Code)}
		if len(x.Written) > 0 {
			row.First, row.State = fault.Clip(firstOf(x.Written[0].Text), 160), "by "+x.Written[0].Who
		}
		v.Rows = append(v.Rows, row)
	}
	v.Headline = []page.Spoken{{Text: strconv.Itoa(written) + " of " + write.Count(wanted, "project", "projects") +
		" at watch, at act or declared better than computed are explained."}}
	if len(v.Rows) == 0 {
		v.Empty = "No project is open in this scope."
	}
	if problem != nil {
		v.Problem = page.Sentence(problem.Error())
		c.Status(fiber.StatusUnprocessableEntity)
	}
	if err := v.note(r, typed); err != nil {
		return err
	}
	return r.Answer("explain", &v.Page, &v)
}

// note is what the office says of the scope as a whole.
func (v *explainView) note(r *page.Request, typed *kept.Commentary) error {
	now, last, err := r.Server.Office.Explain.Note(r.Context(), r.Figures, r.Scope)
	if _, e := r.Figures.Project(r.Scope); err != nil || e == nil {
		return err
	}
	actor := access.ActorOf(r.Context())
	v.May, v.Asked = actor.MayWhole(access.Judge) && r.Figures.Closed == nil, r.AskedFor()
	if !v.May && now.Text == "" {
		return nil
	}
	v.Of = "From the office"
	v.Note = explainPart{ID: now.ID, Text: now.Text, Who: now.Who}
	if now.Text != "" {
		v.Note.Reads = prose.HTML(now.Text)
	}
	if last.Text != "" {
		v.Note.Last, v.Note.LastWho, v.Note.LastMonth = prose.HTML(last.Text), last.Who, last.Period.Name()
	}
	if typed != nil && typed.Text != now.Text {
		v.Note.Text = typed.Text
	}
	return nil
}

func (s *pages) writeNote(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	id, _ := strconv.ParseInt(c.FormValue("id"), 10, 64)
	text := kept.Commentary{ID: id, On: health.Overall, Text: strings.Clone(c.FormValue("text"))}
	err = s.Office.Explain.WriteNote(c.Context(), r.Figures, r.Scope, text)
	return page.AnsweredWith(c, err, "The note is saved"+r.InPeriod()+".", r.To("/explain"),
		func(refused error) error { return s.showExplained(c, refused, &text) })
}

// firstOf is the first line of a text that says something.
func firstOf(text string) string {
	for line := range strings.Lines(text) {
		if line = strings.Trim(line, " \t\n#*>-"); line != "" {
			return line
		}
	}
	return ""
}

type projectExplainView struct {
	Page     page.Page
	Headline []page.Spoken
	Code     string
	Parts    []explainPart
	Sent     string
	SentFor  string // period
	Since    string
	May      bool
	Closed   string
	Problem  string
	Saved    string
	Asked    string

	Inputs  []askedInput
	Tables  []edit.Part // what a lead sends, in place
	Done    string      // who said that everything is sent, and when
	MayAsk  bool
	Said    []saidRow
	Ons     []page.Option
	Typed   string
	History []writtenRow
}

// askedInput is an input that is asked for of a project, with where it is entered.
type askedInput struct{ Name, Href, State, Tone string }

type saidRow struct {
	ID                          int64
	On, Text, Who, At, Answered string
	Asks, Open                  bool
}

type writtenRow struct {
	On, Who, At string
	Text        template.HTML
}

type explainPart struct {
	On, Name  string
	Cell      assess.Cell
	Moved     []movedRow
	Concerns  []string
	Facts     string
	Text      string
	Reads     template.HTML
	ID        int64
	Who       string
	Last      template.HTML
	LastWho   string
	LastMonth string
	Theirs    template.HTML // written by somebody else meanwhile
}

type movedRow struct{ Name, Was, Now, By, Href string }

func (s *pages) projectExplain(c fiber.Ctx) error { return s.showExplain(c, nil, nil) }

// showExplain shows the page, with what was typed where it could not be kept.
func (s *pages) showExplain(c fiber.Ctx, problem error, typed []kept.Commentary) error {
	return s.showExplainWith(c, problem, typed, nil, nil)
}

// showExplainWith shows the page also with the tables that were refused.
func (s *pages) showExplainWith(c fiber.Ctx, problem error, typed []kept.Commentary, edits map[record.Kind][]intake.Edited,
	refused *appedit.Error) error {
	r, p, err := s.OfProject(c)
	if err != nil {
		return err
	}
	code := p.Code
	x, err := s.Office.Explain.Of(c.Context(), r.Figures, code)
	if err != nil {
		return err
	}
	month := r.Figures.Env.AsOf.Month()
	v := projectExplainView{Page: r.Page("Explain "+code, "Explain"), Code: code, Sent: x.Sent,
		May: access.ActorOf(c.Context()).May(access.Send) && r.Figures.Closed == nil, Asked: r.AskedFor()}
	r.Of(&v.Page, x.Project, page.ExplainTab)
	v.Headline = append([]page.Spoken{{Text: x.Project.Name, Href: r.Project(code)}, {Text: " in " + month.Name() + ": "}}, whyNow(r, x)...)
	if x.Since != 0 {
		v.Since = x.Since.Name()
	}
	if r.Figures.Closed != nil {
		v.Closed = r.Figures.Closed.Name() + " is closed: what was written to it stays as it is."
	}
	if problem != nil {
		v.Problem = page.Sentence(problem.Error())
		c.Status(fiber.StatusUnprocessableEntity)
		v.Typed = strings.Clone(c.FormValue("text"))
	}
	for i := range x.Parts {
		part := explainPartOf(r, x, &x.Parts[i])
		for _, t := range typed {
			if t.On == x.Parts[i].On && t.Text != part.Text {
				if t.ID != part.ID {
					part.Theirs = part.Reads
				}
				part.Text = t.Text
			}
		}
		v.Parts = append(v.Parts, part)
	}
	if err := v.said(r, code); err != nil {
		return err
	}
	if err := v.inputs(r, code, edits, refused); err != nil {
		return err
	}
	if d := x.Project.Declared; d != nil && d.Period != 0 {
		v.SentFor = d.Period.Name()
	}
	if len(x.Parts) > 0 && x.Sent == x.Parts[0].Text.Text {
		v.Sent = "" // it stands below
	}
	return r.Answer("project-explain", &v.Page, &v)
}

// said is what the office and the lead said to each other, and what stood here before.
func (v *projectExplainView) said(r *page.Request, code string) error {
	list, err := r.Server.Office.Explain.Remarks(r.Context(), r.Figures, code)
	if err != nil {
		return err
	}
	for i := range list {
		x := &list[i]
		at := setting.DayOf(x.At).Human()
		if x.Part == explain.DonePart {
			v.Done = x.Text + " " + x.Who + ", " + at
			continue
		}
		row := saidRow{ID: x.ID, On: x.Part, Text: x.Text, Who: x.Who, At: at, Asks: x.Asks, Open: x.Open()}
		if x.Asks && !row.Open {
			row.Answered = "answered by " + x.AnsweredBy
		}
		v.Said = append(v.Said, row)
	}
	v.MayAsk = v.May && access.ActorOf(r.Context()).May(access.Judge)
	for _, d := range append([]health.Dimension{health.Overall}, health.Dimensions()...) {
		if d != health.Cost || !r.Figures.NoMoney {
			v.Ons = append(v.Ons, page.Option{Value: d.String(), Text: d.String()})
		}
	}
	history, err := r.Server.Office.Explain.History(r.Context(), r.Figures, code)
	for i := len(history) - 1; i >= 0; i-- {
		h := &history[i]
		row := writtenRow{On: h.On.String(), Who: h.Who, At: writtenAt(h.At), Text: prose.HTML(h.Text)}
		if h.Text == "" {
			row.Text = "taken away"
		}
		v.History = append(v.History, row)
	}
	return err
}

// inputs are what is asked of a project for the period, as far as the one who asks may send it.
func (v *projectExplainView) inputs(r *page.Request, code string, edits map[record.Kind][]intake.Edited, refused *appedit.Error) error {
	if !v.May {
		return nil
	}
	kinds, err := r.Server.Office.Edit.Editable(r.Context(), code)
	if err != nil {
		return err
	}
	m, err := r.Server.Office.Gather.Matrix(r.Context(), r.Period(), r.Server.Today())
	if err != nil {
		return err
	}
	for i := range m.Rows {
		if m.Rows[i].Project.Code != code {
			continue
		}
		for _, slot := range m.Rows[i].Slots {
			if slot.Arrival != gather.NotExpected && slices.Contains(kinds, slot.Kind) {
				v.Inputs = append(v.Inputs, askedInputOf(r, code, &slot))
			}
		}
	}
	for _, k := range []record.Kind{record.Risks, record.Issues, record.Changes} {
		if slices.Contains(kinds, k) {
			v.Inputs = append(v.Inputs, askedInput{Name: k.Title(), Href: r.To(page.EditPath(k, code)), State: "when they change"})
		}
	}
	return v.parts(r, code, kinds, edits, refused)
}

func askedInputOf(r *page.Request, code string, slot *gather.Slot) askedInput {
	x := askedInput{Name: slot.Kind.Title(), Href: r.To(page.EditPath(slot.Kind, code)), State: string(slot.Arrival)}
	switch slot.Kind {
	case record.Activities:
		x.Href = r.To(page.ProjectPath(code) + "/plan")
	case record.Forecast, record.Budget:
		x.Href = r.MoneyOf(code)
	}
	if slot.Load != nil && !slot.Wanting() {
		x.State += ", " + setting.DayOf(slot.Load.ReceivedAt).Human()
	}
	if slot.Wanting() {
		x.State, x.Tone = "to come by "+slot.Due.Human(), "tone-watch"
		if slot.Overdue {
			x.Tone = "tone-act"
		}
	}
	return x
}

// say keeps a remark, a question or an answer.
func (s *pages) say(c fiber.Ctx) error {
	r, p, err := s.OfProject(c)
	if err != nil {
		return err
	}
	answers, _ := strconv.ParseInt(c.FormValue("answers"), 10, 64)
	x := explain.Remark{Part: strings.Clone(c.FormValue("on")), Text: strings.Clone(c.FormValue("text")), Asks: c.FormValue("asks") != ""}
	text, to := "It is sent.", r.ExplainPath(p.Code)+"#said"
	if x.Part == explain.DonePart {
		confirmed, err := s.confirm(c, r, p.Code)
		if err != nil {
			return err
		}
		to = r.ExplainPath(p.Code) // what was confirmed is told at the head of the page
		text = "The office sees that everything for " + r.Period().Name() + " is sent." + confirmed
	}
	err = s.Office.Explain.Say(c.Context(), r.Figures, p.Code, x, answers)
	if answers != 0 {
		text = "The answer is sent."
	}
	return page.AnsweredWith(c, err, text, to,
		func(refused error) error { return s.showExplain(c, refused, nil) })
}

func whyNow(r *page.Request, x *explain.Explanation) []page.Spoken {
	h := &x.Project.Health
	text := h.Overall.String()
	if why := h.Reason(); why != "" {
		text += ", " + write.Within(why)
	}
	return []page.Spoken{{Text: text + "."}}
}

func explainPartOf(r *page.Request, x *explain.Explanation, p *explain.Part) explainPart {
	part := explainPart{On: p.On.String(), Name: write.Capital(p.On.String()), Cell: assess.CellOf(r, x.Project, p.On),
		Concerns: p.Concerns,
		Facts:    p.Facts,
		Text:     p.Text.Text, ID: p.Text.ID, Who: p.Text.Who}
	if said := page.ForesightOf(r).Of(x.Project); p.On == health.Overall && said != nil && said.Differs() {
		part.Facts = strings.TrimSpace(part.Facts + " " + write.Capital(said.Sentence()) + ".")
	}
	if p.Text.Text != "" {
		part.Reads = prose.HTML(p.Text.Text)
	}
	if p.Last.Text != "" {
		part.Last, part.LastWho, part.LastMonth = prose.HTML(p.Last.Text), p.Last.Who, p.Last.Period.Name()
	}
	for _, m := range p.Moved {
		part.Moved = append(part.Moved, movedRow{m.Definition.Name, explain.Brief(r.Figures, m.Definition, m.Was),
			explain.Brief(r.Figures, m.Definition, m.Now),
			m.By,
			r.Project(x.Project.Code, "trace", m.Definition.Key.String())})
	}
	return part
}

func (s *pages) write(c fiber.Ctx) error {
	r, p, err := s.OfProject(c)
	if err != nil {
		return err
	}
	code := p.Code
	var texts []kept.Commentary
	for _, d := range append(health.Dimensions(), health.Overall) {
		if !c.Request().PostArgs().Has(d.String()) {
			continue
		}
		id, _ := strconv.ParseInt(c.FormValue(d.String()+"-id"), 10, 64)
		texts = append(texts, kept.Commentary{ID: id, On: d, Text: strings.Clone(c.FormValue(d.String()))})
	}
	err = s.Office.Explain.Write(c.Context(), r.Figures, code, texts)
	return page.AnsweredWith(c, err, "The commentary of "+code+" is saved"+r.InPeriod()+".", r.ExplainPath(code),
		func(refused error) error { return s.showExplain(c, refused, texts) })
}

// writtenAt is when a text was written; one that came with the status came with its load.
func writtenAt(at time.Time) string {
	if at.IsZero() {
		return ""
	}
	return say.Moment(at)
}
