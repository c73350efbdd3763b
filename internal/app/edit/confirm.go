package edit

import (
	"errors"
	"slices"

	"turret/internal/app/fault"
	"turret/internal/core/calendar"

	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"strings"

	"turret/internal/app/access"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/record"
)

// Confirm sends what stands of some kinds of a project again, unchanged, for the period: nothing moves, and the inputs have come. Kinds of
// which nothing stands are left out, and so is what was said of an earlier period alone; the kinds that were sent are returned.
func (o *Office) Confirm(ctx context.Context, project string, kinds []record.Kind) ([]record.Kind, error) {
	period, err := o.intake.PeriodFor(ctx)
	if err != nil {
		return nil, err
	}
	for range 5 {
		head, err := o.store.Head(ctx)
		if err != nil {
			return nil, err
		}
		sent, err := o.confirmOnce(ctx, project, kinds, period, head)
		if !errors.Is(err, ErrMoved) {
			return sent, err
		}
	}
	return nil, fmt.Errorf("the table kept changing: %w", fault.ErrConflict)
}

// confirmOnce confirms what stood at a head; where something came since, it is an ErrMoved.
func (o *Office) confirmOnce(ctx context.Context, project string, kinds []record.Kind, period calendar.Period,
	head int64) ([]record.Kind, error) {
	var files []*kept.File
	var sent []record.Kind
	for _, k := range kinds {
		if !k.IsRevision() {
			continue
		}
		if err := o.MayEdit(ctx, k, project); err != nil {
			return nil, err
		}
		f, err := o.standing(ctx, k, project, period)
		if err != nil {
			return nil, err
		}
		if f != nil {
			files, sent = append(files, f), append(sent, k)
		}
	}
	if len(files) == 0 {
		return nil, nil
	}
	if err := o.intake.MayWrite(ctx, o.store, files); err != nil {
		return nil, err
	}
	actor := access.ActorOf(ctx)
	_, err := o.intake.Save(ctx, kept.Batch{Files: files, Source: intake.TypedBy(actor), Author: actor.Name, At: o.now(), Period: period,
		Check: func(view kept.Reading) error {
			if h, err := view.Head(ctx); err != nil || h != head {
				return errors.Join(err, ErrMoved)
			}
			_, err := intake.Checked(ctx, view, files)
			return err
		}, Note: func(l kept.Load) kept.Entry {
			return o.audit.Entry(ctx, "confirm", fmt.Sprintf("%s %s, load %d", l.Kind.Title(), project, l.ID), "", period.String())
		}})
	return sent, err
}

// standing is what stands of a kind as a file that says it again; nil where nothing does.
func (o *Office) standing(ctx context.Context, k record.Kind, project string, period calendar.Period) (*kept.File, error) {
	g, err := GridOf(ctx, o.store, k, project)
	if err != nil {
		return nil, err
	}
	if len(g.Rows) == 0 || k == record.Statuses && strings.Join(g.Rows[0][1:], "") == "" {
		return nil, nil
	}
	rows := slices.Clone(g.Rows)
	if err := o.fresh(ctx, g, rows, period); err != nil {
		return nil, err
	}
	f, problems := o.reader.With(g.own()).Typed(k, rows)
	if len(problems) > 0 {
		return nil, &Error{Problems: problems}
	}
	f.Name, f.Recognised = fmt.Sprintf("confirmed: %s %s", k.Title(), project), "confirmed as it stood"
	sum := sha256.Sum256([]byte(fmt.Sprint(project, k, period, rows)))
	f.Digest = hex.EncodeToString(sum[:])
	return f, nil
}
