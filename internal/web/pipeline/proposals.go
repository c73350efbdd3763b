package pipeline

import (
	"cmp"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/fault"
	"turret/internal/app/pipeline"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/write"
	"turret/internal/record"
	"turret/internal/web/page"
)

// listView lists what is proposed, with what was decided.
type listView struct {
	page.SectionFrame
	Rows    []listRow
	Own     []ownRow
	Pager   page.Pager
	May     bool
	Money   bool
	Model   string
	Action  string
	Form    form
	Problem string
	Empty   string
}

type listRow struct {
	Code, Name, Href    string
	Programme, Asked    string
	Rank, Score, Spread string
	Rated, RatedTone    string
	Cost, Hours         page.Figure
	When, Goals         string
	Decision, Tone, Why string
	Picked              bool
}

// ownRow is a proposal of the one who asks, wherever it stands.
type ownRow struct{ Name, Asked, Decision string }

// form is what is typed for a decision.
type form struct {
	Decision              []page.Option
	On, By, Reason, Again string
	Opens, LayOut         bool
	Template              string
	Templates             []page.Option
}

func (s *pages) proposals(c fiber.Ctx) error { return s.showProposals(c, nil) }

func (s *pages) showProposals(c fiber.Ctx, refused error) error {
	r, scope, p, err := s.read(c)
	if err != nil {
		return err
	}
	m, err := modelOf(r, p)
	if err != nil {
		return err
	}
	v := listView{SectionFrame: frame(r, "Proposals"), May: mayJudge(r), Money: !r.Figures.NoMoney, Action: r.To("/pipeline/proposals"),
		Empty: "Nothing is proposed here. It comes with the files projects (status proposed) and proposals, or is proposed in the browser."}
	v.Filters = append(models(p, m), page.Choose("Decision", "decision", r.Asked.Get("decision"), "", "any", "none", "none yet",
		record.Accepted,
		record.Accepted, record.PutOff, record.PutOff, record.Declined, record.Declined))
	v.Carry(r)
	ranks := map[string]*pipeline.Ranked{}
	if m != nil {
		v.Model = m.Code
		ranking, err := pipeline.RankOf(c.Context(), r.Figures, p, scope, m.Code)
		if err != nil {
			return err
		}
		for i := range ranking.Rows {
			ranks[ranking.Rows[i].Code] = &ranking.Rows[i]
		}
	}
	list := proposedIn(scope)
	v.Headline = headline(r, p, list)
	shown := slices.DeleteFunc(list, func(x *measure.Project) bool { return !wanted(r, p.Proposals[x.Code]) })
	slices.SortStableFunc(shown, func(x, y *measure.Project) int { return cmp.Compare(rankOf(ranks[x.Code]), rankOf(ranks[y.Code])) })
	shown, v.Pager = page.Cut(r, shown)
	picked := r.Asked["pick"]
	for _, x := range shown {
		row := v.row(r, p, x, ranks[x.Code])
		row.Picked = slices.Contains(picked, x.Code)
		v.Rows = append(v.Rows, row)
	}
	for _, x := range p.Own {
		v.Own = append(v.Own, ownRow{x.Name, "proposed on " + x.AskedOn.Human(), x.Says()})
	}
	begins, err := s.Office.Pipeline.Templates(c.Context())
	if err != nil {
		return err
	}
	v.form(r, begins, refused)
	if refused != nil {
		c.Status(fiber.StatusUnprocessableEntity)
		v.Problem = page.RefusedText(refused)
	}
	return r.Answer("pipeline-proposals", &v.Page, &v)
}

// rankOf puts what has no rank last.
func rankOf(x *pipeline.Ranked) int {
	if x == nil || !x.Scored {
		return 1 << 30
	}
	return x.Rank
}

// wanted reports whether a proposal is one that the filter asks for.
func wanted(r *page.Request, x *pipeline.Proposal) bool {
	if x == nil {
		x = &pipeline.Proposal{}
	}
	filter := r.Asked.Get("decision")
	return filter == "" || filter == x.Decision || filter == "waits" && x.Waits(r.AsOf)
}

func (v *listView) row(r *page.Request, p *pipeline.Pipeline, x *measure.Project, rank *pipeline.Ranked) listRow {
	row := listRow{Code: x.Code, Name: x.Name, Href: r.To(page.ProjectPath(x.Code) + "/proposal"), Cost: r.ShortFigure(x, measure.BAC),
		Hours: r.Figure(x, measure.HoursToGo, ""), When: span(x.PlannedStart, x.PlannedFinish)}
	if n := r.Figures.Programme(x); n != nil {
		row.Programme = n.Name
	}
	if rank != nil && rank.Scored {
		row.Rank, row.Score, row.Spread = strconv.Itoa(rank.Rank), pipeline.Points(rank.Score), spread(rank)
		row.Rated, row.RatedTone = rated(rank)
	}
	if n := len(p.Contributions[x.Code]); n > 0 {
		row.Goals = strconv.Itoa(n)
	}
	row.Decision = "none yet"
	if d := p.Proposals[x.Code]; d != nil {
		row.Asked = d.AskedBy
		if d.AskedOn != 0 {
			row.Asked = strings.TrimSpace(row.Asked + ", " + d.AskedOn.Human())
		}
		row.Decision, row.Why = d.Says(), d.Reason
		if d.Decision != "" && d.Waits(r.AsOf) {
			row.Tone = "tone-watch"
		}
	}
	return row
}

