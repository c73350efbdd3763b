package record

import (
	"turret/internal/core/cost"
	"turret/internal/core/money"
)

var people = &Input{Kind: People,
	Title: "People", Says: "Who works here, with their hourly rates.", Key: []string{"code"},
	Owner: OfPerson, Money: true, Check: checkPerson,
	Sample: "P01|A. Person|project lead|North|100|2024-01-01||8|80|62.00|95.00|EUR|\n" +
		"P02|C. Person|diver|North|100|2025-04-01||7.5|85|||EUR|",
	Columns: []Column{
		must(code("code", "key, case-sensitive")), must(text("name", "as shown")), text("role", ""), text("team", ""),
		text("cost_centre", ""),
		cell("from", Day, "first day here"), cell("to", Day, "last day here"), cell("hours_per_day", Number, "hours of a working day"),
		cell("utilisation_target", Percent, "share of the hours meant for projects"), cell("cost_rate", Units, "cost of an hour"),
		cell("billing_rate", Units, "price of an hour"), currencyOf,
		refer("calendar", Calendars, "default where empty")}}

var labourRates = &Input{Kind: LabourRates,
	Title: "Hourly rates", Says: "What an hour costs and is billed at from a day on: of a person, else a role, else a " +
		"cost code.", Key: []string{"person", "role", "cost_code", "from"},
	Owner: OfPerson, Money: true, Check: checkLabourRate,
	Sample: "|diver||2026-01-01|58.00|90.00|EUR\n" +
		"|diver||2027-01-01|60.00|94.00|EUR",
	Columns: []Column{
		refer("person", People, "whose hour; or else a role or a cost code"), text("role", "of all in it"),
		refer("cost_code", CostCodes, ""),
		cell("from", Day, "first day it holds for; always where empty"), cell("cost_rate", Units, "cost of an hour"),
		cell("billing_rate", Units, "price of an hour"), currencyOf}}

var timesheets = &Input{Kind: Timesheets,
	Title: "Timesheets", Says: "Hours worked. They are added to those taken in before.",
	Key:   []string{"person", "project", "date", "activity", "hours"},
	Owner: OfProject, Rows: Added, Check: checkHours,
	Sample: "P01|N-01|2026-10-05|7.5|A2|no|\n" +
		"P02|N-01|2026-10-06|6|A2|yes|21",
	Columns: []Column{
		must(refer("person", People, "code of the person")), projectCode, must(cell("date", Day, "")),
		must(cell("hours", Number, "0 to 24, negative to correct")),
		code("activity", "code of the activity"), choice("billable", "", "no", "yes"),
		refer("cost_code", CostCodes, "whose hourly rate counts where person and role have none")}}

var assignments = &Input{Kind: Assignments,
	Title: "Assignments", Says: "Who works how much on what, by name or by role.",
	Key:   []string{"project", "person", "role", "from", "activity"},
	Owner: OfProject, Rows: Revised, Check: checkAssignment,
	Sample: "P01||N-01|2026-10-01|2027-03-31|50|\n" +
		"|diver|N-01|2027-02-01|2027-02-26|100|A2",
	Columns: []Column{
		refer("person", People, "code of the person; or else a role"), text("role", "where nobody is named yet"), projectCode,
		must(cell("from", Day, "first day")),
		must(cell("to", Day, "last day")), must(cell("percent", Portion, "of a working day; it may be above 100")),
		code("activity", "code of the activity")}}

var absences = &Input{Kind: Absences,
	Title: "Absences", Says: "When somebody is not at work.", Key: []string{"person", "from"},
	Owner: OfPerson, Check: checkAbsence,
	Sample: "P01|2026-12-21|2027-01-01||Winter holiday\nP02|2026-11-12|2026-11-12|4|Training",
	Columns: []Column{
		must(refer("person", People, "code of the person")), must(cell("from", Day, "first day")), must(cell("to", Day, "last day")),
		cell("hours", Number, "a day; whole days where empty"), text("reason", "such as leave or training")}}

func checkAbsence(r Row, fail Fail) {
	if from, to := r.Get("from"), r.Get("to"); to < from {
		fail("to", to, "a day on or after "+from)
	}
	if n, err := money.ParseDecimal(r.Get("hours"), 4); err == nil && (n <= 0 || n > 24*cost.HourUnits) {
		fail("hours", r.Get("hours"), "more than 0 and at most 24 hours a day; leave it empty for whole days")
	}
}
