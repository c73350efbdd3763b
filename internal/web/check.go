package web

import (
	"cmp"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/judge"
	"turret/internal/core/calendar"
	"turret/internal/core/check"
	"turret/internal/core/measure"
	"turret/internal/record"
)

func (s *Server) checkRoutes() {
	s.app.Get("/check", s.check)
	s.app.Get("/check/score", s.checkScore)
	s.app.Get("/check/rules", s.checkRules)
	s.app.Get("/check/findings/:file", s.checkFile)
	s.app.Post("/check/accept", s.accept)
	s.app.Post("/check/unaccept", s.unaccept)
	s.app.Post("/check/send", s.sendFindings)
	s.app.Post("/check/rules/set", s.setCheck)
	s.app.Post("/check/rules/own", s.ownCheck)
}

var checkTabs = [][2]string{{"Findings", "/check"}, {"Data score", "/check/score"}, {"Checks", "/check/rules"}}

func (r *request) checkFrame(title, current string) sectionFrame {
	v := sectionFrame{Page: r.page(title, "Check")}
	for _, x := range checkTabs {
		if x[0] == "Checks" && !access.ActorOf(r.Context()).May(access.ReadSetup) {
			continue
		}
		v.Tabs = append(v.Tabs, tab{link{x[0], r.to(x[1])}, x[0] == current})
	}
	v.Page.Picker = r.scopes(string(r.Request().URI().PathOriginal()))
	if p, err := r.a.Project(r.scope); err == nil {
		r.path(&v.Page, p)
		v.Page.Picker = picker{}
		v.Page.Path = append(v.Page.Path, link{p.Code + " " + p.Name, r.project(p.Code)})
	}
	return v
}

type checkView struct {
	sectionFrame
	Groups   []findingGroup
	Accepted []findingRow
	Mended   []string
	Since    string
	May      bool
	Send     bool
	Until    string
	Problem  string
	Open     string // key of the finding whose form was refused
	Reason   string
	Done     string
	Broken   []string
	Empty    string
	Asked    string
}

type findingGroup struct {
	Severity, Tone, Name, Says, Mend, ID string
	Count                                string
	Rows                                 []findingRow
	More                                 string
	MoreHref                             string
}

type findingRow struct {
	Project, Name, Href, Record, Says, Where string
	Rule                                     string
	Key                                      string
	Mend, MendText                           string
	New                                      bool
	ID                                       int64
	Reason, Who, Until                       string
}

// fewFindings are shown of each check until all are asked for.
const (
	fewFindings  = 12
	manyFindings = 2000
)

func (s *Server) check(c fiber.Ctx) error { return s.showCheck(c, nil, "") }

// found reads an address of the section and gathers what checks found.
func (s *Server) found(c fiber.Ctx) (*request, *assess.Scope, *judge.Checked, error) {
	r, scope, err := s.readAssess(c)
	if err != nil {
		return nil, nil, nil, err
	}
	found, err := s.Office.Judge.Check(c.Context(), r.a, scope)
	return r, scope, found, err
}

func (s *Server) showCheck(c fiber.Ctx, wrong *fault.FieldError, open string) error {
	r, scope, found, err := s.found(c)
	if err != nil {
		return err
	}
	actor := access.ActorOf(c.Context())
	v := checkView{sectionFrame: r.checkFrame("Check", "Findings"), May: actor.May(access.Judge) && r.a.Closed == nil,
		Send: actor.May(access.Remind), Broken: r.a.Broken,
		Until: (r.period() + 1).Last().String(), Open: open, Asked: r.asked()}
	if err := r.scopeTrace(&v.Page, scope); err != nil {
		return err
	}
	if wrong != nil {
		v.Problem, v.Reason = sentence(wrong.Error()), strings.Clone(c.FormValue("reason"))
		c.Status(fiber.StatusUnprocessableEntity)
	}
	switch n := r.query.Get("sent"); n {
	case "":
	case "0":
		v.Done = "Nothing was written: no lead here has an address and something to mend."
	default:
		v.Done = "Written to " + fault.Clip(n, 6) + " leads; the letters lie in the outbox."
	}
	if found.Since != 0 {
		v.Since = found.Since.Name()
	}
	files, err := s.Office.Judge.LoadFiles(c.Context())
	if err != nil {
		return err
	}
	v.filters(r, found)
	v.list(r, found, files)
	v.Headline = r.checkHeadline(found, scope)
	v.Files = []link{{"CSV", r.findings("csv")}, {"JSON", r.findings("json")}}
	if len(v.Groups) == 0 && len(v.Accepted) == 0 {
		v.Empty = "Nothing was found."
		if v.Filtered {
			v.Empty = "Nothing answers these filters."
		}
	}
	return r.render("check", &v.Page, &v)
}

