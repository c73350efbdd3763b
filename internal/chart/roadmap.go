package chart

import (
	"fmt"

	"turret/internal/core/calendar"
	"turret/internal/core/health"
	"turret/internal/scene"
)

// RoadmapLane is a part of a roadmap, with its bars one under another.
type RoadmapLane struct {
	Name string
	Bars []RoadmapBar
}

// RoadmapBar is a project over time; what is not decided is drawn lightly.
type RoadmapBar struct {
	Code, Name, Note, Title, Href string
	From, To                      calendar.Date
	Light                         bool
	Was                           calendar.Date // the start before it was moved; 0 where it was not
	Flags                         []RoadmapFlag
	Gates                         []RoadmapFlag // that were passed
}

// RoadmapTie is what one project needs of another: when it is there, and by when it is wanted.
type RoadmapTie struct {
	From, To      string // codes
	Given, Wanted calendar.Date
	Strained      bool
	Title         string
}

// RoadmapFlag is a milestone on a bar.
type RoadmapFlag struct {
	Date   calendar.Date
	Title  string
	Status health.Status
	Done   bool
}

// Heights and widths of a roadmap.
const (
	roadmapNames = 300.0
	roadmapHead  = 40.0
	roadmapRow   = 22.0
	roadmapLane  = 26.0
)

// RoadmapMonth is how wide a month is on a roadmap.
func RoadmapMonth(from, to calendar.Date, w float64) float64 {
	if from == 0 || to <= from {
		return 0
	}
	first, last := from.Month()/3*3, to.Month()/3*3+2
	return (w - roadmapNames - 6) / float64(last-first+1)
}

// Roadmap draws lanes over years by quarter, from the first day shown to the last, and what its projects need of each other.
func Roadmap(lanes []RoadmapLane, ties []RoadmapTie, from, to, asOf calendar.Date, w float64) *scene.Scene {
	h := roadmapHead + 8
	for _, l := range lanes {
		h += roadmapLane + roadmapRow*float64(len(l.Bars))
	}
	s := scene.New(w, h, "Roadmap: projects and proposals over the quarters")
	if from == 0 || to <= from {
		return s
	}
	first, last := from.Month()/3*3, to.Month()/3*3+2
	start, end := first.First(), last.Last()+1
	x := func(d calendar.Date) float64 {
		return roadmapNames + float64(min(max(d, start), end)-start)/float64(end-start)*(w-roadmapNames-6)
	}
	roadmapAxis(s, x, first, last, h)
	if asOf >= start && asOf < end {
		s.Line("asof", x(asOf+1), roadmapHead-4, x(asOf+1), h)
	}
	y := roadmapHead
	mid := map[string]float64{}
	for _, l := range lanes {
		s.Text("label-bold", 0, y+17, scene.Start, clipped(l.Name, 44))
		s.Line("grid", 0, y+roadmapLane-3, w, y+roadmapLane-3)
		y += roadmapLane
		for _, b := range l.Bars {
			roadmapBar(s, x, &b, y)
			mid[b.Code] = y + (roadmapRow-2)/2
			y += roadmapRow
		}
	}
	for _, t := range ties {
		from, ok := mid[t.From]
		if to, both := mid[t.To]; ok && both {
			s.Group("point", t.Title, "", func() { roadmapTie(s, x(t.Given+1), from, x(t.Wanted), to, t.Strained) })
		}
	}
	return s
}

// roadmapTie leads from where something is there to where it is wanted.
func roadmapTie(s *scene.Scene, left, from, right, to float64, strained bool) {
	class, knee := "tie", max(right-6, roadmapNames)
	if strained {
		class = "strain"
	}
	s.Polyline(class, left, from, knee, from, knee, to, right, to)
}

// clipped is a text of at most so many letters.
func clipped(text string, most int) string {
	if r := []rune(text); len(r) > most {
		return string(r[:most-1]) + "…"
	}
	return text
}

func roadmapAxis(s *scene.Scene, x func(calendar.Date) float64, first, last calendar.Month, h float64) {
	wide := x((first+3).First())-x(first.First()) > 26
	for m := first; m <= last; m += 3 {
		class := "grid"
		if int(m)%12 == 0 || m == first {
			class = "grid-strong"
			s.Text("label-bold", x(m.First())+3, 14, scene.Start, fmt.Sprintf("%04d", int(m)/12))
		}
		s.Line(class, x(m.First()), 18, x(m.First()), h)
		if wide {
			s.Text("label-soft", x(m.First())+3, 32, scene.Start, fmt.Sprintf("Q%d", int(m)%12/3+1))
		}
	}
}

func roadmapBar(s *scene.Scene, x func(calendar.Date) float64, b *RoadmapBar, y float64) {
	left, right := x(b.From), x(b.To+1)
	look := "point"
	if b.Light {
		look = "point light"
	}
	s.Group(look, b.Title, b.Href, func() {
		s.Text("label", 10, y+14, scene.Start, clipped(b.Code+" "+b.Name, 44))
		class := "work-left"
		if b.Light {
			class = "none"
		}
		s.Rect(class, left, y+4, max(right-left, 2), roadmapRow-10)
	})
	if b.Was != 0 {
		s.Line("tail", x(b.Was), y+roadmapRow-4, left, y+roadmapRow-4)
	}
	if b.Note != "" {
		at, anchor := right+4, scene.Start
		if at+scene.Width(b.Note, 11) > s.W { // there is no room behind it
			at, anchor = left-4, scene.End
		}
		s.Text("label-soft", at, y+14, anchor, b.Note)
	}
	for _, g := range b.Gates {
		s.Group("point", g.Title, "", func() { s.Rect("gate", x(g.Date)-1.5, y+1, 3, roadmapRow-4) })
	}
	for _, f := range b.Flags {
		s.Group("point", f.Title, "", func() {
			if f.Done {
				s.Circle("dot", x(f.Date), y+roadmapRow/2-1, 3)
				return
			}
			pennant(s, x(f.Date), y+roadmapRow-7, 13, f.Status, false)
		})
	}
}
