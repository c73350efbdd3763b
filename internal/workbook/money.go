package workbook

import (
	"encoding/csv"
	"encoding/json"
	"fmt"
	"io"
	"slices"
	"strings"

	"github.com/xuri/excelize/v2"

	"turret/internal/app/assess"
	"turret/internal/export"
	"turret/internal/record"

	appmoney "turret/internal/app/money"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/money"
)

// Money writes a table of projects by measures: as CSV, JSON, or a workbook whose totals are formulas over its rows.
func Money(w io.Writer, name string, a *assess.Assessment, t *appmoney.Table) error {
	switch {
	case strings.HasSuffix(name, ".xlsx"):
		return moneyBook(w, a, t)
	case strings.HasSuffix(name, ".json"):
		return moneyJSON(w, a, t)
	}
	out := csv.NewWriter(w)
	head := append([]string{"group", "project", "name", "as_of", "currency"}, t.Keys...)
	_ = out.Write(head)
	for i := range t.Groups {
		g := &t.Groups[i]
		for _, p := range g.Projects {
			_ = out.Write(append([]string{export.Safe(g.Name), export.Safe(p.Code), export.Safe(p.Name), a.Env.AsOf.String(),
				string(a.Env.Currency)},
				texts(t.Keys, ofProject(p), a)...))
		}
	}
	_ = out.Write(append([]string{"*", "*", "", a.Env.AsOf.String(), string(a.Env.Currency)}, texts(t.Keys, ofGroup(t.Total), a)...))
	out.Flush()
	return out.Error()
}

// source is what a row of a table by measures is of: its figures, and for a project its fields of the office's own.
type source struct {
	value func(measure.Key) measure.Value
	own   map[string]string
}

func ofProject(p *measure.Project) source { return source{p.Value, p.Own} }
func ofGroup(g *measure.Group) source     { return source{value: g.Value} }

// text is a cell as files hold it; false where there is nothing.
func (s source) text(key string, a *assess.Assessment) (string, bool) {
	if c, ok := a.OwnField(key); ok {
		name, _ := c.Own()
		return s.own[name], s.own[name] != ""
	}
	d, _ := measure.Lookup(key)
	v := s.value(d.Key)
	return v.Text(d.Unit, a.Env.Currency), v.Known
}

func texts(keys []string, of source, a *assess.Assessment) []string {
	var list []string
	for _, k := range keys {
		text, _ := of.text(k, a)
		if _, own := a.OwnField(k); own {
			text = export.Safe(text)
		}
		list = append(list, text)
	}
	return list
}

func moneyJSON(w io.Writer, a *assess.Assessment, t *appmoney.Table) error {
	row := func(group, code string, of source) map[string]any {
		m := map[string]any{"group": group, "project": code, "as_of": a.Env.AsOf.String(), "currency": a.Env.Currency}
		for _, k := range t.Keys {
			m[k] = nil
			if text, ok := of.text(k, a); ok {
				m[k] = text
			}
		}
		return m
	}
	list := []map[string]any{}
	for i := range t.Groups {
		for _, p := range t.Groups[i].Projects {
			list = append(list, row(t.Groups[i].Name, p.Code, ofProject(p)))
		}
	}
	e := json.NewEncoder(w)
	e.SetIndent("", "  ")
	return e.Encode(append(list, row("*", "*", ofGroup(t.Total))))
}

