// Package publish holds the pages of closing a period, and comparing two.
package publish

import (
	"embed"
	"errors"
	"log/slog"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/app/publish"
	"turret/internal/app/report"
	"turret/internal/app/setting"
	"turret/internal/core/calendar"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// pages are those of one server.
type pages struct{ *page.Server }

// Routes adds the addresses of closing a period, and comparing two.
func Routes(base *page.Server) {
	s := &pages{base}
	s.Show(templates)
	s.App.Get("/publish", s.publish)
	s.App.Get("/publish/compare", s.compare)
	s.App.Post("/publish", s.closePeriod)
	s.App.Post("/publish/waive", s.waive)
	s.App.Post("/publish/unwaive", s.unwaive)
	s.App.Post("/publish/reopen", s.reopen)
	s.App.Post("/publish/review", s.review)
}

type publishView struct {
	Page     page.Page
	Tabs     []page.Tab
	Headline []page.Spoken
	May      bool
	Period   string // as YYYY-MM, that forms act on
	Month    string
	Closed   bool
	Freezes  int      // projects
	To       []string // who gets a report when it is closed
	Sent     string   // what became of the reports that closing sends
	Sending  string
	Ready    bool
	State    string
	Review   bool
	Groups   []obstacleGroup
	Closings []closingRow
	Problem  string
	Open     string // key of the obstacle whose form was refused; "period" is reopening
	Typed    string
	Asked    string
}

type obstacleGroup struct {
	Key, Name, Says string
	Open, Passed    int
	Rows            []obstacleRow
	More            string // how many more there are than are shown
	Waived          []obstacleRow
}

type obstacleRow struct {
	Key, Project, Name, Href, Lead, Says string
	Solve, SolveText                     string
	Waived, Who, Reason                  string
	ID                                   int64
}

type closingRow struct {
	Name, Href, At, Who, Digest, Short string
	Reopened, Reason                   string
	Stands                             bool
	Issue                              int
	Pack, Read                         string
}

var obstacleGroups = []struct {
	sort       publish.ObstacleKind
	name, says string
}{
	{publish.OpenError, "Errors in the data", "What cannot be right, and is not accepted."},
	{publish.MissingInput, "Inputs that have not come", "What each project is expected to send for the period."},
	{publish.NotEnded, "The period has not ended", "What is still to happen in it would not be in its figures."},
	{publish.Unwritten, "Explanations that are unwritten", "Projects at watch, at act or declared better than computed, without a word."},
	{publish.Undecided, "Decisions that are asked for", "What was put before those who decide, and is not answered or was put off."},
	{publish.Unanswered, "Requests without an answer", "What one project asked of another, or the office of a lead."},
}

func (s *pages) publish(c fiber.Ctx) error { return s.showPublish(c, nil, "", "") }

func (s *pages) showPublish(c fiber.Ctx, problem error, open, typed string) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	closings, err := s.Office.Publish.Closings(c.Context())
	if err != nil {
		return err
	}
	actor := access.ActorOf(c.Context())
	period := r.Period()
	v := publishView{Page: r.Page("Publish", "Publish"), Tabs: publishTabsOf(r, "Close"), May: actor.MayWhole(access.Publish),
		Period: period.String(), Month: period.Name(),
		Closed: r.Figures.Closed != nil, Open: open, Typed: typed, Asked: r.AskedFor()}
	if problem != nil {
		v.Problem = page.Sentence(problem.Error())
		status := fiber.StatusConflict
		if field := (*fault.FieldError)(nil); errors.As(problem, &field) {
			status = fiber.StatusUnprocessableEntity
		}
		c.Status(status)
	}
	v.Sent, v.Sending = sentWith(r), r.To("/reports/sending")
	for i := len(closings) - 1; i >= 0; i-- {
		v.Closings = append(v.Closings, closing(r, &closings[i]))
	}
	if v.Closed || !v.May {
		v.Headline = []page.Spoken{{Text: page.ClosedHeadline(r.Figures, period)}}
		return r.Answer("publish", &v.Page, &v)
	}
	ready, err := s.Office.Publish.Ready(c.Context(), period, s.Today())
	if state := (*fault.StateError)(nil); errors.As(err, &state) {
		v.Headline = []page.Spoken{{Text: page.Sentence(state.Error())}}
		if closed, err := s.Office.Assess.Periods(c.Context()); err == nil && len(closed) > 0 && closed[len(closed)-1].Span+1 < period {
			first := closed[len(closed)-1].Span + 1
			v.Headline = append(v.Headline, page.Spoken{Text: " "}, page.Spoken{Text: "Go to " + first.Name(),
				Href: r.To("/publish", "asof", first.Last().String())}, page.Spoken{Text: "."})
		}
		v.May = false
		return r.Answer("publish", &v.Page, &v)
	}
	if err != nil {
		return err
	}
	v.Ready = ready.Open == 0
	if v.To, err = s.Office.Mailing.OnClosing(c.Context()); err != nil {
		return err
	}
	v.Freezes = len(r.Figures.Projects)
	state, review, err := s.Office.Publish.State(c.Context(), r.Figures)
	if err != nil {
		return err
	}
	v.Review = state == publish.PeriodInReview
	if v.Review {
		v.State = "In review since " + setting.DayOf(review.At).Human() + ", said " + review.Who + "."
	} else {
		v.State = write.Capital(string(state)) + "; due to be published by " + r.Figures.DueOn(setting.PublishStep).Human() + "."
	}
	v.Groups = obstacles(r, ready)
	v.Headline = readyHeadline(ready)
	return r.Answer("publish", &v.Page, &v)
}

