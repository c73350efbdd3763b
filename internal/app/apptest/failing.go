package apptest

import (
	"context"
	"errors"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/hours"
	"turret/internal/app/kept"
	"turret/internal/app/people"
	"turret/internal/demotest"
	"turret/internal/ingest"
	"turret/internal/store"
)

// ErrPower is what a write of Failing ends with.
var ErrPower = errors.New("the power went off")

// Failing is a store whose write of a number fails, as where the process ended just before it; 0 for none. It counts writes.
type Failing struct {
	*store.Store
	Turn, Writes int
}

func (f *Failing) written() error {
	if f.Writes++; f.Writes == f.Turn {
		return ErrPower
	}
	return nil
}

// Save writes a batch unless its turn has come.
func (f *Failing) Save(ctx context.Context, b kept.Batch) ([]kept.Load, error) {
	if err := f.written(); err != nil {
		return nil, err
	}
	return f.Store.Save(ctx, b)
}

// Note writes an entry of the trail unless its turn has come.
func (f *Failing) Note(ctx context.Context, e kept.Entry) error {
	if err := f.written(); err != nil {
		return err
	}
	return f.Store.Note(ctx, e)
}

// KeepParts writes parts of week sheets unless its turn has come.
func (f *Failing) KeepParts(ctx context.Context, list []hours.Part) error {
	if err := f.written(); err != nil {
		return err
	}
	return f.Store.KeepParts(ctx, list)
}

// KeepAsk writes a request for a person unless its turn has come.
func (f *Failing) KeepAsk(ctx context.Context, r people.Request) error {
	if err := f.written(); err != nil {
		return err
	}
	return f.Store.KeepAsk(ctx, r)
}

// Whole does an act on a store, each of its writes failing in turn: the store then tells what it told before, by what stands, and once no
// write fails any more, something else. It returns how many writes the act makes.
func Whole(t *testing.T, s *store.Store, stands func() any, act func(*app.Office) error) int {
	t.Helper()
	before := stands()
	for n := 1; ; n++ {
		f := &Failing{Store: s, Turn: n}
		err := act(app.NewOffice(f, demotest.Now, app.Parts{Reader: ingest.Reader{}}))
		if f.Writes < n {
			require.NoError(t, err, "after %d writes", f.Writes)
			assert.NotEqual(t, before, stands(), "it is done")
			return f.Writes
		}
		require.ErrorIs(t, err, ErrPower, "write %d", n)
		require.Equal(t, before, stands(), "write %d failed: nothing of the act is kept", n)
	}
}
