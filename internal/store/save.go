package store

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/jmoiron/sqlx"

	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/bulk"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/ledger"
	"turret/internal/record"
	"turret/internal/unit"
)

// stamp is how times are written: ISO 8601 in UTC.
const stamp = time.RFC3339

// fine is for moments that may lie close together; stamp reads it too.
const fine = "2006-01-02T15:04:05.000000Z07:00"

// Save writes the files in one transaction. Projects and codes they refer to must be in the store or in a file before.
func (s *Store) Save(ctx context.Context, b kept.Batch) ([]kept.Load, error) {
	var loads []kept.Load
	return loads, s.within(ctx, b, func(tx *sqlx.Tx, list []kept.Load) error {
		loads = list
		for _, l := range list {
			if b.Note == nil {
				continue
			}
			if err := enter(ctx, tx, b.Note(l)); err != nil {
				return err
			}
		}
		return nil
	})
}

// within writes a batch and what then adds to it in the unit of work under way, or in one of their own.
func (s *Store) within(ctx context.Context, b kept.Batch, then func(*sqlx.Tx, []kept.Load) error) error {
	return unit.Within(ctx, s.write, func(tx *sqlx.Tx) error {
		loads, err := batch(ctx, tx, b)
		if err != nil {
			return err
		}
		return then(tx, loads)
	})
}

// batch writes a batch in a transaction.
func batch(ctx context.Context, tx *sqlx.Tx, b kept.Batch) (loads []kept.Load, err error) {
	if b.Check != nil {
		if err := b.Check(readingOf(tx)); err != nil {
			return nil, err
		}
	}
	w := &writer{ctx: ctx, tx: tx, ids: map[string]map[string]int64{}, progress: b.Progress}
	for _, f := range b.Files {
		w.total += f.Rows
	}
	for _, f := range b.Files {
		l := kept.Load{Kind: f.Kind, File: f.Name, Digest: f.Digest, Size: f.Size, Rows: f.Rows, Source: b.Source, Author: b.Author,
			ReceivedAt: b.At.UTC(), Recognised: f.Recognised, Period: b.Period, Note: b.Reason}
		if l.ID, err = w.load(l); err != nil {
			return nil, fmt.Errorf("%s: %w", f.Name, err)
		}
		if err := w.file(f, l.ID); err != nil {
			return nil, fmt.Errorf("%s: %w", f.Name, err)
		}
		loads = append(loads, l)
	}
	if b.Baseline != nil {
		if err := w.baseline(b.Baseline, loads); err != nil {
			return nil, err
		}
	}
	if b.Snapshot != nil {
		if err := snapshot(w, b.Snapshot); err != nil {
			return nil, err
		}
	}
	var projects []int64 // that the figures change of; of a baseline, all
	if b.Baseline == nil {
		if projects, err = broughtBy(ctx, tx, loads); err != nil {
			return nil, err
		}
	}
	if err := stirred(ctx, tx, projects...); err != nil {
		return nil, err
	}
	return loads, nil
}

// writer writes rows within one transaction.
type writer struct {
	ctx context.Context
	tx  *sqlx.Tx
	ids map[string]map[string]int64 // by table, then code

	progress    func(done, total int)
	done, total int
}

// wrote tells of rows written.
func (w *writer) wrote(rows int) {
	w.done += rows
	if w.progress != nil {
		w.progress(w.done, w.total)
	}
}

func (w *writer) load(l kept.Load) (int64, error) {
	r, err := w.tx.ExecContext(w.ctx, `INSERT INTO loads (kind, file, digest, size, rows, source, author, received_at, recognised,
		period, note) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`, l.Kind, l.File, l.Digest, l.Size, l.Rows, l.Source, l.Author,
		l.ReceivedAt.Format(stamp), l.Recognised, l.Period, l.Note)
	if err != nil {
		return 0, err
	}
	return r.LastInsertId()
}

func (w *writer) file(f *kept.File, load int64) error {
	switch f.Kind {
	case record.Structure:
		return w.nodes(f, load)
	case record.Projects:
		return w.projects(f, load)
	case record.CostCodes:
		return w.costCodes(f, load)
	case record.Calendars:
		return w.calendars(f, load)
	case record.Rates:
		return w.rates(f, load)
	case record.Activities:
		return w.activities(f, load)
	case record.Links:
		return w.links(f, load)
	case record.Budget, record.Forecast:
		return w.lines(f, load)
	case record.Actuals:
		return w.postings(f, load)
	case record.Statuses:
		return w.statuses(f, load)
	}
	if f.Kind.IsRecord() {
		return w.records(f, load)
	}
	return fmt.Errorf("no table for %s", f.Kind)
}

