package register

import (
	"html/template"
	"net/url"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/agenda"
	"turret/internal/app/assess"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/meeting"
	"turret/internal/app/register"
	"turret/internal/core/calendar"
	"turret/internal/core/write"
	"turret/internal/prose"
	"turret/internal/record"
	"turret/internal/web/page"
)

// minutes are the pages of meetings.
type minutes struct{ *pages }

// meetingsView lists meetings, and how many decisions wait for an agenda.
type meetingsView struct {
	*view
	Meetings []meetingRow
	Wanted   string
	New      string
	Agenda   *agendaForm
}

type meetingRow struct {
	Title, Href, Date, Holder, HolderHref, People string
	Actions, Decisions, Open                      string
}

// agendaForm makes an agenda of the decisions that the pack asks for.
type agendaForm struct {
	Action, Says string
	Nodes        []page.Option
	Date         string
	List         []string
}

// meetingView is one meeting: its minutes, and what came of it.
type meetingView struct {
	*view
	Title, Date, People, Minutes string
	Holder, HolderHref, Code     string
	Holders                      []page.Option
	Text                         template.HTML
	May, Fresh                   bool
	Save, Send, Decide           string
	Problem                      string
	Decisions                    []decisionRow
	Actions                      []row
	Names                        []string
	Was                          page.Was
}

// decisionRow is a decision with the answer that may be given.
type decisionRow struct {
	row
	Key, HolderCode string
	Open            bool
	Follow          []string
	Back            string
}

func meetingPath(holder, code string) string {
	return "/registers/meetings/" + url.PathEscape(holder) + "/" + url.PathEscape(code)
}

func (s *minutes) meetings(c fiber.Ctx) error { return s.showMeetings(c, nil) }

func (s *minutes) showMeetings(c fiber.Ctx, refused error) error {
	r, scope, base, err := s.frame(c, record.Meetings)
	if err != nil {
		return err
	}
	v := meetingsView{view: base}
	list, err := s.Office.Meeting.List(c.Context(), r.Figures, scope)
	if err != nil {
		return err
	}
	open := 0
	for i := range list {
		m := &list[i]
		open += m.Open()
		v.Meetings = append(v.Meetings, meetingRowOf(r, m))
	}
	v.Headline = []page.Spoken{{Text: write.Count(len(list), "meeting", "meetings") + ", with " + write.Count(open, "decision",
		"decisions") +
		" still to be answered."}}
	v.Empty = "No meeting has been held here. Minutes are taken on a page of their own; they come with a file of the kind meetings too."
	if r.Figures.Closed == nil && access.ActorOf(c.Context()).May(access.Send) {
		v.New = r.To("/registers/meetings/new")
		v.agenda(r, scope)
	}
	if refused != nil {
		v.Page.Failed = page.RefusedText(refused)
		c.Status(fiber.StatusUnprocessableEntity)
	}
	return r.Answer("register-meetings", &v.Page, &v)
}

func meetingRowOf(r *page.Request, m *meeting.Meeting) meetingRow {
	x := meetingRow{Title: m.Title, Href: r.To(meetingPath(m.Holder.Code, m.Code)), Date: m.Date.Human(), People: m.People,
		Holder: m.Holder.Name, HolderHref: r.Project(m.Holder.Code), Actions: write.Whole(len(m.Actions)),
		Decisions: write.Whole(len(m.Decisions))}
	if m.Holder.Node {
		x.HolderHref = r.To("/registers/meetings", "scope", m.Holder.Code)
	}
	if n := m.Open(); n > 0 {
		x.Open = write.Whole(n) + " open"
	}
	return x
}

// agenda offers to make one of what the pack of the period asks for.
func (v *meetingsView) agenda(r *page.Request, scope *assess.Scope) {
	wanted := agenda.Wanted(r.Figures, scope)
	if len(wanted) == 0 || !access.ActorOf(r.Context()).Everything() {
		return
	}
	f := &agendaForm{Action: r.To("/registers/meetings/agenda"), Date: (r.AsOf + 10).String(),
		Says: write.Count(len(wanted), "decision waits", "decisions wait") + " for an agenda"}
	for i := range r.Figures.Masters.Nodes {
		n := &r.Figures.Masters.Nodes[i]
		f.Nodes = append(f.Nodes, page.Option{Value: n.Code, Text: n.Name, Selected: n.Code == r.Scope || r.Scope == "" && n.Parent == 0})
	}
	for i := range wanted {
		f.List = append(f.List, wanted[i].Project.Code+": "+wanted[i].Title)
	}
	v.Agenda = f
}

// meeting shows one meeting, or an empty one to be begun.
func (s *minutes) meeting(c fiber.Ctx) error { return s.showMeeting(c, "", "", nil, nil) }

