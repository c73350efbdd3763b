package store

import (
	"context"
	"database/sql"

	"github.com/jmoiron/sqlx"

	"turret/internal/app/kept"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
	"turret/internal/record"
)

// optionalInt scans a number that may be missing.
type optionalInt struct{ to *fact.Int }

// Scan implements sql.Scanner.
func (o *optionalInt) Scan(v any) error {
	var n sql.NullInt64
	err := n.Scan(v)
	*o.to = number(n)
	return err
}

func number(n sql.NullInt64) fact.Int { return fact.Int{N: n.Int64, Given: n.Valid} }

// Masters reads the current rows of all coded tables, as of one moment.
func (r reading) Masters(ctx context.Context) (*kept.Masters, error) {
	m := &kept.Masters{}
	return m, r.moment(ctx, func(q queryer) error {
		for _, step := range []func(context.Context, queryer, *kept.Masters) error{readReporting, readNodes, readProjects,
			readOwnFields, readCostCodes, readCalendars, readRates, readPeople, readTariffs, readAllocations, readStaged} {
			if err := step(ctx, q, m); err != nil {
				return err
			}
		}
		return nil
	})
}

// moment passes a reader that sees one moment, however many queries it is asked.
func (r reading) moment(ctx context.Context, f func(queryer) error) error {
	pool, ok := r.q.(*sqlx.DB)
	if !ok {
		return f(r.q)
	}
	tx, err := pool.BeginTxx(ctx, nil)
	if err != nil {
		return err
	}
	defer func() { _ = tx.Rollback() }()
	return f(tx)
}

func readReporting(ctx context.Context, q queryer, m *kept.Masters) error {
	return q.GetContext(ctx, &m.Reporting, `SELECT value FROM settings WHERE key = 'reporting_currency'`)
}

func readNodes(ctx context.Context, q queryer, m *kept.Masters) error {
	rows, err := q.QueryContext(ctx, `SELECT n.id, n.code, r.name, r.level, r.owner, coalesce(p.id, 0), coalesce(h.id, 0),
		r.load_id, r.row FROM current_nodes c JOIN node_rows r USING (node_id, load_id) JOIN nodes n ON n.id = c.node_id
		LEFT JOIN nodes p ON p.code = r.parent LEFT JOIN projects h ON h.code = n.code ORDER BY n.code`)
	return each(rows, err, func(scan scanner) error {
		var n kept.Node
		err := scan(&n.ID, &n.Code, &n.Name, &n.Level, &n.Owner, &n.Parent, &n.Holder, &n.Ref.Load, &n.Ref.Row)
		m.Nodes = append(m.Nodes, n)
		return err
	})
}

func readProjects(ctx context.Context, q queryer, m *kept.Masters) error {
	rows, err := q.QueryContext(ctx, `SELECT p.id, p.code, r.name, coalesce(n.id, 0), r.lead, r.sponsor, r.category, r.stage,
		r.business_unit, r.status, r.currency, r.planned_start, r.planned_finish, r.required_finish, r.driven, r.earned_value, r.labour,
		r.own, r.load_id, r.row
		FROM current_projects c JOIN project_rows r USING (project_id, load_id) JOIN projects p ON p.id = c.project_id
		LEFT JOIN nodes n ON n.code = r.parent ORDER BY p.code`)
	return each(rows, err, func(scan scanner) error {
		var p measure.Info
		var own, status string
		err := scan(&p.ID, &p.Code, &p.Name, &p.Parent, &p.Lead, &p.Sponsor, &p.Category, &p.Stage, &p.BusinessUnit, &status,
			&p.Currency, &p.PlannedStart, &p.PlannedFinish, &p.RequiredFinish, &p.Driven, &p.EarnedValue, &p.Labour, &own, &p.Ref.Load,
			&p.Ref.Row)
		if err == nil {
			p.Status, _ = measure.StateOf(status)
			p.Own, err = ownOf(own)
		}
		m.Projects = append(m.Projects, p)
		return err
	})
}

