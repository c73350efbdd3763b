package intake_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/apptest"
	"turret/internal/record"
)

const fields = "code,name,type,choices,closed\nside,Side,choice,\"left,right\",\ncrew,Crew,number,,\n"

// ownOf is what a project has in fields of the office's own.
func ownOf(t *testing.T, o *app.Office, project string) map[string]string {
	t.Helper()
	p, err := apptest.Assessed(t, o, apptest.October.Last()).Project(project)
	require.NoError(t, err)
	return p.Own
}

// A file that lacks a field leaves it as it stands, one that has it empty empties it, and a field that is closed is kept out of sight.
func TestOwnFieldsStayUntilTheyAreChanged(t *testing.T) {
	o := apptest.House(t, apptest.Sent{Kind: record.OwnFields, Period: apptest.October, Text: fields},
		apptest.Sent{Kind: record.Projects, Period: apptest.October, Text: "code,name,own.side,own.crew\nA,First,left,12\nB,Second,,\n"})
	assert.Equal(t, map[string]string{"side": "left", "crew": "12"}, ownOf(t, o, "A"))
	assert.Empty(t, ownOf(t, o, "B"))
	apptest.Send(t, o, apptest.Sent{Kind: record.Projects, Period: apptest.October, Text: "code,name\nA,First gate\n"})
	assert.Equal(t, map[string]string{"side": "left", "crew": "12"}, ownOf(t, o, "A"))
	apptest.Send(t, o, apptest.Sent{Kind: record.Projects, Period: apptest.October, Text: "code,name,own.crew\nA,First gate,\n"})
	assert.Equal(t, map[string]string{"side": "left"}, ownOf(t, o, "A"))

	apptest.Send(t, o, apptest.Sent{Kind: record.OwnFields, Period: apptest.October, Text: "code,name,type,choices,closed\nside,Side,choice,\"left,right\",yes\n"})
	own, err := o.Intake.Own(apptest.Ctx)
	require.NoError(t, err)
	require.Len(t, own, 1)
	assert.Equal(t, "own.crew", own[0].Name)
	apptest.Send(t, o, apptest.Sent{Kind: record.Projects, Period: apptest.October, Text: "code,name,own.crew\nA,First gate,7\n"})
	apptest.Send(t, o, apptest.Sent{Kind: record.OwnFields, Period: apptest.October, Text: "code,name,type,choices,closed\nside,Side,choice,\"left,right\",no\n"})
	assert.Equal(t, map[string]string{"side": "left", "crew": "7"}, ownOf(t, o, "A"), "it comes back with what it held")

	in, err := o.Intake.Input(apptest.Ctx, record.Projects)
	require.NoError(t, err)
	assert.Equal(t, []int{16, 17}, []int{in.At("own.side"), in.At("own.crew")}, "in the order in which they were made")
}

// What was known as of an earlier month keeps the fields of that month.
func TestOwnFieldsOfAClosedMonthStay(t *testing.T) {
	o := apptest.House(t, apptest.Sent{Kind: record.OwnFields, Period: apptest.October, Text: fields},
		apptest.Sent{Kind: record.Projects, Period: apptest.October, Text: "code,name,own.side\nA,First,left\n"})
	_, err := o.Publish.Close(apptest.Ctx, apptest.October)
	require.NoError(t, err)
	apptest.Send(t, o, apptest.Sent{Kind: record.Projects, Period: apptest.October + 1, Text: "code,name,own.side\nA,First,right\n"},
		apptest.Sent{Kind: record.OwnFields, Period: apptest.October + 1, Text: "code,name,type\nlater,Later,text\n"})
	assert.Equal(t, map[string]string{"side": "left"}, ownOf(t, o, "A"))
	assert.Len(t, apptest.Assessed(t, o, apptest.October.Last()).Masters.Own, 2)
	assert.Len(t, apptest.Assessed(t, o, (apptest.October+1).Last()).Masters.Own, 3)
}
