package backlog

import (
	"html/template"
	"math"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/backlog"
	"turret/internal/chart"
	"turret/internal/core/measure"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

// listView are the backlogs of a scope beside each other.
type listView struct {
	page.SectionFrame
	Rows  []listRow
	Empty string
}

type listRow struct {
	Code, Name, Href   string
	Blocked, Blocks    string
	BlockedWhat        string
	BlockedHref        string
	Elapsed            string
	Passed, Warns      int // of 100
	Drawn              template.HTML
	Done, Range        string
	DoneTone           string
	Late, LateTone     string
	LateItems          string
	Unplanned, UnpTone string
}

func (s *pages) backlogs(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	scope, err := r.Figures.Scope(r.Scope)
	if err != nil {
		return err
	}
	v := listView{SectionFrame: page.SectionFrame{Page: r.Page("Backlogs", "Registers"), Tabs: page.RegisterTabs(r, "Backlogs")},
		Empty: "No project here works off a backlog. Items come with a file of the kind backlog."}
	v.Page.Awaits = ""
	list := backlog.Of(r.Figures, scope)
	late, blocked := 0, 0
	for i := range list {
		x := listRowOf(r, &list[i])
		if list[i].Project.BacklogProgress().LatePoints > 0 {
			late++
		}
		blocked += len(list[i].Blocked)
		v.Rows = append(v.Rows, x)
	}
	text := write.Count(len(list), "backlog is", "backlogs are") + " worked off"
	if late > 0 {
		text += "; " + write.Count(late, "is", "are") + " not done in time"
	}
	if blocked > 0 {
		text += "; " + write.Count(blocked, "item is", "items are") + " blocked"
	}
	v.Headline = []page.Spoken{{Text: text + "."}}
	return r.Answer("backlogs", &v.Page, &v)
}

// unplannedMuch is from which share of an iteration on what came late is told in colour.
const unplannedMuch = 0.25

func listRowOf(r *page.Request, x *backlog.Row) listRow {
	p, s := x.Project, x.Project.BacklogProgress()
	b := measure.BacklogOf(p)
	row := listRow{Code: p.Code, Name: p.Name, Href: r.To(page.ProjectPath(p.Code) + "/backlog"), Blocked: "–", Blocks: "–", Elapsed: "–",
		Warns: int(math.Round(100 * x.Warns)), Done: day(s.Mean.Day), Late: "–", Unplanned: "–"}
	if n := len(x.Blocked); n > 0 {
		row.Blocked = write.Whole(n)
		for _, y := range x.Blocked[:min(n, 5)] {
			row.BlockedWhat += y.Code + " " + y.Title + ": " + y.Blocked + "; "
		}
	}
	if x.Issues > 0 {
		row.Blocks, row.BlockedHref = write.Count(x.Issues, "issue", "issues"), r.To("/registers/issues", "scope", p.Code)
	}
	if x.Elapsed.Given() {
		row.Elapsed, row.Passed = write.Percent(x.Elapsed.Float(), 1), int(100*x.Elapsed.Float())
	}
	if from := b.Begins(); from != 0 {
		row.Drawn = template.HTML(chart.BurnSpark(b.Burns(from, r.AsOf, r.AsOf, "points"), 110, 26).SVG()) // no texts
	}
	if s.High.Day != 0 && s.High.Day != s.Mean.Day {
		row.Range = s.High.Day.Human() + " to " + day(s.Low.Day)
	}
	if s.Mean.Day == 0 {
		row.Range = s.Mean.Reason
	}
	if s.LateKnown {
		row.Late = write.Percent(s.LateShare().Float(), 1)
		if s.LatePoints > 0 {
			row.LateItems = write.Count(len(s.Late), "item", "items")
			if x.Awakened {
				row.LateTone, row.DoneTone = "tone-act", "tone-act"
			}
		}
	}
	if x.Unplan.Given() {
		row.Unplanned = write.Percent(x.Unplan.Float(), 1)
		if x.Awakened && x.Unplan.Float() >= unplannedMuch {
			row.UnpTone = "tone-watch"
		}
	}
	return row
}
