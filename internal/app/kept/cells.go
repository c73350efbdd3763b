package kept

import (
	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/health"
	"turret/internal/core/money"
	"turret/internal/record"
)

// Len is the number of rows read.
func (f *File) Len() int {
	if t, ok := typedKinds[f.Kind]; ok {
		return t.len(f)
	}
	return len(f.Records)
}

// Input describes the kind of the file with the columns of the office's own.
func (f *File) Input() *record.Input { return f.Kind.InputWith(f.Own) }

// Cells writes the ith row as files hold it, in the order of the columns of its description.
func (f *File) Cells(i int) []string {
	t, ok := typedKinds[f.Kind]
	if !ok {
		return f.Records[i].Cells
	}
	cells := t.cells(f, i)
	if f.Kind != record.Projects {
		return cells
	}
	for _, c := range f.Own {
		key, _ := c.Own()
		cells = append(cells, f.Projects[i].Own[key])
	}
	return cells
}

// Row is the number of the ith row in its file.
func (f *File) Row(i int) int32 {
	if t, ok := typedKinds[f.Kind]; ok {
		return t.row(f, i)
	}
	return f.Records[i].Row
}

// OwnerOf is the code of the project that the ith row belongs to, or of the node where it belongs to none; empty where rows of the kind
// belong to neither. No node has the code of a project.
func (f *File) OwnerOf(i int) string {
	if t, ok := typedKinds[f.Kind]; ok {
		return t.project(f, i)
	}
	if p := f.Cell(i, "project"); p != "" || !f.Kind.OfNodes() {
		return p
	}
	return f.Cell(i, "node")
}

// OwnersOf lists the projects and nodes that rows belong to, each once, in the order in which they come.
func (f *File) OwnersOf() []string {
	seen := map[string]bool{}
	var list []string
	last := ""
	for i := range f.Len() {
		p := f.OwnerOf(i)
		if p != "" && p != last && !seen[p] {
			seen[p] = true
			list = append(list, p)
		}
		last = p
	}
	return list
}

func statusText(s health.Status) string {
	if s == health.NotAssessed {
		return ""
	}
	return s.String()
}

// Yes is a truth as files write it.
func Yes(b bool) string {
	if b {
		return "yes"
	}
	return "no"
}

// DayText is a day as files write it, empty for none.
func DayText(d calendar.Date) string {
	if d == 0 {
		return ""
	}
	return d.String()
}

func monthText(m calendar.Month) string {
	if m == 0 {
		return ""
	}
	return m.String()
}

func whole(n fact.Int) string { return decimal(n, 0) }

func decimal(n fact.Int, places int) string {
	switch {
	case !n.Given:
		return ""
	}
	return money.Plain(n.N, places)
}

// amountText writes an amount in its currency, or its units where that is not settled yet.
func amountText(units int64, a money.Amount, c money.Currency) string {
	if c == "" {
		return money.Plain(units, 4)
	}
	return a.Text(c)
}
