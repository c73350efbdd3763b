package store

import (
	"context"
	"database/sql"
	"fmt"

	"github.com/jmoiron/sqlx"

	"turret/internal/app/kept"
	"turret/internal/core/money"
	"turret/internal/record"
)

// source says where the rows of a kind lie: the columns to read, the tables, what makes them current, and how to scan one.
type source struct {
	columns, from string
	current       string // condition of the current rows
	load, project string // columns of the load and the project
	order         string
	scan          func(*kept.File, scanner) error
}

const revised = ` JOIN revisions v ON v.id = t.revision_id JOIN projects p ON p.id = v.project_id`

func revision(table, columns string, scan func(*kept.File, scanner) error) source {
	return source{columns: "t.row, p.code, " + columns, from: table + ` t` + revised, load: "v.load_id", project: "v.project_id",
		order: "v.load_id, t.row", scan: scan}
}

func master(rows, coded, id, columns string, scan func(*kept.File, scanner) error) source {
	return source{columns: "t.row, c.code, " + columns, from: rows + ` t JOIN ` + coded + ` c ON c.id = t.` + id, load: "t.load_id",
		current: `(t.` + id + `, t.load_id) IN (SELECT ` + id + `, load_id FROM current_` + coded + `)`, order: "c.code, t.row",
		scan: scan}
}

var sources = map[record.Kind]source{
	record.Structure: master("node_rows", "nodes", "node_id", "t.name, t.level, t.parent, t.owner", scanNode),
	record.Projects: master("project_rows", "projects", "project_id", `t.name, t.parent, t.lead, t.sponsor, t.category, t.stage,
		t.business_unit, t.status, t.currency, t.planned_start, t.planned_finish, t.required_finish, t.driven,
			t.earned_value, t.labour, t.own`, scanProject),
	record.CostCodes: master("cost_code_rows", "cost_codes", "cost_code_id", "t.name, t.parent, t.type, t.closed, t.contingency, t.labour",
		scanCostCode),
	record.Calendars: {columns: "t.row, t.calendar, t.day, t.weekday, t.working, t.name", from: "calendar_rows t", load: "t.load_id",
		current: `t.load_id = (SELECT max(x.load_id) FROM calendar_rows x JOIN standing_loads l ON l.id = x.load_id WHERE x.calendar =
			t.calendar)`,
		order: "t.calendar, t.day, t.weekday", scan: scanCalendar},
	record.Rates: {columns: "t.row, t.currency, t.month, t.plan, t.rate", from: "rate_rows t", load: "t.load_id",
		current: `t.load_id = (SELECT max(x.load_id) FROM rate_rows x JOIN standing_loads l ON l.id = x.load_id
			WHERE x.currency = t.currency AND x.month = t.month AND x.plan =
				t.plan)`, order: "t.currency, t.plan, t.month", scan: scanRate},
	record.Activities: revision("activities", `t.code, t.name, t.parent, t.kind, t.level, t.baseline_start, t.baseline_finish, t.start,
		t.finish, t.actual_start, t.actual_finish, t.duration, t.remaining, t.percent, t.weight, t.ev_method, t.owner, t.party,
		t.calendar, t.not_before, t.not_after, t.low, t.likely, t.high, t.priority, t.state`, scanActivity),
	record.Links:    revision("links", "t.from_code, t.to_code, t.type, t.lag, t.from_project, t.to_project", scanLink),
	record.Budget:   plan,
	record.Forecast: plan,
	record.Statuses: revision("statuses", "t.overall, t.schedule, t.cost, t.scope, t.risk, t.benefit, t.percent, t.commentary",
		scanStatus),
	record.Actuals: {load: "t.load_id", project: "t.project_id", order: "t.load_id, t.row", scan: scanPosting,
		columns: `t.row, p.code, k.code, t.day, t.amount, t.currency, t.cost_centre, t.document, t.supplier, t.note, t.activity`,
		from:    `postings t JOIN projects p ON p.id = t.project_id JOIN cost_codes k ON k.id = t.cost_code_id`,
		current: "t.load_id IN (SELECT id FROM standing_loads)"},
}

var plan = func() source {
	s := revision("plan_lines", `t.part, k.code, t.amount, t.currency, t.month, t.from_day, t.to_day, t.profile, t.cost_centre, t.change,
		t.note, t.activity`, scanLine)
	s.order += ", t.part"
	s.from += ` JOIN cost_codes k ON k.id = t.cost_code_id`
	return s
}()

// Rows reads rows of a kind back as a file: those of a load, or the current ones.
func (r reading) Rows(ctx context.Context, kind record.Kind, which kept.Selection) (*kept.File, error) {
	src, ok := sources[kind]
	if kind.IsRecord() {
		src, ok = recordSource(kind), true
	}
	if !ok {
		return nil, fmt.Errorf("no table for %s", kind)
	}
	q := `SELECT ` + src.columns + ` FROM ` + src.from + ` WHERE `
	var args []any
	switch {
	case which.Load != 0:
		q += src.load + ` = ?`
		args = append(args, which.Load)
	case src.current != "":
		q += src.current
	default:
		q += `v.id IN (SELECT id FROM current_revisions WHERE kind = ?)`
		args = append(args, kind)
	}
	if which.Projects != nil && src.project != "" {
		q += ` AND ` + src.project + ` IN (?)`
		args = append(args, which.Projects)
	}
	q += ` ORDER BY ` + src.order
	if which.Limit > 0 {
		q += fmt.Sprintf(` LIMIT %d OFFSET %d`, which.Limit, max(0, which.From))
	}
	q, args, err := sqlx.In(q, args...)
	if err != nil {
		return nil, err
	}
	f := &kept.File{Kind: kind}
	if kind == record.Projects {
		if f.Own, err = readOwn(ctx, r.q); err != nil {
			return nil, err
		}
	}
	rows, err := r.q.QueryContext(ctx, q, args...)
	err = each(rows, err, func(scan scanner) error { return src.scan(f, scan) })
	f.Rows = f.Len()
	return f, err
}

