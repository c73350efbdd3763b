package page

import (
	"maps"
	"slices"
	"strings"

	"turret/internal/core/measure"
)

// MeasureRow is a project in a table of measures.
type MeasureRow struct {
	Code, Name, Lead, Href string
	Cells                  []MeasureCell
}

// MeasureCell is a measure of a project: a figure, and a mark where it is of health.
type MeasureCell struct {
	Figure Figure
	Mark   *Mark
}

// MeasureRowOf is a project by the measures of some keys.
func MeasureRowOf(r *Request, p *measure.Project, keys []string) MeasureRow {
	row := MeasureRow{Code: p.Code, Name: p.Name, Lead: p.Lead, Href: r.Project(p.Code)}
	for _, k := range keys {
		d, _ := measure.Lookup(k)
		c := MeasureCell{Figure: r.ShortFigure(p, k)}
		if x := p.Value(k); d.Unit == measure.Health && x.Known {
			c.Mark = &Mark{SVG: Pennant(x.Status(), 12, k == "declared_health"), Label: x.Status().String()}
		}
		row.Cells = append(row.Cells, c)
	}
	return row
}

// KeysAsked are the measures that an address asks for as columns, each once, or those of a default; what is no measure, or of money that
// the one who asks may not see, is left out.
func KeysAsked(r *Request, usual []string) []string {
	asked := usual
	if list := r.Asked["columns"]; len(list) > 0 {
		asked = strings.Split(strings.Join(list, ","), ",")
	}
	var keys []string
	for _, k := range asked {
		if d, ok := measure.Lookup(k); ok && !slices.Contains(keys, k) && !(r.Figures.NoMoney && d.IsCost()) {
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
		if d, ok := measure.Lookup(k); ok {
			c.Columns = append(c.Columns, ChosenColumn{Key: d.Key, Name: d.Name, On: true})
		}
	}
	for _, d := range measure.All() {
		if !slices.Contains(keys, d.Key) && (!r.Figures.NoMoney || !d.IsCost()) {
			c.Columns = append(c.Columns, ChosenColumn{Key: d.Key, Name: d.Name})
		}
	}
	return c
}
