// Package page holds what the pages of all sections share: their frame and address, figures, forms, filters, and the parts of templates.
package page

import (
	"context"
	"errors"
	"log/slog"
	"net/url"
	"strings"
	"syscall"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/requestid"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/say"
	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/write"
	"turret/internal/record"
)

// Page is what every screen shows around its own content.
type Page struct {
	Title, Section string
	Place          Place
	Style, Script  string
	Theme, Icon    string
	Today          string // the day on which it is shown, for fields in which a year is left out
	Demo           bool
	Sections       []section
	Tabs           []Tab // parts of the section, or of the project
	Search         string
	AsOf, Period   string
	AsOfHuman      string
	Awaits         string // which inputs of the period have not come for what is in view, as a sentence
	Closed         string // when and by whom the period was closed; empty while it is open
	Frozen         []Link // ways on from a closed period, for those who could write in an open one
	Back, On       string // addresses of the period before and after
	Scope          Scoping
	Periods        []periodLink
	Keep           []Pair // fields that forms of the header pass on
	Trace          *traceView
	CloseHref      string
	PackHref       string
	Failed         string
	Told           *Told     // what the act before did
	Desk           *deskLink // what waits for who is signed in, nil for nobody
	Menu           *menu     // of who is signed in, nil for nobody
	Token          string    // carried by forms
	Track          []track
	Newer          *newerView // nil where the figures are the newest
}

// Link is words that lead to an address.
type Link struct{ Text, Href string }

// Pair is a hidden field of a form.
type Pair struct{ Name, Value string }

// Picker is a choice that leads to an address.
type Picker struct {
	Label, Name, Action string
	Options             []Option
}

// Option is one of a choice.
type Option struct {
	Value, Text string
	Selected    bool
}

// Request is what an address says, with what it was assessed as.
type Request struct {
	fiber.Ctx
	Server  *Server
	Figures *assess.Assessment
	Asked   url.Values
	AsOf    calendar.Date
	Scope   string
	Marked  bool   // the address names the day itself
	Shown   string // currency that the address asks for; empty for the reporting one

	foresight *Foresight
}

// Read understands an address and assesses its day.
func (s *Server) Read(c fiber.Ctx) (*Request, error) {
	r, err := s.Parse(c)
	if err != nil {
		return nil, err
	}
	ctx := c.Context()
	if c.Method() == fiber.MethodGet && isPage(c.Path()) {
		ctx = assess.Lagging(ctx)
		if c.Get("HX-Request") == "" {
			ctx = assess.Patient(ctx, s.Patience)
		}
	}
	r.Figures, err = s.Office.Assess.Day(ctx, r.AsOf)
	return r, err
}

// Parse understands an address.
func (s *Server) Parse(c fiber.Ctx) (*Request, error) {
	q, err := url.ParseQuery(string(c.Request().URI().QueryString()))
	if err != nil {
		return nil, fiber.NewError(fiber.StatusBadRequest, "The address cannot be read.")
	}
	for k, v := range q { // an empty control is no filter
		if len(v) == 0 || v[0] == "" {
			q.Del(k)
		}
	}
	r := &Request{Ctx: c, Server: s, Asked: q, Scope: q.Get("scope"), AsOf: s.AsOf()}
	if day := q.Get("asof"); day != "" {
		if r.AsOf, err = calendar.ParseDate(day); err != nil {
			return nil, fiber.NewError(fiber.StatusBadRequest, "“"+fault.Clip(day, 40)+"” is not a day; expected YYYY-MM-DD.")
		}
		r.Marked = true
	}
	c.SetContext(intake.For(c.Context(), r.AsOf))
	if r.Shown = q.Get("currency"); r.Shown != "" {
		cur, err := money.ParseCurrency(r.Shown)
		if err != nil {
			return nil, fiber.NewError(fiber.StatusBadRequest, "“"+fault.Clip(r.Shown, 40)+
				"” is not a currency; expected a code of ISO 4217 such as EUR.")
		}
		c.SetContext(assess.In(c.Context(), cur))
	}
	return r, nil
}

// At has the sections of the page lead to a period, where it is another than the one shown first.
func (r *Request) At(p calendar.Period) {
	r.AsOf, r.Marked = p.Last(), p.Last() != r.Server.AsOf()
}

