package report

import (
	"embed"
	"fmt"
	"strings"
	"sync"
	"time"

	"codeberg.org/go-pdf/fpdf"
	"golang.org/x/image/font/sfnt"

	"turret/internal/core/calendar"
	"turret/internal/scene"
)

//go:embed all:fonts
var fonts embed.FS

// A4 landscape in points, and the scale at which scenes are set: pixels are drawn smaller in print.
const (
	pageW, pageH = 842.0, 595.0
	edge         = 42.0
	inner        = pageW - 2*edge
)

// sheet is a document being written. The same calls give the same bytes.
type sheet struct {
	*fpdf.Fpdf
}

func newSheet(title string, asOf calendar.Date, footer string) (*sheet, error) {
	return newSheetOf("A4", title, asOf, footer)
}

// newSheetOf is a document of landscape pages of a size, A4 or A3, with a footer on each.
func newSheetOf(size, title string, asOf calendar.Date, footer string) (*sheet, error) {
	s, err := newPaper("L", size, title, asOf)
	if err != nil {
		return nil, err
	}
	s.AliasNbPages("{pages}")
	s.SetFooterFunc(func() {
		s.text("condensed", "", 9, 0x59, 0x62, 0x6d)
		w, h := s.GetPageSize()
		s.SetXY(edge, h-30)
		s.CellFormat(w/2-edge, 10, clean(footer), "", 0, "L", false, 0, "")
		s.CellFormat(w/2-edge, 10, fmt.Sprintf("page %d of {pages}", s.PageNo()), "", 0, "R", false, 0, "")
	})
	return s, nil
}

// newPaper is a document without pages yet.
func newPaper(turn, size, title string, asOf calendar.Date) (*sheet, error) {
	pdf := fpdf.NewCustom(&fpdf.InitType{OrientationStr: turn, UnitStr: "pt", SizeStr: size})
	for _, f := range [][3]string{{"serif", "", "serif.ttf"}, {"serif", "B", "serif-bold.ttf"},
		{"condensed", "", "condensed.ttf"}, {"condensed", "B", "condensed-bold.ttf"}} {
		b, err := fonts.ReadFile("fonts/" + f[2])
		if err != nil {
			return nil, fmt.Errorf("the fonts of print are not built (npm run build): %w", err)
		}
		pdf.AddUTF8FontFromBytes(f[0], f[1], b)
	}
	y, m, d := asOf.YMD()
	day := time.Date(y, time.Month(m), d, 0, 0, 0, 0, time.UTC)
	pdf.SetCreationDate(day)
	pdf.SetModificationDate(day)
	pdf.SetCatalogSort(true)
	pdf.SetTitle(clean(title), true)
	pdf.SetProducer("Turret", true)
	pdf.SetMargins(edge, edge, edge)
	pdf.SetAutoPageBreak(false, edge)
	return &sheet{pdf}, nil
}

// lacking stands for letters that the fonts of print do not have, and for what the library cannot take.
const lacking = '\u25A1'

// letters are those of the basic plane that the fonts of print have, by family; a font that cannot be read is missed where it is used.
var letters = sync.OnceValue(func() map[string]map[rune]bool {
	all := map[string]map[rune]bool{}
	for _, family := range []string{"serif", "condensed"} {
		has := map[rune]bool{}
		all[family] = has
		b, err := fonts.ReadFile("fonts/" + family + ".ttf")
		if err != nil {
			continue
		}
		f, err := sfnt.Parse(b)
		if err != nil {
			continue
		}
		var buf sfnt.Buffer
		for r := rune(' '); r <= 0xFFFF; r++ {
			if i, err := f.GlyphIndex(&buf, r); err == nil && i != 0 {
				has[r] = true
			}
		}
	}
	return all
})

// family is the one in which a text is set: that asked for, or serif where it alone has all of its letters.
func family(asked, text string) string {
	has := letters()
	if asked == "condensed" && strings.ContainsFunc(text, func(r rune) bool { return r > '~' && !has["condensed"][r] && has["serif"][r] }) {
		return "serif"
	}
	return asked
}

// clean keeps what the fonts can set: no invalid UTF-8, nothing beyond the basic plane, and a square for each letter that they lack.
func clean(s string) string {
	has := letters()
	return strings.Map(func(r rune) rune {
		switch {
		case r == '\n', r == '\t':
			return ' '
		case r < ' ', r == '\u200D', r == '\uFE0F': // joiners of what is not set
			return -1
		case r <= '~', r == '\u00A0', r == lacking:
			return r
		case r > 0xFFFF || !has["serif"][r] && !has["condensed"][r]:
			return lacking
		}
		return r
	}, strings.ToValidUTF8(s, string(lacking)))
}

func (s *sheet) text(family, style string, size float64, r, g, b int) {
	s.SetFont(family, style, size)
	s.SetTextColor(r, g, b)
}

