package report

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/csv"
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/report"
	"turret/internal/core/measure"
	"turret/internal/demo"
	"turret/internal/demotest"
)

func demonstration(t *testing.T) (context.Context, *app.Office) {
	t.Helper()
	ctx := access.As(context.Background(), access.Operator("a test"))
	s := demotest.Store(t)
	return ctx, app.NewOffice(s, demotest.Now, app.Parts{})
}

func everySection() []report.Part {
	var list []report.Part
	for _, s := range report.SectionKinds() {
		list = append(list, report.Part{Key: s.Key})
	}
	return list
}

// On every paper: all lies on the page, no line of text runs over another or off the paper, no heading stands alone at the end of a page,
// and the contents lead to the pages where things are.
func TestReportsOfTheDemonstrationAreWellSet(t *testing.T) {
	ctx, o := demonstration(t)
	many := []string{}
	for _, d := range measure.All()[:40] {
		many = append(many, d.Key.String())
	}
	reports := report.StandardReports()
	reports = append(reports, report.Report{Name: "All", Cover: true, Parts: everySection()},
		report.Report{Name: "Wide", Parts: []report.Part{{Key: "status", Columns: many}, {Key: "attention", Columns: many}}})
	for _, r := range reports {
		for _, paper := range [][2]bool{{false, false}, {false, true}, {true, false}, {true, true}} {
			r.A3, r.Portrait = paper[0], paper[1]
			name := fmt.Sprintf("%s, A3 %v, portrait %v", r.Name, paper[0], paper[1])
			c, err := o.Report.Content(ctx, &r, demo.AsOf)
			require.NoError(t, err, name)
			l, err := lay(compose(c))
			require.NoError(t, err, name)
			require.NotEmpty(t, l.pages, name)
			for i := range l.pages {
				l.wellSet(t, name, i)
			}
			l.contentsLead(t, name)
		}
	}
}

func (l *layout) wellSet(t *testing.T, name string, n int) {
	t.Helper()
	type box struct {
		x1, y1, x2, y2 float64
		text           string
	}
	var texts []box
	for _, p := range l.pages[n].parts {
		where := fmt.Sprintf("%s, page %d: %q", name, n+1, p.text)
		b := box{p.x, p.y, p.x + p.wide, p.y + p.high, p.text}
		switch {
		case p.scene != nil && p.bottom > 0:
			b.x2, b.y2 = p.x+p.scene.W*p.scale, p.y+(p.bottom-p.top)*p.scale
		case p.scene != nil:
			b.x2, b.y2 = p.x+p.scene.W*p.scale, p.y+p.scene.H*p.scale
		case p.text != "":
			l.pen(p.family, p.bold, p.size, p.ink)
			b = box{p.x, p.y - p.size*0.7, p.x + l.GetStringWidth(p.text), p.y + p.size*0.15, p.text}
			texts = append(texts, b)
		}
		if b.x1 < edge-2 || b.x2 > l.w-edge+2 || b.y1 < edge-20 || b.y2 > l.h-18 {
			t.Errorf("%s lies off the paper: %.0f,%.0f to %.0f,%.0f of %.0f × %.0f", where, b.x1, b.y1, b.x2, b.y2, l.w, l.h)
		}
	}
	slices.SortFunc(texts, func(a, b box) int { return int(a.y1*100) - int(b.y1*100) })
	for i, a := range texts {
		for _, b := range texts[i+1:] {
			if b.y1 >= a.y2 {
				break
			}
			if a.x1 < b.x2-0.5 && b.x1 < a.x2-0.5 {
				t.Errorf("%s, page %d: %q runs over %q", name, n+1, a.text, b.text)
			}
		}
	}
	if len(texts) > 2 { // the last but the footer is no heading
		last := texts[len(texts)-3]
		for _, m := range l.marks {
			if m.page == n+1 && m.text == last.text && last.y2 > l.bottom()-30 {
				t.Errorf("%s, page %d: the heading %q stands alone", name, n+1, m.text)
			}
		}
	}
}

// contentsLead checks that each entry of the contents names the page on which what it names stands.
func (l *layout) contentsLead(t *testing.T, name string) {
	t.Helper()
	for _, pg := range l.pages {
		for _, p := range pg.parts {
			if p.to == 0 {
				continue
			}
			if n, err := strconv.Atoi(p.text); err == nil {
				assert.Equal(t, p.to, n, name)
				continue
			}
			found := slices.ContainsFunc(l.pages[p.to-1].parts, func(q part) bool { return q.text == p.text })
			section := slices.ContainsFunc(l.marks, func(m bookmark) bool { return m.page == p.to && m.text == p.text })
			assert.True(t, found || section, "%s: %q is not on page %d", name, p.text, p.to)
		}
	}
}