// Period is the reporting period in view.
func (r *Request) Period() calendar.Period {
	if r.Figures != nil {
		return r.Figures.Env.Period()
	}
	return r.Server.PeriodOf(r.Context(), r.AsOf)
}

// PeriodOf is the reporting period that holds a day; the month where the settings cannot be read, which the page then says itself.
func (s *Server) PeriodOf(ctx context.Context, day calendar.Date) calendar.Period {
	p, err := s.Office.Setting.PeriodOf(ctx, day)
	if err != nil {
		return calendar.Months.Of(day)
	}
	return p
}

// To makes an address that keeps the scope and the day, with pairs of names and values besides.
func (r *Request) To(path string, pairs ...string) string { return r.place().To(path, pairs...) }

// place is where the one who asks stands. A day that the address does not name is left out, so that it stays the one that pages open at.
func (r *Request) place() Place {
	p := Place{Scope: r.Scope, Currency: r.Shown}
	if r.Marked {
		p.Day = r.AsOf.String()
	}
	return p
}

// Here makes the present address with some names set, or dropped where the value is empty.
func (r *Request) Here(pairs ...string) string {
	q := url.Values{}
	for k, v := range r.Asked {
		if k != "saved" && k != "sent" && k != "failed" && k != "done" && k != "unwritten" { // what was said once
			q[k] = v
		}
	}
	return Address(string(r.Request().URI().PathOriginal()), q, pairs)
}

// Address takes a path that is escaped already.
func Address(path string, q url.Values, pairs []string) string {
	for i := 0; i+1 < len(pairs); i += 2 {
		if pairs[i+1] == "" {
			q.Del(pairs[i])
		} else {
			q.Set(pairs[i], pairs[i+1])
		}
	}
	if len(q) == 0 {
		return path
	}
	return path + "?" + q.Encode()
}

// ProjectPath is the address of a project without its place.
func ProjectPath(code string) string { return "/projects/" + url.PathEscape(code) }

// RecordPath is the address, without its place, at which a record of a register or an activity stands in the margin of its list.
func RecordPath(kind record.Kind, holder, code string) string {
	path, q := "/registers/"+string(kind), url.Values{"record": {holder + ":" + code}}
	if kind == record.Activities { // they stand in the list of work
		path = "/registers/actions"
		q.Set("work", string(kind))
		q.Set("kind", string(kind))
	} else {
		q.Set("open", "all")
	}
	return path + "?" + q.Encode()
}

// Project makes the address of a project's page, which keeps the day but not the scope.
func (r *Request) Project(code string, pairs ...string) string {
	return r.To(ProjectPath(code), pairs...)
}

// Page fills in the frame of a screen. Where the screen shows no figures, what the frame tells of the period is taken from those at
// hand; they are computed only where there are none of the day.
func (r *Request) Page(title, current string) Page {
	if r.Figures == nil {
		r.Figures = r.Server.Office.Assess.AtHand(r.Context(), r.AsOf)
	}
	if r.Figures == nil && access.ActorOf(r.Context()).May(access.Read) {
		within := assess.Patient(r.Context(), r.Server.Patience)
		if a, err := r.Server.Office.Assess.Day(within, r.AsOf); err == nil { // without them the frame says less
			r.Figures = a
		}
	}
	return framed(r, title, current)
}

// framed is Page from the figures that there are.
func framed(r *Request, title, current string) Page {
	period := r.Period()
	p := Page{Title: title, Section: current, AsOf: r.AsOf.String(), AsOfHuman: r.AsOf.Human(), Period: period.Name(),
		Back: r.elsewhere("asof", (period - 1).Last().String()), On: r.elsewhere("asof", (period + 1).Last().String()),
		PackHref: r.To("/pack.pdf"), CloseHref: r.elsewhere(), Scope: scopingOf(r, ""), Periods: periodsOf(r),
	}
	if closed, err := r.Server.Office.Assess.Closed(r.Context(), r.AsOf); err == nil && closed != nil {
		p.Closed, p.Frozen = closedSays(closed), frozenOf(r, period)
	}
	p.Newer = newerOf(r)
	r.Server.Frame(&p, r.Ctx)
	p.Sections = sectionsOf(r, current)
	p.Track = trackOf(r, current, period)
	p.Desk = deskOf(r)
	for _, name := range []string{"scope", "programme", "lead", "status", "sort", "dir", "show", "currency"} {
		if v := r.Asked.Get(name); v != "" {
			p.Keep = append(p.Keep, Pair{name, v})
		}
	}
	if r.Figures != nil {
		if scope, err := r.Figures.Scope(r.Scope, measure.Open); err == nil {
			p.Awaits = say.Awaited(scope.Projects, r.Figures.Env)
		}
	}
	if r.Figures != nil && current != "Projects" {
		if one := r.Figures.ByCode[r.Scope]; one != nil && one.Code == r.Scope {
			p.Tabs = projectTabs(r, one, current)
		}
	}
	return p
}