func readCostCodes(ctx context.Context, q queryer, m *kept.Masters) error {
	rows, err := q.QueryContext(ctx, `SELECT k.id, k.code, r.name, r.parent, r.type, r.closed, r.contingency, r.labour
		FROM current_cost_codes c JOIN cost_code_rows r USING (cost_code_id, load_id) JOIN cost_codes k ON k.id = c.cost_code_id
		ORDER BY k.code`)
	return each(rows, err, func(scan scanner) error {
		var c kept.CostCode
		err := scan(&c.ID, &c.Code, &c.Name, &c.Parent, &c.Type, &c.Closed, &c.Contingency, &c.Labour)
		m.CostCodes = append(m.CostCodes, c)
		return err
	})
}

func readCalendars(ctx context.Context, q queryer, m *kept.Masters) error {
	rows, err := q.QueryContext(ctx, `SELECT row, calendar, day, weekday, working, name FROM calendar_rows r
		WHERE load_id = (SELECT max(x.load_id) FROM calendar_rows x JOIN standing_loads l ON l.id = x.load_id
			WHERE x.calendar = r.calendar) ORDER BY load_id, row`)
	return each(rows, err, func(scan scanner) error {
		var c kept.CalendarRow
		var weekday sql.NullInt64
		err := scan(&c.Row, &c.Calendar, &c.Date, &weekday, &c.Working, &c.Name)
		c.Weekday = number(weekday)
		m.Calendars = append(m.Calendars, c)
		return err
	})
}

func readRates(ctx context.Context, q queryer, m *kept.Masters) error {
	rows, err := q.QueryContext(ctx, `SELECT currency, month, plan, rate, load_id, row FROM rate_rows
		WHERE load_id IN (SELECT id FROM standing_loads) ORDER BY load_id, row`)
	return each(rows, err, func(scan scanner) error {
		var r cost.RateRow
		var units int64
		err := scan(&r.Currency, &r.Month, &r.Plan, &units, &r.Ref.Load, &r.Ref.Row)
		r.Rate = money.NewRate(units)
		m.Rates = append(m.Rates, r)
		return err
	})
}

type scanner func(...any) error

// each scans every row and closes the rows, returning the first error.
func each(rows *sql.Rows, err error, row func(scanner) error) error {
	if err != nil {
		return err
	}
	defer rows.Close()
	for rows.Next() {
		if err := row(rows.Scan); err != nil {
			return err
		}
	}
	return rows.Err()
}

// query runs a query with the projects' ids for its "in (?)"; no ids mean all projects, and the condition is cut.
func (r reading) query(ctx context.Context, q, condition string, projects []int64, args ...any) (*sql.Rows, error) {
	if projects == nil {
		return r.q.QueryContext(ctx, q, args...)
	}
	q, in, err := sqlx.In(q+condition, append(args, projects)...)
	if err != nil {
		return nil, err
	}
	return r.q.QueryContext(ctx, q, in...)
}

// fromCurrent joins a table of revisions to the current ones of a kind, the first argument.
func fromCurrent(table string) string {
	return ` FROM (SELECT id, project_id FROM current_revisions WHERE kind = ? ORDER BY project_id) c
		CROSS JOIN revisions v ON v.id = c.id CROSS JOIN ` + table + ` t ON t.revision_id = c.id`
}

const ofProjects = ` WHERE c.project_id IN (?)`

