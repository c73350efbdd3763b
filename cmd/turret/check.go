package main

import (
	"github.com/spf13/cobra"

	"turret/internal/app"
	"turret/internal/app/assess"
	"turret/internal/core/measure"
	"turret/internal/export"
)

func checkCommand() *cobra.Command {
	var v view
	var scope string
	c := &cobra.Command{
		Use:   "check --db FILE --as-of DATE [--scope CODE] [--format text|csv|json]",
		Short: "List what cannot be right, what is unlikely and what is worth knowing",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			return v.with(c, func(office *app.Office, a *assess.Assessment) error {
				sc, err := a.Scope(scope, measure.Open)
				if err != nil {
					return err
				}
				found, err := office.Judge.Check(c.Context(), a, sc)
				if err != nil {
					return err
				}
				loads, err := office.Judge.LoadFiles(c.Context())
				if err != nil {
					return err
				}
				t := export.Findings{Found: found, Loads: loads}
				switch v.format {
				case "json":
					return t.JSON(c.OutOrStdout())
				case "csv":
					return t.CSV(c.OutOrStdout())
				}
				return t.Text(c.OutOrStdout())
			})
		},
	}
	v.flags(c, "text", "csv", "json")
	c.Flags().StringVar(&scope, "scope", "", "code of a portfolio, programme or project; all where empty")
	return c
}
