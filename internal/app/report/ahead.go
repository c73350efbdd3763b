package report

import (
	"context"

	"turret/internal/app/assess"
	"turret/internal/app/forecast"
	"turret/internal/app/gate"
)

// rangeRuns is how many runs ranges of a report come from, the same in each so that the same data gives the same report.
const rangeRuns = 2_000

// ranges simulates what the open projects of the report may come to.
func (c *Content) ranges(ctx context.Context, o *Office) (err error) {
	c.Ranges, err = o.forecast.Range(ctx, c.Assessment, c.open(), forecast.Ask{Runs: rangeRuns, Seed: 1})
	return err
}

// predicted tells what the open projects of the report are expected to come to.
func (c *Content) predicted(ctx context.Context, o *Office) (err error) {
	c.Predicted, err = o.forecast.Predict(ctx, c.Assessment, c.open())
	return err
}

// open is the scope with the projects that the report is about.
func (c *Content) open() *assess.Scope {
	s := *c.Scope
	s.Projects = c.Projects
	return &s
}

// gates reads stages and what was asked for and decided at their gates.
func (c *Content) gates(ctx context.Context) (err error) {
	c.Gates, err = gate.Read(ctx, c.Assessment)
	return err
}

// stands tells where projects and proposals stand, by the gates that were read.
func (c *Content) stands(ctx context.Context) error {
	scope, err := c.Assessment.Scope(c.Report.Scope)
	if err != nil || c.Gates == nil {
		return err
	}
	c.Stands, err = gate.Stands(ctx, c.Assessment, c.Gates, gate.Of(scope))
	c.Balance = gate.BalanceOf(c.Gates, c.Stands)
	return err
}
