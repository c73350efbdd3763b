package pipeline

import (
	"fmt"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/pipeline"
	"turret/internal/app/saved"
	"turret/internal/core/calendar"
	"turret/internal/web/page"
)

// newView is the form in which somebody proposes.
type newView struct {
	page.SectionFrame
	Action, Compose string
	Name, Purpose   string
	Programmes      []page.Option
	Parts           []partView
	Draft           string // number of the half-done one that it continues
	Drafts          []halfDone
	Problem         string
	Shut            string // why nothing can be proposed now
}

// halfDone is a form that was put away.
type halfDone struct{ ID, Name, At, Href string }

// mostDrafts bounds how many half-done proposals somebody keeps.
const mostDrafts = 20

func (s *pages) fresh(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	id := r.Asked.Get("draft")
	if id == "" {
		return s.showNew(c, url.Values{}, nil)
	}
	list, err := s.Office.Saved.List(c.Context(), saved.Proposal)
	if err != nil {
		return err
	}
	at := slices.IndexFunc(list, func(v saved.View) bool { return strconv.FormatInt(v.ID, 10) == id })
	if at < 0 {
		return fmt.Errorf("half-done proposal %s: %w", fault.Clip(id, 20), fault.ErrNotFound)
	}
	typed, err := url.ParseQuery(list[at].Query)
	if err != nil {
		return err
	}
	typed.Set("draft", id)
	return s.showNew(c, typed, nil)
}

