package app

import (
	"fmt"
	"slices"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/money"
)

// Cell is the cell of a record by the name of its column.
func (f *File) Cell(i int, column string) string {
	at := slices.IndexFunc(f.Kind.Input().Columns, func(c Column) bool { return c.Name == column })
	if at < 0 {
		return ""
	}
	return f.Records[i].Cells[at]
}

// Person is one who works here.
type Person struct {
	Code, Name, Role, Team, Centre string
	From, To                       calendar.Date
	HoursPerDay, Target            fact.Int // ten-thousandths of an hour, hundredths of a percent
	Ref                            fact.Ref
}

// Allocation is what a portfolio or programme has been given for a year, from above.
type Allocation struct {
	Node     string
	Year     int
	Amount   money.Amount
	Currency money.Currency
	Note     string
	Ref      fact.Ref
}

// Booked is a row of a timesheet with the activity it names.
type Booked struct {
	cost.Booking
	Activity string
}

// records holds the rows of a record kind against the codes that they refer to, and settles their amounts.
func (g *gatherer) records() {
	in := g.file.Kind.Input()
	key := keyColumns(in)
	seen := map[string]int32{}
	for i := range g.file.Records {
		r := &g.file.Records[i]
		g.refers(in, r)
		g.settleRecord(in, r)
		if !g.file.Kind.Adds() {
			g.once(seen, keyOf(r.Cells, key), r.Row, in.Key[len(in.Key)-1], strings.TrimSpace(keyText(r.Cells, key)))
		}
		if g.file.Kind == People {
			g.people[r.Cells[0]] = true
		}
	}
	switch g.file.Kind {
	case Funding:
		g.funding()
	case LabourRates:
		g.labourRates()
	case Changes, Timesheets, Allocations, Revenue, Commitments, People, Risks, Backlog, Assignments:
		g.bounds()
	}
}

func (g *gatherer) refers(in *Input, r *RecordRow) {
	for at, c := range in.Columns {
		s := r.Cells[at]
		if s == "" || c.Refers == "" {
			continue
		}
		ok := true
		switch c.Refers {
		case Projects:
			g.project(s, r.Row, c.Name)
		case CostCodes:
			g.costCode(s, r.Row)
		case People:
			ok = g.people[s]
		case Structure:
			_, ok = g.nodes[s]
		}
		if !ok {
			g.fail(r.Row, c.Name, s, "a code in "+string(c.Refers)+" or taken in before")
		}
	}
}

// settleRecord writes amounts with the decimals of the row's currency, which is the project's or the reporting one where none is given.
func (g *gatherer) settleRecord(in *Input, r *RecordRow) {
	at := slices.IndexFunc(in.Columns, func(c Column) bool { return c.Name == "currency" })
	if at < 0 {
		return
	}
	project := ""
	for i, c := range in.Columns {
		if c.Refers == Projects {
			project = r.Cells[i]
		}
	}
	currency := money.Currency(r.Cells[at])
	for i, c := range in.Columns {
		if c.Cell != Units || r.Cells[i] == "" {
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

// funding refuses shares that do not add up to a whole, and says by how much they miss it.
func (g *gatherer) funding() {
	by := map[string][]cost.Share{}
	rows := map[string]int32{}
	for i := range g.file.Records {
		s := shareOf(g.file, i)
		p := g.file.Records[i].Cells[0]
		by[p] = append(by[p], s)
		rows[p] = g.file.Records[i].Row
	}
	for _, p := range g.file.ProjectsOf() {
		if _, err := cost.NewSharing(by[p]); err != nil {
			var sum *cost.SharesError
			row, value := rows[p], ""
			if asShares(err, &sum) {
				row, value = sum.Last.Row, money.Decimal(sum.Sum, 2)
			}
			g.fail(row, "percent", value, "percentages that add up to 100 in "+p+"; "+err.Error())
		}
	}
}

func asShares(err error, to **cost.SharesError) bool {
	e, ok := err.(*cost.SharesError) //nolint:errorlint // it comes unwrapped
	*to = e
	return ok
}

// shareOf reads what the sum of percentages needs.
func shareOf(f *File, i int) cost.Share {
	percent, _ := money.ParseDecimal(f.Cell(i, "percent"), 2)
	from, _ := calendar.ParseMonth(f.Cell(i, "from"))
	return cost.Share{Funder: f.Cell(i, "funder"), Percent: percent, From: from, Centre: f.Cell(i, "cost_centre"),
		Ref: fact.Ref{Row: f.Records[i].Row}}
}

func (g *gatherer) labourRates() {
	for i := range g.file.Records {
		n := 0
		for _, c := range []string{"person", "role", "cost_code"} {
			if g.file.Cell(i, c) != "" {
				n++
			}
		}
		if n != 1 {
			g.fail(g.file.Records[i].Row, "person", g.file.Cell(i, "person"), "one of person, role and cost_code")
		}
		g.notNegative(i, "cost_rate", "billing_rate")
	}
}

func (g *gatherer) notNegative(i int, columns ...string) {
	for _, c := range columns {
		if s := g.file.Cell(i, c); strings.HasPrefix(s, "-") {
			g.fail(g.file.Records[i].Row, c, s, "0 or more")
		}
	}
}

// bounds refuses values that no such record has.
func (g *gatherer) bounds() {
	for i := range g.file.Records {
		row := g.file.Records[i].Row
		switch g.file.Kind {
		case Changes:
			from, to := g.file.Cell(i, "from"), g.file.Cell(i, "to")
			if (from == "") != (to == "") || to < from {
				g.fail(row, "to", to, "from and to both, the later last")
			}
		case Timesheets:
			if n, err := money.ParseDecimal(g.file.Cell(i, "hours"), 4); err == nil && (n > 24*cost.HourUnits || n < -24*cost.HourUnits) {
				g.fail(row, "hours", g.file.Cell(i, "hours"), "at most 24 hours a day")
			}
		case Allocations:
			if y := g.file.Cell(i, "year"); len(y) != 4 || y < "1900" {
				g.fail(row, "year", y, "a year such as 2027")
			}
		case People:
			g.notNegative(i, "cost_rate", "billing_rate", "hours_per_day")
		case Risks:
			for _, c := range []string{"likelihood", "consequence"} {
				if s := g.file.Cell(i, c); s != "" && (len(s) != 1 || s < "1" || s > "5") {
					g.fail(row, c, s, "a whole number from 1 to 5")
				}
			}
		case Backlog:
			g.notNegative(i, "points")
		case Assignments:
			if (g.file.Cell(i, "person") == "") == (g.file.Cell(i, "role") == "") {
				g.fail(row, "person", g.file.Cell(i, "person"), "a person or a role, not both")
			}
			if from, to := g.file.Cell(i, "from"), g.file.Cell(i, "to"); to < from {
				g.fail(row, "to", to, "a day on or after "+from)
			}
		}
	}
}

// onClosed warns of amounts planned on cost codes that take no more.
func (g *gatherer) onClosed(files []*File) []Problem {
	var list []Problem
	seen := map[string]bool{}
	for _, f := range files {
		for i := range f.Lines {
			l := &f.Lines[i]
			if key := f.Name + l.CostCode; g.closed[l.CostCode] && f.Kind == Forecast && !seen[key] {
				seen[key] = true
				list = append(list, Problem{f.Name, l.Row, "cost_code", l.CostCode,
					fmt.Sprintf("a code that still takes amounts; %s is closed, and the forecast on it stays as sent", l.CostCode)})
			}
		}
	}
	return list
}
