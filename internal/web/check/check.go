// Package check holds the pages of findings, and the rules they come from.
package check

import (
	"cmp"
	"embed"
	"fmt"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/judge"
	"turret/internal/core/calendar"
	"turret/internal/core/check"
	"turret/internal/core/measure"
	"turret/internal/core/write"
	"turret/internal/record"
	"turret/internal/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// pages are those of one server.
type pages struct{ *page.Server }

// Routes adds the addresses of findings, and the rules they come from.
func Routes(base *page.Server) {
	s := &pages{base}
	s.Show(templates)
	s.App.Get("/check", s.check)
	s.App.Get("/check/score", s.checkScore)
	s.App.Get("/check/rules", s.checkRules)
	s.App.Get("/check/findings/:file", s.checkFile)
	s.App.Post("/check/accept", s.accept)
	s.App.Post("/check/unaccept", s.unaccept)
	s.App.Post("/check/send", s.sendFindings)
	s.App.Post("/check/rules/set", s.setCheck)
	s.App.Post("/check/rules/own", s.ownCheck)
}

var checkTabs = [][2]string{{"Findings", "/check"}, {"Data score", "/check/score"}, {"Checks", "/check/rules"}}

func checkFrame(r *page.Request, title, current string) page.SectionFrame {
	v := page.SectionFrame{Page: r.Page(title, "Check")}
	for _, x := range checkTabs {
		if x[0] == "Checks" && !access.ActorOf(r.Context()).May(access.ReadSetup) {
			continue
		}
		v.Tabs = append(v.Tabs, page.Tab{Link: page.Link{Text: x[0], Href: r.To(x[1])}, Current: x[0] == current})
	}
	return v
}

type checkView struct {
	page.SectionFrame
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
	Waiting  bool // what is simulated is not there yet
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

func (s *pages) check(c fiber.Ctx) error { return s.showCheck(c, nil, "") }

// found reads an address of the section and gathers what checks found.
// It waits so long for what is simulated.
func (s *pages) found(c fiber.Ctx, patience time.Duration) (*page.Request, *assess.Scope, *judge.Checked, error) {
	r, scope, err := s.ReadOpen(c)
	if err != nil {
		return nil, nil, nil, err
	}
	found, err := s.Office.Judge.CheckAhead(c.Context(), r.Figures, scope, patience)
	return r, scope, found, err
}

// mostWaited is how long a file waits for what is simulated.
const mostWaited = time.Minute

func (s *pages) showCheck(c fiber.Ctx, wrong error, open string) error {
	r, scope, found, err := s.found(c, page.MostSimulating)
	if err != nil {
		return err
	}
	actor := access.ActorOf(c.Context())
	v := checkView{SectionFrame: checkFrame(r, "Check", "Findings"), May: actor.May(access.Judge) && r.Figures.Closed == nil,
		Send: actor.May(access.Remind), Broken: r.Figures.Broken,
		Until: (r.Period() + 1).Last().String(), Open: open, Asked: r.AskedFor()}
	if err := r.ScopeTrace(&v.Page, scope); err != nil {
		return err
	}
	if wrong != nil {
		v.Problem, v.Reason = page.Sentence(wrong.Error()), strings.Clone(c.FormValue("reason"))
		c.Status(fiber.StatusUnprocessableEntity)
	}
	switch n := r.Asked.Get("sent"); n {
	case "":
	case "0":
		v.Done = "Nothing was written: no lead here has an address and something to fix."
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
	v.Waiting = found.Waiting
	v.filters(r, found)
	v.list(r, found, files)
	v.Headline = checkHeadline(r, found, scope)
	v.Files = []page.Link{{Text: "CSV", Href: findings(r, "csv")}, {Text: "JSON", Href: findings(r, "json")}}
	if len(v.Groups) == 0 && len(v.Accepted) == 0 {
		v.Empty = "Nothing was found."
		if v.Filtered {
			v.Empty = "Nothing answers these filters."
		}
	}
	return r.Answer("check", &v.Page, &v)
}

func findings(r *page.Request, format string) string {
	return strings.Replace(r.Here("trace", "", "at", "", "sent", ""), "/check", "/check/findings/findings."+format, 1)
}

func (v *checkView) filters(r *page.Request, found *judge.Checked) {
	severity, rule, show := r.Asked.Get("severity"), r.Asked.Get("check"), r.Asked.Get("show")
	rules := []string{"", "all"}
	for _, c := range found.Rules {
		if c.Failed > 0 || c.Rule.ID == rule {
			rules = append(rules, c.Rule.ID, c.Rule.Name)
		}
	}
	v.Filters = []page.Picker{page.Choose("Severity", "severity", severity, "", "all", "error", "errors", "warning", "warnings",
		"information",
		"notices"),
		page.Choose("Check", "check", rule, rules...), page.Choose("Show", "show", show, "", "what counts", "new",
			"new since the last period",
			"accepted", "accepted", "all", "everything")}
	v.Filtered, v.Clear = severity != "" || rule != "" || show != "", r.Here("severity", "", "check", "", "show", "", "trace", "")
	v.Carry(r)
}

func (v *checkView) list(r *page.Request, found *judge.Checked, files map[int64]string) {
	severity, rule, show := r.Asked.Get("severity"), r.Asked.Get("check"), r.Asked.Get("show")
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
				v.Accepted = append(v.Accepted, findingRowOf(r, f, files))
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
				MoreHref: r.Here("check", f.Rule.ID, "trace", "")})
		}
		v.Groups[k].Rows = append(v.Groups[k].Rows, findingRowOf(r, f, files))
	}
	for i := range v.Groups {
		g := &v.Groups[i]
		g.Count = strconv.Itoa(len(g.Rows))
		if n := len(g.Rows) - most; n > 0 {
			g.Rows, g.More = g.Rows[:most], write.Count(n, "more record", "more records")
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

func findingRowOf(r *page.Request, f *judge.Found, files map[int64]string) findingRow {
	x := findingRow{Project: f.Project.Code, Name: f.Project.Name, Href: r.Project(f.Project.Code), Record: f.Record, Says: f.Says,
		Rule: f.Rule.ID, New: f.New,
		Key: f.Project.Code + "\x1f" + f.Rule.ID + "\x1f" + f.Record}
	if f.Ref.Load != 0 {
		x.Where = fmt.Sprintf("%s, row %d", files[f.Ref.Load], f.Ref.Row)
	}
	kind := record.Kind(f.Kind)
	actor := access.ActorOf(r.Context())
	switch {
	case f.Rule.Simulated():
		x.Mend, x.MendText = r.To(page.ProjectPath(f.Project.Code)+"/outlook"), "outlook"
	case !slices.Contains(actor.Asked(r.Figures.Settings.AskedOfLeads), kind) || r.Figures.Closed != nil:
	case kind == record.Actuals || kind == record.Timesheets:
		x.Mend, x.MendText = r.To("/loads"), "loads"
	case f.Rule.ID == "input_late":
		x.Mend, x.MendText = r.To("/gather"), "gather"
	case kind == record.Gates:
		x.Mend, x.MendText = r.To(page.ProjectPath(f.Project.Code)+"/gates"), "gates"
	case kind == record.Proposals:
		x.Mend, x.MendText = r.To("/pipeline/proposals")+"#decide", "decide"
	case kind.OfProject():
		x.Mend, x.MendText = r.To(page.EditPath(kind, f.Project.Code)+"&at="+url.QueryEscape(f.Record)+"&field="+url.QueryEscape(f.Field)+
			"#at"), "fix"
	case kind != "":
		x.Mend, x.MendText = r.To(page.EditPath(kind, "")), "fix"
	}
	if a := f.Accepted; a != nil {
		x.ID, x.Reason, x.Who, x.Until = a.ID, a.Reason, a.Who, a.Until.Human()
	}
	return x
}

func checkHeadline(r *page.Request, found *judge.Checked, scope *assess.Scope) []page.Spoken {
	g := r.Figures.Roll(scope.Projects)
	var list []page.Spoken
	fresh, simulated := 0, 0
	for i := range found.List {
		f := &found.List[i]
		if f.New {
			fresh++
		}
		if f.Rule.Simulated() && f.Accepted == nil {
			simulated++
		}
	}
	n := func(key measure.Key) int { return int(g.Value(key).N) }
	list = append(list, page.Spoken{Text: write.Count(n(measure.Errors), "error", "errors"), Href: r.Here("severity", "error", "trace", ""),
		Tone: ToneIf(n(measure.Errors) > 0, "tone-act")}, page.Spoken{Text: ", "},
		page.Spoken{Text: write.Count(n(measure.Warnings), "warning", "warnings"), Href: r.Here("severity", "warning", "trace", "")},
		page.Spoken{Text: " and "},
		page.Spoken{Text: write.Count(n(measure.Notices), "notice", "notices"), Href: r.Here("severity", "information", "trace", "")},
		page.Spoken{Text: " in " + write.Count(len(scope.Projects), "project", "projects")})
	if simulated > 0 {
		list = append(list, page.Spoken{Text: ", besides " + strconv.Itoa(simulated) + " by simulation"})
	}
	if found.Since != 0 {
		list = append(list, page.Spoken{Text: "; "}, page.Spoken{Text: strconv.Itoa(fresh) + " new",
			Href: r.Here("show", "new", "trace", "")},
			page.Spoken{Text: " since " + found.Since.Name() + ", " + strconv.Itoa(len(found.Mended)) + " fixed"})
	}
	if v := g.Value(measure.DataScore); v.Known {
		list = append(list, page.Spoken{Text: ". Data score "}, page.Say(r, g, measure.DataScore, ""))
	}
	return append(list, page.Spoken{Text: "."})
}

// ToneIf is a tone where something is so.
func ToneIf(is bool, tone string) string {
	if is {
		return tone
	}
	return ""
}

type scoreView struct {
	Pager page.Pager
	page.SectionFrame
	Rows  []scoreRow
	Total []page.Figure
	Parts []partRow
	Empty string
}

type scoreRow struct {
	Code, Name, Lead, Href string
	Figures                []page.Figure
}

// partRow is a check with what it adds to the score.
type partRow struct {
	Name, Severity, Records string
	Tested, Failed          string
	Lost                    string
	Href                    string
}

var scoreKeys = []measure.Key{measure.Errors, measure.Warnings, measure.Notices, measure.ChecksFailed, measure.ChecksTested,
	measure.DataScore}

func (s *pages) checkScore(c fiber.Ctx) error {
	r, scope, err := s.ReadOpen(c)
	if err != nil {
		return err
	}
	found, err := s.Office.Judge.Check(c.Context(), r.Figures, scope) // what is simulated weighs nothing
	if err != nil {
		return err
	}
	v := scoreView{SectionFrame: checkFrame(r, "Data score", "Data score")}
	v.Carry(r)
	if err := r.ScopeTrace(&v.Page, scope); err != nil {
		return err
	}
	g := r.Figures.Roll(scope.Projects)
	list := slices.Clone(scope.Projects)
	slices.SortStableFunc(list, func(p, q *measure.Project) int {
		x, y := p.Value(measure.DataScore), q.Value(measure.DataScore)
		d := measure.Of(measure.DataScore)
		return d.Compare(x, y)
	})
	list, v.Pager = page.Cut(r, list)
	for _, p := range list {
		x := scoreRow{Code: p.Code, Name: p.Name, Lead: p.Lead, Href: r.To("/check", "scope", p.Code)}
		for _, k := range scoreKeys {
			x.Figures = append(x.Figures, r.Figure(p, k, ""))
		}
		v.Rows = append(v.Rows, x)
	}
	for _, k := range scoreKeys {
		v.Total = append(v.Total, page.Rolled(r, g, k))
	}
	tested := g.Value(measure.ChecksTested).N
	slices.SortStableFunc(found.Rules, func(x, y check.Count) int {
		return cmp.Compare(y.Weight(), x.Weight())
	})
	for _, p := range found.Rules {
		lost := strconv.FormatFloat(p.Lost(tested), 'f', 2, 64)
		v.Parts = append(v.Parts, partRow{p.Rule.Name, p.Rule.Severity.String(), p.Rule.Records, write.Whole(p.Tested),
			write.Whole(p.Failed),
			lost, r.To("/check", "check", p.Rule.ID)})
	}
	v.Headline = []page.Spoken{{Text: "Data score "}, page.Say(r, g, measure.DataScore, ""),
		{Text: ": 100 times one minus what failed over what was tested, an error counting 5, a warning 2, a notice 1. It never " +
			"colours health."}}
	if len(v.Rows) == 0 {
		v.Empty = "No project is open in this scope."
	}
	return r.Answer("check-score", &v.Page, &v)
}

func (s *pages) checkFile(c fiber.Ctx) error {
	r, _, found, err := s.found(c, mostWaited)
	if err != nil {
		return err
	}
	if found.Waiting { // a file that lacked something would not say so
		return fault.Conflict("projects are still being simulated; take the file again in a moment")
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
	severity, rule, show := r.Asked.Get("severity"), r.Asked.Get("check"), r.Asked.Get("show")
	found.List = slices.DeleteFunc(found.List, func(f judge.Found) bool {
		return severity != "" && f.Rule.Severity.String() != severity || rule != "" && f.Rule.ID != rule || show == "new" && !f.New ||
			show == "accepted" && f.Accepted == nil
	})
	return r.Deliver(name, kind, func(w page.FiberWriter) error { return s.Reports.Findings(w, name, found, files) })
}

func (s *pages) accept(c fiber.Ctx) error {
	r, err := s.Read(c)
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
	err = s.Office.Judge.Accept(c.Context(), r.Figures, project, check.Acceptance{Rule: rule, Record: record,
		Reason: strings.Clone(c.FormValue("reason")), Until: until})
	return page.AnsweredWith(c, err, "The finding of "+project+" is accepted until "+until.Human()+".", "/check"+r.AskedFor(),
		func(refused error) error { return s.showCheck(c, refused, key) })
}

func (s *pages) unaccept(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	id, err := strconv.ParseInt(c.FormValue("id"), 10, 64)
	if err != nil {
		return fiber.NewError(fiber.StatusBadRequest, "The form cannot be read.")
	}
	if err := s.Office.Judge.Unaccept(c.Context(), r.Figures, strings.Clone(c.FormValue("project")), id); err != nil {
		return err
	}
	page.Tell(c, "The finding is open again.")
	return r.BackTo("/check")
}

func (s *pages) sendFindings(c fiber.Ctx) error {
	r, scope, err := s.ReadOpen(c)
	if err != nil {
		return err
	}
	done, err := s.Office.Judge.SendFindings(c.Context(), r.Figures, scope)
	if err != nil {
		return err
	}
	return page.Go(c, r.To("/check", "sent", strconv.Itoa(len(done.Sent))))
}
