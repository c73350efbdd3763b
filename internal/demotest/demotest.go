// Package demotest gives tests a file with the demonstration in it, made once for all tests.
package demotest

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"turret/internal/app/access"
	"turret/internal/demo"
	"turret/internal/store"
)

// At is the moment at which tests take place, whatever the machine's clock says: the morning of the demonstration's day.
var At = time.Date(2026, 11, 3, 8, 0, 0, 0, time.UTC)

// Now is a clock that stands still at At.
func Now() time.Time { return At }

// made is the file, as bytes. Programs that test the same sources share what the first of them made.
var made = sync.OnceValues(func() ([]byte, error) {
	key, err := sources()
	if err != nil {
		return nil, err
	}
	held := filepath.Join(os.TempDir(), "turret-demotest-"+key+".db")
	if b, err := os.ReadFile(held); err == nil {
		return b, nil
	}
	b, err := build()
	if err != nil {
		return nil, err
	}
	return b, keep(held, b)
})

// sources is a digest over all that the demonstration is made from.
func sources() (string, error) {
	root, err := module()
	if err != nil {
		return "", err
	}
	sum := sha256.New()
	err = filepath.WalkDir(root, func(path string, e fs.DirEntry, err error) error {
		if err == nil && e.IsDir() && (e.Name() == "node_modules" || e.Name() == "web" || strings.HasPrefix(e.Name(), ".") &&
			path != root) {
			return filepath.SkipDir
		}
		source := strings.HasSuffix(path, ".go") && !strings.HasSuffix(path, "_test.go")
		if err != nil || !source && filepath.Ext(path) != ".sql" && e.Name() != "go.sum" {
			return err
		}
		b, err := os.ReadFile(path)
		fmt.Fprintf(sum, "%s %d\n", path, len(b))
		sum.Write(b)
		return err
	})
	return hex.EncodeToString(sum.Sum(nil)[:12]), err
}

// module is the folder of go.mod, in or above that of the package under test.
func module() (string, error) {
	at, err := os.Getwd()
	for err == nil {
		if _, missing := os.Stat(filepath.Join(at, "go.mod")); missing == nil {
			return at, nil
		}
		up := filepath.Dir(at)
		if up == at {
			err = errors.New("no go.mod above the package under test")
		}
		at = up
	}
	return "", err
}

// keep puts the file in its place whole, and takes out those of earlier sources.
func keep(path string, b []byte) error {
	old, _ := filepath.Glob(filepath.Join(filepath.Dir(path), "turret-demotest-*.db"))
	for _, o := range old {
		_ = os.Remove(o)
	}
	f, err := os.CreateTemp(filepath.Dir(path), "turret-demotest-")
	if err != nil {
		return err
	}
	_, err = f.Write(b)
	return errors.Join(err, f.Close(), os.Rename(f.Name(), path))
}

func build() ([]byte, error) {
	dir, err := os.MkdirTemp("", "turret-demotest-")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(dir)
	ctx := access.As(context.Background(), access.Operator("a test"))
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
}

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
