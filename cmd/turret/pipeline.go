package main

import (
	"fmt"

	"github.com/spf13/cobra"

	"turret/internal/app"
	"turret/internal/app/assess"
	"turret/internal/app/pipeline"
	"turret/internal/core/priority"
	"turret/internal/export"
)

func rankCommand() *cobra.Command {
	var v view
	var model, scope string
	c := &cobra.Command{
		Use:   "rank --db FILE --as-of DATE --model CODE [--scope CODE] [--format csv|json]",
		Short: "Print how proposals rank in a model of criteria, and how steady each rank is: one row per project",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			return v.with(c, func(_ *app.Office, a *assess.Assessment) error {
				s, err := a.Scope(scope)
				if err != nil {
					return err
				}
				p, err := pipeline.Read(c.Context(), a)
				if err != nil {
					return err
				}
				r, err := pipeline.RankOf(c.Context(), a, p, s, model)
				if err != nil {
					return err
				}
				if r.Sampled {
					_, _ = fmt.Fprintf(c.ErrOrStderr(),
						"rank_low and rank_high are of %d corners drawn by the seed %d: the model has more than %d "+
							"criteria that weigh something\n", r.Corners, priority.Seed, priority.MostCriteria)
				}
				if v.format == "json" {
					return export.Rank{Ranking: r}.JSON(c.OutOrStdout())
				}
				return export.Rank{Ranking: r}.CSV(c.OutOrStdout())
			})
		},
	}
	v.flags(c, "csv", "json")
	c.Flags().StringVar(&model, "model", "", "code of the model")
	c.Flags().StringVar(&scope, "scope", "", "a portfolio, programme or project; all of them without it")
	_ = c.MarkFlagRequired("model")
	return c
}

func selectCommand() *cobra.Command {
	var v view
	var q pipeline.Question
	var limits []string
	c := &cobra.Command{
		Use: "select --db FILE --as-of DATE --value MEASURE|score:MODEL [--limit 2027=5000000]... [--limit fte:ROLE:2027Q1=3.5]... " +
			"[--scope CODE] [--format csv|json]",
		Short: "Print what is best chosen of the proposals under limits: one row per proposal, then the value of the chosen",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			for _, text := range limits {
				if _, err := pipeline.ParseLimit(text, 1); err != nil {
					return usageError{fmt.Errorf("--limit: %w", err)}
				}
			}
			return v.with(c, func(_ *app.Office, a *assess.Assessment) error {
				for _, text := range limits {
					l, err := pipeline.ParseLimit(text, a.Env.YearMonth)
					if err != nil {
						return err
					}
					q.Limits = append(q.Limits, l)
				}
				p, err := pipeline.Read(c.Context(), a)
				if err != nil {
					return err
				}
				out, err := pipeline.Choose(c.Context(), a, p, q)
				if err == nil {
					err = out.Refusal()
				}
				if err != nil {
					return err
				}
				if out.Result.Rough > 0 {
					_, _ = fmt.Fprintf(c.ErrOrStderr(), "%d prices are not proved: they are no less than the true ones\n",
						out.Result.Rough)
				}
				if v.format == "json" {
					return export.Choice{Choice: out}.JSON(c.OutOrStdout())
				}
				return export.Choice{Choice: out}.CSV(c.OutOrStdout())
			})
		},
	}
	v.flags(c, "csv", "json")
	c.Flags().StringVar(&q.Value, "value", "", "the measure to have most of, or score: and a model")
	c.Flags().StringArrayVar(&limits, "limit", nil, "the most of a budget year, capital:YEAR, operating:YEAR or fte:ROLE:YEARQn, such as "+
		"2027=5000000")
	c.Flags().StringVar(&q.Scope, "scope", "", "a portfolio, programme or project; all of them without it")
	_ = c.MarkFlagRequired("value")
	return c
}
