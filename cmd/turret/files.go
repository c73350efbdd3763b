package main

import (
	"errors"
	"fmt"
	"io"
	"os"
	"os/user"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"turret/internal/app"
	"turret/internal/app/access"
	appdraft "turret/internal/app/draft"
	"turret/internal/app/intake"
	"turret/internal/app/setting"
	"turret/internal/attach"
	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/write"
	"turret/internal/demo"
	"turret/internal/draft"
	"turret/internal/ingest"
	"turret/internal/outbox"
	"turret/internal/record"
	"turret/internal/store"
)

func initCommand() *cobra.Command {
	var db, currency, periods, from string
	c := &cobra.Command{
		Use:   "init --db FILE [--currency EUR] [--periods month|week|four-weeks] [--periods-from DATE]",
		Short: "Make a new file with its reporting currency and periods",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			cur, err := money.ParseCurrency(currency)
			if err != nil {
				return usageError{err}
			}
			set := setting.DefaultSettings()
			set.Periods, set.PeriodsFrom = strings.ReplaceAll(periods, "-", " "), from
			if err := set.Check(); err != nil {
				return usageError{err}
			}
			s, err := store.Create(c.Context(), db, cur)
			if err != nil {
				return err
			}
			if periods == "" {
				return s.Close()
			}
			ctx := access.As(c.Context(), access.Operator(login()))
			return errors.Join(office(clockOf(ctx), s, db, sender).Setting.Save(ctx, set), s.Close())
		},
	}
	dbFlag(c, &db)
	c.Flags().StringVar(&currency, "currency", "EUR", "reporting currency, an ISO 4217 code")
	c.Flags().StringVar(&periods, "periods", "", "how reporting periods follow each other: month (where empty), week or four-weeks; "+
		"it stays once something has come in")
	c.Flags().StringVar(&from, "periods-from", "", "a Monday on which one of four weeks begins")
	return c
}

func dbFlag(c *cobra.Command, db *string) {
	c.Flags().StringVar(db, "db", "", "the file that holds everything")
	_ = c.MarkFlagRequired("db")
}

// open opens the file and an office over it. From then on the command asks as the operator, who has the file in hand.
func open(c *cobra.Command, db string) (*store.Store, *app.Office, error) {
	s, err := store.Open(c.Context(), db)
	if errors.Is(err, os.ErrNotExist) {
		err = fmt.Errorf("%s: no such file; turret init --db %s makes one", db, db)
	}
	if err != nil {
		return nil, nil, err
	}
	c.SetContext(access.As(c.Context(), access.Operator(login())))
	from := sender
	if f := c.Flags().Lookup("mail-from"); f != nil {
		from = f.Value.String()
	}
	return s, office(clockOf(c.Context()), s, db, from), nil
}

// sender is whose letters are where nobody said otherwise.
const sender = "turret@localhost"

// office makes an office over a store, its drafts and its outbox in folders beside the file.
func office(now clock, s *store.Store, db, from string) *app.Office {
	return app.NewOffice(s, now, app.Parts{Reader: ingest.Reader{}, Drafts: draft.In(db+".drafts", time.Now().Add(-30*24*time.Hour)),
		Outbox: outbox.In(db+".outbox", from), Files: attach.In(filesOf(db)), Print: reports{}.Report})
}

func importCommand() *cobra.Command {
	var db, kind, source, period string
	var dry bool
	c := &cobra.Command{
		Use:   "import --db FILE [--kind KIND] [--source NAME] [--dry-run] PATH...",
		Short: "Take in files, all of them or none",
		Args:  cobra.MinimumNArgs(1),
		RunE: func(c *cobra.Command, paths []string) error {
			if kind != "" && !slices.Contains(record.Kinds(), record.Kind(kind)) {
				return usageError{fmt.Errorf("--kind %q: expected one of %v", kind, record.Kinds())}
			}
			s, office, err := open(c, db)
			if err != nil {
				return err
			}
			defer s.Close()
			var span calendar.Period
			if period != "" {
				if span, err = calendar.ParsePeriod(period); err != nil {
					return usageError{fmt.Errorf("--period: %w; expected %s", err, calendar.PeriodForm)}
				}
			}
			remembered, err := office.Draft.Remembered(c.Context(), source)
			if err != nil {
				return err
			}
			if len(remembered) > 0 && kind == "" {
				return importRemembered(c, office, paths, source, span, dry)
			}
			own, err := office.Intake.Own(c.Context())
			if err != nil {
				return err
			}
			files, skipped, err := ingest.Reader{Own: own}.Paths(paths, record.Kind(kind))
			if err != nil {
				return err
			}
			if len(files) == 0 {
				return fmt.Errorf("%s: no file is named after a kind (%v)", strings.Join(paths, ", "), record.Kinds())
			}
			receipt, err := office.Intake.Import(c.Context(), files, intake.Origin{Source: source, Period: span, DryRun: dry})
			if err != nil {
				return err
			}
			announce(c.OutOrStdout(), c.ErrOrStderr(), receipt, skipped, dry)
			return nil
		},
	}
	dbFlag(c, &db)
	c.Flags().StringVar(&kind, "kind", "", "kind of the files, for names that do not tell")
	c.Flags().StringVar(&source, "source", "", "who sent them")
	c.Flags().StringVar(&period, "period", "", "the period they are for, YYYY-MM; where empty the one after the last closed, or the "+
		"last whole one")
	c.Flags().BoolVar(&dry, "dry-run", false, "check everything, write nothing")
	return c
}

