package report

import (
	"io"
	"strings"

	"turret/internal/app"
	"turret/internal/chart"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
	"turret/internal/prose"
)

// Pack writes the reports of a scope as PDF: headline, sighting plot and attention table, then a page per open project with
// its strip. The same data gives the same bytes.
func Pack(w io.Writer, a *app.Assessment, l *app.Lookout) error {
	name := l.Scope.Name
	if name == "" {
		name = "All projects"
		for _, n := range a.Masters.Nodes {
			if n.Parent == 0 && n.Level == "portfolio" {
				name = n.Name
				break
			}
		}
	}
	s, err := newSheet(name+" as of "+a.Env.AsOf.String(), a.Env.AsOf, name+", as of "+a.Env.AsOf.Human()+", "+string(a.Env.Currency))
	if err != nil {
		return err
	}
	p := &pack{s, a, l}
	p.front()
	p.note()
	p.table()
	for _, project := range l.Open {
		p.project(project)
	}
	return s.Output(w)
}

type pack struct {
	*sheet
	a *app.Assessment
	l *app.Lookout
}

func (p *pack) heading(text string) {
	p.AddPage()
	p.Bookmark(clean(text), 0, 0)
}

func (p *pack) front() {
	p.heading("Lookout")
	p.ink("condensed", "", 11)
	p.at(edge, edge+4, 0, "As of "+p.a.Env.AsOf.Human())
	p.ink("serif", "", 19)
	y := p.wrap(edge, edge+30, inner, 25, p.l.Headline.String(), 4)
	sights := chart.Sights(p.l.Open, nil)
	if len(sights) == 0 {
		return
	}
	p.ink("condensed", "B", 11)
	p.at(edge, y+8, 0, "Sighting plot")
	p.draw(chart.Sighting(sights, p.a.Env.Tolerances, 620, 440), edge, y+18, 0.82)
	p.beside(edge+540, y+30)
}

// beside lists, next to the plot, the projects at act with their reasons.
func (p *pack) beside(x, y float64) {
	for _, q := range p.l.Open {
		if q.Health.Overall != health.Act || y > pageH-90 {
			continue
		}
		p.draw(chart.Pennant(health.Act, 13, false), x, y-12, 1)
		p.ink("condensed", "B", 10.5)
		p.at(x+20, y, pageW-edge-x-20, q.Code+" "+q.Name)
		p.ink("condensed", "", 9.5)
		y = p.wrap(x+20, y+12, pageW-edge-x-20, 11.5, q.Health.Reason(), 4) + 8
	}
}

// columns of the attention table: where each begins.
var columns = struct{ mark, name, dims, cost, finish, next, why float64 }{edge, edge + 36, edge + 186, edge + 262, edge + 364, edge + 458, edge + 556}

const rowHeight = 29.0

func (p *pack) table() {
	y := pageH
	for _, q := range p.l.Open {
		if y+rowHeight > pageH-44 {
			y = p.tableHead()
		}
		p.row(q, y)
		y += rowHeight
	}
}

func (p *pack) tableHead() float64 {
	p.heading("What needs attention")
	p.ink("serif", "", 17)
	p.at(edge, edge+6, 0, "What needs attention")
	p.ink("condensed", "B", 9.5)
	y := edge + 28
	for _, h := range []struct {
		x    float64
		text string
	}{{columns.name, "Project, lead"}, {columns.dims, "S    C    S    R    B"}, {columns.cost, "Cost at completion, %"}, {columns.finish, "Finish, days"},
		{columns.next, "Next milestone"}, {columns.why, "Why"}} {
		p.at(h.x, y, 0, h.text)
	}
	p.line(y+5, 0x1d, 0x27, 0x33)
	return y + 6
}

func (p *pack) line(y float64, r, g, b int) {
	p.SetDashPattern(nil, 0)
	p.SetDrawColor(r, g, b)
	p.SetLineWidth(0.5)
	p.Line(edge, y, pageW-edge, y)
}

func (p *pack) row(q *measure.Project, y float64) {
	h := &q.Health
	p.draw(chart.Pennant(h.Overall, 13, false), columns.mark, y+7, 1)
	if d := q.Value("declared_health"); d.Known && d.Status() != h.Overall {
		p.draw(chart.Pennant(d.Status(), 11, true), columns.mark+17, y+8, 1)
	}
	p.ink("condensed", "B", 10.5)
	p.at(columns.name, y+12, columns.dims-columns.name-6, q.Name)
	p.ink("condensed", "", 9)
	p.at(columns.name, y+23, columns.dims-columns.name-6, q.Code+" · "+q.Lead)
	for i, d := range health.Dimensions() {
		p.draw(chart.Pennant(h.By[d], 10, false), columns.dims+14*float64(i), y+9, 1)
	}
	tol := q.Tolerances
	if v := q.Value("vac_share"); v.Known {
		p.draw(chart.DeviationBar(v.Ratio, 0.2, tol.Of[health.CostShare].Watch, h.By[health.Cost]), columns.cost, y+7, 0.85)
		p.ink("condensed", "", 10)
		p.at(columns.cost+70, y+18, 0, health.Percent(v.Ratio))
	}
	if v := q.Value("finish_deviation"); v.Known {
		limit := tol.Of[health.FinishShare].Watch * float64(q.Value("planned_duration").N)
		p.draw(chart.DeviationBar(float64(v.N), 60, limit, h.By[health.Schedule]), columns.finish, y+7, 0.85)
		p.ink("condensed", "", 10)
		p.at(columns.finish+70, y+18, 0, measure.Signed(v.N))
	}
	if e := app.Next(q); e.Activity >= 0 {
		p.ink("condensed", "", 9)
		p.at(columns.next, y+12, columns.why-columns.next-8, q.Activities[e.Activity].Name)
		p.at(columns.next, y+23, columns.why-columns.next-8, e.Date.Human()+", "+e.State.String())
	}
	p.ink("condensed", "", 9)
	p.wrap(columns.why, y+12, pageW-edge-columns.why, 10.5, h.Reason(), 2)
	p.line(y+rowHeight, 0xd9, 0xd3, 0xc5)
}