func scanNode(f *kept.File, scan scanner) error {
	var n kept.NodeRow
	err := scan(&n.Row, &n.Code, &n.Name, &n.Level, &n.Parent, &n.Owner)
	f.Nodes = append(f.Nodes, n)
	return err
}

func scanProject(f *kept.File, scan scanner) error {
	var p kept.ProjectRow
	var own string
	err := scan(&p.Row, &p.Code, &p.Name, &p.Parent, &p.Lead, &p.Sponsor, &p.Category, &p.Stage, &p.BusinessUnit, &p.Status,
		&p.Currency, &p.PlannedStart, &p.PlannedFinish, &p.RequiredFinish, &p.Driven, &p.EarnedValue, &p.Labour, &own)
	if err == nil {
		p.Own, err = ownOf(own)
	}
	f.Projects = append(f.Projects, p)
	return err
}

func scanCostCode(f *kept.File, scan scanner) error {
	var c kept.CostCodeRow
	err := scan(&c.Row, &c.Code, &c.Name, &c.Parent, &c.Type, &c.Closed, &c.Contingency, &c.Labour)
	f.CostCodes = append(f.CostCodes, c)
	return err
}

func scanCalendar(f *kept.File, scan scanner) error {
	var c kept.CalendarRow
	var weekday sql.NullInt64
	err := scan(&c.Row, &c.Calendar, &c.Date, &weekday, &c.Working, &c.Name)
	c.Weekday = number(weekday)
	f.Calendars = append(f.Calendars, c)
	return err
}

func scanRate(f *kept.File, scan scanner) error {
	var r kept.RateRow
	var units int64
	err := scan(&r.Row, &r.Currency, &r.Month, &r.Plan, &units)
	r.Rate = money.NewRate(units)
	f.Rates = append(f.Rates, r)
	return err
}

func scanActivity(f *kept.File, scan scanner) error {
	var r kept.ActivityRow
	a := &r.Activity
	var n [7]sql.NullInt64
	err := scan(&r.Row, &r.Project, &a.Code, &a.Name, &a.Parent, &a.Kind, &a.Level, &a.BaselineStart, &a.BaselineFinish, &a.Start,
		&a.Finish, &a.ActualStart, &a.ActualFinish, &n[0], &n[1], &n[2], &n[3], &r.EVMethod, &a.Owner, &a.Party, &r.Calendar,
		&r.NotBefore, &r.NotAfter, &n[4], &n[5], &n[6], &a.Priority, &a.State)
	a.Duration, a.Remaining, a.Percent, r.Weight = number(n[0]), number(n[1]), number(n[2]), number(n[3])
	r.Low, r.Likely, r.High = number(n[4]), number(n[5]), number(n[6])
	f.Activities = append(f.Activities, r)
	return err
}

func scanLink(f *kept.File, scan scanner) error {
	var l kept.LinkRow
	err := scan(&l.Row, &l.Project, &l.From, &l.To, &l.Type, &l.Lag, &l.FromProject, &l.ToProject)
	f.Links = append(f.Links, l)
	return err
}

func scanLine(f *kept.File, scan scanner) error {
	var l kept.LineRow
	err := scan(&l.Row, &l.Project, &l.Part, &l.CostCode, &l.Amount, &l.Currency, &l.Month, &l.From, &l.To, &l.Profile, &l.Centre,
		&l.Change, &l.Note, &l.Activity)
	l.Units = units(l.Amount, l.Currency)
	f.Lines = append(f.Lines, l)
	return err
}

func scanPosting(f *kept.File, scan scanner) error {
	var p kept.PostingRow
	err := scan(&p.Row, &p.Project, &p.CostCode, &p.Date, &p.Amount, &p.Currency, &p.Centre, &p.Document, &p.Supplier, &p.Note,
		&p.Activity)
	p.Units = units(p.Amount, p.Currency)
	f.Postings = append(f.Postings, p)
	return err
}

// units are ten-thousandths of the major unit.
func units(a money.Amount, c money.Currency) int64 {
	n := int64(a)
	for range 4 - c.Decimals() {
		n *= 10
	}
	return n
}

func scanStatus(f *kept.File, scan scanner) error {
	var s kept.StatusRow
	var percent sql.NullInt64
	err := scan(&s.Row, &s.Project, &s.Overall, &s.By[0], &s.By[1], &s.By[2], &s.By[3], &s.By[4], &percent, &s.Commentary)
	s.Percent = number(percent)
	f.Statuses = append(f.Statuses, s)
	return err
}
