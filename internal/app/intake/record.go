package intake

import (
	"errors"
	"fmt"
	"strings"

	"turret/internal/app/condition"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/core/money"
	"turret/internal/record"
)

// records holds the rows of a record kind against the codes that they refer to, and settles their amounts.
func (g *gatherer) records() {
	in := g.file.Kind.Input()
	key := KeyColumns(in)
	seen := map[string]int32{}
	for i := range g.file.Records {
		r := &g.file.Records[i]
		g.refers(in, r)
		g.settleRecord(in, r)
		if !g.file.Kind.Adds() {
			g.once(seen, KeyOf(r.Cells, key), r.Row, in.Key[len(in.Key)-1], strings.TrimSpace(KeyText(r.Cells, key)))
		}
		if g.file.Kind == record.People {
			g.people[g.file.Cell(i, "code")] = true
		}
	}
	g.bounds(in)
}

// bounds holds rows against what their kind allows.
func (g *gatherer) bounds(in *record.Input) {
	rows := make([]record.Row, len(g.file.Records))
	for i, r := range g.file.Records {
		rows[i] = record.Row{In: in, N: r.Row, Cells: r.Cells}
		if text := g.file.Cell(i, "trigger_when"); g.file.Kind == record.Risks && text != "" {
			g.trigger(r.Row, text)
		}
		if in.Check != nil {
			in.Check(rows[i], func(column, value, expected string) { g.fail(r.Row, column, value, expected) })
		}
	}
	if in.CheckAll != nil {
		in.CheckAll(rows, g.fail)
	}
}

// trigger refuses a condition on which a risk is to wake that is not understood.
func (g *gatherer) trigger(row int32, text string) {
	_, err := condition.Compile(text, "project")
	var wrong *fault.FieldError
	if errors.As(err, &wrong) {
		g.fail(row, "trigger_when", fault.Clip(text, 200), wrong.Expected)
	}
}

func (g *gatherer) refers(in *record.Input, r *kept.RecordRow) {
	for at, c := range in.Columns {
		s := r.Cells[at]
		if s == "" || c.Refers == "" {
			continue
		}
		ok := true
		switch c.Refers {
		case record.Projects:
			g.project(s, r.Row, c.Name)
		case record.CostCodes:
			g.costCode(s, r.Row)
		case record.People:
			ok = g.people[s]
		case record.Structure:
			_, ok = g.nodes[s]
		case record.Calendars:
			ok = g.calendars[s] || s == "default"
		}
		if !ok {
			g.fail(r.Row, c.Name, s, "a code in "+string(c.Refers)+" or taken in before")
		}
	}
}

// settleRecord writes amounts with the decimals of the row's currency, which is the project's or the reporting one where none is given.
func (g *gatherer) settleRecord(in *record.Input, r *kept.RecordRow) {
	at := in.At("currency")
	if at < 0 {
		return
	}
	project := ""
	for i, c := range in.Columns {
		if c.Refers == record.Projects {
			project = r.Cells[i]
		}
	}
	currency := money.Currency(r.Cells[at])
	for i, c := range in.Columns {
		if c.Cell != record.Units || r.Cells[i] == "" {
			continue
		}
		units, err := money.ParseDecimal(r.Cells[i], 4)
		if err != nil {
			g.fail(r.Row, c.Name, r.Cells[i], "an amount such as 1234.50")
			continue
		}
		before := len(g.problems)
		a := g.settle(project, &currency, units, r.Row)
		for k := before; k < len(g.problems); k++ {
			g.problems[k].Column = c.Name
		}
		r.Cells[i] = a.Text(currency)
	}
	if currency == "" {
		if currency = g.projects[project]; currency == "" {
			currency = g.reporting
		}
	}
	r.Cells[at] = string(currency)
}

// onClosed warns of amounts planned on cost codes that take no more.
func (g *gatherer) onClosed(files []*kept.File) []fault.Problem {
	var list []fault.Problem
	seen := map[string]bool{}
	for _, f := range files {
		for i := range f.Lines {
			l := &f.Lines[i]
			if key := f.Name + l.CostCode; g.closed[l.CostCode] && f.Kind == record.Forecast && !seen[key] {
				seen[key] = true
				list = append(list, fault.Problem{File: f.Name, Row: l.Row, Column: "cost_code", Value: l.CostCode,
					Expected: fmt.Sprintf("a code that still takes amounts; %s is closed, and the forecast on it stays as sent",
						l.CostCode)})
			}
		}
	}
	return list
}