// Frame fills in what every page has: styles, who is signed in, the token of forms.
func (s *Server) Frame(p *Page, c fiber.Ctx) {
	p.Place = PlaceOf(c)
	if c.Get("HX-Request") != "true" && c.Method() == fiber.MethodGet {
		p.Told = told(c)
	}
	p.Today = s.Today().String()
	p.Style, p.Script, p.Theme, p.Icon, p.Demo = s.assets["turret.css"], s.assets["turret.js"], s.assets["theme.js"],
		s.assets["icon.svg"], s.Demo
	if v := VisitOf(c); v != nil {
		p.Menu, p.Token = s.menuOf(v, c.OriginalURL()), v.Session.Token
	}
}

// Answer sends a page, or only its margin where htmx asked for that.
func (r *Request) Answer(name string, p *Page, view any) error {
	r.Set(fiber.HeaderCacheControl, NotShared)
	r.Vary("HX-Request", "HX-Target")
	if r.Get("HX-Request") == "true" && r.Get("HX-Target") == "margin" {
		name += ":margin"
		if at, err := url.Parse(r.Get("HX-Current-URL")); err == nil && at.EscapedPath() != string(r.Request().URI().PathOriginal()) {
			r.Set("HX-Push-Url", "false") // opened beside another screen, whose address stays
		}
	}
	return r.Render(name, view)
}

// Figure is a value of the catalogue as shown, with the address of its trace.
type Figure struct {
	Text, Title, Href string
	Tone              string
}

// Figure shows a measure of a project, as the text given or, where that is empty, by its unit.
func (r *Request) Figure(p *measure.Project, key measure.Key, text string) Figure {
	d := measure.Of(key)
	v := p.Value(key)
	f := Figure{Text: text, Title: d.Name, Href: r.Project(p.Code, "trace", key.String())}
	if text == "" {
		f.Text = v.Human(d.Unit, r.Figures.Env.Currency)
	}
	if !v.Known {
		f.Text, f.Title = "–", d.Name+": "+v.Reason
	} else if v.Note != "" {
		f.Title += ": " + v.Note
	}
	return f
}

// FigureHere is a figure whose trace opens beside the page that shows it.
func FigureHere(r *Request, p *measure.Project, key measure.Key) Figure {
	f := r.ShortFigure(p, key)
	f.Href = r.Here("trace", key.String(), "at", "", "account", "")
	return f
}

// Spoken is a piece of a headline with its address.
type Spoken struct {
	Text, Href, Tone string
	Trace            measure.Key
}

// Headline gives each piece of a sentence its address.
func (r *Request) Headline(s say.Sentence, trace func(measure.Key) string) []Spoken {
	var list []Spoken
	for _, p := range s {
		x := Spoken{Text: p.Text}
		if p.Tone != health.NotAssessed {
			x.Tone = "tone-" + chart.Class(p.Tone)
		}
		switch {
		case p.Measure != measure.None:
			x.Href, x.Trace = trace(p.Measure), p.Measure
		case p.Status != "":
			x.Href = r.Here("status", p.Status, "trace", "", "at", "", "code", "", "milestone", "", "of", "", "account", "")
		}
		list = append(list, x)
	}
	return list
}

