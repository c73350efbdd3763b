package report

import (
	"strings"

	"turret/internal/core/write"
)

// scale is how a drawing is set: to its width, and not taller than a page.
func (l *layout) scale(b *drawing) float64 {
	wide := b.Wide
	if wide == 0 {
		wide = 1
	}
	s := min(l.inner()*wide/b.Scene.W, 1.1)
	if b.Cuts == nil {
		s = min(s, (l.bottom()-edge-46)/b.Scene.H)
	}
	return s
}

func (l *layout) drawing(b *drawing) {
	scale := l.scale(b)
	if b.Cuts != nil {
		l.cut(b, scale)
		return
	}
	high := b.Scene.H * scale
	l.room(high + 12)
	l.put(part{x: edge, y: l.y + 6, scene: b.Scene, scale: scale})
	if b.Beside != nil {
		l.beside(b, edge+b.Scene.W*scale+16, l.y+6, l.y+6+high)
	}
	l.y += high + 12
}

// beside sets short texts at the right of a drawing, as many as there is room for, and says how many more there are.
func (l *layout) beside(b *drawing, x, y, bottom float64) {
	wide := l.w - edge - x
	for i, a := range b.Beside {
		l.pen("condensed", false, 9.5, ink)
		lines := l.lines(a.Text, wide-20, 4)
		if y+14+float64(len(lines))*11.5 > bottom-14 {
			l.pen("condensed", false, 9.5, soft)
			l.line(x+20, y+10, "and "+write.Count(len(b.Beside)-i, "more", "more"))
			return
		}
		l.put(part{x: x, y: y, scene: a.Mark, scale: 1})
		l.pen("condensed", true, 10.5, ink)
		l.line(x+20, y+11, l.fit(a.Head, wide-20))
		l.pen("condensed", false, 9.5, ink)
		y += 12
		for _, line := range lines {
			y += 11.5
			l.line(x+20, y, line)
		}
		y += 9
	}
}

// cut sets a tall drawing on as many pages as it takes, between its rows and with its head repeated.
func (l *layout) cut(b *drawing, scale float64) {
	from, end := b.Head, b.Scene.H
	for from < end {
		l.room(min((end-from+b.Head)*scale, 160))
		room := (l.left()-8)/scale - b.Head
		to := end
		if end-from > room {
			to = from + room
			for _, c := range b.Cuts {
				if c > from && c <= from+room {
					to = c
				}
			}
		}
		l.put(part{x: edge, y: l.y, scene: b.Scene, scale: scale, top: 0, bottom: b.Head})
		l.put(part{x: edge, y: l.y + b.Head*scale, scene: b.Scene, scale: scale, top: from, bottom: to})
		l.y += (b.Head + to - from) * scale
		if from = to; from < end {
			l.fresh()
		}
	}
	l.y += 8
}

const (
	cellPad    = 4.0
	cellLead   = 11.0
	cellLines  = 3
	leastWidth = 44.0
	firstWidth = 64.0
)

// table sets rows under their heads, which are repeated on each page. One too wide for the paper is set in parts, each with the first
// column.
func (l *layout) table(t *table) {
	if len(t.Rows) == 0 {
		if t.Empty != "" {
			l.block(small{t.Empty}, 0)
		}
		return
	}
	for _, part := range l.split(t) {
		l.y += 6
		l.rows(t, part, l.widths(t, part))
	}
}

// split says which columns stand together: as many as have room for their words.
func (l *layout) split(t *table) [][]int {
	first := l.least(t, 0)
	var list [][]int
	part, wide := []int{0}, first
	for i := 1; i < len(t.Columns); i++ {
		least := l.least(t, i)
		if wide+least > l.inner() && len(part) > 1 {
			list = append(list, part)
			part, wide = []int{0}, first
		}
		part, wide = append(part, i), wide+least
	}
	return append(list, part)
}

// widths shares out the width of the paper: to each column what its words take, and what is left by the weights of those that want more.
func (l *layout) widths(t *table, columns []int) []float64 {
	sum, taken := 0.0, 0.0
	list := make([]float64, len(columns))
	for k, i := range columns {
		sum += t.Columns[i].Width
		list[k] = l.least(t, i)
		taken += list[k]
	}
	most := l.inner()
	if sum < most*0.7 {
		most = max(sum*1.25, most*0.6, taken) // few columns are not torn apart
	}
	wanted := 0.0
	want := make([]float64, len(columns))
	for k, i := range columns {
		want[k] = max(0, t.Columns[i].Width*most/sum-list[k])
		wanted += want[k]
	}
	for k := range list {
		if wanted > 0 && most > taken {
			list[k] += want[k] * (most - taken) / wanted
		}
	}
	return list
}

// sampled is how many rows tell how wide the words of a column are.
const sampled = 100