// importRemembered takes in the files of a source whose heads were mapped in the browser.
func importRemembered(c *cobra.Command, office *app.Office, paths []string, source string, span calendar.Period, dry bool) error {
	list, err := ingest.Files(paths)
	if err != nil {
		return err
	}
	if span == 0 {
		if span, err = office.Setting.LastWhole(c.Context()); err != nil {
			return err
		}
	}
	var under *os.File
	d, err := office.Draft.Receive(c.Context(), source, span, func() (*appdraft.Upload, error) {
		if under != nil {
			_ = under.Close()
		}
		if len(list) == 0 {
			return nil, io.EOF
		}
		var err error
		if under, err = os.Open(list[0]); err != nil {
			return nil, err
		}
		name := filepath.Base(list[0])
		list = list[1:]
		return &appdraft.Upload{Name: name, Body: under}, nil
	})
	if err != nil {
		return err
	}
	receipt, err := office.Load.TakeIn(c.Context(), d, dry)
	if err != nil {
		return err
	}
	announce(c.OutOrStdout(), c.ErrOrStderr(), receipt, nil, dry)
	return nil
}

func login() string {
	if u, err := user.Current(); err == nil {
		return u.Username
	}
	return "unknown"
}

func announce(out, errs io.Writer, r *intake.Receipt, skipped []string, dry bool) {
	for i, f := range r.Files {
		did := "would load"
		if !dry {
			did = fmt.Sprintf("load %d:", r.Loads[i].ID)
		}
		fmt.Fprintf(out, "%s %s, %s of %s (%s)\n", did, f.Name, write.Count(f.Rows, "row", "rows"), f.Kind, f.Recognised)
		if len(f.Ignored) > 0 {
			fmt.Fprintf(out, "  columns ignored: %s\n", strings.Join(f.Ignored, ", "))
		}
	}
	for _, p := range skipped {
		fmt.Fprintf(out, "skipped %s: not named after a kind\n", p)
	}
	for _, w := range r.Warnings {
		fmt.Fprintln(errs, "warning:", w)
	}
}

func generateCommand() *cobra.Command {
	var size demo.Size
	c := &cobra.Command{
		Use:   "generate --projects N --activities M --ledger K --seed S OUTDIR",
		Short: "Write a synthetic portfolio as CSV files",
		Args:  cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			if err := size.Check(); err != nil {
				return usageError{err}
			}
			if err := os.MkdirAll(args[0], 0o755); err != nil {
				return err
			}
			return demo.Generate(size, args[0])
		},
	}
	c.Flags().IntVar(&size.Projects, "projects", 100, "number of projects")
	c.Flags().IntVar(&size.Activities, "activities", 2000, "number of activities in all")
	c.Flags().IntVar(&size.Ledger, "ledger", 10000, "number of postings in all")
	c.Flags().Uint64Var(&size.Seed, "seed", 1, "the same seed gives the same bytes")
	return c
}

func sendersCommand() *cobra.Command {
	var period string
	c := &cobra.Command{
		Use:    "senders --period YYYY-MM OUTDIR",
		Short:  "Write what six made-up senders would send the demonstration for a period after its own",
		Args:   cobra.ExactArgs(1),
		Hidden: true,
		RunE: func(_ *cobra.Command, args []string) error {
			m, err := calendar.ParseMonth(period)
			if err != nil {
				return usageError{fmt.Errorf("--period: %w; expected YYYY-MM", err)}
			}
			return demo.Senders(m, args[0])
		},
	}
	c.Flags().StringVar(&period, "period", "2026-11", "the period")
	return c
}