// id returns the id of a code of nodes, projects or cost_codes, making it where asked to.
func (w *writer) id(table, code string, make_ bool) (int64, error) {
	known := w.ids[table]
	if known == nil {
		known = map[string]int64{}
		w.ids[table] = known
		var rows []struct {
			ID   int64
			Code string
		}
		if err := w.tx.SelectContext(w.ctx, &rows, `SELECT id, code FROM `+table); err != nil {
			return 0, err
		}
		for _, r := range rows {
			known[r.Code] = r.ID
		}
	}
	id, ok := known[code]
	if ok {
		return id, nil
	}
	if !make_ {
		return 0, fmt.Errorf("%s %q: %w", table, code, fault.ErrNotFound)
	}
	r, err := w.tx.ExecContext(w.ctx, `INSERT INTO `+table+` (code) VALUES (?)`, code)
	if err != nil {
		return 0, err
	}
	id, err = r.LastInsertId()
	known[code] = id
	return id, err
}

// batch begins rows of a table that are those of the file; columns are their names, parted by commas.
func (w *writer) batch(table, columns string) *bulk.Insert {
	b := bulk.Into(w.ctx, w.tx, table, columns)
	b.Wrote = w.wrote
	return b
}

func optional(n fact.Int) any {
	if !n.Given {
		return nil
	}
	return n.N
}

// coded writes the rows of a table of versions of coded things.
func (w *writer) coded(table, columns string, n int, row func(i int) (code string, args []any), load int64) error {
	one := strings.TrimSuffix(table, "s")
	b := w.batch(one+"_rows", one+"_id, load_id, row, "+columns)
	for i := range n {
		code, args := row(i)
		id, err := w.id(table, code, true)
		if err != nil {
			return err
		}
		b.Add(append([]any{id, load}, args...)...)
	}
	return b.Done()
}

func (w *writer) nodes(f *kept.File, load int64) error {
	return w.coded("nodes", "name, level, parent, owner", len(f.Nodes), func(i int) (string, []any) {
		n := &f.Nodes[i]
		return n.Code, []any{n.Row, n.Name, n.Level, n.Parent, n.Owner}
	}, load)
}

func (w *writer) projects(f *kept.File, load int64) error {
	return w.coded("projects", `name, parent, lead, sponsor, category, stage, business_unit, status, currency, planned_start,
		planned_finish, required_finish, driven, earned_value, labour, own`, len(f.Projects), func(i int) (string, []any) {
		p := &f.Projects[i]
		return p.Code, []any{p.Row, p.Name, p.Parent, p.Lead, p.Sponsor, p.Category, p.Stage, p.BusinessUnit, p.Status,
			p.Currency, p.PlannedStart, p.PlannedFinish, p.RequiredFinish, p.Driven, p.EarnedValue, p.Labour, ownText(p.Own)}
	}, load)
}

func (w *writer) costCodes(f *kept.File, load int64) error {
	return w.coded("cost_codes", "name, parent, type, closed, contingency, labour", len(f.CostCodes), func(i int) (string, []any) {
		c := &f.CostCodes[i]
		return c.Code, []any{c.Row, c.Name, c.Parent, c.Type, c.Closed, c.Contingency, c.Labour}
	}, load)
}

func (w *writer) calendars(f *kept.File, load int64) error {
	b := w.batch("calendar_rows", "load_id, row, calendar, day, weekday, working, name")
	for _, c := range f.Calendars {
		b.Add(load, c.Row, c.Calendar, c.Date, optional(c.Weekday), c.Working, c.Name)
	}
	return b.Done()
}

func (w *writer) rates(f *kept.File, load int64) error {
	b := w.batch("rate_rows", "load_id, row, currency, month, plan, rate")
	for _, r := range f.Rates {
		b.Add(load, r.Row, r.Currency, r.Month, r.Plan, r.Rate.Units())
	}
	return b.Done()
}

// grouped is the rows of a file by project: indexes in the order of the projects' ids, then of the file.
type grouped struct {
	project []int64 // by index of the row
	order   []int32
}

// group resolves the project of each row.
func (w *writer) group(n int, project func(i int) string) (*grouped, error) {
	g := &grouped{make([]int64, n), make([]int32, n)}
	for i := range n {
		id, err := w.id("projects", project(i), false)
		if err != nil {
			return nil, err
		}
		g.project[i], g.order[i] = id, int32(i)
	}
	slices.SortStableFunc(g.order, func(a, b int32) int { return int(g.project[a] - g.project[b]) })
	return g, nil
}

// revised writes a revision for each project of the file and its rows clustered by it.
func (w *writer) revised(f *kept.File, load int64, table, columns string, n int, project func(i int) string,
	row func(i int) ([]any, error)) error {
	g, err := w.group(n, project)
	if err != nil {
		return err
	}
	b := w.batch(table, "revision_id, row, "+columns)
	for at := 0; at < n; {
		end := at
		for end < n && g.project[g.order[end]] == g.project[g.order[at]] {
			end++
		}
		r, err := w.tx.ExecContext(w.ctx, `INSERT INTO revisions (load_id, kind, project_id, rows) VALUES (?, ?, ?, ?)`,
			load, f.Kind, g.project[g.order[at]], end-at)
		if err != nil {
			return err
		}
		revision, err := r.LastInsertId()
		if err != nil {
			return err
		}
		for ; at < end; at++ {
			args, err := row(int(g.order[at]))
			if err != nil {
				return err
			}
			b.Add(append([]any{revision}, args...)...)
		}
	}
	return b.Done()
}

