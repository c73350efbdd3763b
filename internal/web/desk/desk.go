// Package desk holds the page of what the one who is signed in has to do.
package desk

import (
	"cmp"
	"embed"
	"maps"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/desk"
	"turret/internal/app/hours"
	"turret/internal/app/people"
	"turret/internal/app/register"
	"turret/internal/core/calendar"
	"turret/internal/core/health"
	"turret/internal/core/money"
	"turret/internal/core/write"
	"turret/internal/record"
	"turret/internal/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// pages are those of one server.
type pages struct{ *page.Server }

// Routes adds the addresses of the desk.
func Routes(base *page.Server) {
	s := &pages{base}
	s.Show(templates)
	s.App.Get("/desk", s.desk)
	s.App.Post("/desk/tick", s.tick)
	s.App.Get("/desk/owners", s.owners)
	s.App.Post("/desk/owners", s.match)
}

type view struct {
	Page      page.Page
	Headline  string
	Groups    []group
	Questions []line
	Changes   []line
	Proposals []line
	Gates     []line
	// those beyond what is listed, and where all of them are
	MoreProposals, AllProposals string
	Hours                       []line
	Strangers                   string
	Tick                        string // where ticks are sent; empty where none may be
	Back                        string // the desk, to come back to
	Empty                       string
}

// group is what is due by the same time.
type group struct {
	Name, Tone string
	Items      []item
}

type item struct {
	Kind, Holder, Code, Title, Href string
	Says, State, Due, Tone, Percent string
	Project, ProjectHref            string
	New, Changed, CanTick           bool
	Set                             string // where a change is sent; empty where none may be
	States                          []page.Option
	Fields                          []field
	Mark                            *page.Mark
}

// field is what may be changed of an item without leaving the desk.
type field struct{ Name, Label, Value, Type string }

type line struct{ Text, Href, Says string }

// groups are parted by when things are due, in days from the as-of date.
var groups = []struct {
	name string
	upTo int
}{{"Past due", 0}, {"Within a week", 7}, {"Within a month", 31}, {"Later", 1 << 29}}

func (s *pages) desk(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	d, err := s.Office.Desk.Of(c.Context(), r.Figures)
	if err != nil {
		return err
	}
	v := view{Page: r.Page("Your desk", "Desk"), Back: r.To("/desk")}
	actor := access.ActorOf(c.Context())
	if r.Figures.Closed == nil && actor.May(access.Send) {
		v.Tick = r.To("/desk/tick")
	}
	may, err := s.Office.Edit.Editing(c.Context())
	if err != nil {
		return err
	}
	v.fill(may, r, d)
	for _, q := range d.Questions {
		v.Questions = append(v.Questions, line{Text: q.Text, Href: r.ExplainPath(q.Project.Code), Says: q.Who + " asks about " +
			q.Project.Code})
	}
	if more := len(d.Proposals) - mostProposals; more > 0 {
		v.MoreProposals, v.AllProposals = write.Count(more, "more waits", "more wait"), r.To("/pipeline/proposals", "decision", "waits")
	}
	for _, x := range d.Proposals[:min(len(d.Proposals), mostProposals)] {
		says := "asked for by " + cmp.Or(x.AskedBy, "nobody named")
		if x.AskedOn != 0 {
			says += " on " + x.AskedOn.Human()
		}
		if x.Decision != "" {
			says += "; " + x.Says()
		}
		v.Proposals = append(v.Proposals, line{Text: x.Project.Code + " " + x.Project.Name, Says: says,
			Href: r.To(page.ProjectPath(x.Project.Code) + "/proposal")})
	}
	for i := range d.Gates[:min(len(d.Gates), mostProposals)] {
		x := &d.Gates[i]
		v.Gates = append(v.Gates, line{Text: x.Project.Code + " " + x.Project.Name, Says: "waits at the gate of " + x.Stage().Name +
			" since " +
			x.Open.AskedOn.Human(), Href: r.To(page.ProjectPath(x.Project.Code) + "/gates")})
	}
	for i := range d.Changes {
		x := &d.Changes[i]
		v.Changes = append(v.Changes, line{Text: x.Code + " " + x.Title, Href: r.To("/money/changes", "scope", x.Project.Code, "state",
			"requested"),
			Says: x.Project.Code + " " + x.Project.Name})
	}
	if actor.MayWhole(access.Send) {
		strangers, _, err := s.Office.Desk.Strangers(c.Context(), r.Figures)
		if err != nil {
			return err
		}
		if n := len(strangers); n > 0 {
			v.Strangers = write.Count(n, "owner of records is", "owners of records are") + " nobody that is known"
		}
	}
	v.Page.Awaits = ""
	if err := s.hours(c, r, &v); err != nil {
		return err
	}
	return r.Answer("desk", &v.Page, &v)
}

// hours are the weeks whose hours are wanted of whoever asks, and how many sheets wait to be approved.
func (s *pages) hours(c fiber.Ctx, r *page.Request, v *view) error {
	if r.Figures.Closed != nil {
		return nil
	}
	weeks := hours.WeeksBefore(min(s.Today(), r.AsOf), 4)
	wanted, err := s.Office.Hours.Own(c.Context(), r.Figures, weeks)
	if err != nil {
		return err
	}
	for _, monday := range weeks {
		if what := wanted[monday]; what != "" {
			v.Hours = append(v.Hours, line{Text: "Hours of the week of " + monday.Human(), Href: r.To("/hours", "week", monday.String()),
				Says: what})
		}
	}
	if !access.ActorOf(c.Context()).May(access.Send) {
		return nil
	}
	list, err := s.Office.Hours.Waiting(c.Context(), r.Figures)
	if n := len(list); n > 0 {
		v.Hours = append(v.Hours, line{Text: write.Count(n, "week sheet waits", "week sheets wait") + " to be approved",
			Href: r.To("/hours/approve")})
	}
	if err != nil {
		return err
	}
	asked, err := s.Office.People.Requests(c.Context(), r.Figures)
	for i := range asked {
		if x := &asked[i]; x.State == people.Asked && people.MayAnswer(c.Context()) ||
			x.State == people.Offered && x.AskerLogin == access.ActorOf(c.Context()).Login {
			v.Hours = append(v.Hours, line{Text: x.Project + " asks for somebody from " + x.From.Human(), Href: r.To("/people/asked"),
				Says: string(x.State) + " by " + x.Who})
		}
	}
	return err
}

// fill puts the items under when they are due.
func (v *view) fill(may func(record.Kind, string) bool, r *page.Request, d *desk.Desk) {
	late, fresh, changed := 0, 0, 0
	for i := range d.Items {
		x := &d.Items[i]
		if x.Late {
			late++
		}
		if x.New {
			fresh++
		}
		if x.Changed {
			changed++
		}
		at := groupOf(x, r.AsOf)
		if n := len(v.Groups); n == 0 || v.Groups[n-1].Name != at {
			v.Groups = append(v.Groups, group{Name: at})
		}
		g := &v.Groups[len(v.Groups)-1]
		g.Items = append(g.Items, itemOf(may, r, x, v.Tick != ""))
	}
	v.Headline = write.Count(len(d.Items), "thing is", "things are") + " on your desk"
	if late > 0 {
		v.Headline += ", " + write.Whole(late) + " of them past due"
	}
	if fresh+changed+d.Gone > 0 {
		v.Headline += "; since you looked " + page.When(d.Since) + " " + write.Count(fresh, "has come", "have come") + ", " +
			write.Count(changed, "has changed", "have changed") + " and " + write.Count(d.Gone, "is gone", "are gone")
	}
	if n := len(d.Questions) + len(d.Changes) + len(d.Proposals) + len(d.Gates); n > 0 {
		v.Headline += "; " + write.Count(n, "question, change, proposal or gate waits", "questions, changes, proposals and gates wait") +
			" for your answer"
	}
	v.Headline += "."
	if len(d.Items)+len(d.Questions)+len(d.Changes)+len(d.Proposals)+len(d.Gates) == 0 {
		v.Headline = "Nothing waits for you."
		v.Empty = "Actions, issues, risks and activities stand here whose owner is you by your name, " + access.ActorOf(r.Context()).Name +
			", and what is asked of you."
	}
}

// mostProposals bounds how many proposals are listed that wait.
const mostProposals = 20

func groupOf(x *desk.Item, day calendar.Date) string {
	if x.Due == 0 {
		return "Without a day"
	}
	for _, g := range groups {
		if int(x.Due-day) <= g.upTo {
			return g.name
		}
	}
	return "Later"
}

func itemOf(may func(record.Kind, string) bool, r *page.Request, x *desk.Item, ticks bool) item {
	i := item{Kind: string(x.Kind), Holder: x.Holder.Code, Code: x.Code, Title: x.Title, Says: x.Says, State: x.State, New: x.New,
		Changed: x.Changed,
		Project: x.Holder.Code + " " + x.Holder.Name, ProjectHref: r.Project(x.Holder.Code)}
	if x.Holder.Node {
		i.Project, i.ProjectHref = x.Holder.Name, r.To("/registers/"+string(x.Kind), "scope", x.Holder.Code)
	}
	i.Href = r.To(page.RecordPath(x.Kind, x.Holder.Code, x.Code))
	i.CanTick = ticks && x.Kind != record.Risks && may(x.Kind, x.Holder.Code)
	if ticks && may(x.Kind, x.Holder.Code) {
		i.quick(r, x)
	}
	if x.Due != 0 {
		i.Due = x.Due.Human()
	}
	if x.Late {
		i.Tone, i.Mark = "tone-act", &page.Mark{SVG: page.Pennant(health.Act, 12, false), Label: "past due"}
	}
	if x.Percent.Given {
		i.Percent = write.Percent(float64(x.Percent.N)/10_000, 1)
	}
	return i
}

// quick is what may be changed in place: the day, and how far it is.
func (i *item) quick(r *page.Request, x *desk.Item) {
	i.Set = r.To("/registers/" + string(x.Kind) + "/set")
	for _, state := range register.States(x.Kind) {
		i.States = append(i.States, page.Option{Value: state, Text: state, Selected: state == x.State})
	}
	day := map[record.Kind][2]string{record.Actions: {"due", "Due"}, record.Issues: {"due", "Due"}, record.Risks: {"review", "Review on"},
		record.Activities: {"finish", "Expected finish"}}[x.Kind]
	due := ""
	if x.Dated != 0 {
		due = x.Dated.String()
	}
	i.Fields = append(i.Fields, field{"c-" + day[0], day[1], due, "date"})
	if x.Kind == record.Activities || x.Kind == record.Actions && !x.Stepped {
		percent := ""
		if x.Percent.Given {
			percent = money.Plain(x.Percent.N, 2)
		}
		i.Fields = append(i.Fields, field{"c-percent_complete", "Percent", percent, "text"})
	}
}

// tick does an item.
func (s *pages) tick(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	text := func(name string) string { return strings.Clone(c.FormValue(name)) }
	kind, holder, code := record.Kind(text("kind")), text("holder"), text("code")
	t, err := s.Office.Desk.Tick(c.Context(), r.Figures, kind, holder, code)
	if refused := page.Refused(err); refused != nil {
		page.Tell(c, page.Sentence(refused.Error()))
		return page.Go(c, "/desk")
	}
	if err != nil {
		return err
	}
	back := []string{"holder", holder, "code", code, "seen", t.Now, "back", page.PlaceOf(c).To("/desk")}
	for _, name := range slices.Sorted(maps.Keys(t.Was)) {
		back = append(back, "c-"+name, t.Was[name])
	}
	page.TellUndo(c, write.Capital(kind.Noun(1))+" "+code+" of "+holder+" is done"+r.InPeriod()+".",
		page.PlaceOf(c).To("/registers/"+string(kind)+"/set"), back...)
	return page.Go(c, "/desk")
}

type ownersView struct {
	Page     page.Page
	Headline string
	Rows     []ownerRow
	Matched  []page.Pair
	Known    []string
	Save     string
	Empty    string
}

type ownerRow struct {
	Name, Count string
	Guess       string
}

// owners lists whom records name as owner who is nobody that is known, to be matched once.
func (s *pages) owners(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	list, known, err := s.Office.Desk.Strangers(c.Context(), r.Figures)
	if err != nil {
		return err
	}
	v := ownersView{Page: r.Page("Owners", "Desk"), Known: known, Save: r.To("/desk/owners"),
		Headline: write.Count(len(list), "owner of open records is", "owners of open records are") + " nobody that is known.",
		Empty:    "Every owner is a person of the register, one who signs in, a lead or a sponsor."}
	for _, x := range list {
		v.Rows = append(v.Rows, ownerRow{x.Name, write.Count(x.Records, "record", "records"), guess(x.Name, known)})
	}
	for text, name := range r.Figures.Settings.OwnerNames {
		v.Matched = append(v.Matched, page.Pair{Name: text, Value: name})
	}
	return r.Answer("desk-owners", &v.Page, &v)
}

// guess is a known person whose last name is that of a text.
func guess(text string, known []string) string {
	last := func(s string) string {
		f := strings.Fields(strings.ToLower(s))
		if len(f) == 0 {
			return ""
		}
		return f[len(f)-1]
	}
	for _, name := range known {
		if last(name) == last(text) {
			return name
		}
	}
	return ""
}

// match has an owner's text stand for a person.
func (s *pages) match(c fiber.Ctx) error {
	text, person := strings.Clone(c.FormValue("text")), strings.TrimSpace(strings.Clone(c.FormValue("person")))
	err := s.Office.Desk.Match(c.Context(), text, person)
	said := "“" + text + "” stands for " + person + " from now on, in every period that is open."
	if person == "" {
		said = "“" + text + "” stands for nobody else any more."
	}
	if refused := page.Refused(err); refused != nil {
		page.Tell(c, page.Sentence(refused.Error()))
		return page.Go(c, "/desk/owners")
	}
	if err != nil {
		return err
	}
	page.TellUndo(c, said, page.PlaceOf(c).To("/desk/owners"), "text", text, "person", "")
	return page.Go(c, "/desk/owners")
}
