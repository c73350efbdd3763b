package intake

import (
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"turret/internal/app/fault"
)

// Choice is one thing in which a mapping departs from what the sheet itself tells.
type Choice struct {
	ID         string
	Says       string
	Once       bool // for this file alone
	Fixed      bool // it cannot be said whether it is remembered: what was done to rows never is, the kind always
	Remembered bool // from a file before
}

// part is one statement of a mapping. Its id says what it is about, whatever is said.
type part struct{ id, says string }

const between = "\x1f"

func idOf(words ...string) string { return strings.Join(words, between) }

// parts are all statements of a mapping, in the order in which they are told.
func (m *Mapping) parts() []part {
	list := []part{{"kind", "read as " + m.Kind.Title()}}
	if m.Skip {
		list[0] = part{"skip", "the sheet is left out"}
	}
	for _, head := range slices.Sorted(maps.Keys(m.Columns)) {
		says := fmt.Sprintf("“%s” is %s", head, inWords(m.Columns[head]))
		if m.Columns[head] == "" {
			says = fmt.Sprintf("“%s” is ignored", head)
		}
		list = append(list, part{idOf("column", head), says})
	}
	for _, column := range slices.Sorted(maps.Keys(m.Values)) {
		for _, says := range slices.Sorted(maps.Keys(m.Values[column])) {
			list = append(list, part{idOf("value", column, says),
				fmt.Sprintf("“%s” in %s means %s", says, inWords(column), m.Values[column][says])})
		}
	}
	for _, column := range slices.Sorted(maps.Keys(m.Factors)) {
		if m.Factors[column] > 1 {
			list = append(list, part{idOf("factor", column), fmt.Sprintf("%s times %d", inWords(column), m.Factors[column])})
		}
	}
	for _, column := range slices.Sorted(maps.Keys(m.Fixed)) {
		list = append(list, part{idOf("fixed", column), fmt.Sprintf("%s is %s in every row", inWords(column), m.Fixed[column])})
	}
	for _, says := range m.LeaveOut {
		list = append(list, part{idOf("leave", says), "rows of " + says + " are left out"})
	}
	if m.Clear {
		list = append(list, part{"clear", "columns that are not there are emptied"})
	}
	if m.Round {
		list = append(list, part{"round", "amounts are rounded"})
	}
	return append(list, m.Dialect.parts()...)
}

// inWords is the name of a column as it is said.
func inWords(column string) string { return strings.ReplaceAll(column, "_", " ") }

func (d *Dialect) parts() []part {
	var list []part
	for _, x := range [][3]string{{"encoding", "written in", d.Encoding}, {"separator", "cells parted by", d.Separator},
		{"decimal", "decimals by", d.Decimal}, {"dates", "dates as", d.Dates}} {
		if x[2] != "" {
			list = append(list, part{x[0], x[1] + " " + x[2]})
		}
	}
	if d.HeadRow != 0 {
		list = append(list, part{"head", fmt.Sprintf("heads in row %d", d.HeadRow)})
	}
	return list
}

// Choices lists in what a sheet is read otherwise than it was recognised by itself, and what was done to its rows.
func (s *Sheet) Choices() []Choice {
	var list []Choice
	found := s.Found.parts()
	var held []part
	if s.Held != nil {
		held = s.Held.parts()
	}
	now := s.Mapping.parts()
	for _, p := range now {
		if !slices.Contains(found, p) {
			list = append(list, Choice{ID: p.id, Says: p.says, Once: slices.Contains(s.Mapping.Once, p.id), Fixed: p.id == "kind",
				Remembered: slices.Contains(held, p)})
		}
	}
	for _, p := range found {
		if !slices.ContainsFunc(now, func(x part) bool { return x.id == p.id }) && p.id != "kind" && p.id != "skip" {
			list = append(list, Choice{ID: p.id, Says: "not: " + p.says, Once: slices.Contains(s.Mapping.Once, p.id),
				Remembered: s.Held != nil && !slices.Contains(held, p)})
		}
	}
	return append(list, s.Mapping.rowChoices()...)
}

func (m *Mapping) rowChoices() []Choice {
	var list []Choice
	for _, row := range slices.Sorted(maps.Keys(m.Cells)) {
		for _, head := range slices.Sorted(maps.Keys(m.Cells[row])) {
			list = append(list, Choice{ID: idOf("cell", fmt.Sprint(row), head), Once: true, Fixed: true,
				Says: fmt.Sprintf("row %d says “%s” in %s", row, m.Cells[row][head], head)})
		}
	}
	for _, row := range slices.Sorted(maps.Keys(m.Without)) {
		list = append(list, Choice{ID: idOf("row", fmt.Sprint(row)), Once: true, Fixed: true,
			Says: fmt.Sprintf("row %d is left out: %s", row, m.Without[row])})
	}
	return list
}

