package report

import (
	"math"

	"turret/internal/app/assess"

	appmoney "turret/internal/app/money"
	"turret/internal/app/report"
	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/curve"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/money"
)

func (c *composer) money(part *report.Part, s *section) {
	keys, list := part.Shown(c.Assessment), c.Picked(part)
	t := c.byMeasure(nil, keys, true)
	t.Empty = c.nothing(part)
	groups, _, err := appmoney.Groups(c.Assessment, &assess.Scope{Projects: list}, "programme")
	if err != nil {
		groups = []appmoney.Group{{Projects: list}}
	}
	for i := range groups {
		g := &groups[i]
		if len(groups) > 1 {
			t.Rows = append(t.Rows, row{Group: true, Cells: []cell{{Text: g.Name, Bold: true}}})
		}
		t.Rows = append(t.Rows, c.byMeasure(g.Projects, keys, true).Rows...)
		if len(groups) > 1 {
			t.Rows = append(t.Rows, c.total(g.Projects, keys, "Total "+g.Name))
		}
	}
	if len(list) > 1 {
		t.Rows = append(t.Rows, c.total(list, keys, "Together"))
	}
	s.Blocks = []block{t}
}

// drawnCurves is how many projects have a curve of their own.
const drawnCurves = 6

func (c *composer) curves(_ *report.Part, s *section) {
	draw := func(list []*measure.Project) *drawing {
		return &drawing{Scene: chart.Curve(curve.New(list, c.Env), chart.CurveOptions{W: 1216, H: 392, AsOf: c.Env.AsOf,
			Currency: c.Env.Currency}), Wide: 0.94}
	}
	sums := curve.New(c.Projects, c.Env)
	if len(sums.Budget) == 0 {
		s.Blocks = []block{small{"No budget is known here, so there is nothing to draw."}}
		return
	}
	t := &table{Columns: []column{{Head: "Month", Width: 80}}}
	for _, h := range []string{"Budget", "Actual cost", "Forecast to go", "Budget, added up", "Actual cost, added up",
		"Estimate, added up"} {
		t.Columns = append(t.Columns, column{Head: h, Width: 80, Right: true, Unit: measure.Money, Value: true})
	}
	for i := range sums.Budget {
		m := sums.First + calendar.Month(i)
		r := row{Cells: []cell{{Text: m.Name(), Plain: m.String()}}}
		for _, x := range []money.Amount{sums.Budget[i], sums.Actual[i], sums.ToGo[i], sums.Sums[i].Budget, sums.Sums[i].Actual,
			sums.Sums[i].Estimate} {
			r.Cells = append(r.Cells, cell{Text: x.Human(c.Env.Currency), Value: measure.Value{Known: true, N: int64(x)}})
		}
		t.Rows = append(t.Rows, r)
	}
	s.Data = []*table{t}
	s.Blocks = []block{heading{Text: c.Name}, draw(c.Projects)}
	if len(c.Projects) < 2 {
		return
	}
	for _, q := range worst(c.Projects, health.Cost, drawnCurves) {
		s.Blocks = append(s.Blocks, heading{Text: q.Code + " " + q.Name, Soft: c.reason(q), Mark: chart.Pennant(q.Health.Overall, 14,
			false)}, draw([]*measure.Project{q}))
	}
}

