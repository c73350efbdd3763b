package demotest

import (
	"context"
	"errors"
	"os"
	"path/filepath"
	"sync"

	"turret/internal/app/access"
	"turret/internal/store"
)

// empty is a file in euros with nothing in it, as bytes. To lay it out takes a seventh of a second, which no test need wait for again.
var empty = sync.OnceValues(func() (_ []byte, err error) {
	dir, err := os.MkdirTemp("", "turret-empty-")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(dir)
	ctx := access.As(context.Background(), access.Operator("a test"))
	s, err := store.Create(ctx, filepath.Join(dir, "made.db"), "EUR")
	if err != nil {
		return nil, err
	}
	whole := filepath.Join(dir, "whole.db")
	if err := errors.Join(s.Backup(ctx, whole), s.Close()); err != nil {
		return nil, err
	}
	return os.ReadFile(whole)
})

// Create makes and opens a new file in euros, as store.Create does.
func Create(ctx context.Context, path string) (*store.Store, error) {
	b, err := empty()
	if err != nil {
		return nil, err
	}
	if err := os.WriteFile(path, b, 0o600); err != nil {
		return nil, err
	}
	return store.Open(ctx, path)
}
