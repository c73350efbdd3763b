// Package demotest gives tests a file with the demonstration in it, made once for all tests of a program.
package demotest

import (
	"context"
	"os"
	"path/filepath"
	"sync"
	"testing"

	"turret/internal/app"
	"turret/internal/demo"
	"turret/internal/store"
)

var made = sync.OnceValues(func() ([]byte, error) {
	dir, err := os.MkdirTemp("", "turret-demotest-")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(dir)
	ctx := app.As(context.Background(), app.Operator("a test"))
	s, err := store.Create(ctx, filepath.Join(dir, "made.db"), "EUR")
	if err != nil {
		return nil, err
	}
	defer s.Close()
	if err := demo.Load(ctx, s); err != nil {
		return nil, err
	}
	whole := filepath.Join(dir, "whole.db")
	if err := s.Backup(ctx, whole); err != nil {
		return nil, err
	}
	return os.ReadFile(whole)
})

// Store opens a copy of the demonstration that is the test's own.
func Store(t testing.TB) *store.Store {
	t.Helper()
	b, err := made()
	if err != nil {
		t.Fatal(err)
	}
	path := filepath.Join(t.TempDir(), "demo.db")
	if err := os.WriteFile(path, b, 0o600); err != nil {
		t.Fatal(err)
	}
	s, err := store.Open(context.Background(), path)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = s.Close() })
	return s
}
