package edit_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/apptest"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/ingest"
	"turret/internal/record"
	"turret/internal/store"
)

func loadsOf(t *testing.T, s *store.Store) int {
	t.Helper()
	list, err := s.Loads(apptest.Ctx)
	require.NoError(t, err)
	return len(list)
}

// A table that is edited keeps what others changed meanwhile; only the same cell twice is a conflict.
func TestEditsAreMerged(t *testing.T) {
	s, _ := apptest.Opened(t)
	o := app.NewOffice(s, func() time.Time { return apptest.At }, app.Parts{Reader: ingest.Reader{}})
	_, err := o.Intake.Import(apptest.Ctx, []*kept.File{apptest.Read(t, record.Activities,
		"project,code,name,kind,finish\nA,M1,Gate,milestone,2026-11-30\nA,M2,Lock,milestone,2026-12-18\n")}, intake.Origin{})
	require.NoError(t, err)
	g, err := o.Edit.Grid(apptest.Ctx, record.Activities, "A")
	require.NoError(t, err)
	change := func(row []string, column int, value string) intake.Edited {
		now := append([]string{}, row...)
		now[column] = value
		return intake.Edited{Old: row, New: now}
	}
	const name, finish = 2, 8
	_, err = o.Edit.SaveGrid(apptest.Ctx, record.Activities, "A", []intake.Edited{change(g.Rows[0], name, "Great gate")})
	require.NoError(t, err)
	_, err = o.Edit.SaveGrid(apptest.Ctx, record.Activities, "A", []intake.Edited{change(g.Rows[0], finish, "2026-12-04"),
		change(g.Rows[1], name, "Great lock")})
	require.NoError(t, err, "another cell of the same row, as it was read before")
	now, err := o.Edit.Grid(apptest.Ctx, record.Activities, "A")
	require.NoError(t, err)
	assert.Equal(t, []string{"Great gate", "2026-12-04", "Great lock"}, []string{now.Rows[0][name], now.Rows[0][finish], now.Rows[1][name]})
	_, err = o.Edit.SaveGrid(apptest.Ctx, record.Activities, "A", []intake.Edited{change(g.Rows[0], name, "Small gate")})
	var wrong *edit.Error
	require.ErrorAs(t, err, &wrong)
	assert.ErrorIs(t, err, fault.ErrConflict)
	assert.Equal(t, []edit.Clash{{Index: 0, Column: "name", Yours: "Small gate", Theirs: "Great gate"}}, wrong.Clashes)
	_, err = o.Edit.SaveGrid(apptest.Ctx, record.Activities, "A", []intake.Edited{change(now.Rows[0], finish, "soon")})
	require.ErrorAs(t, err, &wrong)
	assert.Equal(t, []any{int32(0), "finish"}, []any{wrong.Problems[0].Row, wrong.Problems[0].Column})
	before := loadsOf(t, s)
	r, err := o.Edit.SaveGrid(apptest.Ctx, record.Activities, "A", nil)
	require.NoError(t, err)
	assert.Empty(t, r.Loads, "nothing changed, nothing loaded")
	_, err = o.Edit.SaveGrid(apptest.Ctx, record.Activities, "A", []intake.Edited{{Old: now.Rows[1]}})
	require.NoError(t, err)
	now, err = o.Edit.Grid(apptest.Ctx, record.Activities, "A")
	require.NoError(t, err)
	assert.Len(t, now.Rows, 1)
	assert.Equal(t, before+1, loadsOf(t, s))
	_, err = o.Edit.SaveGrid(apptest.Ctx, record.Structure, "", []intake.Edited{{Old: []string{"PG", "Programme", "programme", "PF", ""}}})
	require.ErrorAs(t, err, &wrong, "a programme is not taken away by a table")
}
