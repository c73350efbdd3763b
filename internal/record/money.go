package record

var budget = &Input{Kind: Budget,
	Title: "Budget", Says: "What is approved, by cost code and month or span.", Key: []string{"project", "cost_code", "month",
		"from", "to", "change", "cost_centre", "currency", "activity"},
	Owner: OfProject, Rows: Revised, Money: true, Typed: true, Sent: true,
	Sample: "N-01|10|180000.00||2026-02-02|2026-05-29|even|EUR||||\n" +
		"N-01|21|1250000.00||2026-06-01|2027-02-26|bell|EUR||||\n" +
		"N-01|21|60000.00|2026-09||||EUR||CR-01|sheet piles|",
	Columns: planColumns}

var forecast = &Input{Kind: Forecast,
	Title: "Forecast", Says: "What is still expected to be spent, by cost code and month or span.",
	Key:   []string{"project", "cost_code", "month", "from", "to", "change", "cost_centre", "currency", "activity"},
	Owner: OfProject, Rows: Revised, Money: true, Typed: true, Sent: true,
	Sample: "N-01|21|95000.00|2026-11||||EUR||||\n" +
		"N-01|21|870000.00||2026-12-01|2027-03-12|late|EUR||||",
	Columns: planColumns}

var actuals = &Input{Kind: Actuals,
	Title: "Actual costs", Says: "Postings of the ledger. They are added to those taken in before.",
	Key:   []string{"project", "cost_code", "date", "document", "amount"},
	Owner: OfProject, Rows: Added, Money: true, Typed: true, Sent: true,
	Sample: "N-01|10|2026-05-18|176400.00|EUR||4711|Design office||\n" +
		"N-01|21|2026-09-30|212350.50|EUR||4712|Builder|first account|",
	Columns: []Column{
		projectCode, must(refer("cost_code", CostCodes, "code of the tree of cost codes")), must(cell("date", Day, "of the posting")),
		must(cell("amount", Units, "in major units, negative for a credit")), currencyOf, text("cost_centre", ""),
		text("document", "number of the voucher"),
		text("supplier", ""), text("note", ""), costActivity}}

var commitments = &Input{Kind: Commitments,
	Title: "Commitments", Says: "What is ordered and not invoiced yet.", Key: []string{"project", "document", "cost_code"},
	Owner: OfProject, Rows: Revised, Money: true,
	Sample: "N-01|21|PO-77|310000.00|2026-12-15|EUR|Builder|\n" +
		"N-01|21|PO-78|42500.00|2027-02-01|EUR|Crane hire|",
	Columns: []Column{
		projectCode, must(refer("cost_code", CostCodes, "code of the tree of cost codes")),
		must(code("document", "number of the order")),
		must(cell("amount", Units, "what is still to be invoiced, in major units")), cell("due", Day, "when the invoice is expected"),
		currencyOf, text("supplier", ""), costActivity}}

var changes = &Input{Kind: Changes,
	Title: "Changes", Says: "Changes of budget and dates: asked for, approved, refused.", Key: []string{"project", "change"},
	Owner: OfProject, Rows: Revised, Money: true, Check: checkChange,
	Sample: "N-01|CR-01|Sheet piles at the west bank|approved|60000.00|EUR||21|2026-09-01|2026-09-30|even|" +
		"Soft ground found|A. Person|2026-08-03|B. Person|2026-08-20|Cannot be left out\n" +
		"N-01|CR-02|Second handrail|requested|18000.00|EUR|5|21|2027-01-04|2027-02-26|even|Asked for by visitors|" +
		"A. Person|2026-10-22|||",
	Columns: []Column{
		projectCode, must(code("change", "its reference; budget lines that name it count once it is approved")),
		must(text("title", "what is asked for")),
		must(choice("state", "", "requested", "approved", "refused")), cell("amount", Units, "effect on the budget, in major units"),
		currencyOf,
		cell("days", Whole, "effect on the finish, in working days"), refer("cost_code", CostCodes, "where the money is meant to go"),
		cell("from", Day, "first day that it is meant for"), cell("to", Day, "last day"),
		choice("profile", "how it is spread over these days", "even", "early", "late", "bell"),
		text("reason", "why it is asked for"), text("requested_by", ""), cell("requested_on", Day, ""), text("decided_by", ""),
		cell("decided_on", Day, ""), text("answer", "why it was decided so")}}

var funding = &Input{Kind: Funding,
	Title: "Funding", Says: "Who pays what share, from when.", Key: []string{"project", "funder", "from", "cost_centre"},
	Owner: OfProject, Rows: Revised, Money: true, CheckAll: checkFunding,
	Sample: "N-01|Province|75|||975000.00|400000.00|EUR\n" +
		"N-01|Town|25|||325000.00|100000.00|EUR",
	Columns: []Column{
		projectCode, must(text("funder", "who pays")), must(cell("percent", Percent, "share of the cost; the shares of a month add up "+
			"to 100")),
		cell("from", Month, "first month it holds for; always where empty"),
		text("cost_centre", "of whose cost; of all others where empty"),
		cell("granted", Units, "what the funder has agreed to pay in all"), cell("received", Units, "what has come so far"),
		currencyOf}}

var revenue = &Input{Kind: Revenue,
	Title: "Revenue", Says: "What is to be billed and has been, month by month.", Key: []string{"project", "code", "month"},
	Owner: OfProject, Rows: Revised, Money: true,
	Sample: "N-01|R1|Mooring fees|2026-11|12000.00|11400.00|2026-11-30|Boat owners|fixed fee||EUR\n" +
		"N-01|R1|Mooring fees|2026-12|12000.00|||Boat owners|fixed fee||EUR",
	Columns: []Column{
		projectCode, must(code("code", "key within the project")), must(text("name", "what is billed")),
		must(cell("month", Month, "YYYY-MM")),
		must(cell("planned", Units, "in major units")), cell("billed", Units, "what was billed of it"),
		cell("billed_on", Day, "when; the month's first day where empty"),
		text("client", "to whom"), choice("type", "", "fixed fee", "time-based"), code("milestone", "activity that it waits for"),
		currencyOf}}

var allocations = &Input{Kind: Allocations,
	Title: "Allocations", Says: "What a portfolio or programme has been given for a year, from above.",
	Key:   []string{"node", "year", "currency"},
	Owner: OfNode, Money: true, Check: checkAllocation,
	Sample: "NORTH|2026|1500000.00|EUR|first round\n" +
		"NORTH|2027|900000.00|EUR|first round",
	Columns: []Column{
		must(refer("node", Structure, "code of the portfolio or programme")), must(cell("year", Whole, "such as 2027")),
		must(cell("amount", Units, "in major units")),
		currencyOf, text("note", "")}}

// planColumns are those of budget and forecast.
var planColumns = []Column{projectCode, must(refer("cost_code", CostCodes, "code of the tree of cost codes")),
	must(cell("amount", Units, "in major units, such as 1234.50")), cell("month", Month, "YYYY-MM; or else from and to"),
	cell("from", Day, "first day of a span"), cell("to", Day, "last day of a span"),
	choice("profile", "how the amount is spread over the span", "even", "early", "late", "bell"), currencyOf,
	text("cost_centre", "who bears it"), text("change", "reference of the approved change; empty for the original"),
	text("note", "anything"), costActivity}

// costActivity says what work an amount belongs to.
var costActivity = code("activity", "activity or deliverable that it is for; empty for the project as a whole")