// With is the mapping with what a choice is about as another has it. The mapping itself stays as it is.
func (m Mapping) With(id string, other *Mapping) Mapping {
	m.Once = slices.DeleteFunc(slices.Clone(m.Once), func(x string) bool { return x == id })
	what, rest, _ := strings.Cut(id, between)
	one, two, _ := strings.Cut(rest, between)
	switch what {
	case "kind", "skip":
		m.Kind, m.Skip = other.Kind, other.Skip
	case "column":
		m.Columns = put(m.Columns, one, other.Columns)
	case "factor":
		m.Factors = put(m.Factors, one, other.Factors)
	case "fixed":
		m.Fixed = put(m.Fixed, one, other.Fixed)
	case "value":
		m.Values = maps.Clone(m.Values)
		if m.Values[one] = put(m.Values[one], two, other.Values[one]); len(m.Values[one]) == 0 {
			delete(m.Values, one)
		}
	case "leave":
		m.LeaveOut = slices.DeleteFunc(slices.Clone(m.LeaveOut), func(x string) bool { return x == one })
		if slices.Contains(other.LeaveOut, one) {
			m.LeaveOut = append(m.LeaveOut, one)
		}
	case "clear":
		m.Clear = other.Clear
	case "round":
		m.Round = other.Round
	case "cell", "row":
		m.withRow(what, one, two)
	default:
		m.Dialect.with(what, &other.Dialect)
	}
	return m
}

// withRow takes back what was done to a row.
func (m *Mapping) withRow(what, number, head string) {
	n, _ := strconv.ParseInt(number, 10, 32)
	row := int32(n)
	if what == "row" {
		m.Without = maps.Clone(m.Without)
		delete(m.Without, row)
		return
	}
	m.Cells = maps.Clone(m.Cells)
	if m.Cells[row] = put(m.Cells[row], head, nil); len(m.Cells[row]) == 0 {
		delete(m.Cells, row)
	}
}

func (d *Dialect) with(what string, other *Dialect) {
	switch what {
	case "encoding":
		d.Encoding = other.Encoding
	case "separator":
		d.Separator = other.Separator
	case "decimal":
		d.Decimal = other.Decimal
	case "dates":
		d.Dates = other.Dates
	case "head":
		d.HeadRow = other.HeadRow
	}
}

// put is a copy of a map with a key as another has it, or without where that has none.
func put[V any](m map[string]V, key string, other map[string]V) map[string]V {
	out := make(map[string]V, len(m)+1)
	maps.Copy(out, m)
	delete(out, key)
	if v, ok := other[key]; ok {
		out[key] = v
	}
	return out
}

// Undo is a sheet's mapping without a choice: it is read in that as it tells by itself.
func (s *Sheet) Undo(id string) (Mapping, error) { return s.Mapping.With(id, &s.Found), nil }

// Only marks a choice as one for this file alone, or as one to be remembered.
func (m Mapping) Only(id string, once bool) Mapping {
	m.Once = slices.DeleteFunc(slices.Clone(m.Once), func(x string) bool { return x == id })
	if once {
		m.Once = append(m.Once, id)
	}
	return m
}

// Lasting is what of a sheet's mapping is remembered: nothing that holds for this file alone.
func (s *Sheet) Lasting() Mapping {
	m := s.Mapping
	base := &s.Found
	if s.Held != nil {
		base = s.Held
	}
	for _, id := range s.Mapping.Once {
		m = m.With(id, base)
	}
	m.Once, m.Cells, m.Without = nil, nil, nil
	return m
}

// Bounds of what is done to the rows of one sheet by hand.
const (
	MaxHandRows   = 500
	MaxHandReason = 500
)

// Correct says what cells of some rows should say, by head as Plain makes it.
func (m Mapping) Correct(rows []int32, cells map[string]string) (Mapping, error) {
	if len(m.Cells)+len(rows) > MaxHandRows {
		return m, fault.Field("row", fmt.Sprint(len(rows)), fmt.Sprintf("at most %d rows corrected by hand; correct the file", MaxHandRows))
	}
	m.Cells = maps.Clone(m.Cells)
	if m.Cells == nil {
		m.Cells = map[int32]map[string]string{}
	}
	for _, row := range rows {
		of := maps.Clone(m.Cells[row])
		if of == nil {
			of = map[string]string{}
		}
		maps.Copy(of, cells)
		m.Cells[row] = of
	}
	return m, nil
}

// LeaveRows has rows not read, for a reason that stays with the load.
func (m Mapping) LeaveRows(rows []int32, reason string) (Mapping, error) {
	reason = strings.TrimSpace(reason)
	switch {
	case reason == "" || len(reason) > MaxHandReason:
		return m, fault.Field("reason", fault.Clip(reason, 60), "why the row is left out, in a sentence")
	case len(m.Without)+len(rows) > MaxHandRows:
		return m, fault.Field("row", fmt.Sprint(len(rows)), fmt.Sprintf("at most %d rows left out by hand; correct the file", MaxHandRows))
	}
	m.Without = maps.Clone(m.Without)
	if m.Without == nil {
		m.Without = map[int32]string{}
	}
	for _, row := range rows {
		m.Without[row] = reason
	}
	return m, nil
}

// ValueChoice is the id of the choice of what a value of a column means; the value as Plain makes it.
func ValueChoice(column, value string) string { return idOf("value", column, value) }
