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

// spaced moves ascending heights as little as can be, by the sum of squares, until they lie a gap apart from each other, between the first
// and the last that are allowed (isotonic regression by pooling adjacent violators, Ayer et al. 1955). Where there is no room for all, they
// go on beyond the last.
func spaced(heights []float64, gap, first, last float64) []float64 {
	type block struct {
		sum float64
		n   int
	}
	mean := func(b block) float64 { return b.sum / float64(b.n) }
	var blocks []block
	for i, y := range heights {
		blocks = append(blocks, block{y - float64(i)*gap, 1})
		for k := len(blocks) - 1; k > 0 && mean(blocks[k-1]) > mean(blocks[k]); k-- {
			blocks[k-1] = block{blocks[k-1].sum + blocks[k].sum, blocks[k-1].n + blocks[k].n}
			blocks = blocks[:k]
		}
	}
	var list []float64
	for _, b := range blocks {
		at := max(min(mean(b), last-float64(len(heights)-1)*gap), first)
		for range b.n {
			list = append(list, at+float64(len(list))*gap)
		}
	}
	return list
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
