package web

import (
	"context"
	"errors"
	"fmt"
	"html/template"
	"log/slog"
	"net/url"
	"strings"
	"syscall"
	"unicode"
	"unicode/utf8"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/requestid"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/publish"
	"turret/internal/app/say"
	"turret/internal/app/setting"
	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/money"
)

// page is what every screen shows around its own content.
type page struct {
	Title, Section string
	Style, Script  string
	Theme, Icon    string
	Demo           bool
	Sections       []section
	Search         string
	AsOf, Period   string
	AsOfHuman      string
	Closed         string // when and by whom the period was closed; empty while it is open
	Back, On       string // addresses of the period before and after
	Path           []link // the scope from the top, without the picker
	Picker         picker
	Keep           []pair // fields that forms of the header pass on
	Trace          *traceView
	CloseHref      string
	PackHref       string
	Failed         string
	Person         string // who is signed in, empty for nobody
	Token          string // carried by forms
	Track          []track
	Newer          *newerView // nil where the figures are the newest
}

// track is the period track, as far as its steps exist.
type track struct {
	Href, Label string
	Key         string // that goes there, after g
	Done        int    // of a hundred
	Note        string // what is open in the step
	Current     bool
	Late        bool
}

type section struct {
	Name, Href, Key string
	Current         bool
}

type link struct{ Text, Href string }

type pair struct{ Name, Value string }

// picker is a choice that leads to an address.
type picker struct {
	Label, Name, Action string
	Options             []option
}

type option struct {
	Value, Text string
	Selected    bool
}

// request is what an address says, with what it was assessed as.
type request struct {
	fiber.Ctx
	s      *Server
	a      *assess.Assessment
	query  url.Values
	asOf   calendar.Date
	scope  string
	marked bool   // the address names the day itself
	shown  string // currency that the address asks for; empty for the reporting one
}

// read understands an address and assesses its day.
func (s *Server) read(c fiber.Ctx) (*request, error) {
	r, err := s.parse(c)
	if err != nil {
		return nil, err
	}
	ctx := c.Context()
	if c.Method() == fiber.MethodGet && isPage(c.Path()) {
		ctx = assess.Lagging(ctx)
	}
	r.a, err = s.Office.Assess.Day(ctx, r.asOf)
	return r, err
}

// parse understands an address.
func (s *Server) parse(c fiber.Ctx) (*request, error) {
	q, err := url.ParseQuery(string(c.Request().URI().QueryString()))
	if err != nil {
		return nil, fiber.NewError(fiber.StatusBadRequest, "The address cannot be read.")
	}
	for k, v := range q { // an empty control is no filter
		if len(v) == 0 || v[0] == "" {
			q.Del(k)
		}
	}
	r := &request{Ctx: c, s: s, query: q, scope: q.Get("scope"), asOf: s.AsOf()}
	if day := q.Get("asof"); day != "" {
		if r.asOf, err = calendar.ParseDate(day); err != nil {
			return nil, fiber.NewError(fiber.StatusBadRequest, "“"+fault.Clip(day, 40)+"” is not a day; expected YYYY-MM-DD.")
		}
		r.marked = true
	}
	c.SetContext(intake.For(c.Context(), r.asOf))
	if r.shown = q.Get("currency"); r.shown != "" {
		cur, err := money.ParseCurrency(r.shown)
		if err != nil {
			return nil, fiber.NewError(fiber.StatusBadRequest, "“"+fault.Clip(r.shown, 40)+
				"” is not a currency; expected a code of ISO 4217 such as EUR.")
		}
		c.SetContext(assess.In(c.Context(), cur))
	}
	return r, nil
}

// at has the sections of the page lead to a period, where it is another than the one shown first.
func (r *request) at(p calendar.Period) {
	r.asOf, r.marked = p.Last(), p.Last() != r.s.AsOf()
}

// period is the reporting period in view.
func (r *request) period() calendar.Period {
	if r.a != nil {
		return r.a.Env.Period()
	}
	return r.s.periodOf(r.Context(), r.asOf)
}

