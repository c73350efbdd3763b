package store

import (
	"context"
	"database/sql"
	"time"

	"github.com/jmoiron/sqlx"

	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/money"
	"turret/internal/record"
)

// amount is an amount that may be missing; then it is 0.
func amount(n sql.NullInt64) money.Amount { return money.Amount(n.Int64) }

const byCode = ` LEFT JOIN cost_codes k ON k.code = t.cost_code`

// Commitments passes the current commitments.
func (r reading) Commitments(ctx context.Context, projects []int64, row func(int64, cost.Commitment)) error {
	rows, err := r.query(ctx, `SELECT c.project_id, v.load_id, t.row, coalesce(k.id, 0), t.document, t.amount, t.due, t.currency,
		t.supplier, t.activity`+fromCurrent("commitments")+byCode, ofProjects, projects, record.Commitments)
	var project int64
	var a sql.NullInt64
	return each(rows, err, func(scan scanner) error {
		var c cost.Commitment
		err := scan(&project, &c.Ref.Load, &c.Ref.Row, &c.Code, &c.Document, &a, &c.Due, &c.Currency, &c.Supplier,
			&c.Activity)
		c.Amount = amount(a)
		row(project, c)
		return err
	})
}

// Changes passes the current registers of changes.
func (r reading) Changes(ctx context.Context, projects []int64, row func(int64, cost.Change)) error {
	rows, err := r.query(ctx,
		`SELECT c.project_id, v.load_id, t.row, t.change, t.title, t.state, t.amount, t.currency, t.days, t.cost_code, t."from", t."to",
		t.profile, t.reason, t.answer, t.requested_by, t.decided_by, t.requested_on,
			t.decided_on`+fromCurrent("changes"), ofProjects, projects, record.Changes)
	var project int64
	var a, days sql.NullInt64
	var state, profile string
	return each(rows, err, func(scan scanner) error {
		var c cost.Change
		err := scan(&project, &c.Ref.Load, &c.Ref.Row, &c.Code, &c.Title, &state, &a, &c.Currency, &days, &c.CostCode, &c.From, &c.To,
			&profile, &c.Reason,
			&c.Answer, &c.RequestedBy, &c.By, &c.RequestedOn, &c.Closed)
		c.Amount, c.Days = amount(a), number(days)
		c.State, _ = cost.ParseChangeState(state)
		c.Profile = cost.ParseProfile(profile)
		row(project, c)
		return err
	})
}

// Shares passes who pays for each project.
func (r reading) Shares(ctx context.Context, projects []int64, row func(int64, cost.Share)) error {
	rows, err := r.query(ctx,
		`SELECT c.project_id, v.load_id, t.row, t.funder, coalesce(t.percent, 0), t."from", t.cost_centre, t.granted, t.received,
			t.currency`+
			fromCurrent("funding"), ofProjects, projects, record.Funding)
	var project int64
	var granted, received sql.NullInt64
	return each(rows, err, func(scan scanner) error {
		var s cost.Share
		err := scan(&project, &s.Ref.Load, &s.Ref.Row, &s.Funder, &s.Percent, &s.From, &s.Centre, &granted, &received, &s.Currency)
		s.Granted, s.Received = amount(granted), amount(received)
		row(project, s)
		return err
	})
}

// Billings passes the current lines of revenue.
func (r reading) Billings(ctx context.Context, projects []int64, row func(int64, cost.Billing)) error {
	rows, err := r.query(ctx,
		`SELECT c.project_id, v.load_id, t.row, t.code, t.name, t.month, t.planned, t.billed, t.billed_on, t.client, t.type, t.milestone,
		t.currency`+fromCurrent("revenue"), ofProjects, projects, record.Revenue)
	var project int64
	var planned, billed sql.NullInt64
	var kind string
	return each(rows, err, func(scan scanner) error {
		var b cost.Billing
		err := scan(&project, &b.Ref.Load, &b.Ref.Row, &b.Code, &b.Name, &b.Month, &planned, &billed, &b.BilledOn, &b.Client, &kind,
			&b.Milestone, &b.Currency)
		b.Planned, b.Billed, b.Timed = amount(planned), amount(billed), kind == "time-based"
		row(project, b)
		return err
	})
}

// Bookings passes the rows of timesheets, in the order of projects.
func (r reading) Bookings(ctx context.Context, projects []int64, row func(int64, *cost.Booking)) error {
	rows, err := r.query(ctx,
		`SELECT t.project_id, t.load_id, t.row, t.person, coalesce(p.role, ''), t.date, coalesce(t.hours, 0), t.activity, t.billable,
			coalesce(k.id, -1)
		FROM timesheets t LEFT JOIN cost_codes k ON k.code = t.cost_code LEFT JOIN (SELECT code, role, max(load_id) FROM people WHERE
			load_id IN (SELECT id FROM standing_loads) GROUP BY code) p ON p.code = t.person
		WHERE t.load_id NOT IN (SELECT id FROM gone_loads)`, ` AND t.project_id IN (?)`, projects)
	var project int64
	var billable string
	var b cost.Booking
	return each(rows, err, func(scan scanner) error {
		err := scan(&project, &b.Ref.Load, &b.Ref.Row, &b.Person, &b.Role, &b.Date, &b.Hours, &b.Activity, &billable, &b.Code)
		b.Billable = billable == "yes"
		row(project, &b)
		return err
	})
}

