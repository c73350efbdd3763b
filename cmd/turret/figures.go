package main

import (
	"errors"
	"fmt"
	"io"
	"os"
	"strings"

	"github.com/spf13/cobra"

	"turret/internal/app"
	"turret/internal/app/assess"
	"turret/internal/app/trace"
	"turret/internal/export"

	appreport "turret/internal/app/report"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/record"
	"turret/internal/report"
)

// view is what the commands that show figures have in common.
type view struct {
	db, asOf, format string
	formats          []string
}

func (v *view) flags(c *cobra.Command, formats ...string) {
	dbFlag(c, &v.db)
	c.Flags().StringVar(&v.asOf, "as-of", "", "the day as of which to compute, YYYY-MM-DD")
	_ = c.MarkFlagRequired("as-of")
	c.Flags().StringVar(&v.format, "format", formats[0], "one of "+strings.Join(formats, ", "))
	v.formats = formats
}

// with assesses the file and passes it on.
func (v *view) with(c *cobra.Command, do func(*app.Office, *assess.Assessment) error) error {
	day, err := calendar.ParseDate(v.asOf)
	if err != nil {
		return usageError{fmt.Errorf("--as-of: %w; expected YYYY-MM-DD", err)}
	}
	known := false
	for _, f := range v.formats {
		known = known || f == v.format
	}
	if !known {
		return usageError{fmt.Errorf("--format %q: expected one of %s", v.format, strings.Join(v.formats, ", "))}
	}
	s, office, err := open(c, v.db)
	if err != nil {
		return err
	}
	defer s.Close()
	a, err := office.Assess.Day(c.Context(), day)
	if err != nil {
		return err
	}
	return do(office, a)
}

func measuresCommand() *cobra.Command {
	var v view
	var scope, keys, statuses string
	c := &cobra.Command{
		Use:   "measures --db FILE --as-of DATE [--scope CODE] [--keys a,b,c] [--status open] [--format csv|json]",
		Short: "Print the figures of the catalogue: one row per project, then the total",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			list, wrong := measure.KeysOf(keys)
			if wrong != "" {
				return usageError{fmt.Errorf("--keys: %q is not a measure of the catalogue", wrong)}
			}
			states, wrong := measure.StatesOf(statuses)
			if wrong != "" {
				return usageError{fmt.Errorf("--status: %q is none of open, proposed, closed, cancelled", wrong)}
			}
			return v.with(c, func(_ *app.Office, a *assess.Assessment) error {
				sc, err := a.Scope(scope, states...)
				if err != nil {
					return err
				}
				warnRates(c.ErrOrStderr(), sc)
				t := export.Table{Env: a.Env, Keys: list, Scope: sc}
				if v.format == "json" {
					return t.JSON(c.OutOrStdout())
				}
				return t.CSV(c.OutOrStdout())
			})
		},
	}
	v.flags(c, "csv", "json")
	c.Flags().StringVar(&scope, "scope", "", "code of a portfolio, programme or project; all where empty")
	c.Flags().StringVar(&keys, "keys", "", "measures to print, in this order; the whole catalogue where empty")
	c.Flags().StringVar(&statuses, "status", "", "only projects of these statuses, such as open,closed; all where empty")
	return c
}

// warnRates names the rates that figures of the scope lack.
func warnRates(w io.Writer, s *assess.Scope) {
	for _, p := range s.Projects {
		said := map[string]bool{}
		for _, g := range p.Account.Gaps {
			if text := g.Err.Error(); !said[text] {
				said[text] = true
				fmt.Fprintf(w, "error: project %s: %s; the figures that need it are empty\n", p.Code, text)
			}
		}
	}
}

func traceCommand() *cobra.Command {
	var v view
	var project, key string
	c := &cobra.Command{
		Use:   "trace --db FILE --as-of DATE --project CODE --measure KEY [--format text|json]",
		Short: "Explain one figure down to the rows it came from",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			return v.with(c, func(o *app.Office, a *assess.Assessment) error {
				t, err := traced(c, o, a, project, key)
				if err != nil {
					return err
				}
				if v.format == "json" {
					return export.TraceJSON(c.OutOrStdout(), t, a.Env)
				}
				return export.TraceText(c.OutOrStdout(), t, a.Env)
			})
		},
	}
	v.flags(c, "text", "json")
	c.Flags().StringVar(&project, "project", "", "code of the project, or * for all of them")
	c.Flags().StringVar(&key, "measure", "", "key of the measure")
	_ = c.MarkFlagRequired("project")
	_ = c.MarkFlagRequired("measure")
	return c
}

