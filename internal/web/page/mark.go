package page

import (
	"fmt"
	"html/template"

	"turret/internal/chart"
	"turret/internal/core/health"
)

// Mark is a pennant with its words.
type Mark struct {
	SVG   template.HTML
	Label string
}

// Pennant is the mark of a status, h pixels high, or its outline.
func Pennant(s health.Status, h float64, outlined bool) template.HTML {
	return flown("pennant", s, h, outlined)
}

// Hatched is the mark of a status that does not count yet.
func Hatched(s health.Status, h float64) template.HTML { return flown("hatched", s, h, true) }

// flown calls a symbol that the page holds by its name.
func flown(name string, s health.Status, h float64, outlined bool) template.HTML {
	w, high := fmt.Sprintf("%.4g", h*0.95+3), fmt.Sprintf("%.4g", h+2)
	mark := fmt.Sprintf(`<svg class="scene" viewBox="0 0 %[1]s %[2]s" width="%[1]s" height="%[2]s" aria-hidden="true">`+
		`<use class="%s" href="#%s-%s" transform="translate(1.5 %.4g) scale(%.4g)"/></svg>`,
		w, high, chart.Worn(s, outlined), name, chart.Class(s), h+1, h/chart.SymbolHeight)
	return template.HTML(mark) // drawn from a status alone
}

// symbol is a mark that a page holds once.
type symbol struct {
	Name   string
	Shapes template.HTML
}

// symbols are the marks of every status, plain and hatched.
func symbols() (list []symbol) {
	add := func(name string, s health.Status, hatched bool) {
		shapes := chart.Symbol(s, hatched).Inner()
		list = append(list, symbol{name + "-" + chart.Class(s), template.HTML(shapes)}) // drawn from a status alone
	}
	for _, s := range []health.Status{health.NotAssessed, health.OnTrack, health.Watch, health.Act} {
		add("pennant", s, false)
		add("hatched", s, true)
	}
	return list
}
