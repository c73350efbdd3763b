package report

import (
	"bytes"
	"fmt"
	"io"

	"codeberg.org/go-pdf/fpdf"

	"turret/internal/app/report"
)

// Print writes a report as PDF: vectors, an outline, contents that lead to their pages. The same data gives the same bytes.
func Print(w io.Writer, c *report.Content) error {
	l, err := lay(compose(c))
	if err != nil {
		return err
	}
	l.print()
	return l.Output(w)
}

func (l *layout) print() {
	marks := map[int][]bookmark{}
	for _, m := range l.marks {
		marks[m.page] = append(marks[m.page], m)
	}
	links := make([]int, len(l.pages)+1)
	for i := range l.pages {
		l.AddPage()
		for _, m := range marks[i+1] {
			l.Bookmark(clean(m.text), m.level, m.y)
		}
		for k := range l.pages[i].parts {
			l.part(&l.pages[i].parts[k], links)
		}
	}
	for n, link := range links {
		if link != 0 {
			l.SetLink(link, 0, n)
		}
	}
}

func (l *layout) part(p *part, links []int) {
	switch {
	case p.scene != nil:
		l.scenePart(p)
	case p.picture:
		l.picture(p)
	case p.wide > 0:
		l.SetDashPattern(nil, 0)
		l.SetDrawColor(p.ink.R, p.ink.G, p.ink.B)
		l.SetLineWidth(0.5)
		l.Line(p.x, p.y, p.x+p.wide, p.y)
	default:
		style := ""
		if p.bold {
			style = "B"
		}
		l.sheet.text(p.family, style, p.size, p.ink.R, p.ink.G, p.ink.B)
		l.Text(p.x, p.y, p.text)
		if p.to > 0 && p.to < len(links) {
			if links[p.to] == 0 {
				links[p.to] = l.AddLink()
			}
			l.Link(p.x, p.y-p.size, l.GetStringWidth(p.text), p.size+3, links[p.to])
		}
	}
}

func (l *layout) scenePart(p *part) {
	if p.bottom == 0 {
		l.draw(p.scene, p.x, p.y, p.scale)
		return
	}
	l.ClipRect(p.x-1, p.y, p.scene.W*p.scale+2, (p.bottom-p.top)*p.scale, false)
	l.draw(within(p.scene, p.top, p.bottom), p.x, p.y-p.top*p.scale, p.scale)
	l.ClipEnd()
}

func (l *layout) picture(p *part) {
	kind := map[string]string{"png": "PNG", "jpeg": "JPG"}[l.doc.MarkType]
	name := fmt.Sprintf("mark-%d", len(l.doc.Mark))
	opt := fpdf.ImageOptions{ImageType: kind}
	l.RegisterImageOptionsReader(name, opt, bytes.NewReader(l.doc.Mark))
	l.ImageOptions(name, p.x, p.y, p.wide, p.high, false, opt, 0, "")
}
