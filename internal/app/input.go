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

// String says what the cell holds.
func (c Cell) String() string {
	return [...]string{"text", "a code", "an amount", "a number", "a whole number", "a percentage from 0 to 100", "a day",
		"a month as YYYY-MM", "one of a list",
		"a currency code such as EUR"}[c]
}

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
	text("cost_centre", "who bears it"), text("change", "reference of the approved change; empty for the original"),
	text("note", "anything")}

var inputs = map[Kind]*Input{
	Structure: {Title: "Structure", Says: "Portfolios and programmes, the tree that projects hang in.", Key: []string{"code"},
		Columns: []Column{
			must(code("code", "key, case-sensitive")), must(text("name", "as shown")),
			must(choice("level", "what it is", "portfolio", "programme")), refer("parent", Structure, "the one above"),
			text("owner", "who answers for it")}},
	Projects: {Title: "Projects", Says: "One row per project.", Key: []string{"code"}, Columns: []Column{
		must(code("code", "key, case-sensitive")), must(text("name", "as shown")), refer("parent", Structure, "programme or portfolio"),
		text("lead", "who leads it"), text("sponsor", "who wants it"), text("category", "your own grouping"),
		text("stage", "where it stands in its life"),
		cell("currency", Currency, "of its budget; the reporting one where empty"), cell("planned_start", Day, ""),
		cell("planned_finish", Day, ""),
		cell("required_finish", Day, "when it is needed"), choice("schedule_mode", "reported: dates as sent; driven: dates follow the "+
			"links", "reported", "driven"),
		choice("earned_value", "whether progress is weighed against cost", "yes", "no"), text("business_unit", ""),
		choice("status", "", "open", "proposed", "closed", "cancelled")}},
	Calendars: {Title: "Calendars", Says: "Working weekdays and exceptions; default is the organisation's.",
		Key: []string{"calendar", "date", "weekday"}, Columns: []Column{
			must(code("calendar", "its name")), cell("date", Day, "an exception; or else a weekday"),
			choice("weekday", "", "mon", "tue", "wed", "thu", "fri", "sat", "sun"), must(choice("working", "", "no", "yes")),
			text("name", "such as a holiday's")}},
	Activities: {Title: "Schedule", Says: "Activities and milestones with baseline, expected and actual dates.",
		Key: []string{"project", "code"}, Columns: []Column{
			projectCode, must(code("code", "key within the project")), must(text("name", "as shown")),
			code("parent", "code of the summary above"),
			choice("kind", "", "activity", "summary", "milestone", "deliverable"), cell("baseline_start", Day, "as first agreed"),
			cell("baseline_finish", Day, "as first agreed"),
			cell("start", Day, "as expected now"), cell("finish", Day, "as expected now"), cell("actual_start", Day, ""),
			cell("actual_finish", Day, ""),
			cell("duration", Whole, "working days"), cell("remaining", Whole, "working days left"),
			cell("percent_complete", Percent, "0 to 100"),
			cell("weight", Number, "share in its summary"), choice("ev_method", "how progress is credited", "percent", "0/100", "50/50",
				"25/75", "milestones", "points", "effort"),
			choice("report_to", "how far up it is reported", "project", "programme", "portfolio"), text("owner", ""),
			text("party", "who does it"),
			refer("calendar", Calendars, "default where empty"), cell("not_before", Day, ""), cell("not_after", Day, ""),
			cell("low", Whole, "working days at best"), cell("likely", Whole, ""), cell("high", Whole, "at worst")}},
	Links: {Title: "Dependencies", Says: "What waits for what, within a project or across.", Key: []string{"project", "from_project",
		"from", "to_project", "to", "type"}, Columns: []Column{
		projectCode, must(code("from", "activity before")), must(code("to", "activity after")),
		choice("type", "FS: finish to start", "FS", "SS", "FF", "SF"),
		cell("lag", Whole, "working days"), refer("from_project", Projects, "where it is another"),
		refer("to_project", Projects, "where it is another")}},
	CostCodes: {Title: "Cost codes", Says: "The tree that amounts are booked on.", Key: []string{"code"}, Columns: []Column{
		must(code("code", "key, case-sensitive")), must(text("name", "as shown")), refer("parent", CostCodes, "the one above"),
		choice("type", "", "capital", "operating"), choice("closed", "takes no more postings", "no", "yes"),
		choice("contingency", "holds what is kept back, drawn by approved changes", "no", "yes")}},
	Budget: {Title: "Budget", Says: "What is approved, by cost code and month or span.", Key: []string{"project", "cost_code", "month",
		"from", "to", "change", "cost_centre", "currency"}, Columns: planColumns},
	Forecast: {Title: "Forecast", Says: "What is still expected to be spent, by cost code and month or span.",
		Key: []string{"project", "cost_code", "month", "from", "to", "change", "cost_centre", "currency"}, Columns: planColumns},
	Actuals: {Title: "Actual costs", Says: "Postings of the ledger. They are added to those taken in before.",
		Key: []string{"project", "cost_code", "date", "document", "amount"}, Columns: []Column{
			projectCode, must(refer("cost_code", CostCodes, "code of the tree of cost codes")), must(cell("date", Day, "of the posting")),
			must(cell("amount", Units, "in major units, negative for a credit")), currencyOf, text("cost_centre", ""),
			text("document", "number of the voucher"),
			text("supplier", ""), text("note", "")}},
	Statuses: {Title: "Status", Says: "What the lead declares, with a commentary.", Key: []string{"project"}, Columns: []Column{
		projectCode, choice("overall", "", healths...), choice("schedule", "", healths...), choice("cost", "", healths...),
		choice("scope", "", healths...),
		choice("risk", "", healths...), choice("benefit", "", healths...), cell("percent_complete", Percent, "0 to 100"),
		text("commentary", "in sentences")}},
	Rates: {Title: "Rates", Says: "Exchange rates: reporting units per unit.", Key: []string{"currency", "month", "kind"},
		Columns: []Column{
			must(cell("currency", Currency, "ISO 4217 code")), must(cell("month", Month, "YYYY-MM")),
			must(cell("rate", Number, "reporting units per unit")),
			choice("kind", "month: for that month alone; plan: from that month on", "month", "plan")}},
}