func (s *minutes) showMeeting(c fiber.Ctx, holder, code string, refused error, typed map[string]string) error {
	r, scope, base, err := s.frame(c, record.Meetings)
	if err != nil {
		return err
	}
	if holder == "" {
		if holder, code, err = meetingAt(c); err != nil {
			return err
		}
	}
	v := meetingView{view: base, Code: code, Fresh: code == "", Save: r.To("/registers/meetings/save"),
		Send:   r.To("/registers/meetings/send"),
		Decide: r.To("/registers/decisions/decide")}
	if v.Fresh {
		v.Title, v.Date = typed["title"], or(typed["date"], r.AsOf.String())
		v.People, v.Minutes = typed["people"], typed["minutes"]
		v.May = r.Figures.Closed == nil
		v.Page.Title = "New meeting"
		v.Headline = []page.Spoken{{Text: "Minutes of a new meeting."}}
		if f := s.addOf(r, scope, record.Meetings, map[string]string{"holder": or(typed["holder"], r.Asked.Get("holder"))}); f != nil {
			v.Holders = f.Holders
		}
	} else if err := v.fillMeeting(s, r, holder, code, typed); err != nil {
		return err
	}
	if refused != nil {
		v.Problem = page.RefusedText(labelled(record.Meetings, refused))
		if !v.Fresh {
			history, err := s.Office.Records.History(c.Context(), r.Figures, holder, record.Meetings, code)
			if err != nil {
				return err
			}
			v.Problem += theirs(refused, history)
		}
		c.Status(fiber.StatusUnprocessableEntity)
	}
	v.Names = peopleOf(r)
	return r.Answer("register-meeting", &v.Page, &v)
}

// meetingAt reads which meeting an address is of; neither where it is a new one.
func meetingAt(c fiber.Ctx) (holder, code string, err error) {
	if c.Params("holder") == "" {
		return "", "", nil
	}
	if holder, err = page.Decoded(c, "holder"); err == nil {
		code, err = page.Decoded(c, "code")
	}
	return holder, code, err
}

func (v *meetingView) fillMeeting(s *minutes, r *page.Request, holder, code string, typed map[string]string) error {
	m, err := s.Office.Meeting.Find(r.Context(), r.Figures, holder, code)
	if err != nil {
		return err
	}
	row := meetingRowOf(r, m)
	v.Title, v.Date, v.People, v.Minutes = m.Title, m.Date.Human(), m.People, m.Minutes
	v.Holder, v.HolderHref = m.Holder.Code, row.HolderHref
	v.Text = prose.HTML(m.Minutes)
	v.Page.Title = m.Title
	v.Headline = []page.Spoken{{Text: m.Title + ", " + m.Date.Human() + ", of "}, {Text: m.Holder.Name, Href: row.HolderHref},
		{Text: ": " + write.Count(len(m.Decisions), "decision", "decisions") + ", " + write.Count(len(m.Actions), "action", "actions") +
			"."}}
	v.May = r.Figures.Closed == nil && s.Office.Register.MayAct(r.Context(), record.Meetings, holder)
	v.Was = page.Was{"title": edit.Plain(m.Title), "date": v.Date, "people": edit.Plain(m.People), "minutes": edit.Plain(m.Minutes)}
	if typed != nil {
		for name, field := range map[string]*string{"title": &v.Title, "date": &v.Date, "people": &v.People, "minutes": &v.Minutes} {
			if value, ok := typed[name]; ok {
				*field = value
			}
		}
	}
	actions := register.Lines(r.Figures, &assess.Scope{Projects: r.Figures.Projects, Nodes: r.Figures.Holders}, record.Actions)
	for i := range m.Decisions {
		v.Decisions = append(v.Decisions, decisionOf(r, &m.Decisions[i], actions))
	}
	for i := range m.Actions {
		x := rowOf(r, &m.Actions[i])
		x.Href = r.To(kindPath(record.Actions), "record", m.Actions[i].Key())
		v.Actions = append(v.Actions, x)
	}
	return nil
}

func decisionOf(r *page.Request, l *register.Line, actions []register.Line) decisionRow {
	x := decisionRow{row: rowOf(r, l), HolderCode: l.Holder.Code, Open: l.Open, Back: r.Here()}
	x.Href = r.To(kindPath(record.Decisions), "record", l.Key(), "open", "all")
	for i := range actions {
		if a := &actions[i]; a.Holder == l.Holder && a.Action.Source == l.Code {
			text := a.Code + " " + a.Title
			if a.Owner != "" {
				text += ", " + a.Owner
			}
			if a.Late {
				text += ", late"
			} else if !a.Open {
				text += ", " + a.StateOf()
			}
			x.Follow = append(x.Follow, text)
		}
	}
	return x
}

