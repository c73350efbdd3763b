package report_test

import (
	"bytes"
	"context"
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/apptest"
	appreport "turret/internal/app/report"
	"turret/internal/record"
	"turret/internal/report"
)

var tags = regexp.MustCompile(`<[^>]+>|\s+`)

// By hand, as of 31 October 2026. Kim, the only diver, is promised to A1 at 110 % from 2 November to 4 December: 21 x 8.8 h of 168 h in
// November, -0.10 of one at work; five weeks over. She booked 48 h in October, of 176, where 22 x 0.8 h were planned on A1 by a role: 17.6
// h, 2.2
// days; 6 days were worked.
func TestStaffingByHand(t *testing.T) {
	_, o := apptest.Gate(t)
	apptest.Send(t, o, apptest.Sent{Kind: record.People, Period: apptest.October,
		Text: "code,name,role,utilisation_target\nK,Kim,diver,80\n"},
		apptest.Sent{Kind: record.Assignments, Period: apptest.October, Text: "person,role,project,from,to,percent\n" +
			"K,,A1,2026-11-02,2026-12-04,110\n,diver,A1,2026-10-01,2026-10-31,10\n"},
		apptest.Sent{Kind: record.Timesheets, Period: apptest.October,
			Text: "person,project,date,hours,billable\nK,A1,2026-10-05,24,yes\n" +
				"K,A1,2026-10-06,24,no\nK,A1,2026-11-02,8,no\n"})
	told := func(who string) string {
		c := access.As(context.Background(), apptest.Writers[who])
		content, err := o.Report.Content(c, &appreport.Report{Name: "Staff", Parts: []appreport.Part{{Key: "staffing"}, {Key: "people"}}},
			apptest.October.Last())
		require.NoError(t, err)
		var b bytes.Buffer
		_, err = report.Write(&b, "html", content)
		require.NoError(t, err)
		return tags.ReplaceAllString(b.String(), " ")
	}
	page := told("analyst")
	for _, want := range []string{
		"1 of 1 roles have too few people; most are missing of diver in November 2026: 1.10 wanted where 1.00 are there.",
		"diver  −0.10 ", "Kim   diver   5   2 Nov 2026   110.0 %", "27.3 %   13.6 %   10.0 %   80.0 %",
		"October 2026 up to 31 Oct 2026: over plan by more than a tenth are none.", "Kim   0.0   6.0   6.0", "diver   2.2   0.0   −2.2"} {
		assert.Regexp(t, spaced(want), page)
	}
	page = told("executive")
	assert.Contains(t, page, "diver")
	assert.NotContains(t, page, "Kim")
}

// spaced lets any space stand where words are parted.
func spaced(s string) *regexp.Regexp {
	return regexp.MustCompile(regexp.MustCompile(`\s+`).ReplaceAllString(regexp.QuoteMeta(s), `\s+`))
}
