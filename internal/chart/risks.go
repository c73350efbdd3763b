package chart

import (
	"strconv"

	"turret/internal/scene"
)

// RiskSpot is a risk on the grid, by likelihood and consequence from 1 to 5. Was and Aim are where it stood before and where its response
// takes it; zero for nowhere else.
type RiskSpot struct {
	Number        int
	Title, Href   string
	At, Was, Aim  [2]int64
	After, Chosen bool // the grid is of what is left after response; it is the one in the margin
}

// RiskGridOptions are what a grid shows besides its risks: how many stand in each square, by likelihood and consequence less one, where a
// square leads, and the words along its sides, the least first.
type RiskGridOptions struct {
	Size                    float64
	Counts                  [5][5]int
	Href                    func(likelihood, consequence int) string
	Likelihood, Consequence []string
	Title                   string
}

// mostDots are how many risks a square shows one by one; more are told by their number.
const mostDots = 9

// riskSquare is the shade of a square by its exposure.
func riskSquare(exposure int) string {
	switch {
	case exposure >= 20:
		return "risk-5"
	case exposure >= 12:
		return "risk-4"
	case exposure >= 8:
		return "risk-3"
	case exposure >= 4:
		return "risk-2"
	}
	return "risk-1"
}

// RiskGrid draws risks as numbered dots on five by five squares of paper whose shade grows with exposure: likelihood upwards, consequence
// to
// the right. A thin line leads from where a risk stood before, a dashed one to where its response takes it.
func RiskGrid(spots []RiskSpot, opt RiskGridOptions) *scene.Scene {
	left, bottom := 96.0, 40.0
	side := (opt.Size - left) / 5
	s := scene.New(opt.Size, opt.Size-left+bottom+6, opt.Title)
	g := riskFrame{left: left, side: side, high: side*5 + 3}
	for l := 1; l <= 5; l++ {
		for c := 1; c <= 5; c++ {
			n := opt.Counts[l-1][c-1]
			title, href := "", ""
			if n > 0 && opt.Href != nil {
				title = strconv.Itoa(n) + " at likelihood " + strconv.Itoa(l) + ", consequence " + strconv.Itoa(c)
				href = opt.Href(l, c)
			}
			s.Group("", title, href, func() {
				x, y := g.corner(l, c)
				s.Rect(riskSquare(l*c), x+1, y+1, side-2, side-2)
				if n > mostDots {
					s.Text("label-bold", x+side-8, y+side-9, scene.End, strconv.Itoa(n))
				}
			})
		}
	}
	for i := range 5 {
		x, y := g.corner(i+1, 1)
		s.Text("label-soft", x-8, y+side/2+4, scene.End, riskWord(opt.Likelihood, i))
		x, _ = g.corner(1, i+1)
		s.Text("label-soft", x+side/2, g.high+17, scene.Middle, riskWord(opt.Consequence, i))
	}
	s.Text("label", left, g.high+35, scene.Start, "consequence →")
	s.Text("label", left-8, g.high+17, scene.End, "likelihood ↑")
	g.dots(s, spots, opt.Counts)
	return s
}

// riskWord is a number of the scale with its word.
func riskWord(words []string, i int) string {
	if i < len(words) && words[i] != "" {
		return strconv.Itoa(i+1) + " " + words[i]
	}
	return strconv.Itoa(i + 1)
}

type riskFrame struct{ left, side, high float64 }

func (g *riskFrame) corner(likelihood, consequence int) (x, y float64) {
	return g.left + float64(consequence-1)*g.side, g.high - float64(likelihood)*g.side
}

func (g *riskFrame) middle(at [2]int64) (x, y float64) {
	x, y = g.corner(int(at[0]), int(at[1]))
	return x + g.side/2, y + g.side/2
}

// dots draws the risks of squares that are not too full, in rows of three, over the lines of their ways.
func (g *riskFrame) dots(s *scene.Scene, spots []RiskSpot, counts [5][5]int) {
	in := map[[2]int64]int{}
	type placed struct {
		spot *RiskSpot
		x, y float64
	}
	var list []placed
	for i := range spots {
		at := spots[i].At
		if counts[at[0]-1][at[1]-1] > mostDots {
			continue
		}
		n := in[at]
		in[at]++
		all, step := counts[at[0]-1][at[1]-1], g.side/3
		rows, across := (all+2)/3, min(3, all-n/3*3)
		x, y := g.middle(at)
		list = append(list, placed{&spots[i], x + (float64(n%3)-float64(across-1)/2)*step, y + (float64(n/3)-float64(rows-1)/2)*step})
	}
	for _, p := range list {
		if p.spot.Was != [2]int64{} && p.spot.Was != p.spot.At {
			x, y := g.middle(p.spot.Was)
			s.Line("risk-was", x, y, p.x, p.y)
			s.Circle("risk-was", x, y, 2.5)
		}
		if p.spot.Aim != [2]int64{} && p.spot.Aim != p.spot.At && p.spot.Chosen {
			x, y := g.middle(p.spot.Aim)
			s.Line("risk-aim", p.x, p.y, x, y)
			s.Circle("risk-aim", x, y, 3.5)
		}
	}
	for _, p := range list {
		class := "risk-dot"
		if p.spot.Chosen {
			class = "risk-dot chosen"
		}
		s.Group(class, p.spot.Title, p.spot.Href, func() {
			s.Circle("", p.x, p.y, min(10, g.side/6-0.5))
			s.Text("", p.x, p.y+4, scene.Middle, strconv.Itoa(p.spot.Number))
		})
	}
}
