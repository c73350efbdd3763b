package ingest

import (
	"slices"

	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
	"turret/internal/record"
)

// Columns lists the columns of a kind in their usual order.
func Columns(k record.Kind) []string {
	var names []string
	for _, c := range k.Input().Columns {
		names = append(names, c.Name)
	}
	return names
}

// ownReaders read a row of each kind that has a row type of its own; the others are read by their description.
var ownReaders = map[record.Kind]func(*reader){
	record.Structure: readNode, record.Projects: readProject, record.Calendars: readCalendar, record.Activities: readActivity,
	record.Links: readLink, record.CostCodes: readCostCode, record.Budget: readLine, record.Forecast: readLine,
	record.Actuals: readPosting, record.Statuses: readStatus, record.Rates: readRate,
}

func readerOf(k record.Kind) func(*reader) {
	if read := ownReaders[k]; read != nil {
		return read
	}
	return readRecord
}

func readNode(r *reader) {
	r.need("level")
	level := []string{"portfolio", "programme"}[r.choice("level", "portfolio", "programme")]
	r.file.Nodes = append(r.file.Nodes, kept.NodeRow{Row: r.row, Code: r.code("code"), Name: r.name("name"), Level: level,
		Parent: r.optional("parent"), Owner: r.text("owner")})
}

func readProject(r *reader) {
	status := []string{"open", "proposed", "closed", "cancelled"}[r.choice("status", "open", "proposed", "closed", "cancelled")]
	p := kept.ProjectRow{Row: r.row, Code: r.code("code"), Name: r.name("name"), Parent: r.optional("parent"),
		Lead: r.text("lead"), Sponsor: r.text("sponsor"), Category: r.text("category"), Stage: r.text("stage"),
		BusinessUnit: r.text("business_unit"), Status: status, Currency: r.currency("currency"),
		PlannedStart: r.date("planned_start"), PlannedFinish: r.date("planned_finish"), RequiredFinish: r.date("required_finish"),
		Driven: r.choice("schedule_mode", "reported", "driven") == 1, EarnedValue: r.choice("earned_value", "yes", "no") == 0,
		Labour: cost.Way(r.choice("labour", "ledger", "timesheets", "planned"))}
	if p.PlannedStart != 0 && p.PlannedFinish != 0 && p.PlannedFinish < p.PlannedStart {
		r.wrong("planned_finish", "a day on or after planned_start "+p.PlannedStart.String())
	}
	p.Own = ownCells(r)
	r.file.Projects = append(r.file.Projects, p)
}

// ownCells are what stands in the columns of the office's own that the file has; nil for none.
func ownCells(r *reader) map[string]string {
	var own map[string]string
	for _, c := range r.file.Own {
		key, _ := c.Own()
		if _, has := r.at[c.Name]; !has && r.mapping.Fixed[c.Name] == "" {
			continue
		}
		if own == nil {
			own = map[string]string{}
		}
		own[key] = r.canonical(c)
	}
	return own
}

func readCalendar(r *reader) {
	c := kept.CalendarRow{Row: r.row, Calendar: r.code("calendar"), Date: r.date("date"), Name: r.text("name")}
	r.need("working")
	c.Working = r.choice("working", "no", "yes") == 1
	if r.raw("weekday") != "" {
		c.Weekday = fact.Some(int64(r.choice("weekday", "mon", "tue", "wed", "thu", "fri", "sat", "sun")))
	}
	if (r.raw("date") != "") == c.Weekday.Given {
		r.fail(r.row, "date", r.raw("date"), "either a date or a weekday")
	}
	r.file.Calendars = append(r.file.Calendars, c)
}

