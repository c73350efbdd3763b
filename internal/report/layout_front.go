package report

import (
	"fmt"

	"turret/internal/scene"
)

func (l *layout) cover() {
	l.fresh()
	d := l.doc
	y := l.h * 0.34
	if d.Mark != nil {
		high, wide := 72.0, 72*d.MarkShape
		if most := l.inner() * 0.5; wide > most {
			high, wide = most/d.MarkShape, most
		}
		l.put(part{x: edge, y: edge + 10, wide: wide, high: high, picture: true})
	}
	l.pen("condensed", true, 13, soft)
	l.line(edge, y, l.fit(d.Organisation, l.inner()))
	l.pen("serif", false, 34, ink)
	for _, line := range l.lines(d.Title, l.inner(), 3) {
		y += 42
		l.line(edge, y, line)
	}
	l.pen("serif", false, 18, ink)
	y += 32
	l.line(edge, y, l.fit(d.Name, l.inner()))
	l.pen("condensed", false, 12, soft)
	y += 26
	l.line(edge, y, l.fit(d.About+", in "+string(d.Currency), l.inner()))
	l.put(part{x: edge, y: l.h*0.34 - 26, wide: 60, ink: scene.Colour("accent")})
}

const mostEntries = 200

func (l *layout) contents(front int) {
	entries := l.marks
	if len(entries) > mostEntries {
		entries = nil
		for _, m := range l.marks {
			if m.level == 0 {
				entries = append(entries, m)
			}
		}
	}
	const leading = 17.0
	columns := 1
	if !l.doc.Portrait && len(entries) > 24 {
		columns = 2
	}
	perColumn := int((l.bottom() - edge - 44) / leading)
	take := (len(entries) + columns*perColumn - 1) / (columns * perColumn)
	body := append([]page{}, l.pages[front:]...)
	l.pages = l.pages[:front:front]
	for i := range l.marks {
		l.marks[i].page += take
	}
	if len(entries) < len(l.marks) {
		for i := range entries {
			entries[i].page += take
		}
	}
	wide := (l.inner() - float64(columns-1)*30) / float64(columns)
	for i, m := range entries {
		at := i % (columns * perColumn)
		if at == 0 {
			l.begin()
			l.pen("serif", false, 17, ink)
			l.line(edge, edge+17, "Contents")
			l.rule(edge+23, ink)
		}
		x, y := edge+float64(at/perColumn)*(wide+30), edge+44+float64(at%perColumn)*leading
		l.entry(m, x, y, wide)
	}
	l.pages = append(l.pages, body...)
}

func (l *layout) entry(m bookmark, x, y, wide float64) {
	indent := 14 * float64(m.level)
	l.pen("condensed", m.level == 0, 11, ink)
	number := fmt.Sprint(m.page)
	at := x + wide - l.GetStringWidth(number)
	l.put(part{x: x + indent, y: y, text: l.fit(m.text, wide-indent-40), family: l.family, bold: l.bold, size: l.size, ink: l.tone,
		to: m.page})
	l.put(part{x: at, y: y, text: number, family: l.family, bold: l.bold, size: l.size, ink: l.tone, to: m.page})
}

func (l *layout) footers(_ int) {
	l.pen("condensed", false, 9, soft)
	for i := range l.pages {
		if i == 0 && l.doc.Cover {
			continue
		}
		number := fmt.Sprintf("page %d of %d", i+1, len(l.pages))
		wide := l.GetStringWidth(number)
		p := part{x: edge, y: l.h - 22, text: l.fit(l.doc.Footer, l.inner()-wide-20), family: "condensed", size: 9, ink: soft}
		l.pages[i].parts = append(l.pages[i].parts, p)
		p.x, p.text = l.w-edge-wide, number
		l.pages[i].parts = append(l.pages[i].parts, p)
	}
}
