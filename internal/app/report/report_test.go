package report_test

import (
	"errors"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"turret/internal/app/fault"
	"turret/internal/app/lookout"
	"turret/internal/app/report"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
)

// A report is the same after it went through an address.
func TestAReportIsItsAddress(t *testing.T) {
	sorts, keys := report.SectionKinds(), measure.All()
	rapid.Check(t, func(t *rapid.T) {
		r := report.Report{Title: strings.TrimSpace(rapid.StringMatching(`[a-zé&=+ %]{0,30}`).Draw(t, "title")),
			Scope: rapid.SampledFrom([]string{"", "LW", "A&B", "ß 1"}).Draw(t, "scope"),
			A3:    rapid.Bool().Draw(t, "a3"), Portrait: rapid.Bool().Draw(t, "portrait"), Cover: rapid.Bool().Draw(t, "cover")}
		if rapid.Bool().Draw(t, "dated") {
			r.Period = calendar.Months.Of(calendar.On(2026, 10, 31))
		}
		for _, s := range rapid.Permutation(sorts).Draw(t, "order")[:rapid.IntRange(0, len(sorts)).Draw(t, "sections")] {
			p := report.Part{Key: s.Key, Few: rapid.Bool().Draw(t, "few")}
			for _, d := range rapid.Permutation(keys).Draw(t, "columns")[:rapid.IntRange(0, 5).Draw(t, "number")] {
				p.Columns = append(p.Columns, d.Key.String())
			}
			r.Parts = append(r.Parts, p)
		}
		q, err := url.ParseQuery(r.Query().Encode())
		require.NoError(t, err)
		back, err := report.Parse(q)
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
		_, err = report.Parse(q)
		var field *fault.FieldError
		assert.ErrorAs(t, err, &field, bad)
	}
	for _, bad := range []string{"panel=none", "panel=table", "panel=table.x", "panel=table.0", "panel=trend.4", "panel=trend",
		"panel=waits.1", "panel=waits&wide.waits=huge", "panel=trend.1&say.trend.1=bac,eac",
		"panel=text.1&say.text.1=" + strings.Repeat("x", 2001), "panel=figures&say.figures=none"} {
		q, err := url.ParseQuery(bad)
		require.NoError(t, err)
		_, err = lookout.ParsePanels(q)
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
		if _, err := report.Parse(q); err != nil && !errors.As(err, &field) {
			t.Fatalf("%v: %v", q, err)
		}
		if _, err := lookout.ParsePanels(q); err != nil && !errors.As(err, &field) {
			t.Fatalf("%v: %v", q, err)
		}
	})
}
