package report

import (
	"cmp"
	"fmt"

	"turret/internal/app/assess"
	"turret/internal/app/report"
	"turret/internal/chart"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/record"
	"turret/internal/scene"
)

// composer makes a document of a report's content.
type composer struct {
	*report.Content
}

// sections of a report by their keys.
var composers = map[string]func(*composer, *report.Part, *section){
	"headline": (*composer).headline, "sighting": (*composer).sighting, "attention": (*composer).attention, "decisions": (*composer).asked,
	"commentary": (*composer).commentary, "status": (*composer).status, "projects": (*composer).projects, "strips": (*composer).strips,
	"timeline": (*composer).timeline, "milestones": (*composer).milestones, "slips": (*composer).slips, "money": (*composer).money,
	"curves": (*composer).curves, "bridge": (*composer).bridgeSteps, "earned": (*composer).earned, "checks": (*composer).checks,
	"became": becameSection, "risks": riskSection, "issues": issueSection, "actions": actionSection,
	"staffing": staffingSection, "people": peopleSection,
	"pipeline": pipelineSection, "goals": goalsSection, "selection": selectionSection, "gates": gatesSection, "roadmap": roadmapSection,
	"ranges": rangesSection, "prediction": predictionSection,
}

func compose(content *report.Content) *document {
	c, r := &composer{content}, content.Report
	d := &document{Name: c.Name, Title: cmp.Or(r.Title, r.Name, "Report"), AsOf: c.Env.AsOf, Currency: c.Env.Currency, Cover: r.Cover,
		Organisation: c.Organisation,
		A3:           r.A3, Portrait: r.Portrait}
	d.About = "As of " + c.Env.AsOf.Human() + ", " + c.state()
	if c.Stamp != nil {
		d.Stamp = c.Stamp.Text()
		d.About += ", digest " + c.Stamp.Digest[:min(16, len(c.Stamp.Digest))]
	}
	d.Footer = c.Name + ", as of " + c.Env.AsOf.Human() + ", " + c.state() + ", " + string(c.Env.Currency)
	if c.Mark != nil {
		d.Mark, d.MarkType, d.MarkShape = c.Mark.Bytes, c.Mark.Type, float64(c.Mark.Width)/float64(c.Mark.Height)
	}
	for i := range r.Parts {
		p := &r.Parts[i]
		sort := report.SectionKindOf(p.Key)
		s := section{Key: p.Key, Title: sort.Name}
		if c.NoMoney && sort.Money {
			s.Blocks = []block{small{"Costs are not shown to you."}}
		} else {
			composers[p.Key](c, p, &s)
		}
		d.Sections = append(d.Sections, s)
	}
	return d
}

// state says which issue of the period this is.
func (c *composer) state() string {
	if p := c.Closed; p != nil {
		if p.Issue > 1 {
			return fmt.Sprintf("issue %d", p.Issue)
		}
		return "issue 1"
	}
	return "not published"
}

// measured is a column of a measure, or of a field of the office's own.
func measured(a *assess.Assessment, key string) column {
	if own, ok := a.OwnField(key); ok {
		return column{Head: own.Head(), Width: 70, Right: own.Cell == record.Number || own.Cell == record.Day}
	}
	d, _ := measure.Lookup(key)
	k := column{Head: d.Name, Width: 70, Right: true, Unit: d.Unit, Value: true, Sum: d.Unit == measure.Money && d.Rollup == measure.Sum}
	if d.Unit == measure.Health {
		k.Right, k.Width = false, 62
	}
	return k
}

// deviations are the measures that are drawn as a bar from zero, with the scale and the trigger they are held against.
var deviations = map[measure.Key]struct {
	scale float64
	on    health.Kind
}{measure.VACShare: {0.2, health.CostShare}, measure.FinishDeviation: {60, health.FinishShare}}

// figure is a project's measure in a table.
func (c *composer) figure(q *measure.Project, key string, drawn bool) cell {
	if own, ok := c.OwnField(key); ok {
		name, _ := own.Own()
		return cell{Text: assess.OwnText(q, own), Plain: q.Own[name]}
	}
	d, _ := measure.Lookup(key)
	v := q.Value(d.Key)
	x := cell{Value: v, Text: c.short(d, v)}
	if !v.Known {
		return x
	}
	if d.Unit == measure.Health {
		x.Drawings = []*scene.Scene{chart.Pennant(v.Status(), 11, d.Key == measure.DeclaredHealth)}
	}
	if dev, ok := deviations[d.Key]; ok && drawn {
		tol := q.Tolerances
		value, limit := v.Ratio, tol.Of[health.CostShare].Watch
		if d.Unit == measure.Days {
			value, limit = float64(v.N), tol.Of[health.FinishShare].Watch*float64(q.Value(measure.PlannedDuration).N)
		}
		x.Drawings = []*scene.Scene{chart.DeviationBar(value, dev.scale, limit, q.Health.Reached(dev.on))}
	}
	return x
}

// short writes a value for a table of print: money without decimals that nobody reads there.
func (c *composer) short(d *measure.Definition, v measure.Value) string {
	if d.Unit == measure.Money && v.Known {
		return v.Amount().Short(c.Env.Currency)
	}
	return v.Human(d.Unit, c.Env.Currency)
}

// byMeasure is a table of projects by measures, with their sum below.
func (c *composer) byMeasure(list []*measure.Project, keys []string, drawn bool) *table {
	t := &table{Columns: []column{{Head: "Project", Width: 150}}, Empty: "No project is in it."}
	for _, k := range keys {
		col := measured(c.Assessment, k)
		if _, ok := deviations[measure.KeyOf(k)]; ok && drawn {
			col.Width = 100
		}
		t.Columns = append(t.Columns, col)
	}
	for _, q := range list {
		r := row{Cells: []cell{c.project(q)}}
		for _, k := range keys {
			r.Cells = append(r.Cells, c.figure(q, k, drawn))
		}
		t.Rows = append(t.Rows, r)
	}
	return t
}

// total is the last row of a table by measures.
func (c *composer) total(list []*measure.Project, keys []string, name string) row {
	g := measure.Roll(list, c.Env)
	r := row{Total: true, Cells: []cell{{Text: name, Bold: true, Plain: "*"}}}
	for _, k := range keys {
		if _, own := c.OwnField(k); own {
			r.Cells = append(r.Cells, cell{})
			continue
		}
		d, _ := measure.Lookup(k)
		x := cell{Bold: true, Value: g.Value(d.Key)}
		if d.Unit != measure.Health {
			x.Text = c.short(d, x.Value)
		}
		r.Cells = append(r.Cells, x)
	}
	return r
}

// project names a project in a table, under its pennants.
func (c *composer) project(q *measure.Project) cell {
	x := cell{Text: q.Name, Soft: q.Code + " · " + q.Lead, Bold: true, Plain: q.Code,
		Drawings: []*scene.Scene{chart.Pennant(q.Health.Overall, 13, false)}}
	if d := q.Value(measure.DeclaredHealth); d.Known && d.Status() != q.Health.Overall {
		x.Drawings = append(x.Drawings, chart.Pennant(d.Status(), 11, true))
	}
	return x
}
