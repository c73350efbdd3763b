package judge_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/core/calendar"
	"turret/internal/record"
)

// Findings are held against those of the last closed period before, project by project: what is there since is new, what is gone is mended.
// After the next closing they are held against that.
func TestFindingsAreHeldAgainstTheLastClosedPeriod(t *testing.T) {
	const head = "project,code,title,owner,state\n"
	september := apptest.October - 1
	o := apptest.House(t, sent(record.Risks, september, head+"A,R,Floods,,open\nB,R,Clay,,open\nB,S,Frost,,open\n"))
	compare := func(day calendar.Date) (since calendar.Period, news, mended []string) {
		for range 2 { // read, and kept
			a := apptest.Assessed(t, o, day)
			x, err := o.Judge.Check(apptest.Ctx, a, apptest.Open(t, a))
			require.NoError(t, err)
			since, news, mended = x.Since, nil, nil
			for _, f := range x.List {
				if f.Rule.ID == "no_owner" && f.New {
					news = append(news, f.Project.Code+" "+f.Record)
				}
			}
			for _, m := range x.Mended {
				if m.Rule.ID == "no_owner" {
					mended = append(mended, m.Project.Code+" "+m.Record)
				}
			}
		}
		return since, news, mended
	}
	since, news, mended := compare(apptest.Last)
	assert.Zero(t, since)
	assert.Empty(t, append(news, mended...), "there is nothing to compare with")

	_, err := o.Publish.Close(apptest.Ctx, september)
	require.NoError(t, err)
	apptest.Send(t, o, sent(record.Risks, apptest.October,
		head+"A,R,Floods,Eve,open\nA,S,Storms,,open\nB,R,Clay,,open\nB,S,Frost,Eve,open\n"))
	since, news, mended = compare(apptest.Last)
	assert.Equal(t, september, since)
	assert.Equal(t, []string{"A risk S"}, news)
	assert.Equal(t, []string{"A risk R", "B risk S"}, mended)

	_, err = o.Publish.Close(apptest.Ctx, apptest.October)
	require.NoError(t, err)
	apptest.Send(t, o, sent(record.Risks, apptest.October+1, head+"A,S,Storms,Eve,open\nB,R,Clay,,open\n"))
	since, news, mended = compare((apptest.October + 1).Last())
	assert.Equal(t, apptest.October, since)
	assert.Empty(t, news)
	assert.Equal(t, []string{"A risk S"}, mended)
	_, news, _ = compare(apptest.Last)
	assert.Equal(t, []string{"A risk S"}, news, "October goes on being held against September")
}
