package record

// Money is kept month by month, so its months and days keep within these years.
const (
	FirstYear = 1980
	LastYear  = 2119
)

// Cell says what the cells of a column hold.
type Cell uint8

// The cells. Units are amounts, Number has up to four decimals, Whole none.
const (
	Text Cell = iota
	Code
	Units
	Number
	Whole
	Percent
	Day
	Month
	Choice
	Currency
	Portion // a percentage that may be above the whole
)

// String says what the cell holds.
func (c Cell) String() string {
	return [...]string{"text", "a code", "an amount", "a number", "a whole number", "a percentage from 0 to 100", "a day",
		"a month as YYYY-MM", "one of a list", "a currency code such as EUR",
		"a percentage of 0 or more, at most 10,000"}[c]
}

// Places are the decimals that cells of a number are kept with.
func (c Cell) Places() int {
	switch c {
	case Number:
		return 4
	case Percent, Portion:
		return 2
	}
	return 0
}

// Column is a column of an input. Refers names the kind whose codes stand in it.
type Column struct {
	Name     string
	Required bool
	Cell     Cell
	Choices  []string
	Refers   Kind
	Says     string
	Title    string // what stands over it where its name does not tell; empty for the name in words
}

// Owner reports whether what a row belongs to stands in the column: its project, or its node.
func (c Column) Owner() bool {
	return c.Name == "project" && c.Refers == Projects || c.Name == "node" && c.Refers == Structure
}

// must is a required column.
func must(c Column) Column { c.Required = true; return c }

func text(name, says string) Column { return Column{Name: name, Says: says} }
func code(name, says string) Column { return Column{Name: name, Cell: Code, Says: says} }
func refer(name string, k Kind, says string) Column {
	return Column{Name: name, Cell: Code, Refers: k, Says: says}
}
func cell(name string, c Cell, says string) Column { return Column{Name: name, Cell: c, Says: says} }
func choice(name, says string, values ...string) Column {
	return Column{Name: name, Cell: Choice, Choices: values, Says: says}
}

var (
	healths     = []string{"on track", "watch", "act"}
	projectCode = must(refer("project", Projects, "code of the project"))
	currencyOf  = cell("currency", Currency, "ISO 4217 code; the project's where empty")
)
