package report

import (
	"strings"

	"turret/internal/prose"
	"turret/internal/scene"
)

// page is a sheet of paper with what stands on it.
type page struct{ parts []part }

// part is a line of text, a drawing, a rule or a picture at a place. Coordinates are points from the upper left corner.
type part struct {
	x, y float64

	text   string // with its baseline at y
	family string
	bold   bool
	size   float64
	ink    scene.RGB
	to     int // page that it leads to, from 1; 0 for none

	scene       *scene.Scene // its corner at x and y
	scale       float64
	top, bottom float64 // the band of it that is shown; 0 and 0 for all

	wide, high float64 // of a rule (high is 0) or a picture
	picture    bool
}

// bookmark is an entry of the outline and of the contents.
type bookmark struct {
	text  string
	level int
	page  int // from 1
	y     float64
}

// layout sets a document on pages.
type layout struct {
	*sheet // measures texts
	doc    *document
	w, h   float64
	pages  []page
	marks  []bookmark
	y      float64

	running string // what a page goes on with
	family  string
	bold    bool
	size    float64
	tone    scene.RGB
}

var (
	ink  = scene.Colour("ink")
	soft = scene.Colour("soft")
	rule = scene.Colour("rule")
)

const (
	footRoom = 44.0
	fewPages = 6 // or entries need no contents
)

// lay sets a document: cover, contents, sections.
func lay(d *document) (*layout, error) {
	turn, size := "L", "A4"
	if d.Portrait {
		turn = "P"
	}
	if d.A3 {
		size = "A3"
	}
	s, err := newPaper(turn, size, d.Title+", "+d.Name+", "+d.About, d.AsOf)
	if err == nil && d.Stamp != "" {
		s.SetKeywords(d.Stamp, false)
	}
	if err != nil {
		return nil, err
	}
	l := &layout{sheet: s, doc: d}
	l.w, l.h = s.GetPageSize()
	if d.Cover {
		l.cover()
		l.y = l.h // the sections begin on a page of their own
	}
	front := len(l.pages)
	for i := range d.Sections {
		l.section(&d.Sections[i])
	}
	if len(l.pages) == front {
		l.fresh()
		l.pen("serif", false, 12, soft)
		l.flow("This report has no sections yet.", 16, 0)
	}
	if len(l.marks) > 1 && (d.Cover || len(l.pages) > fewPages && len(l.marks) > fewPages) {
		l.contents(front)
	}
	l.footers(front)
	return l, nil
}

func (l *layout) inner() float64  { return l.w - 2*edge }
func (l *layout) bottom() float64 { return l.h - footRoom }
func (l *layout) left() float64   { return l.bottom() - l.y }

func (l *layout) fresh() {
	l.pages = append(l.pages, page{})
	l.y = edge
	if l.running == "" {
		return
	}
	family, bold, size, tone := l.family, l.bold, l.size, l.tone
	l.pen("condensed", false, 9, soft)
	l.line(edge, edge-12, l.fit(l.running+", continued", l.inner()))
	if family != "" {
		l.pen(family, bold, size, tone)
	}
}

// begin begins a page with something new.
func (l *layout) begin() {
	l.running = ""
	l.fresh()
}

// room begins a page where what comes would not fit on this one.
func (l *layout) room(need float64) {
	if len(l.pages) == 0 || l.left() < need && l.y > edge {
		l.fresh()
	}
}

func (l *layout) put(p part) {
	at := &l.pages[len(l.pages)-1]
	at.parts = append(at.parts, p)
}

func (l *layout) pen(family string, bold bool, size float64, tone scene.RGB) {
	l.family, l.bold, l.size, l.tone = family, bold, size, tone
	style := ""
	if bold {
		style = "B"
	}
	l.SetFont(family, style, size)
}

// suit changes the pen where its font lacks letters of a text that the other has, and returns what puts it back.
func (l *layout) suit(text string) func() {
	was := l.family
	now := family(was, text)
	if now == was {
		return func() {}
	}
	bold, size, tone := l.bold, l.size, l.tone
	l.pen(now, bold, size*0.92, tone)
	return func() { l.pen(was, bold, size, tone) }
}

