package store

import (
	"context"
	"database/sql"

	"turret/internal/core/backlog"
	"turret/internal/core/benefit"
	"turret/internal/core/risk"
	"turret/internal/record"
)

// Risks passes the current registers of risks.
func (r reading) Risks(ctx context.Context, projects []int64, row func(int64, risk.Risk)) error {
	rows, err := r.query(ctx,
		`SELECT c.project_id, v.load_id, t.row, t.code, t.title, t.category, t.description, t.likelihood, t.consequence, t.probability,
		t.cost_impact, t.days_impact, t.cost_code, t.activity, t."trigger", t.trigger_when, t.response_kind, t.response,
		t.residual_likelihood, t.residual_consequence, t.residual_probability, t.residual_cost, t.residual_days, t.owner, t.raised,
		t.review, t.due, t.closed, t.state, t.currency, t.escalated_to,
			t.escalated_why`+fromCurrent("risks"), ofProjects, projects, record.Risks)
	var project int64
	var impact, left sql.NullInt64
	return each(rows, err, func(scan scanner) error {
		var x risk.Risk
		y := &x.Residual
		err := scan(&project, &x.Ref.Load, &x.Ref.Row, &x.Code, &x.Title, &x.Category, &x.Description, &optionalInt{&x.Likelihood},
			&optionalInt{&x.Consequence}, &optionalInt{&x.Probability}, &impact, &optionalInt{&x.Days}, &x.CostCode, &x.Activity,
			&x.Trigger, &x.TriggerWhen, &x.ResponseKind, &x.Response, &optionalInt{&y.Likelihood}, &optionalInt{&y.Consequence},
			&optionalInt{&y.Probability}, &left, &optionalInt{&y.Days}, &x.Owner, &x.Raised, &x.Review, &x.Due, &x.Closed, &x.State,
			&x.Currency, &x.EscalatedTo, &x.EscalatedWhy)
		x.Impact, x.Costs = amount(impact), impact.Valid
		y.Impact, y.Costs = amount(left), left.Valid
		row(project, x)
		return err
	})
}

// Backlogs passes the current items of backlogs, then the iterations.
func (r reading) Backlogs(ctx context.Context, projects []int64, item func(int64, backlog.Item), iteration func(int64,
	backlog.Iteration)) error {
	rows, err := r.query(ctx,
		`SELECT c.project_id, v.load_id, t.row, t.code, t.title, t.points, t.state, t.iteration, t.added, t.started, t.done_on,
			t.accepted, t.removed, t.rank, t.owner, t.blocked`+
			fromCurrent("backlog"), ofProjects, projects, record.Backlog)
	var project int64
	err = each(rows, err, func(scan scanner) error {
		var x backlog.Item
		err := scan(&project, &x.Ref.Load, &x.Ref.Row, &x.Code, &x.Title, &optionalInt{&x.Points}, &x.State, &x.Iteration, &x.Added,
			&x.Started, &x.DoneOn, &x.Accepted, &x.Removed, &optionalInt{&x.Rank}, &x.Owner, &x.Blocked)
		item(project, x)
		return err
	})
	if err != nil {
		return err
	}
	rows, err = r.query(ctx, `SELECT c.project_id, v.load_id, t.row, t.code, t."from", t."to"`+fromCurrent("iterations"), ofProjects,
		projects, record.Iterations)
	return each(rows, err, func(scan scanner) error {
		var x backlog.Iteration
		err := scan(&project, &x.Ref.Load, &x.Ref.Row, &x.Code, &x.From, &x.To)
		iteration(project, x)
		return err
	})
}

// Benefits passes the current benefits, month by month.
func (r reading) Benefits(ctx context.Context, projects []int64, row func(int64, benefit.Benefit)) error {
	rows, err := r.query(ctx,
		`SELECT c.project_id, v.load_id, t.row, t.code, t.name, t.month, t.planned, t.forecast, t.achieved, t.currency, t.unit,
			t.owner, t.proof`+fromCurrent("benefits"), ofProjects, projects, record.Benefits)
	var project int64
	var planned, forecast, achieved sql.NullInt64
	return each(rows, err, func(scan scanner) error {
		var x benefit.Benefit
		err := scan(&project, &x.Ref.Load, &x.Ref.Row, &x.Code, &x.Name, &x.Month, &planned, &forecast, &achieved, &x.Currency, &x.Unit,
			&x.Owner, &x.Proof)
		x.Planned, x.Forecast, x.Achieved = amount(planned), amount(forecast), amount(achieved)
		x.Expects, x.Counted = forecast.Valid, achieved.Valid
		row(project, x)
		return err
	})
}
