package report

import (
	"encoding/base64"
	"fmt"
	"html"
	"io"
	"strings"

	"turret/internal/app/report"
	"turret/internal/prose"
	"turret/internal/scene"
)

// HTML writes a report as one file that needs nothing besides itself and prints well. The same data gives the same bytes.
func HTML(w io.Writer, c *report.Content) error {
	d := compose(c)
	h := &hypertext{doc: d}
	h.print(`<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><title>`, d.Title+", "+d.Name, `</title><style>`)
	faces, err := fonts.ReadFile("fonts/faces.css")
	if err != nil {
		return fmt.Errorf("the fonts of print are not built (npm run build): %w", err)
	}
	h.WriteString(string(faces) + htmlStyle + scene.PrintCSS() + `</style>`)
	if d.Stamp != "" {
		h.print(`<meta name="keywords" content="`, d.Stamp, `">`)
	}
	h.WriteString(`</head><body>`)
	h.head()
	for i := range d.Sections {
		h.section(i, &d.Sections[i])
	}
	h.print(`<footer>`, d.Footer, `</footer></body></html>`+"\n")
	_, err = io.WriteString(w, h.String())
	return err
}

// htmlRoles is how the file looks on the screen and in print, with the roles of colours in the place of these.
const htmlRoles = `body{margin:0 auto;padding:24px;max-width:1180px;color:{ink};background:{paper};font:15px/1.45 "IBM Plex Sans","Segoe UI",system-ui,sans-serif;font-variant-numeric:tabular-nums}
h1,h2,h3,.lead{font-family:"IBM Plex Serif",Georgia,serif;font-weight:400}h1{font-size:32px;margin:8px 0}h2{font-size:22px;border-bottom:1px solid {ink};padding-bottom:4px;margin:36px 0 10px}h3{font-size:18px;margin:24px 0 6px}
.lead{font-size:20px;margin:10px 0}.soft,footer,small{color:{soft}}nav ol{columns:2 320px;padding-left:20px}nav li{padding:2px 0}nav a{display:inline-block;min-height:24px}a{color:{accent}}footer{margin-top:40px;border-top:1px solid {rule};padding-top:6px;font-size:13px}
table{border-collapse:collapse;width:100%;font-size:13px;margin:8px 0}th,td{text-align:left;vertical-align:top;padding:4px 8px 4px 0;border-bottom:1px solid {rule}}thead th{border-bottom:1px solid {ink};vertical-align:bottom}
.num{text-align:right;white-space:nowrap}th.num{white-space:normal}tr.group td{border-bottom:0;padding-top:14px;font-weight:600}tr.total td{border-top:1px solid {ink};font-weight:600}td small{display:block}b{font-weight:600}
dl.figures{display:flex;flex-wrap:wrap;gap:6px 28px;margin:10px 0;border-top:1px solid {ink};border-bottom:1px solid {rule};padding:8px 0}dl.figures div{min-width:110px}dt{font-size:12px;color:{soft}}dd{margin:0;font:18px "IBM Plex Serif",Georgia,serif}
svg.scene{max-width:100%;height:auto}td svg.scene{max-width:none;vertical-align:-2px;margin-right:5px}.wide{overflow-x:auto}.beside{display:grid;gap:10px 24px;grid-template-columns:repeat(auto-fill,minmax(240px,1fr))}details{font-size:13px}
blockquote{margin:6px 0 6px 12px;padding-left:10px;border-left:2px solid {rule}}
@media (max-width:640px){body{padding:14px}h1{font-size:26px}.lead{font-size:17px}.wide>svg.scene{max-width:none;width:auto;height:300px}th,td{padding-right:6px}.wide table{min-width:720px}.wide table td:first-child,.wide table th:first-child{position:sticky;left:0;background:{paper};max-width:150px}}
@media print{body{padding:0;font-size:11px}nav{display:none}details:not([open])>*{display:none}thead{display:table-header-group}tr,svg.scene,dl{break-inside:avoid}h2,h3{break-after:avoid}section.fresh>h3{break-before:page}@page{size:A4 landscape;margin:15mm}}
`

var htmlStyle = coloured(htmlRoles)

type hypertext struct {
	strings.Builder
	doc *document
}

// print writes markup and texts in turn; texts are escaped.
func (h *hypertext) print(parts ...string) {
	for i, p := range parts {
		if i%2 == 1 {
			p = html.EscapeString(strings.ToValidUTF8(p, "\uFFFD"))
		}
		h.WriteString(p)
	}
}

