package trace_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/fault"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// rows counts the rows below a node, and adds up what they are worth.
func rows(n *measure.Node) (count int, sum int64) {
	if len(n.Children) == 0 && n.Ref.Load != 0 {
		return 1, n.Value.N
	}
	for i := range n.Children {
		c, s := rows(&n.Children[i])
		count, sum = count+c, sum+s
	}
	return count, sum
}

// Three postings of 10, 20.50 and -5 make 25.50 of actual cost; each is named with its load, file and row.
func TestAFigureLeadsToItsRows(t *testing.T) {
	o := apptest.House(t, apptest.Sent{Kind: record.Actuals, Period: apptest.October,
		Text: "project,cost_code,date,amount\nA,C,2026-10-01,10\nA,C,2026-10-02,20.50\nA,C,2026-10-30,-5\nB,C,2026-10-30,7\n"})
	a := apptest.Assessed(t, o, apptest.Last)
	x, err := o.Trace.Trace(apptest.Ctx, a, "A", "ac")
	require.NoError(t, err)
	assert.Equal(t, "A First", x.Subject)
	assert.Equal(t, int64(2550), x.Root.Value.N)
	n, sum := rows(&x.Root)
	assert.Equal(t, []int64{3, 2550}, []int64{int64(n), sum})
	first := x.Root
	for len(first.Children) > 0 {
		first = first.Children[0]
	}
	assert.Regexp(t, `^load \d+, actuals.csv, row 2$`, x.Where(first.Ref), "the head is row 1")

	x, err = o.Trace.TraceCode(apptest.Ctx, a, "A", "ac", "C")
	require.NoError(t, err)
	assert.Equal(t, int64(2550), x.Root.Value.N)
	x, err = o.Trace.TraceGroup(apptest.Ctx, a, apptest.Open(t, a), "ac")
	require.NoError(t, err)
	assert.Equal(t, int64(3250), x.Root.Value.N)
	assert.Len(t, x.Root.Children, 2, "project by project")
	x, err = o.Trace.TraceMonthOf(apptest.Ctx, a, apptest.Open(t, a), calendar.On(2026, 10, 1).Month())
	require.NoError(t, err)
	assert.Equal(t, "All projects", x.Subject)
}

func TestWhatCannotBeTraced(t *testing.T) {
	o := apptest.House(t, apptest.Sent{Kind: record.Actuals, Period: apptest.October,
		Text: "project,cost_code,date,amount\nA,C,2026-10-01,10\n"})
	a := apptest.Assessed(t, o, apptest.Last)
	_, err := o.Trace.Trace(apptest.Ctx, a, "A", "nonsense")
	assert.ErrorIs(t, err, fault.ErrNotFound)
	_, err = o.Trace.Trace(apptest.Ctx, a, "nowhere", "ac")
	assert.ErrorIs(t, err, fault.ErrNotFound)
	_, err = o.Trace.TraceCode(apptest.Ctx, a, "A", "ac", "none")
	assert.ErrorIs(t, err, fault.ErrNotFound)
	_, err = o.Trace.TraceActivity(apptest.Ctx, a, "A", "none")
	assert.ErrorIs(t, err, fault.ErrNotFound)
	_, err = o.Trace.TraceGroup(apptest.Ctx, a, apptest.Open(t, a), "nonsense")
	assert.ErrorIs(t, err, fault.ErrNotFound)

	hidden := access.As(context.Background(), &access.Actor{Login: "hid", Role: access.Analyst, HideMoney: true})
	veiled, err := o.Assess.Day(hidden, apptest.Last)
	require.NoError(t, err)
	_, err = o.Trace.TraceCode(hidden, veiled, "A", "ac", "C")
	assert.ErrorIs(t, err, fault.ErrNotFound, "costs are kept from them")
	_, err = o.Trace.TraceMonth(hidden, veiled, "A", calendar.On(2026, 10, 1).Month())
	assert.ErrorIs(t, err, access.ErrForbidden)
	_, err = o.Trace.TraceMonthOf(hidden, veiled, apptest.Open(t, veiled), calendar.On(2026, 10, 1).Month())
	assert.ErrorIs(t, err, access.ErrForbidden)
}