// line writes text with its baseline at y.
func (l *layout) line(x, y float64, text string) {
	defer l.suit(text)()
	if text != "" {
		l.put(part{x: x, y: y, text: text, family: l.family, bold: l.bold, size: l.size, ink: l.tone})
	}
}

// fit cuts a text to a width.
func (l *layout) fit(text string, width float64) string {
	text = clean(text)
	defer l.suit(text)()
	if l.GetStringWidth(text) <= width {
		return text
	}
	runes := []rune(text)
	for len(runes) > 0 && l.GetStringWidth(string(runes)+"…") > width {
		runes = runes[:len(runes)-1]
	}
	return string(runes) + "…"
}

// lines breaks a text to a width, into at most so many lines (0 for any); the last one tells where it was cut.
func (l *layout) lines(text string, width float64, most int) []string {
	text = clean(text)
	if text == "" {
		return nil
	}
	defer l.suit(text)()
	list := l.SplitText(text, width)
	if most > 0 && len(list) > most {
		list = list[:most]
		list[most-1] = l.fit(strings.TrimRight(list[most-1], " ")+" …", width)
	}
	for i := range list {
		list[i] = strings.TrimRight(list[i], " ")
	}
	return list
}

// flow writes a text over the width from here on, on as many pages as it takes.
func (l *layout) flow(text string, leading, indent float64) {
	for _, part := range l.lines(text, l.inner()-indent, 0) {
		l.room(leading)
		l.y += leading
		l.line(edge+indent, l.y, part)
	}
}

func (l *layout) rule(y float64, tone scene.RGB) {
	l.put(part{x: edge, y: y, wide: l.inner(), ink: tone})
}

func (l *layout) mark(text string, level int) {
	l.marks = append(l.marks, bookmark{text, level, len(l.pages), l.y})
}

func (l *layout) section(s *section) {
	need := 90.0
	if len(s.Blocks) > 0 {
		need = 30 + l.need(s.Blocks[0])
	}
	if all := 30 + l.full(s.Blocks); all > need && all <= l.bottom()-edge {
		need = all // what fits on a page is not torn apart
	}
	switch {
	case s.Fresh:
		if len(l.pages) == 0 || l.y > edge {
			l.begin()
		}
	case l.y > edge && l.left() > need+14:
		l.y += 22
	case len(l.pages) == 0 || l.y > edge:
		l.begin()
	}
	l.running = s.Title
	l.mark(s.Title, 0)
	if !s.Fresh {
		l.pen("serif", false, 17, ink)
		l.y += 17
		l.line(edge, l.y, s.Title)
		l.rule(l.y+6, ink)
		l.y += 12
	}
	for i, b := range s.Blocks {
		after := 0.0 // a heading stays with what it heads
		if _, ok := b.(heading); ok && i+1 < len(s.Blocks) {
			after = l.need(s.Blocks[i+1])
		}
		if d, ok := b.(*drawing); ok && d.Yields {
			l.yield(d, s.Blocks[i+1:])
		}
		l.block(b, after)
	}
}

// full is about how much room blocks take up to the next page.
func (l *layout) full(list []block) float64 {
	sum := 0.0
	for _, b := range list {
		switch b := b.(type) {
		case heading:
			if b.Page {
				return sum
			}
			sum += 44
		case words:
			l.pen("serif", false, 10.5, ink)
			sum += 22
			for _, line := range prose.Plain(b.Text) {
				sum += float64(len(l.lines(line, l.inner(), 0)))*14 + 4
			}
		case *drawing:
			sum += b.Scene.H*l.scale(b) + 12
		case *table:
			sum += 36 + float64(len(b.Rows))*18.5
		default:
			sum += l.need(b)
		}
	}
	return sum
}

