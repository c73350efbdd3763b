package store_test

import (
	"context"
	"errors"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/ingest"
	"turret/internal/record"
	"turret/internal/store"
)

// What is tried out is seen by whoever tries it and by nobody else; others write meanwhile, and no copy is left.
func TestTryingOutHoldsNobodyUp(t *testing.T) {
	dir := t.TempDir()
	s, err := store.Create(ctx, filepath.Join(dir, "x.db"), "EUR")
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	old := filepath.Join(dir, ".turret-try-0")
	require.NoError(t, os.Mkdir(old, 0o700))
	require.NoError(t, os.Chtimes(old, at.AddDate(-1, 0, 0), at.AddDate(-1, 0, 0)))
	o := app.NewOffice(s, func() time.Time { return at }, app.Parts{Reader: ingest.Reader{}})
	batch := func(text string) kept.Batch {
		f, problems, err := ingest.CSV("cost_codes.csv", record.CostCodes, strings.NewReader(text))
		require.NoError(t, err)
		require.Empty(t, problems)
		return kept.Batch{Files: []*kept.File{f}, Author: "Ann", At: at}
	}
	codes := func(r kept.Reading) (list []string) {
		m, err := r.Masters(ctx)
		require.NoError(t, err)
		for _, c := range m.CostCodes {
			list = append(list, c.Code)
		}
		return list
	}
	_, err = o.Intake.Import(ctx, batch("code,name\nA,First\n").Files, intake.Origin{})
	require.NoError(t, err)

	reached := false
	err = s.Rehearse(ctx, batch("code,name\nB,Second\n"), func(after kept.Reading) error {
		reached = true
		assert.Equal(t, []string{"A", "B"}, codes(after))
		assert.Equal(t, []string{"A"}, codes(s))
		_, err := o.Intake.Import(ctx, batch("code,name\nC,Third\n").Files, intake.Origin{}) // would wait for ever if the writer were held
		require.NoError(t, err)
		assert.Equal(t, []string{"A", "B"}, codes(after), "as it stood when this began")
		return nil
	})
	require.NoError(t, err)
	assert.True(t, reached)
	assert.Equal(t, []string{"A", "C"}, codes(s))

	stop := errors.New("enough")
	require.ErrorIs(t, s.Rehearse(ctx, batch("code,name\nB,Second\n"), func(kept.Reading) error { return stop }), stop)
	gone, cancel := context.WithCancel(ctx)
	cancel()
	require.ErrorIs(t, s.Rehearse(gone, batch("code,name\nB,Second\n"), nil), context.Canceled)
	left, err := os.ReadDir(dir)
	require.NoError(t, err)
	for _, f := range left {
		assert.True(t, strings.HasPrefix(f.Name(), "x.db"), f.Name())
	}
}
