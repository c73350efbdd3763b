package report

import (
	"encoding/base64"
	"fmt"
	"html"
	"strconv"
	"strings"

	"turret/internal/app/report"
)

// Preview draws pages of a report from one on, as they would be printed, and tells how many there are in all.
func Preview(c *report.Content, from, most int) (pages []string, all int, err error) {
	l, err := lay(compose(c))
	if err != nil {
		return nil, 0, err
	}
	for i := max(from-1, 0); i < len(l.pages) && len(pages) < most; i++ {
		pages = append(pages, l.svg(i))
	}
	return pages, len(l.pages), nil
}

func dot(f float64) string { return strconv.FormatFloat(f, 'f', 2, 64) }

// svg is a page as a drawing.
func (l *layout) svg(i int) string {
	var b strings.Builder
	fmt.Fprintf(&b, `<svg class="scene sheet" viewBox="0 0 %s %s" role="img" aria-label="Page %d of %d">`, dot(l.w), dot(l.h), i+1,
		len(l.pages))
	for k := range l.pages[i].parts {
		l.pages[i].parts[k].svg(&b, l.doc)
	}
	b.WriteString("</svg>")
	return b.String()
}

func (p *part) svg(b *strings.Builder, d *document) {
	tone := fmt.Sprintf("#%02x%02x%02x", p.ink.R, p.ink.G, p.ink.B)
	switch {
	case p.scene != nil && p.bottom == 0:
		fmt.Fprintf(b, `<g transform="translate(%s %s) scale(%.4f)">%s</g>`, dot(p.x), dot(p.y), p.scale, p.scene.Inner())
	case p.scene != nil:
		high := p.bottom - p.top
		fmt.Fprintf(b, `<svg x="%s" y="%s" width="%s" height="%s" viewBox="0 %s %s %s" overflow="hidden">%s</svg>`, dot(p.x), dot(p.y),
			dot(p.scene.W*p.scale), dot(high*p.scale),
			dot(p.top), dot(p.scene.W), dot(high), within(p.scene, p.top, p.bottom).Inner())
	case p.picture:
		fmt.Fprintf(b, `<image x="%s" y="%s" width="%s" height="%s" href="data:image/%s;base64,%s"/>`, dot(p.x), dot(p.y), dot(p.wide),
			dot(p.high), d.MarkType, base64.StdEncoding.EncodeToString(d.Mark))
	case p.wide > 0:
		fmt.Fprintf(b, `<path d="M%s %sh%s" stroke="%s" stroke-width="0.5"/>`, dot(p.x), dot(p.y), dot(p.wide), tone)
	default:
		class := "set-" + p.family
		if p.bold {
			class += " set-bold"
		}
		fmt.Fprintf(b, `<g font-size="%s" fill="%s"><text class="%s" x="%s" y="%s">%s</text></g>`, dot(p.size), tone, class, dot(p.x),
			dot(p.y), html.EscapeString(p.text))
	}
}