// moneyInputs are what money is told by besides budget, forecast and ledger.
var moneyInputs = map[Kind]*Input{
	Commitments: {Title: "Commitments", Says: "What is ordered and not invoiced yet.", Key: []string{"project", "document", "cost_code"},
		Columns: []Column{
			projectCode, must(refer("cost_code", CostCodes, "code of the tree of cost codes")),
			must(code("document", "number of the order")),
			must(cell("amount", Units, "what is still to be invoiced, in major units")), cell("due", Day, "when the invoice is expected"),
			currencyOf, text("supplier", "")}},
	Changes: {Title: "Changes", Says: "Changes of budget and dates: asked for, approved, refused.", Key: []string{"project", "change"},
		Columns: []Column{
			projectCode, must(code("change", "its reference; budget lines that name it count once it is approved")),
			must(text("title", "what is asked for")),
			must(choice("state", "", "requested", "approved", "refused")), cell("amount", Units, "effect on the budget, in major units"),
			currencyOf,
			cell("days", Whole, "effect on the finish, in working days"), refer("cost_code", CostCodes, "where the money is meant to go"),
			cell("from", Day, "first day that it is meant for"), cell("to", Day, "last day"),
			choice("profile", "how it is spread over these days", "even", "early", "late", "bell"),
			text("reason", "why it is asked for"), text("requested_by", ""), cell("requested_on", Day, ""), text("decided_by", ""),
			cell("decided_on", Day, ""), text("answer", "why it was decided so")}},
	Funding: {Title: "Funding", Says: "Who pays what share, from when.", Key: []string{"project", "funder", "from", "cost_centre"},
		Columns: []Column{
			projectCode, must(text("funder", "who pays")), must(cell("percent", Percent, "share of the cost; the shares of a month add up "+
				"to 100")),
			cell("from", Month, "first month it holds for; always where empty"),
			text("cost_centre", "of whose cost; of all others where empty"),
			cell("granted", Units, "what the funder has agreed to pay in all"), cell("received", Units, "what has come so far"),
			currencyOf}},
	Revenue: {Title: "Revenue", Says: "What is to be billed and has been, month by month.", Key: []string{"project", "code", "month"},
		Columns: []Column{
			projectCode, must(code("code", "key within the project")), must(text("name", "what is billed")),
			must(cell("month", Month, "YYYY-MM")),
			must(cell("planned", Units, "in major units")), cell("billed", Units, "what was billed of it"),
			cell("billed_on", Day, "when; the month's first day where empty"),
			text("client", "to whom"), choice("type", "", "fixed fee", "time-based"), code("milestone", "activity that it waits for"),
			currencyOf}},
	People: {Title: "People", Says: "Who works here, with their hourly rates.", Key: []string{"code"}, Columns: []Column{
		must(code("code", "key, case-sensitive")), must(text("name", "as shown")), text("role", ""), text("team", ""),
		text("cost_centre", ""),
		cell("from", Day, "first day here"), cell("to", Day, "last day here"), cell("hours_per_day", Number, "hours of a working day"),
		cell("utilisation_target", Percent, "share of the hours meant for projects"), cell("cost_rate", Units, "cost of an hour"),
		cell("billing_rate", Units, "price of an hour"), currencyOf}},
	LabourRates: {Title: "Hourly rates", Says: "What an hour costs and is billed at from a day on: of a person, else a role, else a " +
		"cost code.", Key: []string{"person", "role", "cost_code", "from"}, Columns: []Column{
		refer("person", People, "whose hour; or else a role or a cost code"), text("role", "of all in it"),
		refer("cost_code", CostCodes, ""),
		cell("from", Day, "first day it holds for; always where empty"), cell("cost_rate", Units, "cost of an hour"),
		cell("billing_rate", Units, "price of an hour"), currencyOf}},
	Timesheets: {Title: "Timesheets", Says: "Hours worked. They are added to those taken in before.",
		Key: []string{"person", "project", "date", "activity", "hours"}, Columns: []Column{
			must(refer("person", People, "code of the person")), projectCode, must(cell("date", Day, "")),
			must(cell("hours", Number, "0 to 24, negative to correct")),
			code("activity", "code of the activity"), choice("billable", "", "no", "yes"),
			refer("cost_code", CostCodes, "whose hourly rate counts where person and role have none")}},
	Allocations: {Title: "Allocations", Says: "What a portfolio or programme has been given for a year, from above.",
		Key: []string{"node", "year", "currency"}, Columns: []Column{
			must(refer("node", Structure, "code of the portfolio or programme")), must(cell("year", Whole, "such as 2027")),
			must(cell("amount", Units, "in major units")),
			currencyOf, text("note", "")}},
}