func readPeople(ctx context.Context, q queryer, m *kept.Masters) error {
	m.Tariffs = &cost.Tariffs{}
	rows, err := q.QueryContext(ctx,
		`SELECT t.load_id, t.row, t.code, t.name, t.role, t.team, t.cost_centre, t."from", t."to", t.hours_per_day, t.utilisation_target,
		t.cost_rate, t.billing_rate, t.currency, t.calendar FROM people t WHERE `+newestOf(record.People, "t")+` ORDER BY t.code`)
	return each(rows, err, func(scan scanner) error {
		var p kept.Person
		var hours, target, costs, billing sql.NullInt64
		var currency money.Currency
		err := scan(&p.Ref.Load, &p.Ref.Row, &p.Code, &p.Name, &p.Role, &p.Team, &p.Centre, &p.From, &p.To, &hours, &target, &costs,
			&billing, &currency, &p.Calendar)
		p.HoursPerDay, p.Target = number(hours), number(target)
		m.People = append(m.People, p)
		if costs.Valid || billing.Valid {
			m.Tariffs.Of(p.Code, "", 0, tariff(0, costs, billing, currency, p.Ref))
		}
		return err
	})
}

func tariff(from calendar.Date, costs, billing sql.NullInt64, c money.Currency, ref fact.Ref) cost.Tariff {
	return cost.Tariff{From: from, Cost: amount(costs), Billing: amount(billing), Priced: costs.Valid, Billed: billing.Valid, Currency: c,
		Ref: ref}
}

func readTariffs(ctx context.Context, q queryer, m *kept.Masters) error {
	rows, err := q.QueryContext(ctx,
		`SELECT t.load_id, t.row, t.person, t.role, coalesce(k.id, 0), t."from", t.cost_rate, t.billing_rate, t.currency
		FROM labour_rates t LEFT JOIN cost_codes k ON k.code = t.cost_code WHERE `+newestOf(record.LabourRates, "t")+` ORDER BY t.load_id,
			t.row`)
	return each(rows, err, func(scan scanner) error {
		var person, role string
		var code int32
		var from calendar.Date
		var costs, billing sql.NullInt64
		var currency money.Currency
		var ref fact.Ref
		err := scan(&ref.Load, &ref.Row, &person, &role, &code, &from, &costs, &billing, &currency)
		m.Tariffs.Of(person, role, code, tariff(from, costs, billing, currency, ref))
		return err
	})
}

func readAllocations(ctx context.Context, q queryer, m *kept.Masters) error {
	rows, err := q.QueryContext(ctx, `SELECT t.load_id, t.row, t.node, t.year, t.amount, t.currency, t.note FROM allocations t
		WHERE `+newestOf(record.Allocations, "t")+` ORDER BY t.node, t.year, t.currency`)
	return each(rows, err, func(scan scanner) error {
		var a kept.Allocation
		err := scan(&a.Ref.Load, &a.Ref.Row, &a.Node, &a.Year, &a.Amount, &a.Currency, &a.Note)
		m.Allocations = append(m.Allocations, a)
		return err
	})
}

// MoneyLoads lists the standing loads that brought a plan of money of a project, newest first.
func (r reading) MoneyLoads(ctx context.Context, kind record.Kind, project int64) ([]kept.MoneyLoad, error) {
	rows, err := r.q.QueryContext(ctx, `SELECT l.id, l.kind, l.file, l.source, l.author, l.received_at, l.period, l.note, v.rows,
		coalesce((SELECT n.name FROM money_names n WHERE n.load_id = l.id AND n.project_id = v.project_id ORDER BY n.id DESC LIMIT 1), '')
		FROM revisions v JOIN standing_loads l ON l.id = v.load_id WHERE v.project_id = ? AND v.kind = ? ORDER BY l.id DESC`, project, kind)
	var list []kept.MoneyLoad
	err = each(rows, err, func(scan scanner) error {
		var m kept.MoneyLoad
		var at string
		err := scan(&m.ID, &m.Kind, &m.File, &m.Source, &m.Author, &at, &m.Period, &m.Note, &m.Rows, &m.Name)
		if err == nil {
			m.ReceivedAt, err = moment(at)
		}
		list = append(list, m)
		return err
	})
	return list, err
}

// LinesAt passes the lines that a load brought for a project.
func (r reading) LinesAt(ctx context.Context, kind record.Kind, project, load int64, row func(cost.Line)) error {
	rows, err := r.q.QueryContext(ctx,
		`SELECT v.load_id, t.row, t.cost_code_id, t.amount, t.currency, t.month, t.from_day, t.to_day, t.profile, t.change,
			t.cost_centre, t.note, t.activity
		FROM revisions v JOIN plan_lines t ON t.revision_id = v.id WHERE v.kind = ? AND v.project_id = ? AND v.load_id = ? ORDER BY
			t.row, t.part`, kind, project, load)
	return each(rows, err, func(scan scanner) error {
		var l cost.Line
		err := scan(&l.Ref.Load, &l.Ref.Row, &l.Code, &l.Amount, &l.Currency, &l.Month, &l.From, &l.To, &l.Profile, &l.Change, &l.Centre,
			&l.Note, &l.Activity)
		row(l)
		return err
	})
}

// NameMoney gives a standing plan of money a name.
func (s *Store) NameMoney(ctx context.Context, project, load int64, name, who string, at time.Time, e kept.Entry) error {
	return s.change(ctx, e, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, `INSERT INTO money_names (project_id, load_id, name, who, at) VALUES (?, ?, ?, ?, ?)`, project,
			load, name, who, at.UTC().Format(stamp))
		return err
	})
}