// sentWith says how many reports went out when the period was closed just now, and how many did not.
func sentWith(r *page.Request) string {
	sent, _ := strconv.Atoi(r.Asked.Get("sent"))
	failed, _ := strconv.Atoi(r.Asked.Get("failed"))
	switch {
	case failed > 0:
		return write.Count(sent, "report was sent", "reports were sent") + "; " + write.Count(failed, "could not be", "could not be") + "."
	case sent > 0:
		return write.Count(sent, "report was sent.", "reports were sent.")
	}
	return ""
}

func readyHeadline(x *publish.Readiness) []page.Spoken {
	name := x.Period.Name()
	passed := len(x.Obstacles) - x.Open
	var list []page.Spoken
	if x.Open == 0 {
		list = append(list, page.Spoken{Text: "Nothing stands in the way of closing " + name})
	} else {
		list = append(list, page.Spoken{Text: write.Count(x.Open, "thing stands", "things stand"), Tone: "tone-act"},
			page.Spoken{Text: " in the way of closing " + name})
	}
	if passed > 0 {
		list = append(list, page.Spoken{Text: "; " + write.Count(passed, "is", "are") + " waived"})
	}
	return append(list, page.Spoken{Text: "."})
}

// mostObstacles is how many of a kind are listed.
const mostObstacles = 60

func obstacles(r *page.Request, x *publish.Readiness) []obstacleGroup {
	var list []obstacleGroup
	for _, g := range obstacleGroups {
		group := obstacleGroup{Key: string(g.sort), Name: g.name, Says: g.says}
		for i := range x.Obstacles {
			if o := &x.Obstacles[i]; o.What == g.sort {
				if o.Waiver != nil {
					if group.Passed++; group.Passed > mostObstacles {
						continue
					}
					group.Waived = append(group.Waived, obstacle(r, o))
					continue
				}
				if group.Open++; group.Open <= mostObstacles {
					group.Rows = append(group.Rows, obstacle(r, o))
				}
			}
		}
		if n := group.Open - mostObstacles; n > 0 {
			group.More = "and " + write.Count(n, "more", "more") + "; those above can be solved first, or all of them waived together"
		}
		if group.Rows != nil || group.Waived != nil {
			list = append(list, group)
		}
	}
	return list
}

func obstacle(r *page.Request, o *publish.Obstacle) obstacleRow {
	x := obstacleRow{Key: o.Key, Says: o.Says, Href: r.To("/publish"), Project: r.Period().Name()}
	if p := o.Project; p != nil {
		x.Project, x.Name, x.Href, x.Lead = p.Code, p.Name, r.Project(p.Code), p.Lead
	}
	switch o.What {
	case publish.Unwritten:
		x.Solve, x.SolveText = r.ExplainPath(o.Project.Code), "explain"
	case publish.Undecided:
		x.Solve, x.SolveText = r.To("/registers/decisions"), "answer"
	case publish.NotEnded:
		x.Solve, x.SolveText = r.To("/gather"), "gather"
	case publish.MissingInput:
		x.Solve, x.SolveText = r.To("/gather"), "gather"
	case publish.OpenError:
		x.Solve, x.SolveText = r.To("/check", "scope", o.Project.Code, "check", o.Finding.Rule.ID), "look at it"
	case publish.Unanswered:
		x.Solve, x.SolveText = r.To("/timeline/dependencies"), "agree"
		if o.Remark != nil {
			x.Solve, x.SolveText = r.ExplainPath(o.Project.Code)+"#said", "answer"
		}
	}
	if w := o.Waiver; w != nil {
		x.Waived, x.ID, x.Who, x.Reason = setting.DayOf(w.At).Human(), w.ID, w.Who, w.Reason
	}
	return x
}

