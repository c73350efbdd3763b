package page

import (
	"maps"
	"slices"
	"strings"

	"turret/internal/app/assess"
	"turret/internal/core/measure"
	"turret/internal/core/write"
	"turret/internal/record"
)

// MeasureRow is a project in a table of measures.
type MeasureRow struct {
	Code, Name, Lead, Href string
	Cells                  []MeasureCell
}

// MeasureCell is a measure of a project: a figure, and a mark where it is of health; or what stands in a field of the office's own.
type MeasureCell struct {
	Figure Figure
	Mark   *Mark
	Own    bool
}

// MeasureRowOf is a project by the measures of some keys.
func MeasureRowOf(r *Request, p *measure.Project, keys []string) MeasureRow {
	row := MeasureRow{Code: p.Code, Name: p.Name, Lead: p.Lead, Href: r.Project(p.Code)}
	for _, k := range keys {
		if own, ok := r.Figures.OwnField(k); ok {
			row.Cells = append(row.Cells, MeasureCell{Own: true, Figure: ownFigure(r, p, own)})
			continue
		}
		d, _ := measure.Lookup(k)
		c := MeasureCell{Figure: r.ShortFigure(p, d.Key)}
		if x := p.Value(d.Key); d.Unit == measure.Health && x.Known {
			c.Mark = &Mark{SVG: Pennant(x.Status(), 12, d.Key == measure.DeclaredHealth), Label: x.Status().String()}
		}
		row.Cells = append(row.Cells, c)
	}
	return row
}

// ownFigure is what a project has in a field of the office's own, with the address of the row that says so.
func ownFigure(r *Request, p *measure.Project, c record.Column) Figure {
	f := Figure{Text: assess.OwnText(p, c), Title: c.Head(),
		Href: r.To(ProjectPath(p.Code)+"/records/projects", "record", "projects:"+p.Code)}
	if f.Text == "" {
		f.Text, f.Title = "–", c.Head()+": not given"
	}
	if c.Cell == record.Number || c.Cell == record.Day {
		f.Tone = "num"
	}
	return f
}

// HeadOf is the head of a column of a measure, or of a field of the office's own.
func HeadOf(r *Request, key string) Head {
	if c, ok := r.Figures.OwnField(key); ok {
		h := Head{Text: c.Head(), Title: write.Joined(", ", c.Says, c.Name)}
		if c.Cell == record.Number || c.Cell == record.Day {
			h.Class = "num"
		}
		return h
	}
	d, _ := measure.Lookup(key)
	return Head{Text: d.Name, Title: d.Formula, Class: "num"}
}

// KeysAsked are the columns that an address asks for, each once, or those of a default: measures and fields of the office's own; what is
// neither, or of money that the one who asks may not see, is left out.
func KeysAsked(r *Request, usual []string) []string {
	asked := usual
	if list := r.Asked["columns"]; len(list) > 0 {
		asked = strings.Split(strings.Join(list, ","), ",")
	}
	var keys []string
	for _, k := range asked {
		d, ok := measure.Lookup(k)
		if _, own := r.Figures.OwnField(k); own {
			ok = true
		}
		if ok && !slices.Contains(keys, k) && !(r.Figures.NoMoney && d.IsCost()) {
			keys = append(keys, k)
		}
	}
	return keys
}

// Chooser is the form in which the measures of a table are chosen and put into order. Everything else that the address asks for stays.
type Chooser struct {
	Held    []Pair
	Columns []ChosenColumn
}

// ChosenColumn is a measure that a table may show.
type ChosenColumn struct {
	Key, Name string
	On        bool
}

// ChooserOf offers all measures that a table may show: the chosen ones first, in their order.
func ChooserOf(r *Request, keys []string) Chooser {
	var c Chooser
	for _, name := range slices.Sorted(maps.Keys(r.Asked)) {
		if slices.Contains([]string{"columns", "page", "trace", "at", "of"}, name) {
			continue
		}
		for _, value := range r.Asked[name] {
			c.Held = append(c.Held, Pair{name, value})
		}
	}
	for _, k := range keys {
		if own, ok := r.Figures.OwnField(k); ok {
			c.Columns = append(c.Columns, ChosenColumn{Key: k, Name: own.Head(), On: true})
		} else if d, ok := measure.Lookup(k); ok {
			c.Columns = append(c.Columns, ChosenColumn{Key: d.Key.String(), Name: d.Name, On: true})
		}
	}
	for _, own := range r.Figures.Masters.Own {
		if !slices.Contains(keys, own.Name) {
			c.Columns = append(c.Columns, ChosenColumn{Key: own.Name, Name: own.Head()})
		}
	}
	for _, d := range measure.All() {
		if !slices.Contains(keys, d.Key.String()) && (!r.Figures.NoMoney || !d.IsCost()) {
			c.Columns = append(c.Columns, ChosenColumn{Key: d.Key.String(), Name: d.Name})
		}
	}
	return c
}