// Activities passes the rows of the current schedules.
func (r reading) Activities(ctx context.Context, projects []int64, row func(int64, *kept.ActivityFact)) error {
	rows, err := r.query(ctx, `SELECT c.project_id, v.load_id, t.row, t.code, t.name, t.parent, t.kind, t.level, t.baseline_start,
		t.baseline_finish, t.start, t.finish, t.actual_start, t.actual_finish, t.duration, t.remaining, t.percent, t.owner, t.party,
		t.calendar, t.not_before, t.not_after, t.weight, t.ev_method, t.priority, t.state, t.low, t.likely, t.high`+
		fromCurrent("activities"), ofProjects, projects, record.Activities)
	var project int64
	var duration, remaining, percent, weight, low, likely, high sql.NullInt64
	return each(rows, err, func(scan scanner) error {
		var a kept.ActivityFact
		err := scan(&project, &a.Ref.Load, &a.Ref.Row, &a.Code, &a.Name, &a.Parent, &a.Kind, &a.Level, &a.BaselineStart,
			&a.BaselineFinish, &a.Start, &a.Finish, &a.ActualStart, &a.ActualFinish, &duration, &remaining, &percent, &a.Owner,
			&a.Party, &a.CalendarName, &a.NotBefore, &a.NotAfter, &weight, &a.Method, &a.Priority, &a.State, &low, &likely, &high)
		a.Duration, a.Remaining, a.Percent, a.Weight = number(duration), number(remaining), number(percent), number(weight)
		a.Points = schedule.PointsOf(number(low), number(likely), number(high))
		row(project, &a)
		return err
	})
}

// Links passes the rows of the current dependencies.
func (r reading) Links(ctx context.Context, projects []int64, crossing bool, row func(int64, *kept.LinkFact)) error {
	where, and := "", ofProjects
	if crossing {
		where, and = ` WHERE (t.from_project <> '' OR t.to_project <> '')`, ` AND c.project_id IN (?)`
	}
	rows, err := r.query(ctx, `SELECT c.project_id, v.load_id, t.row, t.from_code, t.to_code, t.type, t.lag, t.from_project,
		t.to_project`+fromCurrent("links")+where, and, projects, record.Links)
	var project int64
	var kind string
	return each(rows, err, func(scan scanner) error {
		var l kept.LinkFact
		err := scan(&project, &l.Ref.Load, &l.Ref.Row, &l.From, &l.To, &kind, &l.Lag, &l.FromProject, &l.ToProject)
		l.Type, _ = schedule.ParseLinkType(kind)
		row(project, &l)
		return err
	})
}

// Lines passes the rows of the current budgets or forecasts.
func (r reading) Lines(ctx context.Context, kind record.Kind, projects []int64, row func(int64, cost.Line)) error {
	rows, err := r.query(ctx, `SELECT c.project_id, v.load_id, t.row, t.cost_code_id, t.amount, t.currency, t.month, t.from_day,
		t.to_day, t.profile, t.change, t.cost_centre, t.note, t.activity`+fromCurrent("plan_lines"), ofProjects, projects, kind)
	var project int64
	return each(rows, err, func(scan scanner) error {
		var l cost.Line
		err := scan(&project, &l.Ref.Load, &l.Ref.Row, &l.Code, &l.Amount, &l.Currency, &l.Month, &l.From, &l.To, &l.Profile, &l.Change,
			&l.Centre, &l.Note, &l.Activity)
		row(project, l)
		return err
	})
}

// Declared passes the current status of each project that has one.
func (r reading) Declared(ctx context.Context, projects []int64, row func(int64, measure.Declared)) error {
	rows, err := r.query(ctx, `SELECT c.project_id, v.load_id, t.row, t.overall, t.schedule, t.cost, t.scope, t.risk, t.benefit,
		t.percent, t.commentary, l.period`+fromCurrent("statuses")+` CROSS JOIN loads l ON l.id =
			v.load_id`, ofProjects, projects, record.Statuses)
	var project int64
	var percent sql.NullInt64
	var st [6]health.Status
	return each(rows, err, func(scan scanner) error {
		var d measure.Declared
		err := scan(&project, &d.Ref.Load, &d.Ref.Row, &st[0], &st[1], &st[2], &st[3], &st[4], &st[5], &percent, &d.Commentary, &d.Period)
		d.Overall, d.By, d.Percent = st[0], [5]health.Status(st[1:]), number(percent)
		row(project, d)
		return err
	})
}
