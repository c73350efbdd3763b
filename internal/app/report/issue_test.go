package report_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/fault"
	"turret/internal/app/report"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// Each issue of a period can be read as it stood, also when the period is open again and its figures have moved on.
func TestEveryIssueCanBeRead(t *testing.T) {
	o := apptest.House(t, apptest.Sent{Kind: record.Actuals, Period: apptest.October,
		Text: "project,cost_code,date,amount\nA,C,2026-10-05,500\n"})
	pack, err := report.StandardReport(report.ExecutivePack)
	require.NoError(t, err)
	cost := func(issue int) string {
		c, err := o.Report.Issue(apptest.Ctx, pack, apptest.October, issue)
		require.NoError(t, err)
		require.NotNil(t, c.Stamp)
		assert.Equal(t, issue, c.Stamp.Issue)
		p, err := c.Assessment.Project("A")
		require.NoError(t, err)
		return p.Value(measure.AC).Text(0, "EUR")
	}
	_, err = o.Publish.Close(apptest.Ctx, apptest.October)
	require.NoError(t, err)
	require.NoError(t, o.Publish.Reopen(apptest.Ctx, apptest.October, "a posting is missing"))
	apptest.Send(t, o, apptest.Sent{Kind: record.Actuals, Period: apptest.October,
		Text: "project,cost_code,date,amount\nA,C,2026-10-06,70\n"})
	first := cost(1)
	_, err = o.Publish.Close(apptest.Ctx, apptest.October)
	require.NoError(t, err)
	assert.Equal(t, []string{"500.00", "500.00", "570.00"}, []string{first, cost(1), cost(2)})
	for _, none := range []int{0, 3, -1} {
		_, err = o.Report.Issue(apptest.Ctx, pack, apptest.October, none)
		require.ErrorIs(t, err, fault.ErrNotFound)
	}
	_, err = o.Report.Issue(apptest.Ctx, pack, apptest.October-1, 1)
	require.ErrorIs(t, err, fault.ErrNotFound)
}
