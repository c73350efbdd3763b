package chart

import (
	"math"
	"strconv"

	"turret/internal/scene"
)

// box is a rectangle that labels must not share.
type box struct{ x1, y1, x2, y2 float64 }

func (b box) hits(o box) bool { return b.x1 < o.x2 && o.x1 < b.x2 && b.y1 < o.y2 && o.y1 < b.y2 }

// placer keeps what is taken.
type placer struct{ taken []box }

func (p *placer) free(b box) bool {
	for _, t := range p.taken {
		if b.hits(t) {
			return false
		}
	}
	return true
}

func (p *placer) take(b box) { p.taken = append(p.taken, b) }

// textBox is where a text of a size stands, its baseline at y.
func textBox(x, y, size float64, anchor scene.Anchor, text string) box {
	w := scene.Width(text, size)
	switch anchor {
	case scene.End:
		x -= w
	case scene.Middle:
		x -= w / 2
	}
	return box{x - 1, y - size*0.85, x + w + 1, y + size*0.25}
}

// step is a round distance between ticks that cuts a span into at most n parts.
func step(span float64, n int) float64 {
	if span <= 0 {
		return 1
	}
	raw := span / float64(n)
	base := math.Pow(10, math.Floor(math.Log10(raw)))
	for _, m := range []float64{1, 2, 5, 10} {
		if m*base >= raw*0.999 {
			return m * base
		}
	}
	return 10 * base
}

func plain(v float64, places int) string {
	s := strconv.FormatFloat(v, 'f', places, 64)
	if v < 0 {
		return "−" + s[1:]
	}
	return s
}

func signed(v float64, places int) string {
	if v > 0 {
		return "+" + plain(v, places)
	}
	return plain(v, places)
}