func (r *request) findings(format string) string {
	return strings.Replace(r.here("trace", "", "at", "", "sent", ""), "/check", "/check/findings/findings."+format, 1)
}

func (v *checkView) filters(r *request, found *judge.Checked) {
	severity, rule, show := r.query.Get("severity"), r.query.Get("check"), r.query.Get("show")
	rules := []string{"", "all"}
	for _, c := range found.Rules {
		if c.Failed > 0 || c.Rule.ID == rule {
			rules = append(rules, c.Rule.ID, c.Rule.Name)
		}
	}
	v.Filters = []picker{choose("Severity", "severity", severity, "", "all", "error", "errors", "warning", "warnings", "information",
		"notices"),
		choose("Check", "check", rule, rules...), choose("Show", "show", show, "", "what counts", "new", "new since the last period",
			"accepted", "accepted", "all", "everything")}
	v.Filtered, v.Clear = severity != "" || rule != "" || show != "", r.here("severity", "", "check", "", "show", "", "trace", "")
	v.keep(r)
}

func (v *checkView) list(r *request, found *judge.Checked, files map[int64]string) {
	severity, rule, show := r.query.Get("severity"), r.query.Get("check"), r.query.Get("show")
	most := fewFindings
	if rule != "" {
		most = manyFindings
	}
	at := map[string]int{}
	for i := range found.List {
		f := &found.List[i]
		if severity != "" && f.Rule.Severity.String() != severity || rule != "" && f.Rule.ID != rule || show == "new" && !f.New {
			continue
		}
		if f.Accepted != nil {
			if show != "new" {
				v.Accepted = append(v.Accepted, r.findingRow(f, files))
			}
			continue
		}
		if show == "accepted" {
			continue
		}
		k, ok := at[f.Rule.ID]
		if !ok {
			k = len(v.Groups)
			at[f.Rule.ID] = k
			v.Groups = append(v.Groups, findingGroup{Severity: f.Rule.Severity.String(), Tone: severityTone(f.Rule.Severity),
				Name: f.Rule.Name, Says: f.Rule.Says, Mend: f.Rule.Mend, ID: f.Rule.ID,
				MoreHref: r.here("check", f.Rule.ID, "trace", "")})
		}
		v.Groups[k].Rows = append(v.Groups[k].Rows, r.findingRow(f, files))
	}
	for i := range v.Groups {
		g := &v.Groups[i]
		g.Count = itoa(len(g.Rows))
		if n := len(g.Rows) - most; n > 0 {
			g.Rows, g.More = g.Rows[:most], count(n, "more record", "more records")
		}
	}
	for _, m := range found.Mended {
		if (severity == "" || m.Rule.Severity.String() == severity) && len(v.Mended) < 200 {
			v.Mended = append(v.Mended, strings.TrimSpace(m.Project.Code+" "+m.Record)+": "+m.Rule.Name)
		}
	}
}

func severityTone(s check.Severity) string {
	return [...]string{"tone-act", "tone-watch", "tone-none"}[s]
}

