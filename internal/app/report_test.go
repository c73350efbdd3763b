package app_test

import (
	"errors"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"turret/internal/app"
	"turret/internal/app/fault"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
)

// A report is the same after it went through an address.
func TestAReportIsItsAddress(t *testing.T) {
	sorts, keys := app.ReportSorts(), measure.All()
	rapid.Check(t, func(t *rapid.T) {
		r := app.Report{Title: strings.TrimSpace(rapid.StringMatching(`[a-zé&=+ %]{0,30}`).Draw(t, "title")),
			Scope: rapid.SampledFrom([]string{"", "LW", "A&B", "ß 1"}).Draw(t, "scope"),
			A3:    rapid.Bool().Draw(t, "a3"), Portrait: rapid.Bool().Draw(t, "portrait"), Cover: rapid.Bool().Draw(t, "cover")}
		if rapid.Bool().Draw(t, "dated") {
			r.Period = calendar.Months.Of(calendar.On(2026, 10, 31))
		}
		for _, s := range rapid.Permutation(sorts).Draw(t, "order")[:rapid.IntRange(0, len(sorts)).Draw(t, "sections")] {
			p := app.ReportPart{Key: s.Key, Few: rapid.Bool().Draw(t, "few")}
			for _, d := range rapid.Permutation(keys).Draw(t, "columns")[:rapid.IntRange(0, 5).Draw(t, "number")] {
				p.Columns = append(p.Columns, d.Key)
			}
			r.Parts = append(r.Parts, p)
		}
		q, err := url.ParseQuery(r.Query().Encode())
		require.NoError(t, err)
		back, err := app.ParseReport(q)
		require.NoError(t, err)
		assert.Equal(t, r, *back)
	})
}

// Whatever an address says, a report or how Lookout is set out is understood, or refused with the field that is wrong.
func TestAddressesThatAreNoReport(t *testing.T) {
	for _, bad := range []string{"part=none", "part=status&columns.status=bac,%27%3B--", "for=2026-13", "title=" +
		strings.Repeat("x", 121), "part=status&columns.status=" + strings.Repeat("bac ,", 3) + "nothing"} {
		q, err := url.ParseQuery(bad)
		require.NoError(t, err)
		_, err = app.ParseReport(q)
		var field *fault.FieldError
		assert.ErrorAs(t, err, &field, bad)
	}
	for _, bad := range []string{"panel=none", "panel=table", "panel=table.x", "panel=table.0", "panel=trend.4", "panel=trend",
		"panel=waits.1", "panel=waits&wide.waits=huge", "panel=trend.1&say.trend.1=bac,eac",
		"panel=text.1&say.text.1=" + strings.Repeat("x", 2001), "panel=figures&say.figures=none"} {
		q, err := url.ParseQuery(bad)
		require.NoError(t, err)
		_, err = app.ParsePanels(q)
		var field *fault.FieldError
		assert.ErrorAs(t, err, &field, bad)
	}
	rapid.Check(t, func(t *rapid.T) {
		q := url.Values{}
		for range rapid.IntRange(0, 8).Draw(t, "n") {
			q.Add(rapid.SampledFrom([]string{"part", "columns.status", "for", "over", "title", "size", "panel", "wide.waits",
				"say.text.1", "few.status"}).Draw(t, "name"),
				rapid.OneOf(rapid.String(), rapid.SampledFrom([]string{"status", "headline", "waits", "text.1", "table.3", "bac,cpi",
					"2026-10"})).Draw(t, "value"))
		}
		var field *fault.FieldError
		if _, err := app.ParseReport(q); err != nil && !errors.As(err, &field) {
			t.Fatalf("%v: %v", q, err)
		}
		if _, err := app.ParsePanels(q); err != nil && !errors.As(err, &field) {
			t.Fatalf("%v: %v", q, err)
		}
	})
}

// A mark is a whole picture of a size that can be printed.
func TestMarksAreWholePictures(t *testing.T) {
	for name, b := range map[string][]byte{"empty": nil, "text": []byte("not a picture"),
		"svg": []byte(`<svg xmlns="http://www.w3.org/2000/svg"/>`), "huge": make([]byte, app.MaxMark+1),
		"cut":  []byte("\x89PNG\r\n\x1a\n\x00\x00\x00\rIHDR\x00\x00\x00\x01\x00\x00\x00\x01\x08\x06\x00\x00\x00\x1f\x15\xc4\x89"),
		"bomb": []byte("\x89PNG\r\n\x1a\n\x00\x00\x00\rIHDR\x00\x00\xff\xff\x00\x00\xff\xff\x08\x06\x00\x00\x00\x6f\xf4\x8c\x1d")} {
		_, err := app.ParseMark(name+".png", b)
		var field *fault.FieldError
		assert.ErrorAs(t, err, &field, name)
		assert.Contains(t, err.Error(), name+".png")
	}
}
