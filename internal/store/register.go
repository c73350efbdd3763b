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

// Items passes the current backlogs.
func (r reading) Items(ctx context.Context, projects []int64, row func(int64, backlog.Item)) error {
	rows, err := r.query(ctx,
		`SELECT c.project_id, v.load_id, t.row, t.code, t.title, t.points, t.state, t.iteration, t.added, t.accepted, t.rank, t.owner,
			t.blocked`+
			fromCurrent("backlog"), ofProjects, projects, record.Backlog)
	var project int64
	var blocked string
	return each(rows, err, func(scan scanner) error {
		var x backlog.Item
		err := scan(&project, &x.Ref.Load, &x.Ref.Row, &x.Code, &x.Title, &optionalInt{&x.Points}, &x.State, &x.Iteration, &x.Added,
			&x.Accepted, &optionalInt{&x.Rank}, &x.Owner, &blocked)
		x.Blocked = blocked != ""
		row(project, x)
		return err
	})
}

// Benefits passes the current benefits, month by month.
func (r reading) Benefits(ctx context.Context, projects []int64, row func(int64, benefit.Benefit)) error {
	rows, err := r.query(ctx,
		`SELECT c.project_id, v.load_id, t.row, t.code, t.name, t.month, t.planned, t.forecast, t.achieved, t.currency`+
			fromCurrent("benefits"), ofProjects, projects, record.Benefits)
	var project int64
	var planned, forecast, achieved sql.NullInt64
	return each(rows, err, func(scan scanner) error {
		var x benefit.Benefit
		err := scan(&project, &x.Ref.Load, &x.Ref.Row, &x.Code, &x.Name, &x.Month, &planned, &forecast, &achieved, &x.Currency)
		x.Planned, x.Forecast, x.Achieved = amount(planned), amount(forecast), amount(achieved)
		x.Expects, x.Counted = forecast.Valid, achieved.Valid
		row(project, x)
		return err
	})
}
