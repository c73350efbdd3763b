package export

import (
	"fmt"
	"io"

	"turret/internal/core/capacity"
	"turret/internal/core/fact"
	"turret/internal/core/money"
)

// CapacityHeads are the columns of capacity as a file.
var CapacityHeads = []string{"by", "period", "available_hours", "demand_hours", "unstaffed_hours", "load", "available_fte", "demand_fte",
	"fte_gap", "booked_hours", "utilisation", "billable_utilisation", "planned_utilisation"}

// Capacity is what people have and what is wanted of them, one row for each name and span. Cells of what cannot be told are empty.
type Capacity struct {
	Rows  []capacity.Row
	Spans []capacity.Span
}

func (c *Capacity) cells(r *capacity.Row) []string {
	return []string{r.Name, c.Spans[r.Span].Name, hundredths(capacity.Hours(r.Available)), hundredths(capacity.Hours(r.Demand)),
		hundredths(capacity.Hours(r.Unstaffed)), sixths(r.Load()), fte(r.FTE(r.Available)), fte(r.FTE(r.Demand)), fte(r.Gap()),
		hundredths(capacity.Hours(r.Booked)), sixths(r.Utilisation()), sixths(r.BillableUtilisation()), sixths(r.PlannedUtilisation())}
}

// hundredths writes a number of hundredths with two decimals.
func hundredths(n int64) string {
	sign := ""
	if n < 0 {
		sign, n = "-", -n
	}
	return fmt.Sprintf("%s%d.%02d", sign, n/100, n%100)
}

func fte(n fact.Int) string {
	if !n.Given {
		return ""
	}
	return hundredths(n.N)
}

// sixths writes a ratio with six decimals, half to even; empty where there is none.
func sixths(r fact.Ratio) string {
	if !r.Given() {
		return ""
	}
	n := int64(money.MulDiv(money.Amount(r.Num), 1_000_000, r.Den))
	sign := ""
	if n < 0 {
		sign, n = "-", -n
	}
	return fmt.Sprintf("%s%d.%06d", sign, n/1_000_000, n%1_000_000)
}

// CSV writes the rows under CapacityHeads.
func (c *Capacity) CSV(w io.Writer) error {
	rows := make([][]string, 0, len(c.Rows))
	for i := range c.Rows {
		rows = append(rows, c.cells(&c.Rows[i]))
	}
	return under(w, CapacityHeads, rows)
}

// JSON writes the rows as objects of texts and numbers, null where something cannot be told.
func (c *Capacity) JSON(w io.Writer) error {
	list := []map[string]any{}
	for i := range c.Rows {
		list = append(list, object(CapacityHeads, c.cells(&c.Rows[i]), 2))
	}
	return indented(w, list)
}