// Fail answers an error with a page of our own; what went wrong inside is logged and not shown.
func (s *Server) Fail(c fiber.Ctx, err error) error {
	status, text := fiber.StatusInternalServerError, "Something went wrong here. Nothing was changed; trying again may help."
	var known *fiber.Error
	var field *fault.FieldError
	switch {
	case errors.Is(err, access.ErrSignedOut):
		return s.toSignIn(c)
	case errors.Is(err, assess.ErrComputing):
		return stillComputing(s, c)
	case errors.As(err, &known) && known.Code == fiber.StatusNotFound:
		status, text = known.Code, "There is no page at this address."
	case errors.As(err, &known):
		status, text = known.Code, known.Message
	case errors.As(err, &field), errors.Is(err, fault.ErrRefused):
		status, text = fiber.StatusUnprocessableEntity, Sentence(err.Error())
	case errors.Is(err, access.ErrForbidden):
		status, text = fiber.StatusForbidden, "This is not yours to see or do: "+
			fault.Plain(err, access.ErrForbidden)+"."
	case errors.Is(err, fault.ErrConflict), errors.Is(err, fault.ErrPinned), errors.Is(err, fault.ErrNeeded):
		status, text = fiber.StatusConflict, Sentence(err.Error())
	case errors.Is(err, fault.ErrBusy):
		status, text = fiber.StatusTooManyRequests, Sentence(fault.Plain(err, fault.ErrBusy))
	case errors.Is(err, fault.ErrTooLarge):
		status, text = fiber.StatusRequestEntityTooLarge, Sentence(err.Error())
	case fullDisk(err):
		status, text = fiber.StatusInsufficientStorage, "The disk that Turret writes to is full. Nothing was changed; whoever runs it "+
			"has to make room."
	case errors.Is(err, fault.ErrNotFound):
		status, text = fiber.StatusNotFound, "Not found: "+fault.Plain(err, fault.ErrNotFound)+"."
	}
	if status >= 500 {
		slog.Error("request failed", "path", c.Path(), "id", requestid.FromContext(c), "error", err)
	}
	c.Status(status)
	if status == fiber.StatusRequestEntityTooLarge {
		c.Response().Header.SetConnectionClose() // the rest of it is not wanted
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	if strings.HasPrefix(c.Path(), "/api/") || c.Get(fiber.HeaderAccept) == fiber.MIMEApplicationJSON {
		return c.JSON(fiber.Map{"error": text})
	}
	return c.Render("error", struct{ Page Page }{s.failedPage(c, text)})
}

// failedPage is the frame of a page that says what went wrong, around all projects, since the scope may be what is not there.
func (s *Server) failedPage(c fiber.Ctx, text string) Page {
	p := Page{Title: "Not shown", Failed: text}
	s.Frame(&p, c)
	p.Place.Scope = ""
	if VisitOf(c) == nil {
		return p
	}
	r, err := s.Parse(c)
	if err != nil {
		r = &Request{Ctx: c, Server: s, Asked: url.Values{}, AsOf: s.AsOf()}
	}
	r.Scope = ""
	for name := range r.Asked { // another period is looked for where it is sure to be found
		if name != "asof" {
			r.Asked.Del(name)
		}
	}
	r.Figures = s.Office.Assess.AtHand(r.Context(), r.AsOf)
	around := framed(r, p.Title, "")
	around.Failed, around.Back, around.On = text, r.To("/", "asof", (r.Period()-1).Last().String()),
		r.To("/", "asof", (r.Period()+1).Last().String())
	around.Scope.Href = r.To("/places", "at", "/")
	for i, p := range periodsNear(r) {
		around.Periods[i].Href = r.To("/", "asof", p.Last().String())
	}
	return around
}

// fullDisk says whether something could not be written because there is no room; the database says so in words of its own.
func fullDisk(err error) bool {
	return errors.Is(err, syscall.ENOSPC) || strings.Contains(err.Error(), "database or disk is full")
}

// Sentence begins with a capital and ends with a stop.
func Sentence(s string) string {
	if s == "" {
		return s
	}
	return write.Capital(strings.TrimSuffix(s, ".")) + "."
}

// ReadOpen understands a request as Read does, and finds the open projects of its scope.
func (s *Server) ReadOpen(c fiber.Ctx) (*Request, *assess.Scope, error) {
	r, err := s.Read(c)
	if err != nil {
		return nil, nil, err
	}
	scope, err := r.Figures.Scope(r.Scope, measure.Open)
	return r, scope, err
}