func moneyBook(w io.Writer, a *assess.Assessment, t *appmoney.Table) error {
	book := excelize.NewFile()
	defer book.Close()
	cur := a.Env.Currency
	if err := book.SetSheetName("Sheet1", "Money"); err != nil {
		return err
	}
	s := NewSheet(book, "Money", cur)
	s.Width(1, 1, 22)
	s.Width(2, 2, 10)
	s.Width(3, 3, 34)
	s.Width(4, 3+max(1, len(t.Keys)), 17)
	s.Freeze(3, 1)
	heads := []string{"group", "project", "name"}
	for _, k := range t.Keys {
		heads = append(heads, headOf(k, a))
	}
	s.Heads(heads...)
	for i := range t.Groups {
		g := &t.Groups[i]
		first := s.Row
		for _, p := range g.Projects {
			s.Line(s.measures(t.Keys, ofProject(p), a, []any{g.Name, p.Code, p.Name})...)
		}
		if t.By != "" {
			s.Line(s.totals(t.Keys, ofGroup(g.Group), a, fmt.Sprintf("Total %s", g.Name),
				func(col string) string { return fmt.Sprintf("SUBTOTAL(9,%s%d:%s%d)", col, first, col, s.Row-1) })...)
		}
	}
	last := s.Row - 1
	s.Line(s.totals(t.Keys, ofGroup(t.Total), a, "Total",
		func(col string) string { return fmt.Sprintf("SUBTOTAL(9,%s2:%s%d)", col, col, last) })...)
	if s.Err == nil {
		err := s.out.Flush()
		if err == nil {
			err = book.AutoFilter("Money", fmt.Sprintf("A1:%s%d", ColumnName(len(heads)), max(last, 1)), nil)
		}
		if err == nil {
			err = book.SetDocProps(&excelize.DocProperties{Title: "Money as of " + a.Env.AsOf.Human() + " in " + string(cur)})
		}
		s.Err = err
	}
	if s.Err != nil {
		return s.Err
	}
	return book.Write(w)
}

// measures are the cells of a row of figures.
func (s *Sheet) measures(keys []string, of source, a *assess.Assessment, lead []any) []any {
	for _, k := range keys {
		lead = append(lead, s.cellOf(k, of, a))
	}
	return lead
}

func (s *Sheet) cellOf(key string, of source, a *assess.Assessment) any {
	c, own := a.OwnField(key)
	if !own {
		d, _ := measure.Lookup(key)
		return s.Figure(d.Unit, of.value(d.Key), a.Env.Currency)
	}
	text, ok := of.text(key, a)
	if n, is := export.Float(text); is && c.Cell == record.Number {
		return n
	}
	if day, is := export.Day(text); is && c.Cell == record.Day {
		return excelize.Cell{StyleID: s.day, Value: day}
	}
	if !ok {
		return nil
	}
	return Text(text)
}

// headOf is the head of a column of a table by measures.
func headOf(key string, a *assess.Assessment) string {
	if c, own := a.OwnField(key); own {
		return c.Head()
	}
	d, _ := measure.Lookup(key)
	return d.Name
}

// totals are formulas where a column adds up, and figures where it is computed from sums.
func (s *Sheet) totals(keys []string, of source, a *assess.Assessment, name string,
	formula func(col string) string) []any {
	cells := []any{excelize.Cell{StyleID: s.Sum, Value: name}, nil, nil}
	for i, k := range keys {
		d, _ := measure.Lookup(k)
		switch {
		case d.Unit == measure.Money && d.Rollup == measure.Sum:
			cells = append(cells, excelize.Cell{StyleID: s.Sum, Formula: formula(ColumnName(4 + i))})
		default:
			cells = append(cells, s.cellOf(k, of, a))
		}
	}
	return cells
}

