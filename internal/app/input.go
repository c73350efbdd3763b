package app

import "slices"

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
)

// Column is a column of an input. Refers names the kind whose codes stand in it.
type Column struct {
	Name     string
	Required bool
	Cell     Cell
	Choices  []string
	Refers   Kind
	Says     string
}

// Input is a kind of input as files hold it.
type Input struct {
	Kind    Kind
	Title   string
	Says    string
	Columns []Column
	Key     []string // the columns by which a row is known again
}

// Column finds a column by its name.
func (in *Input) Column(name string) (Column, bool) {
	i := slices.IndexFunc(in.Columns, func(c Column) bool { return c.Name == name })
	if i < 0 {
		return Column{}, false
	}
	return in.Columns[i], true
}

// Required lists the columns that a file must have.
func (in *Input) Required() []string {
	var names []string
	for _, c := range in.Columns {
		if c.Required {
			names = append(names, c.Name)
		}
	}
	return names
}

// Input describes the kind; nil for what is none.
func (k Kind) Input() *Input { return inputs[k] }

// Title is the kind in words.
func (k Kind) Title() string {
	if in := inputs[k]; in != nil {
		return in.Title
	}
	return string(k)
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

// planColumns are those of budget and forecast.
var planColumns = []Column{projectCode, must(refer("cost_code", CostCodes, "code of the tree of cost codes")),
	must(cell("amount", Units, "in major units, such as 1234.50")), cell("month", Month, "YYYY-MM; or else from and to"),
	cell("from", Day, "first day of a span"), cell("to", Day, "last day of a span"),
	choice("profile", "how the amount is spread over the span", "even", "early", "late", "bell"), currencyOf,
	text("cost_centre", "who bears it"), text("change", "reference of the approved change; empty for the original"), text("note", "anything")}

var inputs = map[Kind]*Input{
	Structure: {Title: "Structure", Says: "Portfolios and programmes, the tree that projects hang in.", Key: []string{"code"}, Columns: []Column{
		must(code("code", "key, case-sensitive")), must(text("name", "as shown")),
		must(choice("level", "what it is", "portfolio", "programme")), refer("parent", Structure, "the one above"), text("owner", "who answers for it")}},
	Projects: {Title: "Projects", Says: "One row per project.", Key: []string{"code"}, Columns: []Column{
		must(code("code", "key, case-sensitive")), must(text("name", "as shown")), refer("parent", Structure, "programme or portfolio"),
		text("lead", "who leads it"), text("sponsor", "who wants it"), text("category", "your own grouping"), text("stage", "where it stands in its life"),
		cell("currency", Currency, "of its budget; the reporting one where empty"), cell("planned_start", Day, ""), cell("planned_finish", Day, ""),
		cell("required_finish", Day, "when it is needed"), choice("schedule_mode", "reported: dates as sent; driven: dates follow the links", "reported", "driven"),
		choice("earned_value", "whether progress is weighed against cost", "yes", "no"), text("business_unit", ""),
		choice("status", "", "open", "proposed", "closed", "cancelled")}},
	Calendars: {Title: "Calendars", Says: "Working weekdays and exceptions; default is the organisation's.", Key: []string{"calendar", "date", "weekday"}, Columns: []Column{
		must(code("calendar", "its name")), cell("date", Day, "an exception; or else a weekday"),
		choice("weekday", "", "mon", "tue", "wed", "thu", "fri", "sat", "sun"), must(choice("working", "", "no", "yes")), text("name", "such as a holiday's")}},
	Activities: {Title: "Schedule", Says: "Activities and milestones with baseline, expected and actual dates.", Key: []string{"project", "code"}, Columns: []Column{
		projectCode, must(code("code", "key within the project")), must(text("name", "as shown")), code("parent", "code of the summary above"),
		choice("kind", "", "activity", "summary", "milestone", "deliverable"), cell("baseline_start", Day, "as first agreed"), cell("baseline_finish", Day, "as first agreed"),
		cell("start", Day, "as expected now"), cell("finish", Day, "as expected now"), cell("actual_start", Day, ""), cell("actual_finish", Day, ""),
		cell("duration", Whole, "working days"), cell("remaining", Whole, "working days left"), cell("percent_complete", Percent, "0 to 100"),
		cell("weight", Number, "share in its summary"), choice("ev_method", "how progress is credited", "percent", "0/100", "50/50", "25/75", "milestones", "points", "effort"),
		choice("report_to", "how far up it is reported", "project", "programme", "portfolio"), text("owner", ""), text("party", "who does it"),
		refer("calendar", Calendars, "default where empty"), cell("not_before", Day, ""), cell("not_after", Day, ""),
		cell("low", Whole, "working days at best"), cell("likely", Whole, ""), cell("high", Whole, "at worst")}},
	Links: {Title: "Dependencies", Says: "What waits for what, within a project or across.", Key: []string{"project", "from_project", "from", "to_project", "to", "type"}, Columns: []Column{
		projectCode, must(code("from", "activity before")), must(code("to", "activity after")), choice("type", "FS: finish to start", "FS", "SS", "FF", "SF"),
		cell("lag", Whole, "working days"), refer("from_project", Projects, "where it is another"), refer("to_project", Projects, "where it is another")}},
	CostCodes: {Title: "Cost codes", Says: "The tree that amounts are booked on.", Key: []string{"code"}, Columns: []Column{
		must(code("code", "key, case-sensitive")), must(text("name", "as shown")), refer("parent", CostCodes, "the one above"),
		choice("type", "", "capital", "operating"), choice("closed", "takes no more postings", "no", "yes")}},
	Budget:   {Title: "Budget", Says: "What is approved, by cost code and month or span.", Key: []string{"project", "cost_code", "month", "from", "to", "change", "cost_centre", "currency"}, Columns: planColumns},
	Forecast: {Title: "Forecast", Says: "What is still expected to be spent, by cost code and month or span.", Key: []string{"project", "cost_code", "month", "from", "to", "change", "cost_centre", "currency"}, Columns: planColumns},
	Actuals: {Title: "Actual costs", Says: "Postings of the ledger. They are added to those taken in before.", Key: []string{"project", "cost_code", "date", "document", "amount"}, Columns: []Column{
		projectCode, must(refer("cost_code", CostCodes, "code of the tree of cost codes")), must(cell("date", Day, "of the posting")),
		must(cell("amount", Units, "in major units, negative for a credit")), currencyOf, text("cost_centre", ""), text("document", "number of the voucher"),
		text("supplier", ""), text("note", "")}},
	Statuses: {Title: "Status", Says: "What the lead declares, with a commentary.", Key: []string{"project"}, Columns: []Column{
		projectCode, choice("overall", "", healths...), choice("schedule", "", healths...), choice("cost", "", healths...), choice("scope", "", healths...),
		choice("risk", "", healths...), choice("benefit", "", healths...), cell("percent_complete", Percent, "0 to 100"), text("commentary", "in sentences")}},
	Rates: {Title: "Rates", Says: "Exchange rates: reporting units per unit.", Key: []string{"currency", "month", "kind"}, Columns: []Column{
		must(cell("currency", Currency, "ISO 4217 code")), must(cell("month", Month, "YYYY-MM")), must(cell("rate", Number, "reporting units per unit")),
		choice("kind", "month: for that month alone; plan: from that month on", "month", "plan")}},
}

func init() {
	for k, in := range inputs {
		in.Kind = k
	}
}

// MatrixKinds are the inputs that projects send period by period.
func MatrixKinds() []Kind { return []Kind{Activities, Budget, Forecast, Actuals, Statuses} }

// PerProject reports whether rows of the kind belong to projects.
func (k Kind) PerProject() bool { return k == Actuals || k.IsRevision() }
