package edit_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/intake"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// A posting is typed, and corrected by one with the opposite sign; both are added to what stands, which is not offered to be changed.
func TestPostingsAreTypedAndCorrected(t *testing.T) {
	o := apptest.House(t, apptest.Sent{Kind: record.Actuals, Period: apptest.October,
		Text: "project,cost_code,date,amount\nA,C,2026-10-05,300\n"})
	g, err := o.Edit.Grid(apptest.Ctx, record.Actuals, "A")
	require.NoError(t, err)
	assert.Empty(t, g.Rows)
	assert.Equal(t, []string{"C"}, g.Choices["cost_code"])
	row := func(amount string) intake.Edited {
		cells := make([]string, len(g.Input.Columns))
		cells[0], cells[g.Input.At("cost_code")], cells[g.Input.At("date")], cells[g.Input.At("amount")] = "A", "C", "2026-10-06", amount
		return intake.Edited{New: cells}
	}
	r, err := o.Edit.SaveGrid(apptest.Ctx, record.Actuals, "A", []intake.Edited{row("200"), row("-300")})
	require.NoError(t, err)
	require.Len(t, r.Loads, 1)
	p, err := apptest.Assessed(t, o, apptest.October.Last()).Project("A")
	require.NoError(t, err)
	assert.EqualValues(t, 200_00, p.Value(measure.AC).N, "300 + 200 - 300")
	_, err = o.Edit.SaveGrid(apptest.Ctx, record.Actuals, "A", []intake.Edited{{New: append([]string{"B"}, row("1").New[1:]...)}})
	assert.ErrorContains(t, err, "nothing was saved", "a posting of another project")
	_, err = o.Edit.Grid(apptest.Ctx, record.Actuals, "")
	assert.Error(t, err, "postings are typed for one project")
}
