package lookout_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/fault"
	"turret/internal/core/measure"
	"turret/internal/demo"
)

// The steps from one forecast to another add up to the cent, the totals are those of the periods, and the counts those of the rows.
func TestComparingTwoPeriods(t *testing.T) {
	o, a := apptest.Demo(t)
	ctx := access.As(context.Background(), access.Operator("a test"))
	for _, c := range []struct {
		scope string
		ago   int
	}{{"", 1}, {"", 8}, {"LW", 3}, {"LW-07", 1}, {"FW-06", 6}} {
		from := (demo.AsOf.Month()).Last()
		for range c.ago {
			from = (from.Month() - 1).Last()
		}
		x, err := o.Lookout.Compare(ctx, a, c.scope, from)
		require.NoError(t, err)
		sum := x.Was
		for _, s := range x.Bridge {
			sum += s.Amount
		}
		assert.Equal(t, x.Now, sum, "%s since %s", c.scope, from)

		now, err := a.Scope(c.scope, measure.Open)
		require.NoError(t, err)
		assert.Equal(t, x.Now, measure.Roll(now.Projects, a.Env).Value(measure.EAC).Amount())
		b, err := o.Assess.Day(ctx, from)
		require.NoError(t, err)
		if was, err := b.Scope(c.scope, measure.Open); err == nil && len(was.Projects) > 0 {
			assert.Equal(t, x.Was, measure.Roll(was.Projects, b.Env).Value(measure.EAC).Amount())
		}
		worse, later, in, out := 0, 0, 0, 0
		for _, r := range x.Rows {
			switch {
			case r.Was == nil:
				in++
			case r.Now == nil:
				out++
			default:
				if r.Now.Health.Overall > r.Was.Health.Overall && r.Was.Health.Overall > 0 {
					worse++
				}
				if r.Now.Value(measure.ExpectedFinish).N > r.Was.Value(measure.ExpectedFinish).N &&
					r.Was.Value(measure.ExpectedFinish).Known {
					later++
				}
			}
		}
		assert.Equal(t, []int{worse, in, out}, []int{x.Worse, x.In, x.Out})
		assert.LessOrEqual(t, x.Later, later, "a finish moved over a weekend is not later")
		assert.Equal(t, len(now.Projects)+out, len(x.Rows))
	}
	x, err := o.Lookout.Compare(ctx, a, "LW-07", (demo.AsOf.Month() - 1).Last())
	require.NoError(t, err)
	require.Len(t, x.Rows, 1)
	assert.Equal(t, 6, x.Rows[0].Days, "from 5 to 13 May 2027")
	_, err = o.Lookout.Compare(ctx, a, "nowhere", demo.AsOf-31)
	assert.ErrorIs(t, err, fault.ErrNotFound)
}