// registerInputs are what projects keep lists of, and who works on them.
var registerInputs = map[Kind]*Input{
	Risks: {Title: "Risks", Says: "What may happen, how likely it is and what it would cost.", Key: []string{"project", "code"},
		Columns: []Column{
			projectCode, must(code("code", "key within the project")), must(text("title", "what may happen")),
			cell("likelihood", Whole, "1 to 5"),
			cell("consequence", Whole, "1 to 5"), cell("probability", Percent, "0 to 100"),
			cell("cost_impact", Units, "what it would cost, in major units"),
			cell("days_impact", Whole, "working days that the finish would move"),
			refer("cost_code", CostCodes, "where the cost would fall"),
			code("activity", "code of the activity it would delay"), text("owner", "who watches it"),
			text("response", "what is done about it"),
			cell("review", Day, "when it is to be looked at next"), cell("due", Day, "when the response is due"),
			text("state", "open, occurred or closed"), currencyOf}},
	Issues: {Title: "Issues", Says: "What has happened and must be dealt with.", Key: []string{"project", "code"}, Columns: []Column{
		projectCode, must(code("code", "key within the project")), must(text("title", "what it is")),
		text("priority", "high, medium or low"), text("owner", "who deals with it"),
		cell("due", Day, "when it is to be dealt with"), text("state", "open or closed"),
		code("from_risk", "code of the risk that became it")}},
	Actions: {Title: "Actions", Says: "What somebody is to do.", Key: []string{"project", "code"}, Columns: []Column{
		projectCode, must(code("code", "key within the project")), must(text("title", "what is to be done")),
		text("owner", "who does it"), cell("due", Day, ""),
		text("state", "open or done"), cell("percent_complete", Percent, "0 to 100"),
		code("source", "code of the risk or issue that it comes from")}},
	Backlog: {Title: "Backlog", Says: "Items that a project works off, in points.", Key: []string{"project", "code"}, Columns: []Column{
		projectCode, must(code("code", "key within the project")), must(text("title", "what it is")), cell("points", Number, "its size"),
		choice("state", "", "todo", "doing", "done", "accepted"), text("iteration", "in which it is worked on"),
		cell("added", Day, "when it came in; at the start where empty"),
		cell("accepted", Day, "when it was accepted"), cell("rank", Whole, "its place in the order"), text("owner", ""),
		text("blocked", "by what, where it is")}},
	Benefits: {Title: "Benefits", Says: "What a project is to bring, month by month.", Key: []string{"project", "code", "month"},
		Columns: []Column{
			projectCode, must(code("code", "key within the project")), must(text("name", "what it brings")),
			must(cell("month", Month, "YYYY-MM")),
			cell("planned", Units, "in major units"), cell("forecast", Units, "as expected now"), cell("achieved", Units, "what came"),
			currencyOf}},
	Assignments: {Title: "Assignments", Says: "Who works how much on what, by name or by role.",
		Key: []string{"project", "person", "role", "from", "activity"}, Columns: []Column{
			refer("person", People, "code of the person; or else a role"), text("role", "where nobody is named yet"), projectCode,
			must(cell("from", Day, "first day")),
			must(cell("to", Day, "last day")), must(cell("percent", Percent, "of a working day")),
			code("activity", "code of the activity")}},
}

func init() {
	for _, more := range []map[Kind]*Input{moneyInputs, registerInputs} {
		for k, in := range more {
			inputs[k] = in
			records[k] = true
		}
	}
	for k, in := range inputs {
		in.Kind = k
	}
}

// IsRecord reports whether rows of the kind are kept as records, by the columns of its description.
func (k Kind) IsRecord() bool { return records[k] }

var records = map[Kind]bool{}

// Adds reports whether rows of the kind are added to those there, where others take the place of theirs.
func (k Kind) Adds() bool { return k == Actuals || k == Timesheets }

// Money is kept month by month, so its months and days keep within these years.
const (
	FirstYear = 1980
	LastYear  = 2119
)

// MatrixKinds are the inputs that projects send period by period.
func MatrixKinds() []Kind { return []Kind{Activities, Budget, Forecast, Actuals, Statuses} }

// PerProject reports whether rows of the kind belong to projects.
func (k Kind) PerProject() bool { return k.Adds() || k.IsRevision() }
