package store

import (
	"context"
	"database/sql"
	"fmt"
	"strings"

	"turret/internal/app/kept"
)

// At reads as if no load outside a bound had come.
func (s *Store) At(b kept.Bound) kept.Reading {
	loads := fmt.Sprintf("withdrawn_at IS NULL AND id <= %d AND period <= %d", b.Load, b.Period)
	periods := "reopened_at IS NULL"
	if b.Serial != 0 {
		periods = fmt.Sprintf("serial < %d AND (ended_after IS NULL OR ended_after >= %[1]d)", b.Serial)
	}
	return readingOf(&pinned{queryer: s.pool, views: bounded(loads, periods)})
}

// pinned answers queries from the loads within a bound. What counts is asked for through views only; each query is preceded by these
// views as they are within the bound, which hide those of the file.
type pinned struct {
	queryer
	views []view
}

type view struct{ name, sql string }

// bounded are the views of the file by which loads and closed periods count.
func bounded(loads, periods string) []view {
	newest := func(table, key string) string {
		return `SELECT ` + key + `, max(load_id) AS load_id FROM ` + table + ` WHERE load_id IN (SELECT id FROM loads WHERE ` + loads +
			`) GROUP BY ` + key
	}
	return []view{
		{"standing_loads", `SELECT * FROM loads WHERE ` + loads},
		{"gone_loads", `SELECT id FROM loads WHERE NOT (` + loads + `)`},
		{"standing_periods", `SELECT * FROM periods WHERE ` + periods},
		{"current_revisions", `SELECT kind, project_id, max(id) AS id FROM revisions WHERE load_id IN (SELECT id FROM loads WHERE ` +
			loads + `) GROUP BY kind, project_id`},
		{"current_nodes", newest("node_rows", "node_id")},
		{"current_projects", newest("project_rows", "project_id")},
		{"current_cost_codes", newest("cost_code_rows", "cost_code_id")},
	}
}

// within puts the views that a query names before it.
func (p *pinned) within(query string) string {
	var list []string
	for _, v := range p.views {
		if strings.Contains(query, v.name) {
			list = append(list, v.name+` AS NOT MATERIALIZED (`+v.sql+`)`)
		}
	}
	if len(list) == 0 {
		return query
	}
	return `WITH ` + strings.Join(list, ", ") + ` ` + query
}

// QueryContext implements queryer.
func (p *pinned) QueryContext(ctx context.Context, query string, args ...any) (*sql.Rows, error) {
	return p.queryer.QueryContext(ctx, p.within(query), args...)
}

// GetContext implements queryer.
func (p *pinned) GetContext(ctx context.Context, dest any, query string, args ...any) error {
	return p.queryer.GetContext(ctx, dest, p.within(query), args...)
}

// SelectContext implements queryer.
func (p *pinned) SelectContext(ctx context.Context, dest any, query string, args ...any) error {
	return p.queryer.SelectContext(ctx, dest, p.within(query), args...)
}