func closing(r *page.Request, p *kept.Period) closingRow {
	x := closingRow{Name: p.Name(), Issue: p.Issue, Href: r.To("/", "asof", p.AsOf.String()), At: setting.DayOf(p.At).Human(),
		Who: p.Who, Digest: p.Digest,
		Short:  p.Digest[:min(12, len(p.Digest))],
		Stands: !p.Reopened(), Reason: p.Reason}
	of := []string{"report", report.ExecutivePack, "asof", p.AsOf.String(), "issue", strconv.Itoa(p.Issue), "currency", ""}
	x.Pack, x.Read = r.To("/reports/file/pdf", of...), r.To("/reports/read", of...)
	if !x.Stands {
		x.Reopened = setting.DayOf(p.ReopenedAt).Human() + " by " + p.ReopenedBy
	}
	return x
}

// decided answers a form: back to the page, or the page again with what was wrong.
func (s *pages) decided(c fiber.Ctx, period calendar.Period, err error, text, open string) error {
	return page.AnsweredWith(c, err, text, "/publish?asof="+period.Last().String(), func(refused error) error {
		return s.showPublish(c, refused, open, strings.Clone(c.FormValue("reason")))
	})
}

func (s *pages) closePeriod(c fiber.Ctx) error {
	period, err := page.ForPeriod(c)
	if err != nil {
		return err
	}
	_, err = s.Office.Publish.Publish(c.Context(), period, s.Today(), false)
	if err != nil {
		return s.decided(c, period, err, "", "")
	}
	send := s.Office.Mailing.SendDue
	if c.FormValue("send") == "" {
		send = s.Office.Mailing.HoldDue
	}
	sent, unsent := send(c.Context(), s.Today())
	if unsent != nil { // the schedule tries again
		slog.Error("reports of the closed period", "error", unsent)
	}
	reached := 0
	for i := range sent {
		if sent[i].Failed == "" {
			reached++
		}
	}
	return page.Go(c, "/publish?asof="+period.Last().String()+"&sent="+strconv.Itoa(reached)+
		"&failed="+strconv.Itoa(len(sent)-reached))
}

func (s *pages) waive(c fiber.Ctx) error {
	period, err := page.ForPeriod(c)
	if err != nil {
		return err
	}
	key := strings.Clone(c.FormValue("what"))
	return s.decided(c, period, s.Office.Publish.Waive(c.Context(), period, s.Today(), key, strings.Clone(c.FormValue("reason"))),
		"It no longer stands in the way of "+period.Name()+".", key)
}

func (s *pages) unwaive(c fiber.Ctx) error {
	period, err := page.ForPeriod(c)
	if err != nil {
		return err
	}
	id, err := strconv.ParseInt(c.FormValue("id"), 10, 64)
	if err != nil {
		return fiber.NewError(fiber.StatusBadRequest, "The form cannot be read.")
	}
	return s.decided(c, period, s.Office.Publish.Unwaive(c.Context(), period, id), "It stands in the way of "+period.Name()+" again.", "")
}

// review says that a period is looked over, or in work again.
func (s *pages) review(c fiber.Ctx) error {
	period, err := page.ForPeriod(c)
	if err != nil {
		return err
	}
	text := period.Name() + " is in work again."
	if c.FormValue("on") != "" {
		text = period.Name() + " is in review."
	}
	return s.decided(c, period, s.Office.Publish.SetReview(c.Context(), period, c.FormValue("on") != ""), text, "")
}

func (s *pages) reopen(c fiber.Ctx) error {
	period, err := page.ForPeriod(c)
	if err != nil {
		return err
	}
	return s.decided(c, period, s.Office.Publish.Reopen(c.Context(), period, strings.Clone(c.FormValue("reason"))),
		period.Name()+" is open again; what was published of it stays as it was.", "period")
}