func (s *pages) showNew(c fiber.Ctx, typed url.Values, refused error) error {
	r, _, p, err := s.read(c)
	if err != nil {
		return err
	}
	parts, err := s.Office.Pipeline.Form(c.Context())
	if err != nil {
		return err
	}
	v := newView{SectionFrame: frame(r, "Propose"), Action: r.To("/pipeline/new"), Name: typed.Get("name"), Purpose: typed.Get("purpose"),
		Draft: typed.Get("draft")}
	v.Headline = []page.Spoken{{Text: "What should be done, and why?"}}
	if access.ActorOf(c.Context()).MayWhole(access.Judge) {
		v.Compose = r.To("/pipeline/form")
	}
	v.programmes(r, typed.Get("programme"))
	f := &former{r: r, p: p, get: typed.Get}
	for _, x := range parts {
		if part, ok := f.part(x); ok {
			v.Parts = append(v.Parts, part)
		}
	}
	if err := v.drafts(r); err != nil {
		return err
	}
	if r.Figures.Closed != nil {
		v.Shut = r.Figures.Closed.Span.Name() + " is closed. What is proposed now is proposed in the period in work."
	}
	if refused != nil {
		c.Status(fiber.StatusUnprocessableEntity)
		v.Problem = page.RefusedText(refused)
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	return r.Answer("pipeline-new", &v.Page, &v)
}

func (v *newView) programmes(r *page.Request, at string) {
	if at == "" {
		at = r.Scope
	}
	v.Programmes = append(v.Programmes, page.Option{Text: "not known yet"})
	for i := range r.Figures.Masters.Nodes {
		n := &r.Figures.Masters.Nodes[i]
		v.Programmes = append(v.Programmes, page.Option{Value: n.Code, Text: n.Name, Selected: n.Code == at})
	}
}

// drafts lists what was put away half done.
func (v *newView) drafts(r *page.Request) error {
	list, err := r.Server.Office.Saved.List(r.Context(), saved.Proposal)
	if err != nil {
		return err
	}
	for i := range list {
		x := &list[i]
		id := strconv.FormatInt(x.ID, 10)
		v.Drafts = append(v.Drafts, halfDone{ID: id, Name: x.Name, At: page.When(x.At), Href: r.To("/pipeline/new", "draft", id)})
	}
	return nil
}

// typedIn is what a form holds, by the names of its fields.
func typedIn(c fiber.Ctx) url.Values {
	typed := url.Values{}
	for name, value := range c.Request().PostArgs().All() {
		key := string(name)
		if key != "_csrf" && key != "half" && key != "away" && len(value) > 0 {
			typed.Set(key, strings.TrimSpace(string(value)))
		}
	}
	return typed
}

// propose takes in what was typed, or puts it away half done, or takes away what was put away.
func (s *pages) propose(c fiber.Ctx) error {
	typed := typedIn(c)
	again := func(refused error) error { return s.showNew(c, typed, refused) }
	if away := c.FormValue("away"); away != "" {
		err := s.endDraft(c, away)
		return page.AnsweredWith(c, err, "What was half done is taken away.", "/pipeline/new", again)
	}
	if c.FormValue("half") != "" {
		id, err := s.halfDone(c, typed)
		if err != nil {
			return page.Answered(c, err, "", again)
		}
		page.Tell(c, "It is put away half done. Nobody else sees it.")
		return page.Go(c, "/pipeline/new", "draft", strconv.FormatInt(id, 10))
	}
	r, _, p, err := s.read(c)
	if err != nil {
		return err
	}
	f := &former{r: r, p: p, get: typed.Get}
	x, err := f.idea()
	code := ""
	if err == nil {
		code, _, err = s.Office.Pipeline.Propose(c.Context(), x, r.AsOf)
	}
	if err == nil && typed.Get("draft") != "" {
		err = s.endDraft(c, typed.Get("draft"))
	}
	text := ""
	if err == nil {
		text = fmt.Sprintf("%s is proposed as %s%s. What becomes of it stands here.", x.Name, code, r.InPeriod())
	}
	return page.AnsweredWith(c, err, text, "/pipeline/proposals", again)
}

// halfDone puts away what was typed, in the place of what it continues.
func (s *pages) halfDone(c fiber.Ctx, typed url.Values) (int64, error) {
	draft := typed.Get("draft")
	typed.Del("draft")
	name := fault.Clip(typed.Get("name"), 70)
	if name == "" {
		name = "Without a name"
	}
	name, err := s.freeName(c, name, draft)
	if err != nil {
		return 0, err
	}
	id, err := s.Office.Saved.Keep(c.Context(), saved.View{Kind: saved.Proposal, Name: name, Query: typed.Encode()}, mostDrafts)
	if err == nil && draft != "" && draft != strconv.FormatInt(id, 10) {
		err = s.endDraft(c, draft)
	}
	return id, err
}

// freeName is a name under which nothing else is put away than what is continued.
func (s *pages) freeName(c fiber.Ctx, name, draft string) (string, error) {
	list, err := s.Office.Saved.List(c.Context(), saved.Proposal)
	free := name
	taken := func(v saved.View) bool { return v.Name == free && strconv.FormatInt(v.ID, 10) != draft }
	for n := 2; slices.ContainsFunc(list, taken); n++ {
		free = fmt.Sprintf("%s (%d)", name, n)
	}
	return free, err
}

// endDraft takes away what was half done; what is gone already is well.
func (s *pages) endDraft(c fiber.Ctx, id string) error {
	n, err := strconv.ParseInt(id, 10, 64)
	if err != nil {
		return fiber.NewError(fiber.StatusBadRequest, "That is no number.")
	}
	list, err := s.Office.Saved.List(c.Context(), saved.Proposal)
	if err != nil || !slices.ContainsFunc(list, func(v saved.View) bool { return v.ID == n }) {
		return err
	}
	return s.Office.Saved.End(c.Context(), saved.Proposal, n)
}

// idea reads what was typed.
func (f *former) idea() (*pipeline.Idea, error) {
	get := f.get
	x := &pipeline.Idea{Name: get("name"), Purpose: get("purpose"), Programme: get("programme"), Category: get("category"),
		CostCode: get("cost_code"), Goals: map[string]string{}, Statements: map[string]string{}, Own: map[string]string{}}
	for name, to := range map[string]*calendar.Date{"start": &x.Start, "finish": &x.Finish} {
		if text := get(name); text != "" {
			d, err := calendar.ParseDate(text)
			if err != nil {
				return x, fault.Field(name, fault.Clip(text, 40), "a day as YYYY-MM-DD")
			}
			*to = d
		}
	}
	for _, g := range f.p.Goals {
		x.Goals[g.Code], x.Statements[g.Code] = get("goal."+g.Code), get("why."+g.Code)
	}
	for _, c := range f.r.Figures.Masters.Own {
		if text := get(c.Name); text != "" {
			x.Own[c.Name] = text
		}
	}
	f.lines(x)
	if f.r.Figures.NoMoney {
		return x, nil
	}
	return x, f.amounts(x)
}

// lines reads who is needed, what may happen, and what it cannot be without.
func (f *former) lines(x *pipeline.Idea) {
	for i := range linesAsked {
		get := func(name string) string { return f.get(fmt.Sprintf("%s.%d", name, i)) }
		x.People = append(x.People, pipeline.Wish{Role: get("role"), From: get("from"), To: get("to"),
			Percent: strings.TrimSuffix(get("percent"), " %")})
		x.Risks = append(x.Risks, pipeline.Doubt{Title: get("risk"), Likelihood: get("likely"), Consequence: get("consequence"),
			Response: get("response")})
		seen := func(o page.Option) bool { return o.Value == get("needs") }
		if code := get("needs"); code != "" && !slices.Contains(x.Needs, code) && slices.ContainsFunc(f.others(), seen) {
			x.Needs = append(x.Needs, code)
		}
	}
}
