// Package scene holds a drawing made once and written both as SVG for pages and as vectors into PDF.
//
// Coordinates are pixels (points in print) from the upper left corner. Looks are named by classes: pages style them by CSS,
// print by the table in style.go.
package scene

import (
	"html"
	"strconv"
	"strings"
)

// Kind is a primitive.
type Kind uint8

// The primitives. Open and Close bracket a group.
const (
	Line Kind = iota
	Rect
	Polyline
	Polygon
	Circle
	Text
	Open
	Close
)

// Anchor says which end of a text stands at its point.
type Anchor uint8

// The anchors.
const (
	Start Anchor = iota
	Middle
	End
)

// Item is one primitive. A rectangle has its corner and size in Points, a circle its centre and R.
type Item struct {
	Kind   Kind
	Class  string
	Points []float64 // x and y in turn
	R      float64
	Text   string
	Anchor Anchor
	Title  string // of a group: read out and shown on hover
	Href   string // of a group: where it leads
}

// Scene is a drawing of a size. Title names it for those who cannot see it.
type Scene struct {
	W, H  float64
	Title string
	Items []Item
}

// New makes an empty drawing.
func New(w, h float64, title string) *Scene { return &Scene{W: w, H: h, Title: title} }

func (s *Scene) add(i Item) { s.Items = append(s.Items, i) }

// Line draws from one point to another.
func (s *Scene) Line(class string, x1, y1, x2, y2 float64) {
	s.add(Item{Kind: Line, Class: class, Points: []float64{x1, y1, x2, y2}})
}

// Rect draws a rectangle; nothing where it has no extent.
func (s *Scene) Rect(class string, x, y, w, h float64) {
	if w > 0 && h > 0 {
		s.add(Item{Kind: Rect, Class: class, Points: []float64{x, y, w, h}})
	}
}

// Polyline draws an open line through points given as x and y in turn.
func (s *Scene) Polyline(class string, points ...float64) {
	if len(points) >= 4 {
		s.add(Item{Kind: Polyline, Class: class, Points: points})
	}
}

// Polygon draws a closed shape.
func (s *Scene) Polygon(class string, points ...float64) {
	if len(points) >= 6 {
		s.add(Item{Kind: Polygon, Class: class, Points: points})
	}
}

// Circle draws a disc.
func (s *Scene) Circle(class string, x, y, r float64) {
	s.add(Item{Kind: Circle, Class: class, Points: []float64{x, y}, R: r})
}

// Text writes a line with its baseline at y.
func (s *Scene) Text(class string, x, y float64, anchor Anchor, text string) {
	if text != "" {
		s.add(Item{Kind: Text, Class: class, Points: []float64{x, y}, Anchor: anchor, Text: text})
	}
}

// Group brackets what draw draws; href may be empty.
func (s *Scene) Group(class, title, href string, draw func()) {
	s.add(Item{Kind: Open, Class: class, Title: title, Href: href})
	draw()
	s.add(Item{Kind: Close, Href: href})
}

// Standalone writes the drawing as a file of its own, with the looks of print.
func (s *Scene) Standalone() string {
	var b strings.Builder
	b.WriteString(`<?xml version="1.0" encoding="UTF-8"?>` + "\n")
	b.WriteString(strings.Replace(s.SVG(), "<svg ", `<svg xmlns="http://www.w3.org/2000/svg" `, 1))
	style := "<style>" + PrintCSS() + "</style>"
	return inside(b.String(), style)
}

// inside puts a text behind the opening svg tag.
func inside(svg, text string) string {
	at := strings.Index(svg, "<svg ")
	end := at + strings.Index(svg[at:], ">") + 1
	return svg[:end] + text + svg[end:]
}

// SVG writes the drawing for a page. Texts are escaped.
func (s *Scene) SVG() string {
	var b strings.Builder
	b.WriteString(`<svg class="scene" viewBox="0 0 ` + num(s.W) + ` ` + num(s.H) + `" width="` + num(s.W) + `" height="` + num(s.H) + `"`)
	if s.Title == "" {
		b.WriteString(` aria-hidden="true">`)
	} else {
		b.WriteString(` role="group" aria-label="` + html.EscapeString(s.Title) + `">`)
	}
	b.WriteString(s.Inner())
	b.WriteString("</svg>")
	return b.String()
}

// Inner is the drawing to be set within another.
func (s *Scene) Inner() string {
	var b strings.Builder
	for i := range s.Items {
		s.Items[i].svg(&b)
	}
	return b.String()
}

func num(f float64) string {
	s := strconv.FormatFloat(f, 'f', 1, 64)
	return strings.TrimSuffix(s, ".0")
}

func (i *Item) svg(b *strings.Builder) {
	p := i.Points
	class := ""
	if i.Class != "" {
		class = ` class="` + html.EscapeString(i.Class) + `"`
	}
	switch i.Kind {
	case Line:
		b.WriteString(`<line` + class + ` x1="` + num(p[0]) + `" y1="` + num(p[1]) + `" x2="` + num(p[2]) + `" y2="` + num(p[3]) + `"/>`)
	case Rect:
		b.WriteString(`<rect` + class + ` x="` + num(p[0]) + `" y="` + num(p[1]) + `" width="` + num(p[2]) + `" height="` + num(p[3]) +
			`"/>`)
	case Circle:
		b.WriteString(`<circle` + class + ` cx="` + num(p[0]) + `" cy="` + num(p[1]) + `" r="` + num(i.R) + `"/>`)
	case Polyline, Polygon:
		name := "polyline"
		if i.Kind == Polygon {
			name = "polygon"
		}
		b.WriteString(`<` + name + class + ` points="`)
		for k := 0; k+1 < len(p); k += 2 {
			if k > 0 {
				b.WriteByte(' ')
			}
			b.WriteString(num(p[k]) + "," + num(p[k+1]))
		}
		b.WriteString(`"/>`)
	case Text:
		anchor := [...]string{"", ` text-anchor="middle"`, ` text-anchor="end"`}[i.Anchor]
		b.WriteString(`<text` + class + anchor + ` x="` + num(p[0]) + `" y="` + num(p[1]) + `">` + html.EscapeString(i.Text) + `</text>`)
	case Open:
		i.open(b, class)
	case Close:
		if i.Href != "" {
			b.WriteString("</a>")
		} else {
			b.WriteString("</g>")
		}
	}
}

func (i *Item) open(b *strings.Builder, class string) {
	if i.Href != "" {
		b.WriteString(`<a` + class + ` href="` + html.EscapeString(i.Href) + `"`)
		if i.Title != "" {
			b.WriteString(` aria-label="` + html.EscapeString(i.Title) + `"`)
		}
		b.WriteByte('>')
	} else {
		b.WriteString(`<g` + class + `>`)
	}
	if i.Title != "" {
		b.WriteString(`<title>` + html.EscapeString(i.Title) + `</title>`)
	}
}

// Width estimates how wide a text runs in the condensed cut at a size, on the safe side; for placing labels.
func Width(text string, size float64) float64 {
	w := 0.0
	for _, r := range text {
		switch {
		case strings.ContainsRune("iljtfrI.,:;'|!() ", r):
			w += 0.28
		case strings.ContainsRune("mwMW@%", r):
			w += 0.78
		case r >= 'A' && r <= 'Z':
			w += 0.56
		case r > 0x2E80:
			w++
		default:
			w += 0.48
		}
	}
	return w * size
}
