package edit

import (
	"fmt"
	"net/url"
	"slices"
	"strings"

	"turret/internal/app/edit"
	"turret/internal/app/intake"
	"turret/internal/core/calendar"
	"turret/internal/record"
)

// Part is some rows and columns of a table, edited within another page.
type Part struct {
	Kind, Title string
	Says        string
	Heads       []string
	Rows        []editRow
	Lists       []List
	More        int // rows that are not shown
	All         string
}

// maxPartRows bounds what a part shows; the whole table has the rest.
const maxPartRows = 40

// PartOf is the part of a table with some columns of the rows that keep picks by their cells, which it asks for by column. Columns named in
// fixed are only read. Where a save was refused, edits are what was typed and refused why.
func PartOf(g *edit.Grid, columns, fixed []string, keep func(cell func(string) string) bool, edits []intake.Edited,
	refused *edit.Error) Part {
	p := Part{Kind: string(g.Kind), Title: g.Kind.Title()}
	f := &editForm{g: g, v: &editView{}, fault: refused}
	for _, name := range columns {
		if i := g.Input.At(name); i >= 0 {
			f.columns = append(f.columns, i)
			p.Heads = append(p.Heads, g.Input.Columns[i].Head())
		}
	}
	for _, i := range f.columns {
		col := g.Input.Columns[i]
		if list := g.Choices[col.Name]; list != nil && len(col.Choices) == 0 && !slices.Contains(fixed, col.Name) {
			p.Lists = append(p.Lists, List{"list-" + col.Name, list})
		}
	}
	for i, cells := range g.Rows {
		if !keep(func(name string) string { return cellOf(g.Input, cells, name) }) {
			continue
		}
		if len(p.Rows) == maxPartRows {
			p.More++
			continue
		}
		e := slices.IndexFunc(edits, func(x intake.Edited) bool { return slices.Equal(x.Old, cells) })
		if e < 0 {
			e = f.clashing(cells)
		}
		row := f.row(i, cells, e, edits)
		row.N = p.Kind + "." + row.N
		for j := range row.Cells {
			c := &row.Cells[j]
			c.Name = "c-" + p.Kind + "." + strings.TrimPrefix(c.Name, "c-")
			if c.Fixed = c.Fixed || slices.Contains(fixed, c.Column); c.Fixed && c.Kind == "date" {
				if d, err := calendar.ParseDate(c.Value); err == nil {
					c.Value = d.Human()
				}
				c.Name = "" // it is only read
			}
		}
		p.Rows = append(p.Rows, row)
	}
	return p
}

// ByMonth lays a part with the amounts of single months out as lines by months: each cell is one of its rows. names are those of cost
// codes.
func (p *Part) ByMonth(g *edit.Grid, names map[string]string) {
	month, amount := g.Input.At("month"), g.Input.At("amount")
	if month < 0 || amount < 0 || len(p.Rows) == 0 {
		return
	}
	lines := map[string]int{}
	var months []string
	for i := range p.Rows {
		if m := strings.Split(p.Rows[i].Was, "\x1f")[month]; !slices.Contains(months, m) {
			months = append(months, m)
		}
	}
	slices.Sort(months)
	p.Heads = []string{"Cost code"}
	for _, m := range months {
		p.Heads = append(p.Heads, monthHead(m))
	}
	rows := p.Rows
	p.Rows = nil
	for i := range rows {
		was := strings.Split(rows[i].Was, "\x1f")
		line := slices.Clone(was)
		line[month], line[amount] = "", ""
		key := strings.Join(line, "\x1f")
		at, ok := lines[key]
		if !ok {
			at = len(p.Rows)
			lines[key] = at
			cells := make([]editCell, len(months)+1)
			cells[0] = editCell{Fixed: true, Value: lineName(g.Input, was, names)}
			for j := range months {
				cells[j+1] = editCell{Fixed: true, Value: "–"}
			}
			p.Rows = append(p.Rows, editRow{Cells: cells})
		}
		j := slices.Index(months, was[month])
		c := rows[i].Cells[slices.IndexFunc(rows[i].Cells, func(x editCell) bool { return x.Column == "amount" })]
		c.N, c.Was = rows[i].N, rows[i].Was
		p.Rows[at].Cells[j+1] = c
	}
}

// lineName tells a line from the others of its cost code.
func lineName(in *record.Input, was []string, names map[string]string) string {
	code := cellOf(in, was, "cost_code")
	words := []string{code, names[code]}
	for _, more := range []string{"currency", "cost_centre", "note"} {
		words = append(words, cellOf(in, was, more))
	}
	return strings.Join(slices.DeleteFunc(words, func(w string) bool { return w == "" }), " ")
}

// monthHead is a month as heads say it.
func monthHead(text string) string {
	if m, err := calendar.ParseMonth(text); err == nil {
		return m.Name()
	}
	return text
}

// PartEdits are the edits of a form with the part of a kind.
func PartEdits(q url.Values, kind record.Kind, project string) []intake.Edited {
	own := url.Values{}
	for name, values := range q {
		for _, what := range []string{"was-", "c-"} {
			if rest, ok := strings.CutPrefix(name, fmt.Sprintf("%s%s.", what, kind)); ok {
				own[what+rest] = values
			}
		}
	}
	return editsFrom(own, kind.Input(), project, false)
}

// cellOf is the cell of a column, empty where the kind has no such column.
func cellOf(in *record.Input, cells []string, name string) string {
	if i := in.At(name); i >= 0 {
		return cells[i]
	}
	return ""
}