func (r *request) findingRow(f *judge.Found, files map[int64]string) findingRow {
	x := findingRow{Project: f.Project.Code, Name: f.Project.Name, Href: r.project(f.Project.Code), Record: f.Record, Says: f.Says,
		Rule: f.Rule.ID, New: f.New,
		Key: f.Project.Code + "\x1f" + f.Rule.ID + "\x1f" + f.Record}
	if f.Ref.Load != 0 {
		x.Where = fmt.Sprintf("%s, row %d", files[f.Ref.Load], f.Ref.Row)
	}
	kind := record.Kind(f.Kind)
	actor := access.ActorOf(r.Context())
	switch {
	case !slices.Contains(actor.Asked(r.a.Settings.AskedOfLeads), kind) || r.a.Closed != nil:
	case kind == record.Actuals || kind == record.Timesheets:
		x.Mend, x.MendText = r.to("/loads"), "loads"
	case f.Rule.ID == "input_late":
		x.Mend, x.MendText = r.to("/gather"), "gather"
	case kind.OfProject():
		x.Mend, x.MendText = editPath(kind, f.Project.Code)+"&at="+urlEscape(f.Record)+"&field="+urlEscape(f.Field)+"#at", "mend"
	case kind != "":
		x.Mend, x.MendText = editPath(kind, ""), "mend"
	}
	if a := f.Accepted; a != nil {
		x.ID, x.Reason, x.Who, x.Until = a.ID, a.Reason, a.Who, a.Until.Human()
	}
	return x
}

func (r *request) checkHeadline(found *judge.Checked, scope *assess.Scope) []spoken {
	g := measure.Roll(scope.Projects, r.a.Env)
	var list []spoken
	fresh := 0
	for i := range found.List {
		if found.List[i].New {
			fresh++
		}
	}
	n := func(key string) int { return int(g.Value(key).N) }
	list = append(list, spoken{Text: count(n("errors"), "error", "errors"), Href: r.here("severity", "error", "trace", ""),
		Tone: toneIf(n("errors") > 0, "tone-act")}, spoken{Text: ", "},
		spoken{Text: count(n("warnings"), "warning", "warnings"), Href: r.here("severity", "warning", "trace", "")}, spoken{Text: " and "},
		spoken{Text: count(n("notices"), "notice", "notices"), Href: r.here("severity", "information", "trace", "")},
		spoken{Text: " in " + count(len(scope.Projects), "project", "projects")})
	if found.Since != 0 {
		list = append(list, spoken{Text: "; "}, spoken{Text: itoa(fresh) + " new", Href: r.here("show", "new", "trace", "")},
			spoken{Text: " since " + found.Since.Name() + ", " + itoa(len(found.Mended)) + " mended"})
	}
	if v := g.Value("data_score"); v.Known {
		list = append(list, spoken{Text: ". Data score "}, r.say(g, "data_score", ""))
	}
	return append(list, spoken{Text: "."})
}

func toneIf(is bool, tone string) string {
	if is {
		return tone
	}
	return ""
}

type scoreView struct {
	sectionFrame
	Rows  []scoreRow
	Total []figure
	Parts []partRow
	Empty string
}

type scoreRow struct {
	Code, Name, Lead, Href string
	Figures                []figure
}

// partRow is a check with what it adds to the score.
type partRow struct {
	Name, Severity, Records string
	Tested, Failed          string
	Lost                    string
	Href                    string
}

var scoreKeys = []string{"errors", "warnings", "notices", "checks_failed", "checks_tested", "data_score"}

func (s *Server) checkScore(c fiber.Ctx) error {
	r, scope, found, err := s.found(c)
	if err != nil {
		return err
	}
	v := scoreView{sectionFrame: r.checkFrame("Data score", "Data score")}
	v.keep(r)
	if err := r.scopeTrace(&v.Page, scope); err != nil {
		return err
	}
	g := measure.Roll(scope.Projects, r.a.Env)
	list := slices.Clone(scope.Projects)
	slices.SortStableFunc(list, func(p, q *measure.Project) int {
		x, y := p.Value("data_score"), q.Value("data_score")
		d, _ := measure.Lookup("data_score")
		return d.Compare(x, y)
	})
	for _, p := range list {
		x := scoreRow{Code: p.Code, Name: p.Name, Lead: p.Lead, Href: r.to("/check", "scope", p.Code)}
		for _, k := range scoreKeys {
			x.Figures = append(x.Figures, r.figure(p, k, ""))
		}
		v.Rows = append(v.Rows, x)
	}
	for _, k := range scoreKeys {
		v.Total = append(v.Total, r.rolled(g, k))
	}
	tested := g.Value("checks_tested").N
	slices.SortStableFunc(found.Rules, func(x, y check.Count) int {
		return cmp.Compare(y.Weight(), x.Weight())
	})
	for _, p := range found.Rules {
		lost := strconv.FormatFloat(p.Lost(tested), 'f', 2, 64)
		v.Parts = append(v.Parts, partRow{p.Rule.Name, p.Rule.Severity.String(), p.Rule.Records, thousands(p.Tested), thousands(p.Failed),
			lost, r.to("/check", "check", p.Rule.ID)})
	}
	v.Headline = []spoken{{Text: "Data score "}, r.say(g, "data_score", ""),
		{Text: ": 100 times one minus what failed over what was tested, an error counting 5, a warning 2, a notice 1. It never " +
			"colours health."}}
	if len(v.Rows) == 0 {
		v.Empty = "No project is open in this scope."
	}
	return r.render("check-score", &v.Page, &v)
}

