package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"

	"github.com/spf13/cobra"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/gate"
	"turret/internal/app/publish"
	"turret/internal/attach"
	"turret/internal/export"
	"turret/internal/record"
	"turret/internal/report"
	"turret/internal/store"
)

func backupCommand() *cobra.Command {
	var db string
	c := &cobra.Command{
		Use:   "backup --db FILE OUT",
		Short: "Write a consistent copy of the file and of what is attached to records, also while it is served",
		Args:  cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			s, _, err := open(c, db)
			if err != nil {
				return err
			}
			defer s.Close()
			if err := s.Backup(c.Context(), args[0]); err != nil {
				return err
			}
			_, err = attach.In(filesOf(db)).CopyTo(attach.In(filesOf(args[0])))
			return err
		},
	}
	dbFlag(c, &db)
	return c
}

// filesOf is the folder of the files attached to records, beside the file of an office.
func filesOf(db string) string { return db + ".files" }

func restoreCommand() *cobra.Command {
	var db string
	c := &cobra.Command{
		Use:   "restore --db FILE BACKUP",
		Short: "Make a new file from a backup, after checking that it is whole",
		Args:  cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			ctx := access.As(c.Context(), access.Operator(login()))
			err := store.Restore(ctx, args[0], db, func(s *store.Store) error {
				return verify(ctx, c.OutOrStdout(), app.NewOffice(s, clockOf(ctx), app.Parts{}))
			})
			if errors.Is(err, os.ErrExist) {
				return fmt.Errorf("%s is there already; move it away first", db)
			}
			if err == nil {
				_, err = attach.In(filesOf(args[0])).CopyTo(attach.In(filesOf(db)))
			}
			return err
		},
	}
	dbFlag(c, &db)
	return c
}

func verifyCommand() *cobra.Command {
	var db string
	var packs []string
	c := &cobra.Command{
		Use:   "verify --db FILE [--pack FILE]...",
		Short: "Check the file and its audit trail, and compute closed periods again; or say whether a pack is the one that was published",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			s, office, err := open(c, db)
			if err != nil {
				return err
			}
			defer s.Close()
			if err := s.Whole(c.Context()); err != nil {
				return err
			}
			wrong := verify(c.Context(), c.OutOrStdout(), office)
			for _, name := range packs {
				if err := verifyPack(c.Context(), c.OutOrStdout(), office, name); err != nil {
					wrong = errors.Join(wrong, fmt.Errorf("%s: %w", name, err))
				}
			}
			return wrong
		},
	}
	dbFlag(c, &db)
	c.Flags().StringArrayVar(&packs, "pack", nil, "a PDF, HTML file or workbook, to be held against the period that it says it shows")
	return c
}

// verifyPack says whether a document is the one that a period was published with and its figures are those of the file.
func verifyPack(ctx context.Context, out io.Writer, office *app.Office, name string) error {
	b, err := os.ReadFile(name)
	if err != nil {
		return err
	}
	s, format, err := report.StampOf(b)
	if errors.Is(err, fault.ErrNotFound) {
		return errors.New("it carries no digest of a published period: it was made before the period was closed, or changed")
	}
	if err != nil {
		return err
	}
	p, content, err := office.Report.Stamped(ctx, s)
	if errors.Is(err, fault.ErrNotFound) {
		return fmt.Errorf("it shows %w in this file: it comes of another file, or its digest was changed", err)
	}
	if err != nil {
		return err
	}
	where, err := report.Differs(b, format, content)
	if err != nil {
		return err
	}
	if where != "" {
		return fmt.Errorf("it is not what %s is published with: it differs %s; it was changed, or made by another version", p.Name(),
			where)
	}
	fmt.Fprintf(out, "%s is the %s of %s as it was published, and its figures are those of the file, digest %s\n", name, s.Name, p.Name(),
		p.Digest)
	return nil
}

func verify(ctx context.Context, out io.Writer, office *app.Office) error {
	v, wrong := office.Audit.Verify(ctx)
	if v.Broken != 0 {
		wrong = errors.Join(wrong, fmt.Errorf("the audit trail does not hold: entry %d of %d was changed, taken out or put in", v.Broken,
			v.Entries))
	}
	for _, w := range v.Wrong {
		wrong = errors.Join(wrong, errors.New(w))
	}
	if wrong == nil {
		fmt.Fprintf(out, "the audit trail of %d entries is whole, and what it tells of stands as it was made\n", v.Entries)
	}
	err := office.Publish.Recompute(ctx, func(r publish.Recomputed) {
		if r.Earlier {
			fmt.Fprintf(out, "%s was closed by earlier rules: its figures stand as they were kept, digest %s\n", r.Name(), r.Digest)
			return
		}
		if len(r.Differs) == 0 {
			fmt.Fprintf(out, "%s computes to the same figures, digest %s\n", r.Name(), r.Digest)
			return
		}
		for _, d := range r.Differs {
			wrong = errors.Join(wrong, fmt.Errorf("%s: %s", r.Name(), d))
		}
	})
	if err == nil {
		err = office.Gate.Verify(ctx, func(c gate.Checked) {
			name := fmt.Sprintf("%s at the gate of %s", c.Project, c.Stage)
			if c.Wrong() {
				wrong = errors.Join(wrong, fmt.Errorf("%s: %s", name, c.Says()))
				return
			}
			fmt.Fprintf(out, "%s: %s\n", name, c.Says())
		})
	}
	return errors.Join(err, wrong)
}

// exportRows writes the current rows of a kind.
func exportRows(c *cobra.Command, office *app.Office, kind record.Kind, format string, out io.Writer) error {
	f, err := office.Load.Current(c.Context(), kind)
	if err != nil {
		return err
	}
	rows := make([][]string, f.Len())
	for i := range rows {
		rows[i] = f.Cells(i)
	}
	if err := export.Rows(out, f.Input(), rows, format); !errors.Is(err, export.ErrFormat) {
		return err
	}
	return usageError{errors.New("--format: expected csv, xlsx or json")}
}
