package intake_test

import (
	"context"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/record"
)

// Registers are refused where a rating is off the grid, a record ends before it was raised, or a condition cannot be understood.
func TestRegistersThatAreRefused(t *testing.T) {
	o := apptest.House(t)
	for _, x := range []struct {
		kind                record.Kind
		text, column, wants string
	}{
		{record.Risks, "project,code,title,likelihood\nA,R,Flood,6\n", "likelihood", "1 to 5"},
		{record.Risks, "project,code,title,residual_consequence\nA,R,Flood,0\n", "residual_consequence", "1 to 5"},
		{record.Risks, "project,code,title,raised,closed\nA,R,Flood,2026-10-05,2026-10-04\n", "closed", "2026-10-05"},
		{record.Risks, "project,code,title,trigger_when\nA,R,Flood,cpy < 1\n", "trigger_when", "did you mean"},
		{record.Risks, "project,code,title,trigger_when\nA,R,Flood,\"all(1..1000000000, true)\"\n", "trigger_when", "a condition"},
		{record.Issues, "project,code,title,raised,closed\nA,I,Road,2026-10-05,2026-10-04\n", "closed", "2026-10-05"},
		{record.Actions, "project,code,title,raised,done_on\nA,T,Ask,2026-10-05,2026-10-04\n", "done_on", "2026-10-05"},
	} {
		_, err := o.Intake.Import(apptest.Ctx, []*kept.File{apptest.Read(t, x.kind, x.text)}, intake.Origin{Period: apptest.October})
		list := fault.ProblemsIn(err)
		require.Len(t, list, 1, x.text)
		assert.Equal(t, []any{int32(2), x.column}, []any{list[0].Row, list[0].Column})
		assert.Contains(t, list[0].Expected, x.wants)
	}
	_, err := o.Intake.Import(apptest.Ctx, []*kept.File{apptest.Read(t, record.Risks, strings.TrimSpace(`
project,code,title,response_kind,trigger,trigger_when,raised,closed
A,R,Flood,reduce,2026-12-01,finish_deviation > 10,2026-10-05,2026-10-05`)+"\n")}, intake.Origin{Period: apptest.October})
	require.NoError(t, err)
}

// Records of a programme are written by whoever has the whole of it: not by the lead of a project in it, nor by whoever has another.
func TestRecordsOfANodeAreForWhoHasIt(t *testing.T) {
	_, o := apptest.Gate(t)
	for _, x := range []struct {
		who, node string
		may       bool
	}{{"scoped analyst", "A", true}, {"scoped analyst", "B", false}, {"scoped analyst", "PF", false}, {"lead", "A", false},
		{"executive", "A", false}, {"analyst", "PF", true}} {
		c := access.As(context.Background(), apptest.Writers[x.who])
		for _, kind := range []record.Kind{record.Issues, record.Actions, record.Checklist, record.Meetings, record.Decisions} {
			in := kind.Input()
			row := make([]string, len(in.Columns))
			for name, value := range map[string]string{"node": x.node, "code": x.who, "title": "New", "action": x.who, "text": "New",
				"date": "2026-10-05"} {
				if at := in.At(name); at >= 0 {
					row[at] = value
				}
			}
			_, err := o.Edit.SaveGrid(c, kind, x.node, []intake.Edited{{New: row}})
			if !x.may {
				require.ErrorIs(t, err, access.ErrForbidden, "%s at %s", x.who, x.node)
				continue
			}
			require.NoError(t, err, "%s at %s", x.who, x.node)
			g, err := o.Edit.Grid(c, kind, x.node)
			require.NoError(t, err)
			assert.Equal(t, [][]string{row}, g.Rows)
		}
	}
	_, err := o.Edit.Grid(apptest.Ctx, record.Issues, "NONE")
	require.ErrorIs(t, err, fault.ErrNotFound)
	_, err = o.Edit.Grid(apptest.Ctx, record.Budget, "A")
	require.ErrorIs(t, err, fault.ErrNotFound, "a programme has no budget of its own")
	_, err = o.Intake.Import(apptest.Ctx, []*kept.File{apptest.Read(t, record.Issues, "node,code,title\nNONE,I,Road\n")},
		intake.Origin{Period: apptest.October})
	require.Len(t, fault.ProblemsIn(err), 1)
	assert.Equal(t, "node", fault.ProblemsIn(err)[0].Column)
	_, err = o.Edit.SaveGrid(apptest.Ctx, record.Issues, "A", []intake.Edited{{New: make([]string, len(record.Issues.Input().Columns))}})
	require.Error(t, err, "a row of nothing")
}
