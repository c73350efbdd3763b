// Package register holds the pages of risks, issues, actions, decisions, meetings and lessons over projects and programmes.
package register

import (
	"embed"
	"fmt"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/register"
	"turret/internal/core/calendar"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/write"
	"turret/internal/record"
	"turret/internal/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// pages are those of one server.
type pages struct{ *page.Server }

// Routes adds the addresses of registers.
func Routes(base *page.Server) {
	s := &pages{base}
	m, f := &minutes{s}, &files{s}
	s.Show(templates)
	s.App.Get("/registers", func(c fiber.Ctx) error { return page.Go(c, "/registers/risks") })
	s.App.Get("/registers/risks", s.risks)
	s.App.Get("/registers/issues", s.listed(record.Issues))
	s.App.Get("/registers/actions", s.actions)
	s.App.Get("/registers/decisions", s.listed(record.Decisions))
	s.App.Get("/registers/lessons", s.lessons)
	s.App.Get("/registers/meetings", m.meetings)
	s.App.Get("/registers/meetings/new", m.meeting)
	s.App.Get("/registers/meetings/:holder/:code", m.meeting)
	s.App.Post("/registers/meetings/save", m.saveMeeting)
	s.App.Post("/registers/meetings/send", m.sendMeeting)
	s.App.Post("/registers/meetings/agenda", m.makeAgenda)
	s.App.Post("/registers/decisions/decide", m.decide)
	s.App.Post("/registers/:kind/set", s.set)
	s.App.Post("/registers/:kind/add", s.add)
	s.App.Post("/registers/:kind/escalate", s.escalate)
	s.App.Post("/registers/:kind/say", s.say)
	s.App.Post("/registers/:kind/attach", f.attach)
	s.App.Get("/registers/:kind/file", f.file)
	s.App.Post("/registers/risks/occur", s.occur)
	s.App.Post("/registers/actions/move", s.move)
	s.App.Post("/registers/actions/step", s.step)
}

// kinds are those that have a page, in the order of their tabs.
var kinds = []record.Kind{record.Risks, record.Issues, record.Actions, record.Meetings, record.Decisions, record.Lessons}

// kindPath is the address of the page of a kind.
func kindPath(kind record.Kind) string { return "/registers/" + string(kind) }

// kindOf reads the kind from an address.
func kindOf(c fiber.Ctx) (record.Kind, error) {
	kind := record.Kind(strings.Clone(c.Params("kind")))
	if !slices.Contains(kinds, kind) && kind != record.Activities {
		return "", fiber.ErrNotFound
	}
	return kind, nil
}

// view is what the pages of registers share.
type view struct {
	page.SectionFrame
	Kind   record.Kind
	Rows   []row
	Empty  string
	Add    *addForm
	Record *recordView
	Query  string
	More   string // how many rows are not shown

	Lacking []page.Tab // how many lack something, each leading to them
}

// row is a record in a list.
type row struct {
	Number              int
	Code, Title, Href   string
	Holder, HolderHref  string
	HolderTitle         string
	Programme           string
	Owner, Priority     string
	Due, Age            string
	State, Tone         string
	Mark                *page.Mark // that it is late
	Before, After       string
	Worth, Left, Days   string
	Blocks, From, Says  string
	Escalated           string
	Percent             string
	Chosen              bool
	Reason, Decided, By string
}

// addForm makes a new record.
type addForm struct {
	Action, What string
	Holders      []page.Option
	Priorities   bool
	Ready        []readyRisk
	OwnerColumn  string
	Due          bool
	Long         bool // it has a text
	Problem      string
	Typed        map[string]string
	Open         bool
}

type readyRisk struct{ Code, Title string }

// frame reads the address and the scope of a register.
func (s *pages) frame(c fiber.Ctx, kind record.Kind) (*page.Request, *assess.Scope, *view, error) {
	r, err := s.Read(c)
	if err != nil {
		return nil, nil, nil, err
	}
	scope, err := r.Figures.Scope(r.Scope)
	if err != nil {
		return nil, nil, nil, err
	}
	v := &view{SectionFrame: page.SectionFrame{Page: r.Page(kind.Title(), "Registers"), Tabs: page.RegisterTabs(r, kind.Title())},
		Kind: kind}
	v.Page.Awaits = "" // registers do not wait for the inputs of a period
	return r, scope, v, nil
}

// filterOf reads what a list is narrowed to.
func filterOf(r *page.Request) register.Filter {
	f := register.Filter{Text: r.Asked.Get("q"), Owner: r.Asked.Get("owner"), Priority: r.Asked.Get("priority"),
		State: r.Asked.Get("state"),
		Lack:  register.Lack(r.Asked.Get("lack")),
		Late:  r.Asked.Get("due") == "late", Closed: r.Asked.Get("open") == "all"}
	var l, c int64
	if n, err := fmt.Sscanf(r.Asked.Get("cell"), "%dx%d", &l, &c); n == 2 && err == nil {
		f.Cell, f.After = &register.Cell{Likelihood: l, Consequence: c}, r.Asked.Get("grid") == "after"
	}
	return f
}

// narrowed are the filters that a list of a kind offers.
func (v *view) narrowed(r *page.Request, list []register.Line, states []string) {
	owners := register.Owners(list)
	v.Filters = nil
	if v.Kind == record.Issues || v.Kind == record.Actions {
		v.Filters = append(v.Filters, page.Choices("Priority", "priority", r.Asked.Get("priority"), []string{"high", "medium", "low"},
			"all"))
	}
	v.Filters = append(v.Filters, page.Choices("Owner", "owner", r.Asked.Get("owner"), owners, "all"),
		page.Choices("State", "state", r.Asked.Get("state"), states, "open ones"),
		page.Choose("Due", "due", r.Asked.Get("due"), "", "any time", "late", "past due"),
		page.Choose("Show", "open", r.Asked.Get("open"), "", "what is open", "all", "also what is over"))
	var clear []string
	v.lacking(r, list)
	for _, k := range []string{"q", "priority", "owner", "state", "due", "open", "cell", "lack"} {
		v.Filtered = v.Filtered || r.Asked.Get(k) != ""
		clear = append(clear, k, "")
	}
	v.Clear = r.Here(append(clear, "record", "", "kind", "", "trace", "")...)
	v.Query = r.Asked.Get("q")
	v.Carry(r)
	for _, k := range []string{"grid", "view", "lack"} {
		if x := r.Asked.Get(k); x != "" {
			v.Keep = append(v.Keep, page.Pair{Name: k, Value: x})
		}
	}
}

// lackNames are what is said of records that lack something.
var lackNames = map[register.Lack]string{register.NoOwner: "without an owner", register.NoRating: "not rated",
	register.PastReview: "past the day they were to be looked at"}

// lacking leads to the open records that lack something.
func (v *view) lacking(r *page.Request, list []register.Line) {
	lacking := register.Lacking(list)
	for _, lack := range register.Lacks {
		n := lacking[lack]
		if asked := r.Asked.Get("lack") == string(lack); n > 0 || asked {
			v.Lacking = append(v.Lacking, page.Tab{Link: page.Link{Text: write.Whole(n) + " " + lackNames[lack],
				Href: r.Here("lack", string(lack), "record", "", "kind", "", "trace", "")}, Current: asked})
		}
	}
}

// mostShown is how many records a list shows; more are told by their number.
const mostShown = 300

// fill puts the records of a list into rows.
func (v *view) fill(r *page.Request, list []register.Line) {
	for i := range list {
		if i == mostShown {
			v.More = fmt.Sprintf("%s more are not shown: narrow the list by a filter, or take all of it from the command line.",
				write.Whole(len(list)-mostShown))
			break
		}
		x := rowOf(r, &list[i])
		x.Number = i + 1
		v.Rows = append(v.Rows, x)
	}
}

// rowOf shows a record.
func rowOf(r *page.Request, l *register.Line) row {
	kind := ""
	if l.Kind == record.Activities {
		kind = string(l.Kind) // the only ones that stand in the list of another kind
	}
	x := row{Code: l.Code, Title: l.Title, Href: r.Here("record", l.Key(), "kind", kind, "edit", "", "trace", ""), Holder: l.Holder.Name,
		Owner:    l.Owner,
		Priority: l.Priority, State: l.StateOf(), Says: l.Says, Chosen: r.Asked.Get("record") == l.Key() && r.Asked.Get("kind") == kind,
		Reason: l.Says, By: l.Owner}
	if l.Holder.Node {
		x.HolderHref = r.To(kindPath(l.Kind), "scope", l.Holder.Code)
	} else {
		x.Holder, x.HolderTitle = l.Holder.Code, l.Holder.Name
		x.HolderHref = r.Project(l.Holder.Code)
	}
	if l.Escalated != "" {
		x.Escalated = "escalated to " + nodeName(r, l.Escalated) + page.Because(l.Why)
	}
	if l.Due != 0 {
		x.Due = l.Due.Human()
	}
	if l.Ended != 0 && l.Kind == record.Decisions {
		x.Decided = l.Ended.Human()
	}
	if l.Age.Given {
		x.Age = write.Whole(int(l.Age.N))
	}
	if l.Late {
		x.Tone = "tone-act"
		x.Mark = &page.Mark{SVG: page.Pennant(health.Act, 12, false), Label: "past due"}
	}
	switch {
	case l.Risk != nil:
		riskRow(r, l, &x)
	case l.Issue != nil:
		x.From = l.Issue.FromRisk
		x.Blocks = activityName(l.Holder, l.Issue.Blocks)
	case l.Action != nil:
		x.From = l.Action.Source
	case l.Work != nil:
		x.From = "the plan"
	}
	if l.Percent.Given {
		x.Percent = write.Percent(float64(l.Percent.N)/10_000, 1)
	}
	return x
}

func riskRow(r *page.Request, l *register.Line, x *row) {
	exposure := func(n int64, ok bool) string {
		if !ok {
			return "–"
		}
		return fmt.Sprint(n)
	}
	x.Before, x.After = exposure(l.Before.Exposure()), exposure(l.After.Exposure())
	currency := r.Figures.Env.Currency
	if _, ok := l.Before.Expected(); ok && !r.Figures.NoMoney && l.Open {
		x.Worth, x.Left = l.Worth.Short(currency), l.WorthAfter.Short(currency)
	}
	if n, ok := l.Before.ExpectedDays(); ok {
		x.Days = measure.Value{Known: true, N: n}.Human(measure.ExpectedDays, currency)
	}
	x.Due = ""
	if d := cmpDay(l.Risk.Review, l.Due); d != 0 {
		x.Due = d.Human()
	}
}

// cmpDay is the earlier of two days, of which either may be none.
func cmpDay(a, b calendar.Date) calendar.Date {
	if a == 0 || b != 0 && b < a {
		return b
	}
	return a
}

func nodeName(r *page.Request, code string) string {
	if n := r.Figures.NodeCodes[code]; n != nil {
		return n.Name
	}
	return code
}

// activityName is an activity of a project by its code and name.
func activityName(p *measure.Project, code string) string {
	for i := range p.Activities {
		if p.Activities[i].Code == code {
			return code + " " + p.Activities[i].Name
		}
	}
	return code
}

// listed shows a kind as a list.
func (s *pages) listed(kind record.Kind) fiber.Handler {
	return func(c fiber.Ctx) error { return s.showList(c, kind, nil, nil) }
}

func (s *pages) showList(c fiber.Ctx, kind record.Kind, refused error, typed map[string]string) error {
	r, scope, v, err := s.frame(c, kind)
	if err != nil {
		return err
	}
	all := register.Lines(r.Figures, scope, kind)
	list := register.Pick(all, filterOf(r))
	register.ByUrgency(list)
	v.fill(r, list)
	v.narrowed(r, all, register.States(kind))
	v.Headline = listHeadline(r, scope, kind, all)
	v.Empty = emptyOf(kind, len(all))
	if err := v.finish(s, r, scope, refused, typed); err != nil {
		return err
	}
	return r.Answer("register-list", &v.Page, v)
}

// emptyOf says what belongs into a list without rows.
func emptyOf(kind record.Kind, all int) string {
	if all > 0 {
		return "No " + kind.Noun(1) + " answers these filters."
	}
	return "There are no " + kind.Noun(2) + " here. They come with a file of the kind " + string(kind) + ", or are added below."
}

// finish adds what every page of a register ends with: the form for a new record, the trace and the record in the margin.
func (v *view) finish(s *pages, r *page.Request, scope *assess.Scope, refused error, typed map[string]string) error {
	if r.Asked.Get("trace") != "" {
		if err := r.ScopeTrace(&v.Page, scope); err != nil {
			return err
		}
	}
	v.Add = s.addOf(r, scope, v.Kind, typed)
	if refused != nil {
		if v.Add != nil {
			v.Add.Problem, v.Add.Open = page.RefusedText(refused), true
		}
		r.Status(fiber.StatusUnprocessableEntity)
	}
	return v.open(s, r)
}

// addOf is the form for a new record; nil for whoever may write none here.
func (s *pages) addOf(r *page.Request, scope *assess.Scope, kind record.Kind, typed map[string]string) *addForm {
	if r.Figures.Closed != nil || !access.ActorOf(r.Context()).May(access.Send) {
		return nil
	}
	f := &addForm{Action: r.To(kindPath(kind) + "/add"), What: kind.Noun(1), Priorities: kind == record.Issues || kind == record.Actions,
		Typed: typed, OwnerColumn: "owner", Due: kind != record.Decisions}
	switch kind {
	case record.Decisions:
		f.OwnerColumn = "decided_by"
	case record.Lessons:
		f.OwnerColumn, f.Due, f.Long = "raised_by", false, true
	}
	holder := typed["holder"]
	add := func(code, name string) {
		f.Holders = append(f.Holders, page.Option{Value: code, Text: name, Selected: code == holder || holder == "" && code == r.Scope})
	}
	for i := range r.Figures.Masters.Nodes {
		n := &r.Figures.Masters.Nodes[i]
		if kind.OfNodes() && assess.NodeSeenBy(r.Figures, access.ActorOf(r.Context()), n) {
			add(n.Code, n.Name)
		}
	}
	for _, p := range scope.Projects {
		if p.Status == measure.Open || p.Status == measure.Proposed || p.Status == measure.Closed && kind == record.Lessons {
			add(p.Code, p.Code+" "+p.Name)
		}
	}
	if len(f.Holders) == 0 {
		return nil
	}
	return f
}

// listHeadline says what a list comes to, each figure with its trace.
func listHeadline(r *page.Request, scope *assess.Scope, kind record.Kind, all []register.Line) []page.Spoken {
	g := scope.Roll(r.Figures.Env)
	count := func(key measure.Key, one, many string) []page.Spoken {
		v := g.Value(key)
		n := int(v.N)
		return []page.Spoken{page.Say(r, g, key, write.Count(n, one, many))}
	}
	switch kind {
	case record.Issues:
		said := count(measure.IssuesOpen, "open issue", "open issues")
		said = append(said, page.Spoken{Text: ", "}, page.Say(r, g, measure.IssuesOverdue, ""), page.Spoken{Text: " past due, "},
			page.Say(r, g, measure.IssuesLate, ""), page.Spoken{Text: " of these of high priority"})
		return append(said, page.Spoken{Text: oldest(all) + "."})
	case record.Actions:
		return append(count(measure.ActionsOpen, "open action", "open actions"), page.Spoken{Text: ", "}, page.Say(r, g,
			measure.ActionsOverdue, ""),
			page.Spoken{Text: " past due."})
	}
	return append(count(measure.DecisionsOpen, "decision is asked for", "decisions are asked for"), page.Spoken{Text: "."})
}

// oldest says which open record has waited longest.
func oldest(all []register.Line) string {
	var best *register.Line
	for i := range all {
		if l := &all[i]; l.Open && l.Age.Given && (best == nil || l.Age.N > best.Age.N) {
			best = l
		}
	}
	if best == nil {
		return ""
	}
	return fmt.Sprintf("; the oldest, %s of %s, is %s old", best.Code, best.Holder.Code, write.Count(int(best.Age.N), "day", "days"))
}