// The workbook holds what the catalogue computed as numbers and dates, and its totals are formulas over the rows above.
func TestTheWorkbookHoldsNumbers(t *testing.T) {
	ctx, o := demonstration(t)
	r := &report.Report{Name: "Book",
		Parts: []report.Part{{Key: "status", Columns: []string{"bac", "cpi", "vac_share", "expected_finish", "milestones_missed"}},
			{Key: "checks"}, {Key: "headline"}}}
	c, err := o.Report.Content(ctx, r, demo.AsOf)
	require.NoError(t, err)
	var b bytes.Buffer
	require.NoError(t, Book(&b, c))
	f, err := excelize.OpenReader(&b)
	require.NoError(t, err)
	assert.Equal(t, []string{"Status table", "Checks Projects", "Checks", "Checks Found", "Headline"}, f.GetSheetList())
	rows, err := f.GetRows("Status table", excelize.Options{RawCellValue: true})
	require.NoError(t, err)
	require.Len(t, rows, headRow+len(c.Projects)+1)
	for i, p := range c.Projects {
		row := rows[headRow+i]
		assert.True(t, strings.HasPrefix(row[0], p.Code+" "))
		n, err := strconv.ParseFloat(row[1], 64)
		require.NoError(t, err)
		assert.InDelta(t, float64(p.Value(measure.BAC).N)/100, n, 0.001)
		if v := p.Value(measure.VACShare); v.Known {
			n, err = strconv.ParseFloat(row[3], 64)
			require.NoError(t, err)
			assert.InDelta(t, v.Ratio, n, 1e-9)
		}
		if v := p.Value(measure.ExpectedFinish); v.Known { // days since the spreadsheet's own beginning
			n, err = strconv.ParseFloat(row[4], 64)
			require.NoError(t, err)
			day, err := excelize.ExcelDateToTime(n, false)
			require.NoError(t, err)
			assert.Equal(t, v.Date().String(), day.Format("2006-01-02"))
		}
	}
	last := headRow + len(c.Projects) + 1
	formula, err := f.GetCellFormula("Status table", fmt.Sprintf("B%d", last))
	require.NoError(t, err)
	assert.Equal(t, fmt.Sprintf("SUBTOTAL(9,B%d:B%d)", headRow+1, last-1), formula)
	formula, err = f.GetCellFormula("Status table", fmt.Sprintf("C%d", last))
	require.NoError(t, err)
	assert.Empty(t, formula, "an index is no sum")
}

// One table is a CSV file that adds up to the cent; several are an archive with a file each.
func TestTablesAsCSV(t *testing.T) {
	ctx, o := demonstration(t)
	r := &report.Report{Name: "Money", Parts: []report.Part{{Key: "money", Columns: []string{"bac", "eac"}}}}
	c, err := o.Report.Content(ctx, r, demo.AsOf)
	require.NoError(t, err)
	var b bytes.Buffer
	ending, err := Plain(&b, c)
	require.NoError(t, err)
	assert.Equal(t, ".csv", ending)
	rows, err := csv.NewReader(&b).ReadAll()
	require.NoError(t, err)
	require.Len(t, rows, len(c.Projects)+2)
	cents := func(s string) int64 {
		n, err := strconv.ParseInt(strings.Replace(s, ".", "", 1), 10, 64)
		require.NoError(t, err)
		return n
	}
	var sum int64
	for _, row := range rows[1 : len(rows)-1] {
		sum += cents(row[1])
	}
	assert.Equal(t, "*", rows[len(rows)-1][0])
	assert.Equal(t, sum, cents(rows[len(rows)-1][1]))

	r.Parts = everySection()
	c, err = o.Report.Content(ctx, r, demo.AsOf)
	require.NoError(t, err)
	b.Reset()
	ending, err = Plain(&b, c)
	require.NoError(t, err)
	assert.Equal(t, ".zip", ending)
	z, err := zip.NewReader(bytes.NewReader(b.Bytes()), int64(b.Len()))
	require.NoError(t, err)
	assert.Equal(t, "01-headline.csv", z.File[0].Name)
	assert.GreaterOrEqual(t, len(z.File), len(r.Parts))
}

// The one file in HTML fetches nothing and runs nothing, whatever is written in it, and keeps every letter.
func TestTheFileInHTMLStandsAlone(t *testing.T) {
	ctx, o := demonstration(t)
	a, err := o.Assess.Day(ctx, demo.AsOf)
	require.NoError(t, err)
	hostile := "<script>alert(1)</script> <img src=x onerror=y> שלום وداعا 🚧 [go](javascript:alert(2)) ![pixel](https://example.org/p.png)"
	for _, p := range a.Projects {
		if p.Code == "LW-11" {
			p.Words[0].Text = hostile
		}
	}
	c, err := o.Report.Content(ctx, &report.Report{Name: "<b>All</b>", Cover: true, Parts: everySection()}, demo.AsOf)
	require.NoError(t, err)
	var b, pdf bytes.Buffer
	require.NoError(t, HTML(&b, c))
	text := b.String()
	for _, bad := range []string{"<script", `="javascript:`, "<b>All</b>", "<img src=x"} {
		assert.False(t, strings.Contains(text, bad), bad)
	}
	assert.False(t, regexp.MustCompile(`(?i)<(img|link|iframe|object)[^>]+(src|href)="?(https?:|x)`).MatchString(text),
		"nothing is fetched")
	assert.True(t, strings.Contains(text, "שלום وداعا 🚧"))
	assert.Equal(t, strings.Count(text, "<section"), strings.Count(text, "</section>"))
	require.NoError(t, Print(&pdf, c), "letters that print has not do not stop it")
}
