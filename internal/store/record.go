package store

import (
	"database/sql"
	"fmt"
	"slices"
	"strings"

	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/record"
)

// recordColumns are the columns of a record's table: those of its kind, without the project where that is kept by its id.
func recordColumns(k record.Kind) []record.Column {
	return slices.DeleteFunc(slices.Clone(k.Input().Columns), func(c record.Column) bool { return c.Name == "project" })
}

// recordNames are the names of these columns, of a table by an alias such as "t.".
func recordNames(k record.Kind, alias string) string {
	var names []string
	for _, c := range recordColumns(k) {
		names = append(names, alias+`"`+c.Name+`"`)
	}
	return strings.Join(names, ", ")
}

// recordSource says where the rows of a record kind lie.
func recordSource(k record.Kind) source {
	scan := func(f *kept.File, scan scanner) error { return scanRecord(f, scan) }
	table := string(k)
	switch {
	case k.IsRevision():
		s := revision(table, "", scan)
		s.columns = "t.row, v.load_id, p.code, " + recordNames(k, "t.")
		return s
	case k.Adds():
		return source{columns: "t.row, t.load_id, p.code, " + recordNames(k, "t."), from: table +
			` t JOIN projects p ON p.id = t.project_id`,
			load:    "t.load_id",
			project: "t.project_id", current: "t.load_id IN (SELECT id FROM standing_loads)", order: "t.load_id, t.row", scan: scan}
	}
	return source{columns: "t.row, t.load_id, '', " + recordNames(k, "t."), from: table + " t", load: "t.load_id", current: newestOf(k,
		"t"),
		order: "t.load_id, t.row", scan: scan}
}

// newestOf is true of the newest standing row of each key of a kind without projects.
func newestOf(k record.Kind, alias string) string {
	var same []string
	for _, c := range k.Input().Key {
		same = append(same, fmt.Sprintf(`x."%s" = %s."%s"`, c, alias, c))
	}
	return fmt.Sprintf(`%s.load_id = (SELECT max(x.load_id) FROM %s x JOIN standing_loads l ON l.id = x.load_id WHERE %s)`, alias, k,
		strings.Join(same, " AND "))
}

// scanRecord reads a row back into cells.
func scanRecord(f *kept.File, scan scanner) error {
	in := f.Kind.Input()
	row := kept.RecordRow{Cells: make([]string, len(in.Columns))}
	columns := recordColumns(f.Kind)
	texts, numbers := make([]string, len(columns)), make([]sql.NullInt64, len(columns))
	var project string
	into := []any{&row.Row, &row.Load, &project}
	for i, c := range columns {
		if isText(c) {
			into = append(into, &texts[i])
		} else {
			into = append(into, &numbers[i])
		}
	}
	if err := scan(into...); err != nil {
		return err
	}
	currency := money.Currency("")
	for i, c := range columns {
		if c.Name == "currency" {
			currency = money.Currency(texts[i])
		}
	}
	i := 0
	node := ""
	for at, c := range columns {
		if c.Name == "node" {
			node = texts[at]
		}
	}
	for at, c := range in.Columns {
		if c.Name == "project" {
			if node == "" {
				row.Cells[at] = project
			}
			continue
		}
		row.Cells[at] = texts[i]
		if !isText(c) {
			row.Cells[at] = cellText(c, numbers[i], currency)
		}
		i++
	}
	f.Records = append(f.Records, row)
	return nil
}

func isText(c record.Column) bool {
	return c.Cell == record.Text || c.Cell == record.Code || c.Cell == record.Choice || c.Cell == record.Currency
}

func cellText(c record.Column, n sql.NullInt64, currency money.Currency) string {
	if !n.Valid || n.Int64 == 0 && (c.Cell == record.Day || c.Cell == record.Month) {
		return ""
	}
	switch c.Cell {
	case record.Units:
		return money.Amount(n.Int64).Text(currency)
	case record.Day:
		return calendar.Date(n.Int64).String()
	case record.Month:
		return calendar.Month(n.Int64).String()
	}
	return money.Plain(n.Int64, places(c))
}

func places(c record.Column) int {
	switch c.Cell {
	case record.Number:
		return 4
	case record.Percent, record.Portion:
		return 2
	}
	return 0
}

// recordArgs are the values of a row for its table.
func recordArgs(f *kept.File, i int) ([]any, error) {
	in := f.Kind.Input()
	cells := f.Records[i].Cells
	currency := money.Currency(f.Cell(i, "currency"))
	var args []any
	for at, c := range in.Columns {
		if c.Name == "project" {
			continue
		}
		v, err := recordValue(c, cells[at], currency)
		if err != nil {
			return nil, fmt.Errorf("row %d, %s: %w", f.Records[i].Row, c.Name, err)
		}
		args = append(args, v)
	}
	return args, nil
}

func recordValue(c record.Column, s string, currency money.Currency) (any, error) {
	switch c.Cell {
	case record.Day, record.Month:
		if s == "" {
			return 0, nil
		}
		if c.Cell == record.Month {
			m, err := calendar.ParseMonth(s)
			return int64(m), err
		}
		d, err := calendar.ParseDate(s)
		return int64(d), err
	case record.Units:
		if s == "" {
			return nil, nil
		}
		a, err := money.Parse(s, currency)
		return int64(a), err
	case record.Number, record.Whole, record.Percent, record.Portion:
		if s == "" {
			return nil, nil
		}
		return money.ParseDecimal(s, places(c))
	}
	return s, nil
}

// holders lets nodes hold records as projects do, under an id of their own among those of projects.
func (w *writer) holders(f *kept.File) error {
	if !f.Kind.OfNodes() {
		return nil
	}
	for i := range f.Records {
		if node := f.Cell(i, "node"); node != "" {
			if _, err := w.id("projects", node, true); err != nil {
				return err
			}
		}
	}
	return nil
}

// records writes the rows of a record kind.
func (w *writer) records(f *kept.File, load int64) error {
	columns := recordNames(f.Kind, "")
	owner := func(i int) string { return f.OwnerOf(i) }
	row := func(i int) ([]any, error) {
		args, err := recordArgs(f, i)
		return append([]any{f.Records[i].Row}, args...), err
	}
	if err := w.holders(f); err != nil {
		return err
	}
	switch {
	case f.Kind.IsRevision():
		return w.revised(f, load, string(f.Kind), columns, len(f.Records), owner, row)
	case f.Kind.Adds():
		g, err := w.group(len(f.Records), owner)
		if err != nil {
			return err
		}
		if err := w.delivered(g, load, f.Kind); err != nil {
			return err
		}
		b := w.batch(string(f.Kind), "project_id, load_id, row, "+columns)
		for _, i := range g.order {
			args, err := row(int(i))
			if err != nil {
				return err
			}
			b.Add(append([]any{g.project[i], load}, args...)...)
		}
		return b.Done()
	}
	b := w.batch(string(f.Kind), "load_id, row, "+columns)
	for i := range f.Records {
		args, err := row(i)
		if err != nil {
			return err
		}
		b.Add(append([]any{load}, args...)...)
	}
	return b.Done()
}
