package assess_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/access"
	"turret/internal/app/apptest"
)

// What is at hand was computed before: nothing is computed for it, and nobody sees more of it than is theirs.
func TestWhatIsAtHandIsNotComputed(t *testing.T) {
	o := apptest.House(t)
	assert.Nil(t, o.Assess.AtHand(apptest.Ctx, apptest.Last))
	apptest.Assessed(t, o, apptest.Last)
	assert.Nil(t, o.Assess.AtHand(apptest.Ctx, apptest.Last+1), "of another day")
	a := o.Assess.AtHand(apptest.Ctx, apptest.Last)
	assert.Equal(t, []string{"A", "B"}, apptest.Codes(a.Projects))
	ann := access.As(context.Background(), &access.Actor{Login: "ann", Name: "Ann", Role: access.Lead})
	assert.Equal(t, []string{"A"}, apptest.Codes(o.Assess.AtHand(ann, apptest.Last).Projects))
	assert.Nil(t, o.Assess.AtHand(context.Background(), apptest.Last), "of nobody")
}