func readActivity(r *reader) {
	a := kept.ActivityRow{Row: r.row, Project: r.code("project"), Calendar: r.optional("calendar"),
		Weight: r.number("weight", 4), NotBefore: r.date("not_before"), NotAfter: r.date("not_after"),
		Low: r.days("low", 0), Likely: r.days("likely", 0), High: r.days("high", 0)}
	methods := []string{"", "percent", "0/100", "50/50", "25/75", "milestones", "points", "effort"}
	if r.raw("ev_method") != "" {
		a.EVMethod = methods[1+r.choice("ev_method", methods[1:]...)]
	}
	a.Activity = schedule.Activity{Code: r.code("code"), Name: r.name("name"), Parent: r.optional("parent"),
		Owner: r.text("owner"), Party: r.text("party"),
		Kind: []schedule.Kind{schedule.Work, schedule.Summary, schedule.Milestone, schedule.Deliverable}[r.choice("kind",
			"activity", "summary", "milestone", "deliverable")],
		Level:         schedule.Level(r.choice("report_to", "project", "programme", "portfolio")),
		BaselineStart: r.date("baseline_start"), BaselineFinish: r.date("baseline_finish"),
		Start: r.date("start"), Finish: r.date("finish"),
		ActualStart: r.date("actual_start"), ActualFinish: r.date("actual_finish"),
		Duration: r.days("duration", 0), Remaining: r.days("remaining", 0), Percent: r.percent("percent_complete")}
	if r.raw("priority") != "" {
		a.Activity.Priority = []string{"high", "medium", "low"}[r.choice("priority", "high", "medium", "low")]
	}
	if r.raw("state") != "" {
		a.Activity.State = []string{schedule.OnHold, schedule.Cancelled}[r.choice("state", schedule.OnHold, schedule.Cancelled)]
	}
	if a.Weight.Given && a.Weight.N < 0 {
		r.wrong("weight", "a weight of 0 or more")
	}
	readPoints(r, &a)
	r.file.Activities = append(r.file.Activities, a)
}

// readPoints holds the three points of what is left against one another.
func readPoints(r *reader, a *kept.ActivityRow) {
	given := r.raw("low") != "" || r.raw("likely") != "" || r.raw("high") != ""
	switch {
	case !given:
	case r.raw("low") == "" || r.raw("likely") == "" || r.raw("high") == "":
		for _, column := range []string{"low", "likely", "high"} {
			if r.raw(column) == "" {
				r.fail(r.row, column, "", "low, likely and high together, or none of them")
				return
			}
		}
	case a.Low.Given && a.Likely.Given && a.Low.N > a.Likely.N:
		r.wrong("low", "at most what is likely, "+r.raw("likely"))
	case a.Likely.Given && a.High.Given && a.Likely.N > a.High.N:
		r.wrong("high", "at least what is likely, "+r.raw("likely"))
	}
}

func readLink(r *reader) {
	r.file.Links = append(r.file.Links, kept.LinkRow{Row: r.row, Project: r.code("project"), From: r.code("from"), To: r.code("to"),
		Type: []string{"FS", "SS", "FF", "SF"}[r.choice("type", "FS", "SS", "FF", "SF")], Lag: r.days("lag", -100_000).N,
		FromProject: r.optional("from_project"), ToProject: r.optional("to_project")})
}

func readCostCode(r *reader) {
	c := kept.CostCodeRow{Row: r.row, Code: r.code("code"), Name: r.name("name"), Parent: r.optional("parent"),
		Closed: r.choice("closed", "no", "yes") == 1, Contingency: r.choice("contingency", "no", "yes") == 1,
		Labour: r.choice("labour", "no", "yes") == 1}
	if r.raw("type") != "" {
		c.Type = []string{"capital", "operating"}[r.choice("type", "capital", "operating")]
	}
	r.file.CostCodes = append(r.file.CostCodes, c)
}

// maxSpan keeps the whole-number weights of spreading within 64 bits.
const maxSpan calendar.Date = 50 * 366