func traced(c *cobra.Command, o *app.Office, a *assess.Assessment, project, key string) (*trace.Trace, error) {
	if project != "*" {
		return o.Trace.Trace(c.Context(), a, project, key)
	}
	all, err := a.Scope("")
	if err != nil {
		return nil, err
	}
	return o.Trace.TraceGroup(c.Context(), a, all, key)
}

func exportCommand() *cobra.Command {
	var db, asOf, format, kind, scope, out string
	c := &cobra.Command{
		Use:   "export --db FILE --kind KIND [--as-of DATE] [--format csv|xlsx|json|pdf|html] [--scope CODE] [--out FILE]",
		Short: "Write the current rows of a kind of input, or the pack",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			if kind != "pack" && record.Kind(kind).Input() == nil {
				return usageError{fmt.Errorf("--kind %q: expected pack or one of %v", kind, record.Kinds())}
			}
			return toFile(c.OutOrStdout(), out, func(w io.Writer) error {
				if kind == "pack" {
					v := view{db: db, asOf: asOf, format: orElse(format, "pdf"), formats: reportFormats}
					return v.with(c, func(o *app.Office, a *assess.Assessment) error {
						r, err := appreport.StandardReport(appreport.ExecutivePack)
						if err != nil {
							return err
						}
						r.Scope = scope
						return reportTo(c, w, o, r, a.Env.AsOf, v.format)
					})
				}
				if format = orElse(format, "csv"); format != "csv" && format != "xlsx" && format != "json" {
					return usageError{fmt.Errorf("--format %q: expected csv, xlsx or json", format)}
				}
				s, office, err := open(c, db)
				if err != nil {
					return err
				}
				defer s.Close()
				return exportRows(c, office, record.Kind(kind), format, w)
			})
		},
	}
	dbFlag(c, &db)
	c.Flags().StringVar(&asOf, "as-of", "", "the day as of which to compute the pack, YYYY-MM-DD")
	c.Flags().StringVar(&format, "format", "", "csv (the default), xlsx or json for rows; pdf (the default), html, xlsx or csv for "+
		"the pack")
	c.Flags().StringVar(&kind, "kind", "", "what to write: a kind of input, or pack")
	c.Flags().StringVar(&scope, "scope", "", "of the pack: code of a portfolio, programme or project; all open projects where empty")
	c.Flags().StringVar(&out, "out", "", "file to write; standard output where empty")
	_ = c.MarkFlagRequired("kind")
	return c
}

// reportFormats are the forms of reports.
var reportFormats = []string{"pdf", "html", "xlsx", "csv"}

func reportCommand() *cobra.Command {
	var db, asOf, format, scope, out string
	c := &cobra.Command{
		Use:   "report NAME --db FILE --as-of DATE [--scope CODE] [--format pdf|html|xlsx|csv] [--out FILE]",
		Short: "Write a report: one that ships (executive, project, status, milestone, cost, quality), or one that is kept, by its name",
		Args:  cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			v := view{db: db, asOf: asOf, format: orElse(format, "pdf"), formats: reportFormats}
			return toFile(c.OutOrStdout(), out, func(w io.Writer) error {
				return v.with(c, func(o *app.Office, a *assess.Assessment) error {
					r, err := o.Report.Get(c.Context(), args[0])
					if err != nil {
						return err
					}
					r.Scope = orElse(scope, r.Scope)
					return reportTo(c, w, o, r, a.Env.AsOf, v.format)
				})
			})
		},
	}
	dbFlag(c, &db)
	c.Flags().StringVar(&asOf, "as-of", "", "the day as of which to compute, YYYY-MM-DD; a report that names its period is for that")
	c.Flags().StringVar(&format, "format", "", "pdf (the default), html, xlsx, or csv: an archive where the report has several tables")
	c.Flags().StringVar(&scope, "scope", "", "code of a portfolio, programme or project; that of the report where empty")
	c.Flags().StringVar(&out, "out", "", "file to write; standard output where empty")
	return c
}

func orElse(a, b string) string {
	if a != "" {
		return a
	}
	return b
}

// reportTo writes a report, as of a day, in a form; one whose tables are several is an archive as CSV.
func reportTo(c *cobra.Command, w io.Writer, o *app.Office, r *appreport.Report, asOf calendar.Date, format string) error {
	content, err := o.Report.Content(c.Context(), r, asOf)
	if err != nil {
		return err
	}
	_, err = report.Write(w, format, content)
	return err
}

// toFile passes where to write: a file that is removed again where writing fails, or out where no file is named.
func toFile(out io.Writer, name string, write func(io.Writer) error) error {
	if name == "" {
		return write(out)
	}
	f, err := os.Create(name)
	if err != nil {
		return err
	}
	err = write(f)
	if err = errors.Join(err, f.Close()); err != nil {
		return errors.Join(err, os.Remove(name))
	}
	return nil
}
