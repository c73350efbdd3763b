package main

import (
	"fmt"
	"io"

	"github.com/spf13/cobra"

	"turret/internal/app"
	"turret/internal/app/assess"
	"turret/internal/export"
)

func networkCommand() *cobra.Command {
	var v view
	var scope string
	c := &cobra.Command{
		Use:   "network --db FILE --as-of DATE [--scope CODE] [--format csv|json]",
		Short: "Print the network's dates and floats: one row per activity",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			return v.with(c, func(_ *app.Office, a *assess.Assessment) error {
				sc, err := a.Scope(scope)
				if err != nil {
					return err
				}
				warnLinks(c.ErrOrStderr(), a, sc)
				n := export.Network{Assessment: a, Scope: sc}
				if v.format == "json" {
					err = n.JSON(c.OutOrStdout())
				} else {
					err = n.CSV(c.OutOrStdout())
				}
				if err != nil {
					return err
				}
				for _, p := range sc.Projects {
					if p.Logic.Fault != nil {
						return fmt.Errorf("project %s: %w", p.Code, p.Logic.Fault)
					}
				}
				return nil
			})
		},
	}
	v.flags(c, "csv", "json")
	c.Flags().StringVar(&scope, "scope", "", "code of a portfolio, programme or project; all where empty")
	return c
}

// warnLinks names the links of the scope that are left out because an end is not there.
func warnLinks(w io.Writer, a *assess.Assessment, s *assess.Scope) {
	in := map[string]bool{}
	for _, p := range s.Projects {
		in[p.Code] = true
	}
	for _, d := range a.MissingLinks() {
		if in[d.Project] {
			fmt.Fprintf(w, "left out: link of %s from %s to %s (load %d, row %d): %s is no activity with dates of its own\n",
				d.Project, d.From, d.To, d.Ref.Load, d.Ref.Row, d.Lacks)
		}
	}
}
