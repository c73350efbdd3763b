package publish_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/publish"
	"turret/internal/record"
)

// One change that waits for a decision is shown to an executive, and nothing is where nothing waits.
func TestASingleThingThatWaitsIsShown(t *testing.T) {
	reader := access.As(context.Background(), &access.Actor{Login: "eve", Name: "Eve", Role: access.Executive})
	waits := func(more ...apptest.Sent) (list []publish.Waiting) {
		o := apptest.House(t, more...)
		a, err := o.Assess.Day(reader, apptest.Last)
		require.NoError(t, err)
		list, err = o.Publish.Waits(reader, a)
		require.NoError(t, err)
		return list
	}
	assert.Empty(t, waits())
	assert.Equal(t, []publish.Waiting{{What: publish.WaitDecisions, N: 1}},
		waits(apptest.Sent{Kind: record.Changes, Period: apptest.October, Text: "project,change,title,state,amount\nB,C1,Asked,requested,10\n"}))
}
