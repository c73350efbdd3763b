package main

import (
	"fmt"

	"github.com/spf13/cobra"

	"turret/internal/app"
	"turret/internal/app/assess"
	"turret/internal/app/forecast"
	core "turret/internal/core/forecast"
	"turret/internal/export"
)

func rangeCommand() *cobra.Command {
	var v view
	var q forecast.Ask
	var scope string
	c := &cobra.Command{
		Use: "range --db FILE --as-of DATE [--scope CODE] [--runs 10000] [--seed 1] [--after-response] [--milestones] " +
			"[--format csv|json]",
		Short: "Print what finish and cost may come to: one row per project, portfolio and programme, then the whole",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			if q.Runs < 1 || q.Runs > core.MostRuns {
				return usageError{fmt.Errorf("--runs %d: expected 1 to %d", q.Runs, core.MostRuns)}
			}
			return v.with(c, func(o *app.Office, a *assess.Assessment) error {
				s, err := a.Scope(scope)
				if err != nil {
					return err
				}
				r, err := o.Forecast.Range(c.Context(), a, s, q)
				if err != nil {
					return err
				}
				out := export.Ranges{Ranges: r, Currency: a.Env.Currency}
				if v.format == "json" {
					return out.JSON(c.OutOrStdout())
				}
				return out.CSV(c.OutOrStdout())
			})
		},
	}
	v.flags(c, "csv", "json")
	c.Flags().StringVar(&scope, "scope", "", "a portfolio, programme or project; all of them without it")
	c.Flags().IntVar(&q.Runs, "runs", core.DefaultRuns, "how often everything is drawn")
	c.Flags().Uint64Var(&q.Seed, "seed", 1, "the same seed draws the same")
	c.Flags().BoolVar(&q.After, "after-response", false, "take risks as they are to be after their response")
	c.Flags().BoolVar(&q.Milestones, "milestones", false, "print milestones too, as PROJECT/MILESTONE")
	return c
}

func predictCommand() *cobra.Command {
	var v view
	var scope string
	c := &cobra.Command{
		Use:   "predict --db FILE --as-of DATE [--scope CODE] [--format csv|json]",
		Short: "Print what status open projects are expected to end at, learned from finished ones: one row per project",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			return v.with(c, func(o *app.Office, a *assess.Assessment) error {
				s, err := a.Scope(scope)
				if err != nil {
					return err
				}
				p, err := o.Forecast.Predict(c.Context(), a, s)
				if err != nil {
					return err
				}
				if p.Learned.Reason != "" {
					_, _ = fmt.Fprintf(c.ErrOrStderr(), "nothing is predicted: %s\n", p.Learned.Reason)
				}
				if v.format == "json" {
					return export.Outlooks{Outlooks: p}.JSON(c.OutOrStdout())
				}
				return export.Outlooks{Outlooks: p}.CSV(c.OutOrStdout())
			})
		},
	}
	v.flags(c, "csv", "json")
	c.Flags().StringVar(&scope, "scope", "", "a portfolio, programme or project; all of them without it")
	return c
}
