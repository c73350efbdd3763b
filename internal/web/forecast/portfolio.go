package forecast

import (
	"fmt"
	"html/template"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/forecast"
	core "turret/internal/core/forecast"
	"turret/internal/core/measure"
	"turret/internal/core/write"
	webassess "turret/internal/web/assess"
	"turret/internal/web/page"
)

// portfolioView is what is expected of the open projects of a scope.
type portfolioView struct {
	page.SectionFrame
	Rows    []aheadRow
	Groups  []groupRow
	Finish  template.HTML // of all runs, of the whole scope
	Cost    template.HTML
	Drivers []driverRow
	Course  template.HTML // how many were predicted at act, over the periods
	Learned string
	Skill   string // address
	Waiting string
	Money   bool
	Empty   string
	Pager   page.Pager
}

type aheadRow struct {
	Code, Name, Lead, Href string
	Marks                  []page.Mark
	Chance, Confidence     string
	Why                    string
	Expected, P50, P80     string
	Later, LaterTone       string
	Cost, Over, OverTone   string
	Baseline               string
	Differs                bool
}

type groupRow struct{ Name, P50, P80, P50Cost, P80Cost, Baseline, Members string }

type driverRow struct {
	Name, Direction, Size string
	Width                 int
}

func (s *pages) portfolio(c fiber.Ctx) error {
	r, scope, err := s.ReadOpen(c)
	if err != nil {
		return err
	}
	v := portfolioView{SectionFrame: webassess.Frame(r, "Outlook", "Outlook"), Money: !r.Figures.NoMoney}
	out, err := s.Office.Forecast.Predict(c.Context(), r.Figures, scope)
	if err != nil {
		return err
	}
	got, waiting, err := s.ranges(r, scope, forecast.AskedOfAll(r.Figures))
	if err != nil {
		return err
	}
	v.Waiting, v.Learned, v.Skill = waiting, forecast.LearnedSays(out.Learned), r.To("/assess/outlook/skill")
	v.Headline = []page.Spoken{{Text: out.Headline()}}
	if len(out.List) == 0 {
		v.Empty = "No project of this scope is open."
	}
	list, pager := page.Cut(r, out.ByDanger())
	v.Pager = pager
	for i := range list {
		v.Rows = append(v.Rows, aheadRowOf(r, &list[i], got))
	}
	v.groups(r, got)
	v.fans(r, scope.Projects, got)
	v.drivers(out.Learned)
	over, err := s.Office.Forecast.Courses(c.Context(), r.Figures, scope)
	if err != nil {
		return err
	}
	v.Course = courses(over)
	return r.Answer("outlook", &v.Page, &v)
}

func aheadRowOf(r *page.Request, x *forecast.Outlook, got *forecast.Ranges) aheadRow {
	p := x.Project
	row := aheadRow{Code: p.Code, Name: p.Name, Lead: p.Lead, Href: r.To(page.ProjectPath(p.Code) + "/outlook"), Chance: x.Chance(),
		Why:     x.Why(),
		Marks:   []page.Mark{{SVG: page.Pennant(x.Declared, 13, true), Label: "declared " + x.Declared.String()}},
		Differs: x.Differs()}
	row.Marks = append(row.Marks, page.Mark{SVG: page.Pennant(x.Computed, 13, false), Label: "computed " + x.Computed.String()},
		page.Foreseen(x, 13))
	if d := x.Prediction; d != nil {
		row.Confidence = d.Confidence
	}
	row.dates(r, p, got)
	return row
}

// dates tells the range of a project against what is expected.
func (row *aheadRow) dates(r *page.Request, p *measure.Project, got *forecast.Ranges) {
	row.Expected, row.P50, row.P80, row.Cost, row.Over, row.Baseline = "–", "–", "–", "–", "–", "–"
	if expected := p.Value(measure.ExpectedFinish); expected.Known {
		row.Expected = expected.Date().Human()
	}
	x := rowOf(got, p.Code)
	if x == nil {
		return
	}
	if d := x.Day(80); d != 0 {
		row.P50, row.P80 = x.Day(50).Human(), d.Human()
		if days := x.Later(r.Figures.Env.Calendar); days.Given {
			row.Later = write.Signed(days.N)
			if days.N > 10 {
				row.LaterTone = "tone-watch"
			}
		}
	}
	if a, ok := x.Sum(80); ok {
		row.Cost = a.Short(r.Figures.Masters.Reporting)
		if over, ok := x.Over(measure.EAC); ok && !r.Figures.Shown {
			row.Over = over.Gain(r.Figures.Masters.Reporting)
		}
	}
	if x.Baseline.Given() {
		row.Baseline = write.Percent(x.Baseline.Float(), 0)
	}
}

