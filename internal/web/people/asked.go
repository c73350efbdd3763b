package people

import (
	"fmt"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/people"
	"turret/internal/core/calendar"
	"turret/internal/core/capacity"
	"turret/internal/core/money"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

// askedView lists who is asked for.
type askedView struct {
	page.SectionFrame
	Action  string
	Open    []askedRow
	Done    []askedRow
	Problem string
	Empty   string
	Who     []page.Option
}

type askedRow struct {
	ID                              string
	Project, Href, Who, When, Asker string
	Percent, Note, With, State      string
	Over                            bool
	Agrees, Gives, Own              bool // what whoever asks may do
	Could                           []page.Option
}

// mostDone is how many requests that are over are listed.
const mostDone = 50

func (s *pages) asked(c fiber.Ctx) error { return s.showAsked(c, nil) }

func (s *pages) showAsked(c fiber.Ctx, refused error) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	list, err := s.Office.People.Requests(c.Context(), r.Figures)
	if err != nil {
		return err
	}
	v := askedView{SectionFrame: page.SectionFrame{Page: r.Page("Requests", "People"), Tabs: page.PeopleTabs(r, "Requests")},
		Action: r.To("/people/asked"),
		Empty:  "Nobody is asked for. A project asks for people on its tab People, under the plan of who works on it."}
	v.Page.Awaits = ""
	for i := range list {
		row := askedOf(r, &list[i])
		switch {
		case list[i].Open():
			v.Open = append(v.Open, row)
		case len(v.Done) < mostDone:
			v.Done = append(v.Done, row)
		}
	}
	v.Headline = []page.Spoken{{Text: write.Count(len(v.Open), "request waits", "requests wait") + " for an answer."}}
	if refused != nil {
		c.Status(fiber.StatusUnprocessableEntity)
		v.Problem = page.RefusedText(refused)
	}
	return r.Answer("people-asked", &v.Page, &v)
}

func askedOf(r *page.Request, x *people.Request) askedRow {
	row := askedRow{ID: strconv.FormatInt(x.ID, 10), Project: x.Project, Href: r.To("/people/plan/" + x.Project), Who: x.Role,
		Asker: x.Asker,
		When:  x.From.Human() + " to " + x.To.Human(), Percent: money.Plain(x.Percent, 2) + " %", Note: x.Note, State: string(x.State)}
	actor := access.ActorOf(r.Context())
	gives, own := people.MayAnswer(r.Context()), x.AskerLogin == actor.Login
	code := x.Person
	if x.Offer != "" {
		code = x.Offer
	}
	if x.Person != "" {
		row.Who = nameOf(r, x.Person)
	}
	if x.Offer != "" {
		row.Who = nameOf(r, x.Offer) + " instead of " + row.Who
	}
	if at, load := people.With(r.Figures, x, code); code != "" && at != 0 {
		row.With = "with it " + write.Percent(load, 1) + " in the week of " + at.Human()
		row.Over = load > float64(r.Figures.Settings.LoadLimits().Over)/10_000
	}
	if x.State != people.Asked {
		row.State += " by " + x.Who
	}
	if x.Answer != "" {
		row.State += ": " + x.Answer
	}
	row.Agrees, row.Gives, row.Own = gives && x.State == people.Asked || own && x.State == people.Offered, gives, own
	if gives && x.Open() && r.Figures.Closed == nil {
		row.Could = couldTake(r, x)
	}
	return row
}

func nameOf(r *page.Request, code string) string {
	for i := range r.Figures.People {
		if p := &r.Figures.People[i]; p.Code == code {
			return p.Name
		}
	}
	return code
}

// couldTake are those who could take what is asked for, the freest first.
func couldTake(r *page.Request, x *people.Request) []page.Option {
	staff := people.StaffNow(r.Figures)
	role, team := x.Role, ""
	for i := range staff.People {
		if p := &staff.People[i]; p.Code == x.Person {
			role, team = p.Role, p.Team
		}
	}
	list := []page.Option{{Text: ""}}
	for _, k := range capacity.WhoCould(assess.CapacityOf(r.Figures), staff, role, team, x.From, x.To) {
		p := &staff.People[k.Person]
		if p.Code == x.Person || len(list) > mostCould {
			continue
		}
		list = append(list, page.Option{Value: p.Code, Text: p.Name + ", " + hours(k.Units) + " free"})
	}
	return list
}

// ask asks for somebody, or answers who asked.
func (s *pages) ask(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	get := func(name string) string { return strings.TrimSpace(strings.Clone(c.FormValue(name))) }
	if get("id") != "" {
		return s.answer(c, r, get)
	}
	x, err := requestOf(get)
	if err == nil {
		err = s.Office.People.Ask(c.Context(), r.Figures, *x)
	}
	if refused := page.Refused(err); refused != nil {
		return s.showAsked(c, refused)
	}
	if err != nil {
		return err
	}
	page.Tell(c, "It is asked for. Until it is answered it can be taken back here.")
	return page.Go(c, "/people/asked")
}

func requestOf(get func(string) string) (*people.Request, error) {
	x := &people.Request{Project: get("project"), Note: get("note")}
	if code, ok := strings.CutPrefix(get("who"), "p:"); ok {
		x.Person = code
	} else {
		x.Role = strings.TrimPrefix(get("who"), "r:")
	}
	var err error
	if x.From, err = calendar.ParseDate(get("from")); err != nil {
		return nil, fault.Field("from", get("from"), "a day")
	}
	if x.To, err = calendar.ParseDate(get("to")); err != nil {
		return nil, fault.Field("to", get("to"), "a day")
	}
	if x.Percent, err = money.ParseDecimal(strings.Replace(strings.TrimSuffix(get("percent"), "%"), ",", ".", 1), 2); err != nil {
		return nil, fault.Field("percent", get("percent"), "a number, of a working day")
	}
	return x, nil
}

func (s *pages) answer(c fiber.Ctx, r *page.Request, get func(string) string) error {
	id, err := strconv.ParseInt(get("id"), 10, 64)
	if err != nil {
		return fiber.NewError(fiber.StatusBadRequest, "The form cannot be read.")
	}
	x, receipt, err := s.Office.People.Answer(c.Context(), r.Figures, people.Reply{ID: id, State: people.RequestState(get("state")),
		Offer: get("offer"), Answer: get("answer")})
	if refused := page.Refused(err); refused != nil {
		return s.showAsked(c, refused)
	}
	if err != nil {
		return err
	}
	said := "The request of " + x.Project + " is " + string(x.State) + "."
	if receipt != nil && len(receipt.Loads) > 0 {
		said += fmt.Sprintf(" It is assigned by load %d%s.", receipt.Loads[0].ID, page.Withdrawable(c))
	}
	page.Tell(c, said)
	return page.Go(c, "/people/asked")
}