// project writes a project's page: headline, figures, strip, milestones that are not done, and what the lead wrote.
func (p *pack) project(q *measure.Project) {
	p.heading(q.Code + " " + q.Name)
	p.draw(chart.Pennant(q.Health.Overall, 20, false), edge, edge-12, 1)
	p.ink("serif", "", 15)
	y := p.wrap(edge+28, edge+4, inner-28, 19, app.Headline(q, p.a.Env).String(), 3)
	p.ink("condensed", "", 9.5)
	p.at(edge+28, y-4, inner-28, q.Code+" · lead "+q.Lead+" · "+p.reason(q))
	y += 12
	p.figures(q, y)
	y += 40
	strip := chart.Strip(q, p.a.Env, 1216)
	scale := min(inner/strip.W, (pageH-y-70)/strip.H)
	p.draw(strip, edge, y, scale)
	y += strip.H*scale + 14
	if d := q.Declared; d != nil && d.Commentary != "" && y < pageH-50 {
		p.ink("serif", "", 10.5)
		y = p.wrap(edge, y, inner, 14, "“"+d.Commentary+"”", int((pageH-40-y)/14)) + 6
	}
	p.words(q, p.milestones(q, y))
}

// note is what the office wrote to the scope, on a page of its own.
func (p *pack) note() {
	if p.l.Note.Text == "" {
		return
	}
	p.heading("From the office")
	p.ink("serif", "", 17)
	p.at(edge, edge+6, 0, "From the office")
	p.prose(p.l.Note.Who, p.l.Note.Text, edge+16)
}

// words writes what was written to the figures of a project.
func (p *pack) words(q *measure.Project, y float64) {
	for _, w := range q.Words {
		y = p.prose(upperFirst(w.On.String())+", "+w.Who, w.Text, y+8)
	}
}

const leading = 14.0

// prose writes a text under its head, on as many pages as it takes, and returns where it ends.
func (p *pack) prose(head, text string, y float64) float64 {
	p.ink("condensed", "B", 10.5)
	y = p.room(y, 3*leading)
	p.at(edge, y+leading, inner, head)
	y += leading + 4
	for _, line := range prose.Plain(text) {
		p.ink("serif", "", 10.5)
		for _, part := range p.SplitText(clean(line), inner) {
			y = p.room(y, leading)
			p.Text(edge, y+leading, part)
			y += leading
		}
		y += 4
	}
	return y
}

// room is where the next lines begin: here, or on a further page where they do not fit.
func (p *pack) room(y, need float64) float64 {
	if y+need < pageH-44 {
		return y
	}
	p.AddPage()
	p.ink("serif", "", 10.5)
	return edge
}

func upperFirst(s string) string { return strings.ToUpper(s[:1]) + s[1:] }

// milestones lists, as far as there is room, the milestones that are not done, and returns where they end.
func (p *pack) milestones(q *measure.Project, y float64) float64 {
	const rowH = 14.0
	if y+3*rowH > pageH-44 {
		return y
	}
	at := []float64{edge, edge + 240, edge + 330, edge + 440, edge + 550}
	p.ink("condensed", "B", 9.5)
	for i, h := range []string{"Milestones to come", "State", "Baseline", "Expected", "Days"} {
		p.at(at[i], y+rowH, 0, h)
	}
	p.line(y+rowH+4, 0x1d, 0x27, 0x33)
	y += 2 * rowH
	p.ink("condensed", "", 9.5)
	for _, e := range q.Events {
		if e.State == schedule.Done || e.State == schedule.DoneLate || y > pageH-48 {
			continue
		}
		a := &q.Activities[e.Activity]
		days := "–"
		if e.Deviation.Given {
			days = measure.Signed(e.Deviation.N)
		}
		for i, text := range []string{a.Name, e.State.String(), a.BaselineFinish.Human(), e.Date.Human(), days} {
			p.at(at[i], y+3, 100+140*float64(max(0, 1-i)), text)
		}
		y += rowH
	}
	return y
}

func (p *pack) reason(q *measure.Project) string {
	if why := q.Health.Reason(); why != "" {
		return why
	}
	if q.Health.Overall == health.NotAssessed {
		return "not assessed"
	}
	return "within all tolerances"
}

func (p *pack) figures(q *measure.Project, y float64) {
	keys := []string{"bac", "ac", "forecast_to_go", "eac", "vac", "baseline_finish", "expected_finish"}
	wide := inner / float64(len(keys))
	p.line(y-8, 0x1d, 0x27, 0x33)
	for i, key := range keys {
		d, _ := measure.Lookup(key)
		v := q.Value(key)
		text := v.Human(d.Unit, p.a.Env.Currency)
		if v.Known && d.Unit == measure.Money {
			text = v.Amount().Short(p.a.Env.Currency)
		}
		x := edge + float64(i)*wide
		p.text("condensed", "", 9, 0x59, 0x62, 0x6d)
		p.at(x, y+3, wide-6, d.Name)
		p.ink("serif", "", 13)
		p.at(x, y+19, wide-6, text)
	}
	p.line(y+26, 0xd9, 0xd3, 0xc5)
}
