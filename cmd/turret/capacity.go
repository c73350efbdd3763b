package main

import (
	"fmt"

	"github.com/spf13/cobra"

	"turret/internal/app"
	"turret/internal/app/assess"
	"turret/internal/app/people"
	"turret/internal/core/calendar"
	"turret/internal/export"
)

func capacityCommand() *cobra.Command {
	var v view
	var from, to, by, unit string
	var proposals bool
	c := &cobra.Command{
		Use: "capacity --db FILE --as-of DATE --from YYYY-MM --to YYYY-MM [--by person|role|team] [--unit month|week] [--proposals] " +
			"[--format csv|json]",
		Short: "Print what people have and what is wanted of them: one row per name and month or week",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			ask, err := askedFor(from, to, by, unit, proposals)
			if err != nil {
				return usageError{err}
			}
			return v.with(c, func(_ *app.Office, a *assess.Assessment) error {
				s, err := people.SheetOf(c.Context(), a, *ask)
				if err != nil {
					return err
				}
				out := export.Capacity{Rows: s.Rows, Spans: s.Spans}
				if v.format == "json" {
					return out.JSON(c.OutOrStdout())
				}
				return out.CSV(c.OutOrStdout())
			})
		},
	}
	v.flags(c, "csv", "json")
	c.Flags().StringVar(&from, "from", "", "first month, YYYY-MM")
	c.Flags().StringVar(&to, "to", "", "last month, YYYY-MM")
	c.Flags().StringVar(&by, "by", "person", "person, role or team")
	c.Flags().StringVar(&unit, "unit", "month", "month or week")
	c.Flags().BoolVar(&proposals, "proposals", false, "count what proposals want too")
	_, _ = c.MarkFlagRequired("from"), c.MarkFlagRequired("to")
	return c
}

func askedFor(from, to, by, unit string, proposals bool) (*people.Ask, error) {
	ask := &people.Ask{Weeks: unit == "week", Proposals: proposals, Booked: true}
	var err error
	if ask.By, err = people.ParseBy(by); err != nil {
		return nil, fmt.Errorf("--by: %w", err)
	}
	if unit != "week" && unit != "month" {
		return nil, fmt.Errorf("--unit %q: expected month or week", unit)
	}
	if ask.From, err = calendar.ParseMonth(from); err != nil {
		return nil, fmt.Errorf("--from: %w; expected YYYY-MM", err)
	}
	if ask.To, err = calendar.ParseMonth(to); err != nil {
		return nil, fmt.Errorf("--to: %w; expected YYYY-MM", err)
	}
	_, err = people.SpansOf(ask)
	return ask, err
}