// periodOf is the reporting period that holds a day; the month where the settings cannot be read, which the page then says itself.
func (s *Server) periodOf(ctx context.Context, day calendar.Date) calendar.Period {
	p, err := s.Office.Setting.PeriodOf(ctx, day)
	if err != nil {
		return calendar.Months.Of(day)
	}
	return p
}

// to makes an address that keeps the scope and the day, with pairs of names and values besides.
func (r *request) to(path string, pairs ...string) string {
	q := url.Values{}
	if r.marked {
		q.Set("asof", r.asOf.String())
	}
	if r.scope != "" && !strings.HasPrefix(path, "/projects/") {
		q.Set("scope", r.scope)
	}
	if r.shown != "" {
		q.Set("currency", r.shown)
	}
	return address(path, q, pairs)
}

// here makes the present address with some names set, or dropped where the value is empty.
func (r *request) here(pairs ...string) string {
	q := url.Values{}
	for k, v := range r.query {
		q[k] = v
	}
	return address(string(r.Request().URI().PathOriginal()), q, pairs)
}

// address takes a path that is escaped already.
func address(path string, q url.Values, pairs []string) string {
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

func projectPath(code string) string { return "/projects/" + url.PathEscape(code) }

// project makes the address of a project's page, which keeps the day but not the scope.
func (r *request) project(code string, pairs ...string) string {
	q := url.Values{}
	if r.marked {
		q.Set("asof", r.asOf.String())
	}
	if r.shown != "" {
		q.Set("currency", r.shown)
	}
	for i := 0; i+1 < len(pairs); i += 2 {
		q.Set(pairs[i], pairs[i+1])
	}
	if len(q) == 0 {
		return projectPath(code)
	}
	return projectPath(code) + "?" + q.Encode()
}

// page fills in the frame of a screen.
func (r *request) page(title, current string) page {
	period := r.period()
	p := page{Title: title, Section: current, AsOf: r.asOf.String(), AsOfHuman: r.asOf.Human(), Period: period.Name(),
		Back:      r.here("asof", (period - 1).Last().String(), "trace", "", "at", "", "code", "", "milestone", "", "of", ""),
		On:        r.here("asof", (period + 1).Last().String(), "trace", "", "at", "", "code", "", "milestone", "", "of", ""),
		PackHref:  r.to("/pack.pdf"),
		CloseHref: r.here("trace", "", "at", "", "code", "", "milestone", "", "of", ""),
	}
	if r.a != nil && r.a.Closed != nil {
		p.Closed = closedHeadline(r.a, period)
	}
	p.Newer = r.older()
	r.s.frame(&p, r.Ctx)
	p.Sections = r.sections(current)
	p.Track = r.track(current, period)
	for _, name := range []string{"scope", "programme", "lead", "status", "sort", "dir", "show", "currency"} {
		if v := r.query.Get(name); v != "" {
			p.Keep = append(p.Keep, pair{name, v})
		}
	}
	return p
}

// track are the steps of the period, as far as they exist, each with how far it is, what is open in it and when it is due.
func (r *request) track(current string, period calendar.Period) []track {
	var list []track
	add := func(step setting.Step, href, key string, done, all int, note string) {
		x := track{Href: r.to(href), Label: capital(string(step)), Key: key, Done: 100, Note: note}
		if all > 0 {
			x.Done = 100 * done / all
		}
		x.Current = current == x.Label
		if r.a != nil && r.a.Closed == nil {
			due := r.a.DueOn(step)
			x.Note += ", due " + due.Human()
			x.Late = x.Done < 100 && r.s.Today() > due
		}
		list = append(list, x)
	}
	if current == "Gather" || access.ActorOf(r.Context()).May(access.ReadLoads) {
		if came, expected, err := r.s.Office.Gather.Counts(r.Context(), period); err == nil && expected > 0 {
			add(setting.GatherStep, "/gather", "", came, expected, fmt.Sprintf("%d of %d inputs have come", came, expected))
		}
	}
	if r.a == nil {
		return list
	}
	n := publish.CountSteps(r.a.Projects)
	if n.Open == 0 {
		return list
	}
	add(setting.CheckStep, "/check", "c", n.Clean, n.Open, count(n.Errors, "error", "errors")+" open")
	add(setting.AssessStep, "/assess", "s", n.Open-n.Unlike, n.Open, count(n.Unlike, "project is", "projects are")+
		" declared better than computed")
	add(setting.ExplainStep, "/explain", "e", n.Written, n.Wanted, fmt.Sprintf("%d of %d projects that want it are explained", n.Written,
		n.Wanted))
	state, _, err := r.s.Office.Publish.State(r.Context(), r.a)
	if err != nil {
		state = publish.PeriodInWork
	}
	add(setting.PublishStep, "/publish", "b", map[publish.PeriodState]int{publish.PeriodInReview: 1, publish.PeriodPublished: 2}[state], 2,
		r.period().Name()+" is "+string(state))
	return list
}

// sections lists those that the one who asks may enter.
func (r *request) sections(current string) []section {
	list := []section{{"Lookout", r.to("/"), "l", false}, {"Projects", r.to("/projects"), "p", false},
		{"Timeline", r.to("/timeline"), "t", false}}
	actor := access.ActorOf(r.Context())
	if actor != nil && !actor.HideMoney {
		list = append(list, section{"Money", r.to("/money"), "m", false})
	}
	list = append(list, section{"Reports", r.to("/reports"), "r", false})
	for _, x := range []struct {
		act access.Act
		section
	}{{access.Send, section{"Gather", r.to("/gather"), "a", false}}, {access.Send, section{"Loads", r.to("/loads"), "o", false}},
		{access.ReadSetup, section{"Setup", r.to("/setup"), "u", false}}} {
		if actor.May(x.act) {
			list = append(list, x.section)
		}
	}
	for i := range list {
		list[i].Current = list[i].Name == current
	}
	return list
}

func (s *Server) frame(p *page, c fiber.Ctx) {
	p.Style, p.Script, p.Theme, p.Icon, p.Demo = s.assets["turret.css"], s.assets["turret.js"], s.assets["theme.js"],
		s.assets["icon.svg"], s.Demo
	if v := visitOf(c); v != nil {
		p.Person, p.Token = v.account.Name, v.session.Token
	}
}

// scopes is the picker of a portfolio or programme.
func (r *request) scopes(action string) picker {
	p := picker{Label: "Scope", Name: "scope", Action: action, Options: []option{{"", "All projects", r.scope == ""}}}
	var add func(parent int64, depth int)
	add = func(parent int64, depth int) {
		for _, n := range r.a.Masters.Nodes {
			if n.Parent == parent && depth < 20 {
				p.Options = append(p.Options, option{n.Code, strings.Repeat("\u2003", depth) + n.Name, r.scope == n.Code})
				add(n.ID, depth+1)
			}
		}
	}
	add(0, 0)
	return p
}

// render sends a page, or only its margin where htmx asked for that.
func (r *request) render(name string, p *page, view any) error {
	r.Set(fiber.HeaderCacheControl, "no-cache")
	r.Vary("HX-Request", "HX-Target")
	if r.Get("HX-Request") == "true" && r.Get("HX-Target") == "margin" {
		name += ":margin"
		if at, err := url.Parse(r.Get("HX-Current-URL")); err == nil && at.EscapedPath() != string(r.Request().URI().PathOriginal()) {
			r.Set("HX-Push-Url", "false") // opened beside another screen, whose address stays
		}
	}
	return r.Render(name, view)
}

// mark is a pennant with its words.
type mark struct {
	SVG   template.HTML
	Label string
}

// pennants of a size are drawn once.
func pennant(s health.Status, h float64, outlined bool) template.HTML {
	return template.HTML(chart.Pennant(s, h, outlined).SVG()) //nolint:gosec // drawn from a status alone
}

// figure is a value of the catalogue as shown, with the address of its trace.
type figure struct {
	Text, Title, Href string
	Tone              string
}

func (r *request) figure(p *measure.Project, key, text string) figure {
	d, _ := measure.Lookup(key)
	v := p.Value(key)
	f := figure{Text: text, Title: d.Name, Href: r.project(p.Code, "trace", key)}
	if text == "" {
		f.Text = v.Human(d.Unit, r.a.Env.Currency)
	}
	if !v.Known {
		f.Text, f.Title = "–", d.Name+": "+v.Reason
	} else if v.Note != "" {
		f.Title += ": " + v.Note
	}
	return f
}

// spoken is a piece of a headline with its address.
type spoken struct{ Text, Href, Tone, Trace string }

func (r *request) headline(s say.Sentence, trace func(key string) string) []spoken {
	var list []spoken
	for _, p := range s {
		x := spoken{Text: p.Text}
		if p.Tone != health.NotAssessed {
			x.Tone = "tone-" + chart.Class(p.Tone)
		}
		switch {
		case p.Measure != "":
			x.Href, x.Trace = trace(p.Measure), p.Measure
		case p.Status != "":
			x.Href = r.here("status", p.Status, "trace", "", "at", "", "code", "", "milestone", "", "of", "")
		}
		list = append(list, x)
	}
	return list
}

// fail answers an error with a page of our own; what went wrong inside is logged and not shown.
func (s *Server) fail(c fiber.Ctx, err error) error {
	status, text := fiber.StatusInternalServerError, "Something went wrong here. Nothing was changed; trying again may help."
	var known *fiber.Error
	var field *fault.FieldError
	switch {
	case errors.Is(err, access.ErrSignedOut):
		return s.toSignIn(c)
	case errors.As(err, &known) && known.Code == fiber.StatusNotFound:
		status, text = known.Code, "There is no page at this address."
	case errors.As(err, &known):
		status, text = known.Code, known.Message
	case errors.As(err, &field), errors.Is(err, fault.ErrRefused):
		status, text = fiber.StatusUnprocessableEntity, sentence(err.Error())
	case errors.Is(err, access.ErrForbidden):
		status, text = fiber.StatusForbidden, "This is not yours to see or do: "+
			strings.TrimSuffix(err.Error(), ": "+access.ErrForbidden.Error())+"."
	case errors.Is(err, fault.ErrConflict), errors.Is(err, fault.ErrPinned), errors.Is(err, fault.ErrNeeded):
		status, text = fiber.StatusConflict, sentence(err.Error())
	case errors.Is(err, fault.ErrBusy):
		status, text = fiber.StatusTooManyRequests, sentence(strings.TrimSuffix(err.Error(), ": "+fault.ErrBusy.Error()))
	case errors.Is(err, fault.ErrTooLarge):
		status, text = fiber.StatusRequestEntityTooLarge, sentence(err.Error())
	case fullDisk(err):
		status, text = fiber.StatusInsufficientStorage, "The disk that Turret writes to is full. Nothing was changed; whoever runs it "+
			"has to make room."
	case errors.Is(err, fault.ErrNotFound):
		status, text = fiber.StatusNotFound, "Not found: "+strings.TrimSuffix(err.Error(), ": "+fault.ErrNotFound.Error())+"."
	}
	if status >= 500 {
		slog.Error("request failed", "path", c.Path(), "id", requestid.FromContext(c), "error", err)
	}
	c.Status(status)
	if status == fiber.StatusRequestEntityTooLarge {
		c.Response().Header.SetConnectionClose() // the rest of it is not wanted
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	if strings.HasPrefix(c.Path(), "/api/") {
		return c.JSON(fiber.Map{"error": text})
	}
	p := page{Title: "Not shown", Failed: text}
	s.frame(&p, c)
	if visitOf(c) != nil {
		p.Sections = []section{{"Lookout", "/", "l", false}, {"Projects", "/projects", "p", false}}
	}
	return c.Render("error", struct{ Page page }{p})
}

// fullDisk says whether something could not be written because there is no room; the database says so in words of its own.
func fullDisk(err error) bool {
	return errors.Is(err, syscall.ENOSPC) || strings.Contains(err.Error(), "database or disk is full")
}

// sentence begins with a capital and ends with a stop.
func sentence(s string) string {
	if s == "" {
		return s
	}
	r, n := utf8.DecodeRuneInString(s)
	return string(unicode.ToUpper(r)) + strings.TrimSuffix(s[n:], ".") + "."
}