// least is what a column takes so that its words are not broken, within reason.
func (l *layout) least(t *table, i int) float64 {
	wide := leastWidth
	if i == 0 {
		wide = firstWidth
	}
	l.pen("condensed", true, 9.5, ink)
	see := func(text string) {
		for _, word := range strings.Fields(text) {
			if w := l.GetStringWidth(clean(word)) + 2*cellPad + 2; w <= 2.2*leastWidth {
				wide = max(wide, w)
			}
		}
	}
	see(t.Columns[i].Head)
	for r := range t.Rows[:min(len(t.Rows), sampled)] {
		if c := t.Rows[r].Cells; i < len(c) && !t.Columns[i].Right && !t.Rows[r].Group && c[i].Drawings == nil {
			see(c[i].Text)
		}
	}
	return wide
}

func (l *layout) rows(t *table, columns []int, widths []float64) {
	keep := 24.0 // the heads, and the rows that stay with them
	for i := range t.Rows[:min(len(t.Rows), 2)] {
		keep += l.measure(&t.Rows[i], t, columns, widths).high
	}
	l.room(keep)
	l.heads(t, columns, widths)
	for i := range t.Rows {
		r := &t.Rows[i]
		set := l.measure(r, t, columns, widths)
		need := set.high
		if r.Group && i+1 < len(t.Rows) {
			need += 3*cellLead + 7
		}
		if l.left() < need {
			l.fresh()
			l.heads(t, columns, widths)
		}
		l.row(r, t, columns, widths, set)
	}
	l.y += 6
}

func (l *layout) heads(t *table, columns []int, widths []float64) {
	l.pen("condensed", true, 9.5, ink)
	most := 1
	heads := make([][]string, len(columns))
	for k, i := range columns {
		heads[k] = l.lines(t.Columns[i].Head, widths[k]-2*cellPad, 3)
		most = max(most, len(heads[k]))
	}
	high := float64(most)*cellLead + 4
	x := edge
	for k, i := range columns {
		for n, line := range heads[k] {
			l.cellText(x, l.y+high-4-float64(len(heads[k])-1-n)*cellLead, widths[k], line, t.Columns[i].Right)
		}
		x += widths[k]
	}
	l.rule(l.y+high, ink)
	l.y += high + 2
}

func (l *layout) cellText(x, y, width float64, text string, right bool) {
	if right {
		defer l.suit(text)()
		l.line(x+width-2.5*cellPad-l.GetStringWidth(text), y, text)
		return
	}
	l.line(x, y, text)
}

// setRow is a row as it was measured.
type setRow struct {
	lines [][]string
	marks []float64 // width that drawings take
	scale []float64 // of drawings
	high  float64
}

func (l *layout) measure(r *row, t *table, columns []int, widths []float64) setRow {
	s := setRow{lines: make([][]string, len(columns)), marks: make([]float64, len(columns)), scale: make([]float64, len(columns))}
	most := 1.0
	for k, i := range columns {
		if i >= len(r.Cells) {
			continue
		}
		c := &r.Cells[i]
		width := widths[k] - 2*cellPad
		if r.Group {
			width = l.inner()
		}
		l.pen("condensed", c.Bold || r.Total || r.Group, 9.5, ink)
		s.scale[k] = l.shrink(c, t.Columns[i].Right, width)
		for _, d := range c.Drawings {
			s.marks[k] += d.W*s.scale[k] + 4
		}
		if t.Columns[i].Right {
			s.lines[k] = []string{l.fit(c.Text, width-s.marks[k])} // a number is not broken
		} else {
			s.lines[k] = l.lines(c.Text, max(width-s.marks[k], 20), cellLines)
		}
		n := float64(len(s.lines[k]))
		if c.Soft != "" {
			n++
		}
		most = max(most, n)
	}
	s.high = most*cellLead + 7
	return s
}

// shrink keeps the drawings of a cell within its column, and beside its number where it has one.
func (l *layout) shrink(c *cell, right bool, width float64) float64 {
	wide, high := 0.0, 1.0
	for _, d := range c.Drawings {
		wide, high = wide+d.W+4, max(high, d.H)
	}
	if right {
		width -= l.GetStringWidth(c.Text) + 8
	}
	return max(0.2, min(1, width/max(wide, 1), 18/high))
}

func (l *layout) row(r *row, t *table, columns []int, widths []float64, s setRow) {
	if r.Total {
		l.rule(l.y, ink)
	}
	x := edge
	for k, i := range columns {
		if i >= len(r.Cells) {
			break
		}
		c := &r.Cells[i]
		at := x
		scale := s.scale[k]
		for _, d := range c.Drawings {
			l.put(part{x: at, y: l.y + max(2, (14-d.H*scale)/2+1), scene: d, scale: scale})
			at += d.W*scale + 4
		}
		l.pen("condensed", c.Bold || r.Total || r.Group, 9.5, ink)
		y := l.y + 12
		for _, line := range s.lines[k] {
			l.cellText(at, y, widths[k]-(at-x), line, t.Columns[i].Right)
			y += cellLead
		}
		if c.Soft != "" {
			l.pen("condensed", false, 8.5, soft)
			l.cellText(at, y, widths[k]-(at-x), l.fit(c.Soft, widths[k]-(at-x)-cellPad), t.Columns[i].Right)
		}
		x += widths[k]
	}
	l.y += s.high
	l.rule(l.y, rule)
}