func (s *sheet) ink(family, style string, size float64) {
	s.text(family, style, size, 0x1d, 0x27, 0x33)
}

// at writes one line with its baseline at y, cut to the width where it would run over.
func (s *sheet) at(x, y, width float64, text string) {
	text = clean(text)
	for width > 0 && s.GetStringWidth(text) > width && text != "" {
		runes := []rune(strings.TrimSuffix(text, "…"))
		text = string(runes[:len(runes)-1])
		if text != "" {
			text += "…"
		}
		if len(runes) <= 1 {
			break
		}
	}
	s.Text(x, y, text)
}

// wrap writes a paragraph from y on and returns where it ended.
func (s *sheet) wrap(x, y, width, leading float64, text string, most int) float64 {
	lines := s.SplitText(clean(text), width)
	for i, line := range lines {
		if i == most {
			break
		}
		if i == most-1 && len(lines) > most {
			line += " …"
		}
		s.Text(x, y, line)
		y += leading
	}
	return y
}

// draw sets a scene as vectors with its corner at x and y.
func (s *sheet) draw(sc *scene.Scene, x, y, scale float64) {
	for i := range sc.Items {
		s.item(&sc.Items[i], x, y, scale)
	}
	s.SetDashPattern(nil, 0)
}

func (s *sheet) item(it *scene.Item, x, y, scale float64) {
	st := look(it.Class)
	p := make([]float64, len(it.Points))
	for i, v := range it.Points {
		p[i] = v * scale
		if it.Kind == scene.Rect && i >= 2 {
			continue
		}
		if i%2 == 0 {
			p[i] += x
		} else {
			p[i] += y
		}
	}
	mode := s.brush(st, scale, it.Kind)
	if mode == "" && (it.Kind == scene.Rect || it.Kind == scene.Circle || it.Kind == scene.Polygon) {
		return // there to be pointed at, not to be seen
	}
	switch it.Kind {
	case scene.Line:
		s.Line(p[0], p[1], p[2], p[3])
	case scene.Rect:
		s.Rect(p[0], p[1], p[2], p[3], mode)
	case scene.Circle:
		s.Circle(p[0], p[1], it.R*scale, mode)
	case scene.Polygon:
		s.Polygon(points(p), mode)
	case scene.Polyline:
		for i := 2; i+1 < len(p); i += 2 {
			s.Line(p[i-2], p[i-1], p[i], p[i+1])
		}
	case scene.Text:
		s.label(it, st, p, scale)
	}
}

// brush sets pens and colours, and says whether a shape is filled, drawn or both.
func (s *sheet) brush(st scene.Style, scale float64, kind scene.Kind) string {
	mode := ""
	if st.Fill != nil && kind != scene.Line && kind != scene.Polyline {
		s.SetFillColor(st.Fill.R, st.Fill.G, st.Fill.B)
		mode = "F"
	}
	if st.Stroke != nil {
		s.SetDrawColor(st.Stroke.R, st.Stroke.G, st.Stroke.B)
		s.SetLineWidth(max(st.Width, 0.5) * scale)
		mode += "D"
	}
	dash := make([]float64, len(st.Dash))
	for i, d := range st.Dash {
		dash[i] = d * scale
	}
	s.SetDashPattern(dash, 0)
	return mode
}

func (s *sheet) label(it *scene.Item, st scene.Style, p []float64, scale float64) {
	style := ""
	if st.Bold {
		style = "B"
	}
	c := ink
	if st.Ink != nil {
		c = *st.Ink
	}
	text := clean(it.Text)
	s.text(family("condensed", text), style, max(st.Size, 10)*scale, c.R, c.G, c.B)
	switch it.Anchor {
	case scene.Middle:
		p[0] -= s.GetStringWidth(text) / 2
	case scene.End:
		p[0] -= s.GetStringWidth(text)
	}
	s.Text(p[0], p[1], text)
}

// look joins the print styles of an item's classes, the later one over the earlier.
func look(class string) scene.Style {
	var st scene.Style
	for _, name := range strings.Fields(class) {
		next := scene.Print[name]
		if next.Stroke != nil {
			st.Stroke = next.Stroke
		}
		if next.Fill != nil {
			st.Fill = next.Fill
		}
		if next.Ink != nil {
			st.Ink = next.Ink
		}
		if next.Dash != nil {
			st.Dash = next.Dash
		}
		st.Width, st.Size, st.Bold = max(st.Width, next.Width), max(st.Size, next.Size), st.Bold || next.Bold
	}
	return st
}

func points(p []float64) []fpdf.PointType {
	list := make([]fpdf.PointType, 0, len(p)/2)
	for i := 0; i+1 < len(p); i += 2 {
		list = append(list, fpdf.PointType{X: p[i], Y: p[i+1]})
	}
	return list
}