func (c *composer) bridgeSteps(_ *report.Part, s *section) {
	if c.Moved == nil {
		s.Blocks = []block{small{"No period before this one is closed, so there is nothing to lead from."}}
		return
	}
	x, cur := c.Moved, c.Env.Currency
	from, to := c.Since.Span.Name(), c.Env.Period().Name()
	t := &table{Columns: []column{{Head: "Step", Width: 90}, {Head: "Project", Width: 240}, {Head: "Amount", Width: 110, Right: true,
		Unit: measure.Money, Value: true}}}
	var steps []chart.BridgeStep
	step := func(name, says string, a money.Amount, whole bool) {
		steps = append(steps, chart.BridgeStep{Name: name, Amount: a, Whole: whole})
		t.Rows = append(t.Rows, row{Total: whole && len(steps) > 1, Cells: []cell{{Text: name, Bold: whole}, {Text: says},
			{Text: a.Human(cur), Bold: whole, Value: measure.Value{Known: true, N: int64(a)}}}})
	}
	step(from, "estimates as of "+c.Since.AsOf.Human(), x.Was, true)
	for _, b := range x.Bridge {
		says := ""
		if b.Project != nil {
			says = b.Project.Name
		}
		step(b.Name, says, b.Amount, false)
	}
	step(to, "estimates as of "+c.Env.AsOf.Human(), x.Now, true)
	says := "The forecast stayed at " + x.Now.Short(cur) + "."
	switch d := x.Now - x.Was; {
	case d > 0:
		says = "Since " + from + " the forecast rose by " + d.Short(cur) + " to " + x.Now.Short(cur) + "."
	case d < 0:
		says = "Since " + from + " the forecast fell by " + (-d).Short(cur) + " to " + x.Now.Short(cur) + "."
	}
	s.Blocks = []block{lead{says}, &drawing{Scene: chart.Bridge(steps, cur, 900, 280), Wide: 0.9}, t}
}

func (c *composer) earned(part *report.Part, s *section) {
	var with []*measure.Project
	for _, p := range c.Picked(part) {
		if p.Value(measure.EV).Known {
			with = append(with, p)
		}
	}
	if len(with) == 0 {
		s.Blocks = []block{small{"No project here has an earned value."}}
		return
	}
	keys := part.Shown(c.Assessment)
	var points []chart.EarnedPoint
	if t := c.Trends[measure.EV]; t != nil && !part.Few {
		values := t.Rows[0].Values
		if t.Whole != nil {
			values = t.Whole.Values
		}
		for i, v := range values {
			if v.Known && (t.Whole != nil || len(t.Rows) == 1) {
				points = append(points, chart.EarnedPoint{Period: t.Periods[i], Value: v.Amount()})
			}
		}
	}
	s.Blocks = []block{&drawing{Scene: chart.Earned(curve.New(with, c.Env), points, chart.Estimates(measure.Roll(with, c.Env)),
		chart.CurveOptions{W: 1216, H: 330, AsOf: c.Env.AsOf, Currency: c.Env.Currency}), Wide: 0.94}}
	if lines := c.indices(); lines != nil {
		s.Blocks = append(s.Blocks, heading{Text: "Indices over the periods"}, lines)
	}
	t := c.byMeasure(with, keys, false)
	if len(with) > 1 {
		t.Rows = append(t.Rows, c.total(with, keys, "Together"))
	}
	s.Blocks = append(s.Blocks, t)
}

// indices draws the indices of the scope over the closed periods; nil where fewer than two are known.
func (c *composer) indices() *drawing {
	var lines []chart.Line
	known := 0
	for i, key := range []measure.Key{measure.CPI, measure.SPI, measure.SPIInTime} {
		t := c.Trends[key]
		if t == nil || t.Whole == nil {
			return nil
		}
		l := chart.Line{Name: [...]string{"CPI", "SPI", "SPI(t)"}[i], Class: [...]string{"actual", "third", "second"}[i]}
		for _, v := range t.Whole.Values {
			if x := v.Ratio; v.Known && math.Abs(x) <= 2 {
				l.Values = append(l.Values, x)
				known++
			} else {
				l.Values = append(l.Values, math.NaN())
			}
		}
		lines = append(lines, l)
	}
	if known < 6 {
		return nil
	}
	d := measure.Of(measure.CPI)
	return &drawing{Scene: chart.Lines(lines, chart.LinesOptions{W: 1216, H: 300, Title: "Indices over the periods",
		Periods: c.Trends[measure.CPI].Periods, Centred: true, Middle: 1,
		Write: func(x float64) string { return measure.Value{Known: true, Ratio: x}.Human(d.Unit, c.Env.Currency) }}), Wide: 0.94}
}