// peopleOf are names that may be completed: of the register of people, of leads and sponsors.
func peopleOf(r *page.Request) []string {
	seen := map[string]bool{}
	var list []string
	add := func(name string) {
		if name != "" && !seen[name] {
			seen[name] = true
			list = append(list, name)
		}
	}
	for i := range r.Figures.Masters.People {
		add(r.Figures.Masters.People[i].Name)
	}
	for _, p := range r.Figures.Projects {
		add(p.Lead)
	}
	return list
}

func or(s, none string) string {
	if s == "" {
		return none
	}
	return s
}

// saveMeeting keeps minutes, and makes the records that their lines ask for.
func (s *minutes) saveMeeting(c fiber.Ctx) error {
	q, cells, r, err := sent(c, s.Read)
	if err != nil {
		return err
	}
	holder, code := q.Get("holder"), q.Get("code")
	typed := map[string]string{"holder": holder}
	for name, value := range cells {
		typed[name] = value
	}
	if holder == "" {
		return s.showMeeting(c, "", "", fault.Field("holder", "", "a project, programme or portfolio that it belongs to"), typed)
	}
	was, err := page.WasOf(q)
	if err != nil {
		return err
	}
	saved, err := s.Office.Meeting.Save(c.Context(), r.Figures, holder, code, cells, was)
	if refused := page.Refused(err); refused != nil {
		if code == "" {
			return s.showMeeting(c, "", "", refused, typed)
		}
		return s.showMeeting(c, holder, code, refused, was.Typed(typed))
	}
	if err != nil {
		return err
	}
	text := "Minutes are saved" + r.InPeriod()
	var made []string
	if saved.Actions > 0 {
		made = append(made, write.Count(saved.Actions, "action", "actions"))
	}
	if saved.Decisions > 0 {
		made = append(made, write.Count(saved.Decisions, "decision", "decisions"))
	}
	if len(made) > 0 {
		text += "; " + write.List(made) + " came of them"
	}
	page.Tell(c, text+".")
	return page.Go(c, page.PlaceOf(c).To(meetingPath(holder, saved.Code)))
}

// sendMeeting writes the minutes to those who are named.
func (s *minutes) sendMeeting(c fiber.Ctx) error {
	q, _, r, err := sent(c, s.Read)
	if err != nil {
		return err
	}
	holder, code := q.Get("holder"), q.Get("code")
	sent, without, err := s.Office.Meeting.Send(c.Context(), r.Figures, holder, code)
	if refused := page.Refused(err); refused != nil {
		return s.showMeeting(c, holder, code, refused, nil)
	}
	if err != nil {
		return err
	}
	text := "Minutes went to " + write.List(sent) + "."
	if len(without) > 0 {
		text += " No address is known of " + write.List(without) + "."
	}
	page.Tell(c, text+" They stand in the outbox and cannot be called back.")
	return page.Go(c, page.PlaceOf(c).To(meetingPath(holder, code)))
}

// makeAgenda makes a meeting of the decisions that the pack asks for.
func (s *minutes) makeAgenda(c fiber.Ctx) error {
	q, cells, r, err := sent(c, s.Read)
	if err != nil {
		return err
	}
	node := q.Get("holder")
	made, err := s.Office.Agenda.Make(c.Context(), r.Figures, node, cells)
	if refused := page.Refused(err); refused != nil {
		return s.showMeetings(c, refused)
	}
	if err != nil {
		return err
	}
	page.Tell(c, "The agenda has "+write.Count(made.Asked, "decision",
		"decisions")+r.InPeriod()+". Each is answered where the board meets.")
	return page.Go(c, page.PlaceOf(c).To(meetingPath(node, made.Code)))
}

// decide keeps what those who met did with a decision.
func (s *minutes) decide(c fiber.Ctx) error {
	q, _, r, err := sent(c, s.Read)
	if err != nil {
		return err
	}
	text := func(name string) string { return strings.TrimSpace(q.Get(name)) }
	x := agenda.Answer{Holder: text("holder"), Code: text("code"), State: text("state"), By: text("by"), Reason: text("reason"),
		Follow: text("follow"), Owner: text("owner"), Meeting: text("meeting")}
	back := backOf(q, record.Decisions)
	if due := text("due"); due != "" {
		if x.Due, err = calendar.ParseDate(due); err != nil {
			page.Tell(c, "“"+fault.Clip(due, 40)+"” is not a day; nothing was kept.")
			return page.Go(c, back)
		}
	}
	done, err := s.Office.Agenda.Decide(c.Context(), r.Figures, x)
	said := "Decision " + x.Code + " of " + x.Holder + " is " + x.State + r.InPeriod()
	if x.Follow != "" {
		said += ", and an action follows"
	}
	return s.answer(c, done, err, record.Decisions, said+".", back, nil)
}
