package load_test

import (
	"context"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/job"
	"turret/internal/app/kept"
	"turret/internal/demotest"
	"turret/internal/draft"
	"turret/internal/ingest"
	"turret/internal/record"
)

// heldReader reads a file for loading only once it is let go.
type heldReader struct {
	ingest.Reader
	goOn chan struct{}
}

// With holds too: a load reads with the office's own columns.
func (r heldReader) With(own []record.Column) intake.Reader {
	return heldReader{Reader: r.Reader.With(own).(ingest.Reader), goOn: r.goOn}
}

func (r heldReader) Read(path, name, sheet string, m intake.Mapping) (*kept.File, []fault.Problem, error) {
	<-r.goOn
	return r.Reader.Read(path, name, sheet, m)
}

func TestAStoppedLoadLeavesNothingAndMayBeginAgain(t *testing.T) {
	dir := t.TempDir()
	s, err := demotest.Create(t.Context(), filepath.Join(dir, "x.db"))
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	reader := heldReader{goOn: make(chan struct{})}
	o := app.NewOffice(s, demotest.Now, app.Parts{Reader: reader, Drafts: draft.In(filepath.Join(dir, "drafts"), time.Time{})})
	c := access.As(context.Background(), &access.Actor{Account: 1, Login: "ana", Name: "Ana", Role: access.Analyst})
	d, err := apptest.Received(c, o, record.CostCodes, "")
	require.NoError(t, err)
	require.ErrorIs(t, o.Load.Stop(c, d.ID), fault.ErrNotFound, "nothing is under way")
	j, err := o.Load.Start(c, d.ID)
	require.NoError(t, err)
	bob := access.As(context.Background(), &access.Actor{Account: 2, Login: "bob", Name: "Bob", Role: access.Lead})
	require.Error(t, o.Load.Stop(bob, d.ID), "someone else's")
	require.NoError(t, o.Load.Stop(c, d.ID))
	close(reader.goOn)
	require.NoError(t, j.Wait(c))
	require.ErrorIs(t, j.Now().Err, job.ErrStopped)
	list, err := o.Load.List(c)
	require.NoError(t, err)
	assert.Empty(t, list)

	j, err = o.Load.Start(c, d.ID)
	require.NoError(t, err)
	require.NoError(t, j.Wait(c))
	require.NoError(t, j.Now().Err)
	assert.Nil(t, j.Now().Result.Files, "rows are not kept")
	list, err = o.Load.List(c)
	require.NoError(t, err)
	assert.Len(t, list, 1)
	require.NoError(t, o.Load.Stop(c, d.ID), "too late")
	assert.NoError(t, j.Now().Err)
	o.Settle(c)
	again, err := apptest.Received(c, o, record.Calendars, "")
	require.NoError(t, err)
	_, err = o.Load.Start(c, again.ID)
	assert.ErrorIs(t, err, job.ErrClosed)
}