func span(from, to calendar.Date) string {
	switch {
	case from == 0 && to == 0:
		return ""
	case from == 0:
		return "to " + to.Human()
	case to == 0:
		return "from " + from.Human()
	}
	return from.Human() + " to " + to.Human()
}

// headline says how much is asked for, and what waits for a decision.
func headline(r *page.Request, p *pipeline.Pipeline, list []*measure.Project) []page.Spoken {
	if len(list) == 0 {
		return []page.Spoken{{Text: "Nothing is proposed here."}}
	}
	waits := pipeline.Waiting(r.Figures, p, list)
	oldest := calendar.Date(0)
	if len(waits) > 0 && p.Proposals[waits[0].Code] != nil {
		oldest = p.Proposals[waits[0].Code].AskedOn
	}
	text := write.Count(len(list), "proposal asks", "proposals ask")
	out := []page.Spoken{{Text: text}}
	if g := r.Figures.Roll(list); g.Value(measure.BAC).Known {
		out = append(out, page.Spoken{Text: " for " + g.Value(measure.BAC).Amount().Short(r.Figures.Env.Currency) + " in all"})
	} else {
		out[0].Text = write.Count(len(list), "proposal", "proposals")
	}
	switch {
	case len(waits) == 0:
		return append(out, page.Spoken{Text: "; all are decided."})
	case oldest == 0:
		return append(out, page.Spoken{Text: "; "}, page.Spoken{Text: write.Count(len(waits), "waits", "wait") + " for a decision",
			Href: r.Here("decision", "waits")}, page.Spoken{Text: "."})
	}
	return append(out, page.Spoken{Text: "; "}, page.Spoken{Text: write.Count(len(waits), "waits", "wait") + " for a decision",
		Href: r.Here("decision", "waits")}, page.Spoken{Text: ", the longest since " + oldest.Human() + "."})
}

// form keeps what was typed, where it was refused.
func (v *listView) form(r *page.Request, list []pipeline.Template, refused error) {
	f := &v.Form
	get := func(name string) string {
		if refused == nil {
			return ""
		}
		return strings.Clone(r.FormValue(name))
	}
	now := get("ruling")
	for _, x := range []string{record.Accepted, record.PutOff, record.Declined} {
		f.Decision = append(f.Decision, page.Option{Value: x, Text: x, Selected: x == now})
	}
	f.On, f.By, f.Reason, f.Again = cmp.Or(get("on"), r.AsOf.String()), get("by"), get("reason"), get("again")
	f.Opens, f.Template = get("opens") != "", get("template")
	f.LayOut = get("layout") != ""
	for i := range list {
		f.Templates = append(f.Templates, page.Option{Value: list[i].Name, Text: list[i].Words()})
	}
	for _, p := range withPlans(r.Figures.Projects) {
		f.Templates = append(f.Templates, page.Option{Value: p.Code, Text: p.Name})
	}
	if refused == nil {
		return
	}
	for i := range v.Rows {
		v.Rows[i].Picked = slices.Contains(picks(r), v.Rows[i].Code)
	}
}

// picks are the proposals that a form names.
func picks(c fiber.Ctx) (list []string) {
	for _, b := range c.Request().PostArgs().PeekMulti("pick") {
		list = append(list, string(b))
	}
	return list
}

// mostPicked bounds how many proposals are decided at once.
const mostPicked = 200

// decide writes down what was decided of the proposals that are ticked.
func (s *pages) decide(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	get := func(name string) string { return strings.TrimSpace(strings.Clone(c.FormValue(name))) }
	x := pipeline.Ruling{Projects: picks(c), Decision: get("ruling"), By: get("by"), Reason: get("reason"), Opens: get("opens") != "",
		Template: get("template"), LayOut: get("layout") != ""}
	for _, d := range []struct {
		name string
		to   *calendar.Date
	}{{"on", &x.On}, {"again", &x.LookAgain}} {
		if text := get(d.name); text != "" && err == nil {
			if *d.to, err = calendar.ParseDate(text); err != nil {
				err = fault.Field(map[string]string{"on": "decided_on", "again": "look_again"}[d.name], fault.Clip(text, 40),
					"a day as YYYY-MM-DD")
			}
		}
	}
	if err == nil && len(x.Projects) > mostPicked {
		err = fault.Field("project", write.Whole(len(x.Projects)), fmt.Sprintf("at most %d proposals at once", mostPicked))
	}
	if err == nil {
		_, err = s.Office.Pipeline.Decide(c.Context(), r.Figures, x)
	}
	if err == nil {
		told := write.Count(len(x.Projects), "proposal is ", "proposals are ") + x.Decision + ": " + listed(x.Projects)
		if x.Opens && x.Decision == record.Accepted {
			told += ", and open from now on"
		}
		page.Tell(c, told+". It was saved"+r.InPeriod()+page.Withdrawable(c)+".")
	}
	return page.Answered(c, err, "/pipeline/proposals", func(refused error) error { return s.showProposals(c, refused) })
}