func (w *writer) activities(f *kept.File, load int64) error {
	list := f.Activities
	return w.revised(f, load, "activities", `code, name, parent, kind, level, baseline_start, baseline_finish, start, finish, actual_start,
		actual_finish, duration, remaining, percent, weight, ev_method, owner, party, calendar, not_before, not_after, low, likely, high,
		priority, state`,
		len(list), func(i int) string { return list[i].Project },
		func(i int) ([]any, error) {
			r := &list[i]
			a := &r.Activity
			return []any{r.Row, a.Code, a.Name, a.Parent, a.Kind, a.Level, a.BaselineStart, a.BaselineFinish, a.Start, a.Finish,
				a.ActualStart, a.ActualFinish, optional(a.Duration), optional(a.Remaining), optional(a.Percent), optional(r.Weight),
				r.EVMethod, a.Owner, a.Party, r.Calendar, r.NotBefore, r.NotAfter,
				optional(r.Low), optional(r.Likely), optional(r.High), a.Priority, a.State}, nil
		})
}

func (w *writer) links(f *kept.File, load int64) error {
	list := f.Links
	return w.revised(f, load, "links", "from_code, to_code, type, lag, from_project, to_project", len(list),
		func(i int) string { return list[i].Project },
		func(i int) ([]any, error) {
			l := &list[i]
			return []any{l.Row, l.From, l.To, l.Type, l.Lag, l.FromProject, l.ToProject}, nil
		})
}

func (w *writer) lines(f *kept.File, load int64) error {
	list := f.Lines
	return w.revised(f, load, "plan_lines",
		`part, cost_code_id, amount, currency, month, from_day, to_day, profile, cost_centre, change, note, activity`,
		len(list), func(i int) string { return list[i].Project },
		func(i int) ([]any, error) {
			l := &list[i]
			code, err := w.id("cost_codes", l.CostCode, false)
			return []any{l.Row, l.Part, code, l.Amount, l.Currency, l.Month, l.From, l.To, l.Profile, l.Centre, l.Change, l.Note,
				l.Activity}, err
		})
}

func (w *writer) statuses(f *kept.File, load int64) error {
	list := f.Statuses
	return w.revised(f, load, "statuses", "overall, schedule, cost, scope, risk, benefit, percent, commentary", len(list),
		func(i int) string { return list[i].Project },
		func(i int) ([]any, error) {
			s := &list[i]
			return []any{s.Row, s.Overall, s.By[0], s.By[1], s.By[2], s.By[3], s.By[4], optional(s.Percent), s.Commentary}, nil
		})
}

func (w *writer) postings(f *kept.File, load int64) error {
	list := f.Postings
	g, err := w.group(len(list), func(i int) string { return list[i].Project })
	if err != nil {
		return err
	}
	if err := w.delivered(g, load, record.Actuals); err != nil {
		return err
	}
	codes := make([]int64, len(list))
	for i := range list {
		if codes[i], err = w.id("cost_codes", list[i].CostCode, false); err != nil {
			return err
		}
	}
	summed := make(chan [][]any, 1)
	go func() { summed <- monthSums(list, codes, g, load) }() // while rows are written
	b := w.batch("postings", `project_id, `+ledger.Columns+`, supplier, note, activity`)
	for _, i := range g.order {
		p := &list[i]
		b.Add(g.project[i], load, int64(p.Row), codes[i], int64(p.Date), int64(p.Amount), string(p.Currency), p.Centre, p.Document,
			p.Supplier, p.Note, p.Activity)
	}
	if err := b.Done(); err != nil {
		return err
	}
	kept := bulk.Into(w.ctx, w.tx, "ledger_sums", "project_id, load_id, sums")
	for _, row := range <-summed {
		kept.Add(row...)
	}
	return kept.Done()
}

// monthSums are the rows of sums by month of the projects of a ledger.
func monthSums(list []kept.PostingRow, codes []int64, g *grouped, load int64) (rows [][]any) {
	var sums cost.MonthSums
	for at, i := range g.order {
		p := &list[i]
		sums.Add(&cost.Posting{Code: int32(codes[i]), Date: p.Date, Amount: p.Amount, Currency: p.Currency, Centre: p.Centre,
			Document: p.Document, Ref: fact.Ref{Load: load, Row: p.Row}})
		if at+1 == len(g.order) || g.project[g.order[at+1]] != g.project[i] {
			rows = append(rows, []any{g.project[i], load, ledger.Encode(sums.Take())})
		}
	}
	return rows
}

// delivered writes one revision per project of a file whose rows are added, so that it is known who sent them.
func (w *writer) delivered(g *grouped, load int64, kind record.Kind) error {
	for at := 0; at < len(g.order); {
		project, end := g.project[g.order[at]], at
		for end < len(g.order) && g.project[g.order[end]] == project {
			end++
		}
		if _, err := w.tx.ExecContext(w.ctx, `INSERT INTO revisions (load_id, kind, project_id, rows) VALUES (?, ?, ?, ?)`,
			load, kind, project, end-at); err != nil {
			return err
		}
		at = end
	}
	return nil
}