func rowOf(got *forecast.Ranges, code string) *forecast.Row {
	if got == nil {
		return nil
	}
	for i := range got.Rows {
		if got.Rows[i].Code == code {
			return &got.Rows[i]
		}
	}
	return nil
}

// groups are the nodes of the scope, and the whole of it.
func (v *portfolioView) groups(r *page.Request, got *forecast.Ranges) {
	if got == nil {
		return
	}
	for _, x := range got.Groups() {
		row := groupRow{Name: x.Name, P50: "–", P80: "–", P50Cost: "–", P80Cost: "–", Baseline: "–",
			Members: write.Count(x.Members, "project", "projects")}
		if d := x.Day(50); d != 0 {
			row.P50, row.P80 = d.Human(), x.Day(80).Human()
		}
		if a, ok := x.Sum(50); ok {
			b, _ := x.Sum(80)
			row.P50Cost, row.P80Cost = a.Short(r.Figures.Masters.Reporting), b.Short(r.Figures.Masters.Reporting)
		}
		if x.Baseline.Given() {
			row.Baseline = write.Percent(x.Baseline.Float(), 0)
		}
		v.Groups = append(v.Groups, row)
	}
}

// mostDrivers is how many features are listed.
const mostDrivers = 10

func (v *portfolioView) drivers(l *core.Learned) {
	list := l.Overall()
	if l.Reason != "" || len(list) == 0 {
		return
	}
	for _, d := range list[:min(len(list), mostDrivers)] {
		says := "the more, the likelier act"
		if d.Direction == "against" {
			says = "the more, the less likely act"
		}
		v.Drivers = append(v.Drivers, driverRow{d.Feature, says, fmt.Sprintf("%.2f", d.Size), int(100*d.Size/list[0].Size + 0.5)})
	}
}

// skillView is how good predictions are.
type skillView struct {
	page.SectionFrame
	Bins      []binRow
	Confusion []confusionRow
	Periods   []periodRow
	Learned   string
	Back      string
	Then      []page.Tab // closed periods, whose predictions are held against what came
	Turned    *turnedPart
}

type binRow struct {
	Range, Told, Came string
	Count             int
	Mean, Share       int // percent
}

type confusionRow struct {
	Predicted string
	Mark      page.Mark
	Came      []int
}

type periodRow struct {
	Period, Skill string
	Count         int
}

func (s *pages) skill(c fiber.Ctx) error {
	r, _, err := s.ReadOpen(c)
	if err != nil {
		return err
	}
	l, err := s.Office.Forecast.Learned(c.Context(), r.Figures)
	if err != nil {
		return err
	}
	v := skillView{SectionFrame: webassess.Frame(r, "How good predictions are", "Outlook"), Learned: forecast.LearnedSays(l),
		Back: r.To("/assess/outlook")}
	v.Headline = []page.Spoken{{Text: skillHeadline(l)}}
	for i, b := range l.Bins {
		if len(l.Validated) == 0 {
			break
		}
		row := binRow{Range: fmt.Sprintf("%d to %d %%", 20*i, 20*(i+1)), Count: b.Told, Told: "–", Came: "–"}
		if b.Told > 0 {
			row.Told, row.Came = write.Percent(b.Mean, 0), write.Percent(b.Share(), 0)
			row.Mean, row.Share = int(100*b.Mean+0.5), int(100*b.Share()+0.5)
		}
		v.Bins = append(v.Bins, row)
	}
	for k, came := range l.Confusion {
		if len(l.Validated) > 0 {
			st := forecast.Statuses[k]
			v.Confusion = append(v.Confusion, confusionRow{st.String(), page.Mark{SVG: page.Pennant(st, 13, false), Label: st.String()},
				came[:]})
		}
	}
	for _, x := range core.SkillByPeriod(l.Validated) {
		v.Periods = append(v.Periods, periodRow{x.Period.Name(), fmt.Sprintf("%.2f", x.Skill), x.Count})
	}
	if err := v.turned(r); err != nil {
		return err
	}
	return r.Answer("outlook-skill", &v.Page, &v)
}

func skillHeadline(l *core.Learned) string {
	if !l.Told {
		return "Nothing is predicted: " + l.Reason + "."
	}
	text := fmt.Sprintf("Leaving out one finished project after the other, %s of what was predicted came; skill is %.2f.",
		write.Percent(l.Right(), 0), l.Skill)
	if l.Reason != "" {
		text += " That is none, so that nothing is predicted."
	}
	return text
}