// Lines writes a project's money by line and month. CSV holds a row per line and month and JSON the same, as files of the kind do; the
// workbook holds a sheet that can be loaded again, and one of totals that are formulas over it.
func Lines(w io.Writer, name string, a *assess.Assessment, m *appmoney.Sheet) error {
	if strings.HasSuffix(name, ".xlsx") {
		return sheetBook(w, a, m)
	}
	codes := codesByID(a)
	heads := []string{"project", "cost_code", "amount", "month", "currency", "cost_centre", "change", "note", "activity", "kind",
		"supplier",
		"amount_" + strings.ToLower(string(m.Currency))}
	var rows [][]string
	for i := range m.Rows {
		r := &m.Rows[i]
		for j := range m.Months {
			own := m.Own(r, j)
			if own == 0 {
				continue
			}
			kind := r.Kind.String()
			if r.Actual != nil && m.First+calendar.Month(j) <= m.Locked {
				kind = "actual"
			}
			rows = append(rows, []string{m.Project.Code, codes[r.Code], own.Text(r.Currency), (m.First + calendar.Month(j)).String(),
				string(r.Currency), r.Centre, r.Change, r.Note, r.Activity, kind,
				r.Supplier, m.Worth(r, j).Text(m.Currency)})
		}
	}
	if strings.HasSuffix(name, ".json") {
		list := []map[string]string{}
		for _, row := range rows {
			x := map[string]string{}
			for i, h := range heads {
				x[h] = row[i]
			}
			list = append(list, x)
		}
		e := json.NewEncoder(w)
		e.SetIndent("", "  ")
		return e.Encode(list)
	}
	out := csv.NewWriter(w)
	_ = out.Write(heads)
	for _, row := range rows {
		for _, i := range []int{0, 1, 5, 6, 7, 9} {
			row[i] = export.Safe(row[i])
		}
		_ = out.Write(row)
	}
	out.Flush()
	return out.Error()
}

func codesByID(a *assess.Assessment) map[int32]string {
	codes := map[int32]string{}
	for _, k := range a.Masters.CostCodes {
		codes[int32(k.ID)] = k.Code
	}
	return codes
}

const spentSheet = "spent"

// lineHeads are the heads before the months of a plan that can be loaded again.
var lineHeads = []string{"project", "cost_code", "currency", "cost_centre", "change", "note", "activity"}

// sheetBook writes the plan, whole, as a sheet named after its kind with a column for each month; what was spent stands in a sheet of
// its own, and the totals of both by month and cost code are formulas.
func sheetBook(w io.Writer, a *assess.Assessment, m *appmoney.Sheet) error {
	book := excelize.NewFile()
	defer book.Close()
	plan := string(m.Kind)
	if m.Show == "actual" || m.Show == "commitment" || m.Show == "all" {
		plan = m.Show
	}
	if err := book.SetSheetName("Sheet1", plan); err != nil {
		return err
	}
	b := &bookOf{a: a, m: m, codes: codesByID(a)}
	n, err := b.lines(book, plan, func(r *appmoney.Row, i int) money.Amount { return r.Own[i] },
		func(r *appmoney.Row, i int) money.Amount { return r.Amounts[i] })
	if err != nil {
		return err
	}
	sheets := []linesOf{{plan, n}}
	if m.Show == "estimate" {
		if _, err := book.NewSheet(spentSheet); err != nil {
			return err
		}
		spent := func(list func(*appmoney.Row) []money.Amount) func(r *appmoney.Row, i int) money.Amount {
			return func(r *appmoney.Row, i int) money.Amount {
				if x := list(r); x != nil && m.First+calendar.Month(i) <= m.Locked {
					return x[i]
				}
				return 0
			}
		}
		n, err := b.lines(book, spentSheet, spent(func(r *appmoney.Row) []money.Amount { return r.Actual }),
			spent(func(r *appmoney.Row) []money.Amount { return r.ActualAmounts }))
		if err != nil {
			return err
		}
		sheets = append(sheets, linesOf{spentSheet, n})
	}
	if _, err := book.NewSheet("totals"); err != nil {
		return err
	}
	if err := b.totals(book, sheets); err != nil {
		return err
	}
	return book.Write(w)
}

type linesOf struct {
	sheet string
	rows  int
}

type bookOf struct {
	a     *assess.Assessment
	m     *appmoney.Sheet
	codes map[int32]string
}

