package store_test

import (
	"context"
	"fmt"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"modernc.org/sqlite"

	"turret/internal/app"
	"turret/internal/app/apptest"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/record"
	"turret/internal/store"
)

// disks are files whose disk has room for so many pages and no more.
var disks struct {
	sync.Mutex
	once  sync.Once
	pages map[string]int
}

// bounded opens a file on a disk that has room for so many pages.
func bounded(t *testing.T, path string, pages int) *store.Store {
	t.Helper()
	disks.once.Do(func() {
		sqlite.RegisterConnectionHook(func(conn sqlite.ExecQuerierContext, dsn string) error {
			disks.Lock()
			defer disks.Unlock()
			for p, n := range disks.pages {
				if strings.Contains(dsn, p) {
					_, err := conn.ExecContext(context.Background(), fmt.Sprintf("PRAGMA max_page_count = %d", n), nil)
					return err
				}
			}
			return nil
		})
	})
	disks.Lock()
	disks.pages = map[string]int{path: pages}
	disks.Unlock()
	s, err := store.Open(ctx, path)
	require.NoError(t, err)
	return s
}

// everything is all that stands in a file, table by table.
func everything(t *testing.T, path string) map[string][]string {
	t.Helper()
	db, err := sqlx.Open("sqlite", path)
	require.NoError(t, err)
	defer db.Close()
	var sound string
	require.NoError(t, db.Get(&sound, `PRAGMA integrity_check`))
	require.Equal(t, "ok", sound)
	var tables []string
	require.NoError(t, db.Select(&tables, `SELECT name FROM sqlite_schema WHERE type = 'table' ORDER BY name`))
	all := map[string][]string{}
	for _, table := range tables {
		rows, err := db.Queryx(`SELECT * FROM "` + table + `"`)
		require.NoError(t, err)
		for rows.Next() {
			row, err := rows.SliceScan()
			require.NoError(t, err)
			all[table] = append(all[table], fmt.Sprint(row...))
		}
		require.NoError(t, rows.Err())
	}
	return all
}

// pages is how many pages a file has.
func pages(t *testing.T, path string) (n int) {
	t.Helper()
	db, err := sqlx.Open("sqlite", path)
	require.NoError(t, err)
	defer db.Close()
	require.NoError(t, db.Get(&n, `PRAGMA page_count`))
	return n
}

// A disk that fills while a period is published or a file is loaded leaves the file as it was, wherever it fills; with room it is done.
func TestADiskThatFillsLeavesNothingHalfDone(t *testing.T) {
	var rows strings.Builder
	rows.WriteString("project,cost_code,date,amount,document\n")
	for i := range 1500 {
		fmt.Fprintf(&rows, "%s,C,2026-11-%02d,%d,D%d\n", []string{"A", "B"}[i%2], 1+i%28, i, i)
	}
	for what, do := range map[string]func(o *app.Office) error{
		"publishing": func(o *app.Office) error {
			_, err := o.Publish.Close(apptest.Ctx, apptest.October)
			return err
		},
		"loading": func(o *app.Office) error {
			_, err := o.Intake.Import(apptest.Ctx, []*kept.File{apptest.Read(t, record.Actuals, rows.String())},
				intake.Origin{Author: "tester"})
			return err
		},
	} {
		t.Run(what, func(t *testing.T) { fill(t, do) })
	}
}

// fill does something on disks that have room for one page more each time, until there is enough.
func fill(t *testing.T, do func(o *app.Office) error) {
	s, _ := apptest.Stored(t)
	path := filepath.Join(t.TempDir(), "full.db")
	require.NoError(t, s.Backup(ctx, path))
	before, had := everything(t, path), pages(t, path)
	failed := 0
	for room := 0; ; room++ {
		require.Less(t, room, 200)
		on := bounded(t, path, had+room)
		err := do(app.NewOffice(on, func() time.Time { return apptest.At }, app.Parts{}))
		require.NoError(t, on.Close())
		if err == nil {
			break
		}
		failed++
		require.ErrorContains(t, err, "disk is full")
		require.Equal(t, before, everything(t, path), "with room for %d pages", room)
	}
	assert.Positive(t, failed)
	assert.NotEqual(t, before, everything(t, path))
}