func (s *Server) checkFile(c fiber.Ctx) error {
	r, _, found, err := s.found(c)
	if err != nil {
		return err
	}
	name := strings.Clone(c.Params("file"))
	kind := map[string]string{"findings.csv": "text/csv; charset=utf-8", "findings.json": "application/json; charset=utf-8"}[name]
	if kind == "" {
		return fiber.NewError(fiber.StatusNotFound, "There is no such file; expected findings.csv or findings.json.")
	}
	files, err := s.Office.Judge.LoadFiles(c.Context())
	if err != nil {
		return err
	}
	severity, rule, show := r.query.Get("severity"), r.query.Get("check"), r.query.Get("show")
	found.List = slices.DeleteFunc(found.List, func(f judge.Found) bool {
		return severity != "" && f.Rule.Severity.String() != severity || rule != "" && f.Rule.ID != rule || show == "new" && !f.New ||
			show == "accepted" && f.Accepted == nil
	})
	return r.download(name, kind, func(w fiberWriter) error { return s.Reports.Findings(w, name, found, files) })
}

func (s *Server) accept(c fiber.Ctx) error {
	r, err := s.read(c)
	if err != nil {
		return err
	}
	project, rule, record := strings.Clone(c.FormValue("project")), strings.Clone(c.FormValue("rule")), strings.Clone(c.FormValue("record"))
	key := project + "\x1f" + rule + "\x1f" + record
	until, err := calendar.ParseDate(strings.Clone(c.FormValue("until")))
	if err != nil {
		return s.showCheck(c, &fault.FieldError{Field: "until", Value: strings.Clone(c.FormValue("until")),
			Expected: "a day as YYYY-MM-DD"}, key)
	}
	err = s.Office.Judge.Accept(c.Context(), r.a, project, check.Acceptance{Rule: rule, Record: record,
		Reason: strings.Clone(c.FormValue("reason")), Until: until})
	var field *fault.FieldError
	if errors.As(err, &field) {
		return s.showCheck(c, field, key)
	} else if err != nil {
		return err
	}
	return r.backTo("/check")
}

// asked is what an address asks for, as forms pass it on.
func (r *request) asked() string {
	if len(r.query) == 0 {
		return ""
	}
	return "?" + r.query.Encode()
}

// backTo returns to the page that a form stood on, with its filters.
func (r *request) backTo(path string) error {
	return r.Redirect().Status(fiber.StatusSeeOther).To(path + r.asked())
}

func (s *Server) unaccept(c fiber.Ctx) error {
	r, err := s.read(c)
	if err != nil {
		return err
	}
	id, err := strconv.ParseInt(c.FormValue("id"), 10, 64)
	if err != nil {
		return fiber.NewError(fiber.StatusBadRequest, "The form cannot be read.")
	}
	if err := s.Office.Judge.Unaccept(c.Context(), r.a, strings.Clone(c.FormValue("project")), id); err != nil {
		return err
	}
	return r.backTo("/check")
}

func (s *Server) sendFindings(c fiber.Ctx) error {
	r, scope, err := s.readAssess(c)
	if err != nil {
		return err
	}
	done, err := s.Office.Judge.SendFindings(c.Context(), r.a, scope)
	if err != nil {
		return err
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(r.to("/check", "sent", itoa(len(done.Sent))))
}