// lines writes a row per line; beside the months in its own currency stand a formula for their sum, and the worth in the shown currency
// by which the totals add up.
func (b *bookOf) lines(book *excelize.File, sheet string, own, worth func(*appmoney.Row, int) money.Amount) (int, error) {
	m := b.m
	s := NewSheet(book, sheet, m.Currency)
	s.Width(1, len(lineHeads), 12)
	s.Width(len(lineHeads)+1, len(lineHeads)+m.Months*2+1, 13)
	s.Freeze(len(lineHeads), 1)
	heads := slices.Clone(lineHeads)
	for i := range m.Months {
		head := (m.First + calendar.Month(i)).String()
		if sheet == spentSheet { // nobody shall load what was spent as a plan
			head = "spent " + head
		}
		heads = append(heads, head)
	}
	heads = append(heads, "sum of the row")
	for i := range m.Months {
		heads = append(heads, fmt.Sprintf("%s in %s", (m.First+calendar.Month(i)).Name(), m.Currency))
	}
	s.Heads(heads...)
	first, last := ColumnName(len(lineHeads)+1), ColumnName(len(lineHeads)+m.Months)
	n := 0
	for i := range m.Rows {
		r := &m.Rows[i]
		cells := []any{m.Project.Code, b.codes[r.Code], string(r.Currency), r.Centre, r.Change, r.Note, r.Activity}
		filled := false
		for j := range m.Months {
			if a := own(r, j); a != 0 {
				filled = true
				cells = append(cells, excelize.Cell{StyleID: s.money, Value: major(a, r.Currency)})
			} else {
				cells = append(cells, nil)
			}
		}
		if !filled {
			continue
		}
		n++
		cells = append(cells, excelize.Cell{StyleID: s.Sum, Formula: fmt.Sprintf("SUM(%s%d:%s%d)", first, s.Row, last, s.Row)})
		for j := range m.Months {
			if a := worth(r, j); a != 0 {
				cells = append(cells, excelize.Cell{StyleID: s.money, Value: major(a, m.Currency)})
			} else {
				cells = append(cells, nil)
			}
		}
		s.Line(cells...)
	}
	return n, s.Done()
}

// totals writes, by cost code and month, formulas over the sheets of lines.
func (b *bookOf) totals(book *excelize.File, sheets []linesOf) error {
	m := b.m
	s := NewSheet(book, "totals", m.Currency)
	s.Width(1, 1, 12)
	s.Width(2, 2, 30)
	s.Width(3, m.Months+3, 14)
	s.Freeze(2, 1)
	heads := []string{"cost code", fmt.Sprintf("name, amounts in %s", m.Currency)}
	for i := range m.Months {
		heads = append(heads, (m.First + calendar.Month(i)).Name())
	}
	s.Heads(append(heads, "in all")...)
	var ids []int32
	for i := range m.Rows {
		if !slices.Contains(ids, m.Rows[i].Code) {
			ids = append(ids, m.Rows[i].Code)
		}
	}
	slices.Sort(ids)
	worth := len(lineHeads) + m.Months + 2 // the first column of worth
	for _, id := range ids {
		cells := []any{b.codes[id], strings.TrimPrefix(b.a.CodeName(id), b.codes[id]+" ")}
		for j := range m.Months {
			col := ColumnName(worth + j)
			var parts []string
			for _, l := range sheets {
				if l.rows > 0 {
					parts = append(parts, fmt.Sprintf("SUMIF('%[1]s'!$B$2:$B$%[2]d,$A%[3]d,'%[1]s'!%[4]s$2:%[4]s$%[2]d)", l.sheet, l.rows+
						1, s.Row, col))
				}
			}
			if parts == nil {
				parts = []string{"0"}
			}
			cells = append(cells, excelize.Cell{StyleID: s.money, Formula: strings.Join(parts, "+")})
		}
		cells = append(cells, excelize.Cell{StyleID: s.Sum, Formula: fmt.Sprintf("SUM(C%d:%s%d)", s.Row, ColumnName(m.Months+2), s.Row)})
		s.Line(cells...)
	}
	cells := []any{excelize.Cell{StyleID: s.Sum, Value: "Total"}, nil}
	for j := range m.Months + 1 {
		col := ColumnName(3 + j)
		cells = append(cells, excelize.Cell{StyleID: s.Sum, Formula: fmt.Sprintf("SUM(%s2:%s%d)", col, col, max(s.Row-1, 2))})
	}
	s.Line(cells...)
	return s.Done()
}