// yield sets a drawing smaller, as far as it can still be read, so that what comes after it fits on its page.
func (l *layout) yield(d *drawing, after []block) {
	room, full := l.left()-l.full(after)-14, d.Scene.H*l.scale(d)
	if room < full && room > 0.62*full {
		d.Wide = room / d.Scene.H * d.Scene.W / l.inner()
	}
}

// need is how much room the beginning of a block takes.
func (l *layout) need(b block) float64 {
	switch b := b.(type) {
	case lead:
		l.pen("serif", false, 15, ink)
		return float64(len(l.lines(b.Text, l.inner(), 0)))*20 + 8
	case heading:
		return 34
	case figures:
		return 46
	case words:
		return 46
	case *drawing:
		h := b.Scene.H * l.scale(b)
		if b.Cuts != nil {
			h = min(h, 200)
		}
		return min(h+12, l.bottom()-edge-40)
	case *table:
		return min(40+float64(len(b.Rows))*24, 110)
	}
	return 24
}

func (l *layout) block(b block, after float64) {
	switch b := b.(type) {
	case lead:
		l.room(l.need(b))
		l.pen("serif", false, 15, ink)
		l.flow(b.Text, 20, 0)
		l.y += 8
	case small:
		l.pen("condensed", false, 10.5, soft)
		l.y += 4
		l.flow(b.Text, 14, 0)
	case heading:
		l.heading(b, after)
	case words:
		l.words(b)
	case figures:
		l.figures(b)
	case *drawing:
		l.drawing(b)
	case *table:
		l.table(b)
	}
}

func (l *layout) heading(b heading, after float64) {
	switch {
	case b.Page && (l.y > edge || len(l.pages) == 0):
		l.begin()
	case !b.Page:
		l.y += 10
		l.room(34 + after)
	}
	size := 12.0
	if b.Page {
		size = 16
		l.mark(b.Text, 1)
		l.running = b.Text
	}
	x := edge
	if b.Mark != nil {
		l.put(part{x: x, y: l.y, scene: b.Mark, scale: 1})
		x += b.Mark.W + 8
	}
	l.pen("serif", b.Page, size, ink)
	l.y += size
	l.line(x, l.y, l.fit(b.Text, l.w-edge-x))
	l.y += 5
	if b.Soft != "" {
		l.pen("condensed", false, 9.5, soft)
		for _, part := range l.lines(b.Soft, l.w-edge-x, 2) {
			l.y += 12
			l.line(x, l.y-2, part)
		}
	}
	l.y += 4
}

// words writes a text under its head, on as many pages as it takes.
func (l *layout) words(b words) {
	const leading = 14.0
	l.y += 6
	l.room(3 * leading)
	l.pen("condensed", true, 10.5, ink)
	l.y += leading
	l.line(edge, l.y, l.fit(b.Head, l.inner()))
	l.y += 2
	missing := false
	for _, line := range prose.Plain(b.Text) {
		l.pen("serif", false, 10.5, ink)
		l.flow(line, leading, 0)
		l.y += 4
		missing = missing || strings.ContainsRune(clean(line), lacking)
	}
	if missing {
		l.block(small{string(lacking) + " stands for a letter that print does not have; the screen and the report as HTML show it."}, 0)
	}
}

func (l *layout) figures(b figures) {
	if len(b.Names) == 0 {
		return
	}
	l.room(46)
	wide := l.inner() / float64(len(b.Names))
	l.rule(l.y+6, ink)
	for i := range b.Names {
		x := edge + float64(i)*wide
		l.pen("condensed", false, 9, soft)
		l.line(x, l.y+18, l.fit(b.Names[i], wide-6))
		l.pen("serif", false, 13, ink)
		l.line(x, l.y+34, l.fit(b.Values[i], wide-6))
	}
	l.rule(l.y+41, rule)
	l.y += 46
}

// cover is the first page: who, what, when.
// mostEntries is how many entries the contents have; beyond that sections alone are listed, and the outline has the rest.
// contents puts a list of what is where before the sections.
// footers stand on every page but the cover.