func readLine(r *reader) {
	l := kept.LineRow{Row: r.row, Part: r.part(), Project: r.code("project"), CostCode: r.code("cost_code"), Units: r.units("amount"),
		Month: r.moneyMonth("month"), From: r.moneyDay("from"), To: r.moneyDay("to"),
		Profile: uint8(r.choice("profile", "even", "early", "late", "bell")), Currency: r.currency("currency"),
		Centre: r.text("cost_centre"), Change: r.text("change"), Note: r.unique("note"),
		Activity: r.optional("activity")}
	spanned := r.raw("from") != "" || r.raw("to") != ""
	switch {
	case r.raw("month") != "" && spanned:
		r.wrong("month", "a month, or from and to, not both")
	case r.raw("month") == "" && !spanned:
		r.wrong("month", "a month, or from and to")
	case spanned && (r.raw("from") == "" || r.raw("to") == ""):
		r.fail(r.row, "from", r.raw("from"), "both from and to")
	case spanned && l.From != 0 && l.To != 0 && (l.To < l.From || l.To-l.From > maxSpan):
		r.wrong("to", "a day on or after from, at most 50 years later")
	}
	r.file.Lines = append(r.file.Lines, l)
}

func readPosting(r *reader) {
	r.need("date")
	if n := len(r.file.Postings); n == cap(r.file.Postings) {
		r.file.Postings = slices.Grow(r.file.Postings, n+1024) // doubling: a ledger is long
	}
	r.file.Postings = append(r.file.Postings, kept.PostingRow{Row: r.row, Project: r.code("project"), CostCode: r.code("cost_code"),
		Date: r.moneyDay("date"), Units: r.units("amount"), Currency: r.currency("currency"), Centre: r.text("cost_centre"),
		Document: r.unique("document"), Supplier: r.text("supplier"), Note: r.unique("note"),
		Activity: r.optional("activity")})
}

func readStatus(r *reader) {
	s := kept.StatusRow{Row: r.row, Project: r.code("project"), Overall: r.status("overall"),
		Percent: r.percent("percent_complete"), Commentary: r.unique("commentary")}
	for i, c := range []string{"schedule", "cost", "scope", "risk", "benefit"} {
		s.By[i] = r.status(c)
	}
	r.file.Statuses = append(r.file.Statuses, s)
}

func readRate(r *reader) {
	r.need("currency")
	r.need("month")
	row := kept.RateRow{Row: r.row, Currency: r.currency("currency"), Month: r.month("month"),
		Plan: r.choice("kind", "month", "plan") == 1}
	r.need("rate")
	if n := r.number("rate", money.RatePlaces); n.Given {
		if n.N <= 0 || n.N >= 10_000_000_000_000_000 {
			r.wrong("rate", "a rate above 0 and below ten million")
		} else {
			row.Rate = money.NewRate(n.N)
		}
	}
	r.file.Rates = append(r.file.Rates, row)
}

// readRecord reads a row by the description of its kind alone.
func readRecord(r *reader) {
	row := kept.RecordRow{Row: r.row, Cells: make([]string, len(r.input.Columns))}
	for i, c := range r.input.Columns {
		if c.Required {
			r.need(c.Name)
		}
		row.Cells[i] = r.canonical(c)
	}
	r.file.Records = append(r.file.Records, row)
}

// canonical is a cell as files of Turret's own hold it.
func (r *reader) canonical(c record.Column) string {
	number := func(places int) string {
		if n := r.number(c.Name, places); n.Given {
			return money.Plain(n.N, places)
		}
		return ""
	}
	switch c.Cell {
	case record.Code:
		return r.optional(c.Name)
	case record.Units, record.Number:
		return number(4)
	case record.Whole:
		return number(0)
	case record.Percent:
		if n := r.percent(c.Name); n.Given {
			return money.Plain(n.N, 2)
		}
		return ""
	case record.Portion:
		n := r.number(c.Name, 2)
		if n.Given && (n.N < 0 || n.N > 10_000_00) {
			r.wrong(c.Name, record.Portion.String())
		}
		return number(2)
	case record.Day:
		if d := r.moneyDay(c.Name); d != 0 {
			return d.String()
		}
		return ""
	case record.Month:
		if m := r.moneyMonth(c.Name); m != 0 {
			return m.String()
		}
		return ""
	case record.Choice:
		if r.raw(c.Name) == "" {
			return ""
		}
		return c.Choices[r.choice(c.Name, c.Choices...)]
	case record.Currency:
		return string(r.currency(c.Name))
	}
	return r.text(c.Name)
}
