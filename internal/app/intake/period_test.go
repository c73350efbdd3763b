package intake_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
)

// What is saved is for the period in view; into a closed one nothing goes, and the first open one is told.
func TestThePeriodInView(t *testing.T) {
	o := apptest.House(t)
	_, err := o.Publish.Close(apptest.Ctx, apptest.October)
	require.NoError(t, err)
	p, err := o.Intake.PeriodFor(intake.For(apptest.Ctx, (apptest.October + 2).Last()))
	require.NoError(t, err)
	assert.Equal(t, apptest.October+2, p)
	_, err = o.Intake.PeriodFor(intake.For(apptest.Ctx, apptest.October.First()))
	require.ErrorIs(t, err, fault.ErrConflict)
	assert.ErrorContains(t, err, "go on in November 2026")
	p, err = o.Intake.PeriodFor(apptest.Ctx)
	require.NoError(t, err)
	assert.Equal(t, apptest.October+1, p, "with no period in view")
}