func (h *hypertext) head() {
	d := h.doc
	h.WriteString(`<header>`)
	if d.Cover && d.Mark != nil {
		fmt.Fprintf(h, `<img alt="" height="64" src="data:image/%s;base64,%s">`, d.MarkType, base64.StdEncoding.EncodeToString(d.Mark))
	}
	h.print(`<p class="soft">`, d.Organisation, `</p><h1>`, d.Title, `</h1><p>`, d.Name, ` <span class="soft">· `, d.About+", in "+
		string(d.Currency), `</span></p></header>`)
	if len(d.Sections) > 2 {
		h.WriteString(`<nav aria-label="Contents"><ol>`)
		for i := range d.Sections {
			fmt.Fprintf(h, `<li><a href="#s%d">%s</a></li>`, i+1, html.EscapeString(d.Sections[i].Title))
		}
		h.WriteString(`</ol></nav>`)
	}
}

func (h *hypertext) section(i int, s *section) {
	class := ""
	if s.Fresh {
		class = ` class="fresh"`
	}
	fmt.Fprintf(h, `<section id="s%d"%s><h2>%s</h2>`, i+1, class, html.EscapeString(s.Title))
	for _, b := range s.Blocks {
		h.block(b)
	}
	shown := map[*table]bool{}
	for _, b := range s.Blocks {
		if t, ok := b.(*table); ok {
			shown[t] = true
		}
	}
	for _, t := range s.tables() {
		if !shown[t] && len(t.Rows) > 0 && !s.Fresh && s.Key != "commentary" && s.Key != "headline" {
			h.WriteString(`<details><summary>As a table</summary>`)
			h.table(t)
			h.WriteString(`</details>`)
		}
	}
	h.WriteString(`</section>`)
}

func (h *hypertext) block(b block) {
	switch b := b.(type) {
	case lead:
		h.print(`<p class="lead">`, b.Text, `</p>`)
	case small:
		h.print(`<p class="soft">`, b.Text, `</p>`)
	case heading:
		h.WriteString(`<h3>`)
		if b.Mark != nil {
			h.WriteString(b.Mark.SVG())
		}
		h.print(` `, b.Text, `</h3>`)
		if b.Soft != "" {
			h.print(`<p class="soft">`, b.Soft, `</p>`)
		}
	case words:
		h.print(`<div><b>`, b.Head, `</b>`)
		h.WriteString(string(prose.HTML(b.Text)) + `</div>`)
	case figures:
		h.WriteString(`<dl class="figures">`)
		for i := range b.Names {
			h.print(`<div><dt>`, b.Names[i], `</dt><dd>`, b.Values[i], `</dd></div>`)
		}
		h.WriteString(`</dl>`)
	case *drawing:
		h.WriteString(`<div class="wide">` + b.Scene.SVG() + `</div>`)
		if b.Beside != nil {
			h.WriteString(`<div class="beside">`)
			for _, a := range b.Beside {
				h.WriteString(`<div>` + a.Mark.SVG())
				h.print(` <b>`, a.Head, `</b><br>`, a.Text, `</div>`)
			}
			h.WriteString(`</div>`)
		}
	case *table:
		h.table(b)
	}
}

func (h *hypertext) table(t *table) {
	if len(t.Rows) == 0 {
		h.print(`<p class="soft">`, t.Empty, `</p>`)
		return
	}
	h.WriteString(`<div class="wide"><table><thead><tr>`)
	for _, k := range t.Columns {
		h.print(`<th scope="col"`+numeric(k.Right)+`>`, k.Head, `</th>`)
	}
	h.WriteString(`</tr></thead><tbody>`)
	for i := range t.Rows {
		h.row(&t.Rows[i], t)
	}
	h.WriteString(`</tbody></table></div>`)
}

func numeric(right bool) string {
	if right {
		return ` class="num"`
	}
	return ""
}

func (h *hypertext) row(r *row, t *table) {
	switch {
	case r.Group:
		h.print(fmt.Sprintf(`<tr class="group"><td colspan="%d">`, len(t.Columns)), r.Cells[0].Text, `</td></tr>`)
		return
	case r.Total:
		h.WriteString(`<tr class="total">`)
	default:
		h.WriteString(`<tr>`)
	}
	for i := range r.Cells {
		c := &r.Cells[i]
		h.WriteString(`<td` + numeric(t.Columns[i].Right) + `>`)
		for _, d := range c.Drawings {
			h.WriteString(d.SVG())
		}
		if c.Bold {
			h.print(`<b>`, c.Text, `</b>`)
		} else {
			h.print(``, c.Text)
		}
		if c.Soft != "" {
			h.print(`<small>`, c.Soft, `</small>`)
		}
		h.WriteString(`</td>`)
	}
	h.WriteString(`</tr>`)
}

// coloured puts the colours of roles into a style sheet, in which they stand as {ink}.
func coloured(style string) string {
	for _, role := range []string{"ink", "paper", "soft", "accent", "rule"} {
		style = strings.ReplaceAll(style, "{"+role+"}", scene.Colour(role).Hex())
	}
	return style
}
