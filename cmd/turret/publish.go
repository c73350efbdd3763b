package main

import (
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"

	"github.com/spf13/cobra"

	"turret/internal/app"
	"turret/internal/app/kept"
	"turret/internal/app/publish"
	"turret/internal/app/report"
	"turret/internal/core/calendar"
)

func publishCommand() *cobra.Command {
	var db, period, out, waive, reopen string
	c := &cobra.Command{
		Use: "publish --db FILE --period YYYY-MM [--out DIR] [--waive REASON] [--reopen REASON]",
		Short: "Close a period: nothing may stand in its way, or it is let pass for a reason; its figures are frozen and its pack is " +
			"written",
		Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			span, err := calendar.ParsePeriod(period)
			if err != nil {
				return usageError{fmt.Errorf("--period %q: expected %s", period, calendar.PeriodForm)}
			}
			s, office, err := open(c, db)
			if err != nil {
				return err
			}
			defer s.Close()
			if reopen != "" {
				if err := office.Publish.Reopen(c.Context(), span, reopen); err != nil {
					return err
				}
				fmt.Fprintf(c.OutOrStdout(), "%s is open again\n", span.Name())
			}
			day := clockOf(c.Context()).today()
			if waive != "" {
				if err := office.Publish.Waive(c.Context(), span, day, "", waive); err != nil {
					return err
				}
			}
			p, err := office.Publish.Publish(c.Context(), span, day, true)
			var stands *publish.ObstacleError
			if errors.As(err, &stands) {
				tellObstacles(c.ErrOrStderr(), stands.Readiness)
			}
			if err != nil {
				return err
			}
			fmt.Fprintf(c.OutOrStdout(), "%s is closed, digest %s\n", p.Name(), p.Digest)
			if out == "" {
				return nil
			}
			return writePack(c, office, p, out)
		},
	}
	dbFlag(c, &db)
	c.Flags().StringVar(&period, "period", "", "the period to close")
	c.Flags().StringVar(&out, "out", "", "folder that the pack is written into")
	c.Flags().StringVar(&waive, "waive", "", "let everything pass that stands in the way, for this reason")
	c.Flags().StringVar(&reopen, "reopen", "", "reopen the period first, for this reason")
	_ = c.MarkFlagRequired("period")
	return c
}

func tellObstacles(out io.Writer, r *publish.Readiness) {
	for i := range r.Obstacles {
		if x := &r.Obstacles[i]; x.Waiver == nil {
			of := ""
			if x.Project != nil {
				of = " " + x.Project.Code
			}
			fmt.Fprintf(out, "%s%s: %s\n", x.What, of, x.Says)
		}
	}
}

// writePack writes the pack of a closed period under a name that tells its issue; a file that is there is not replaced.
func writePack(c *cobra.Command, office *app.Office, p *kept.Period, dir string) error {
	r, err := report.StandardReport(report.ExecutivePack)
	if err != nil {
		return err
	}
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return err
	}
	name := filepath.Join(dir, fmt.Sprintf("pack-%s-%d.pdf", p.Span, p.Issue))
	f, err := os.OpenFile(name, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o644)
	if err != nil {
		return err
	}
	if err := errors.Join(reportTo(c, f, office, r, p.AsOf, "pdf"), f.Close()); err != nil {
		return errors.Join(err, os.Remove(name))
	}
	fmt.Fprintln(c.OutOrStdout(), name)
	return nil
}
