package load

import (
	"context"
	"errors"
	"fmt"
	"strings"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/draft"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/job"
	"turret/internal/app/kept"
	"turret/internal/core/write"
	"turret/internal/record"
)

// Job is a load of a draft, under way or done; what came of it holds no rows.
type Job = job.Job[*intake.Receipt]

// JobState is how far a load has come, in rows.
type JobState = job.State[*intake.Receipt]

// Start begins to load a draft and returns at once; asked again it returns the same job. A draft already loaded, or
// being loaded, is never loaded twice.
func (o *Office) Start(ctx context.Context, id string) (*Job, error) {
	d, err := o.draft.Get(ctx, id)
	if err != nil {
		return nil, err
	}
	if o.jobs.Get(id) == nil && len(d.Loads) > 0 {
		return nil, fmt.Errorf("the draft is loaded already: %w", fault.ErrConflict)
	}
	return o.jobs.Start(ctx, id, func(ctx context.Context, j *Job) (*intake.Receipt, error) { return o.loadDraft(ctx, d, j) })
}

// Job finds the load of a draft that was begun since Turret started.
func (o *Office) Job(ctx context.Context, id string) (*Job, error) {
	if _, err := o.draft.Get(ctx, id); err != nil {
		return nil, err
	}
	if j := o.jobs.Get(id); j != nil {
		return j, nil
	}
	return nil, fmt.Errorf("load of the draft: %w", fault.ErrNotFound)
}

// Stop stops the load of a draft; what it had written is taken back. One that has ended stays as it is.
func (o *Office) Stop(ctx context.Context, id string) error {
	j, err := o.Job(ctx, id)
	if err == nil {
		j.Stop()
	}
	return err
}

// Settle lets no load begin any more and waits for those under way, and for what was to be written later. Where ctx ends before, loads are
// stopped; nothing of them stays.
func (o *Office) Settle(ctx context.Context) {
	o.jobs.Close(ctx)
}

func (o *Office) loadDraft(ctx context.Context, d *draft.Draft, j *Job) (*intake.Receipt, error) {
	r, err := o.takeIn(ctx, d, intake.Origin{Progress: j.Progress})
	if err == nil {
		for _, l := range r.Loads {
			d.Loads = append(d.Loads, l.ID)
		}
		err = errors.Join(o.assess.Changed(ctx), o.draft.Remember(ctx, d), o.desk.Save(d))
		return &intake.Receipt{Loads: r.Loads, Warnings: r.Warnings}, err
	}
	if d.Refused = errors.Is(err, fault.ErrRefused); d.Refused {
		err = errors.Join(err, o.desk.Save(d))
	}
	return nil, err
}

// takeIn reads a draft and imports it; sender and period are the draft's.
func (o *Office) takeIn(ctx context.Context, d *draft.Draft, from intake.Origin) (*intake.Receipt, error) {
	done, err := o.turns.Wait(ctx)
	if err != nil {
		return nil, err
	}
	defer done()
	t, err := o.draft.Read(ctx, d)
	if err != nil {
		return nil, err
	}
	from.Source, from.Author, from.Period = d.Source, access.ActorOf(ctx).Name, d.Period
	if err := o.intake.MayWrite(ctx, o.store, t.Files); err != nil {
		return nil, err
	}
	if len(t.Problems) > 0 {
		err := error(&fault.Refusal{Problems: t.Problems})
		if !from.DryRun {
			err = errors.Join(err, o.intake.Refuse(ctx, t.Files, from, t.Problems))
		}
		return nil, err
	}
	r, err := o.intake.Import(ctx, t.Files, from)
	if err == nil {
		r.Warnings = append(t.Warnings, r.Warnings...)
	}
	return r, err
}

// List lists what was taken in, newest first. A lead sees the own ones.
func (o *Office) List(ctx context.Context) ([]kept.Load, error) {
	actor, err := access.Permit(ctx, access.Send)
	if err != nil {
		return nil, err
	}
	list, err := o.store.Loads(ctx)
	if err != nil || actor.May(access.ReadLoads) {
		return list, err
	}
	own := list[:0]
	for _, l := range list {
		if l.Author == actor.Name {
			own = append(own, l)
		}
	}
	return own, nil
}

// Get finds a load that the one who asks may see.
func (o *Office) Get(ctx context.Context, id int64) (*kept.Load, error) {
	list, err := o.List(ctx)
	if err != nil {
		return nil, err
	}
	for i := range list {
		if list[i].ID == id {
			return &list[i], nil
		}
	}
	return nil, fmt.Errorf("load %d: %w", id, fault.ErrNotFound)
}

// Rows reads rows of a load back, at most limit of them from a position on, of the projects within the scope of the one who
// asks. Lists of all projects or codes cannot be cut to a scope and are kept from whoever has one.
func (o *Office) Rows(ctx context.Context, l *kept.Load, from, limit int) (*kept.File, error) {
	actor, err := access.Permit(ctx, access.Send)
	if err != nil {
		return nil, err
	}
	if actor.HideMoney && l.Kind.IsCost() || !actor.Everything() && !l.Kind.PerProject() {
		return nil, fmt.Errorf("rows of %s: %w", l.Kind.Title(), access.ErrForbidden)
	}
	which := kept.Selection{Load: l.ID, From: from, Limit: limit}
	if !actor.Everything() {
		if which.Projects, err = o.within(ctx, actor); err != nil || len(which.Projects) == 0 {
			return &kept.File{Kind: l.Kind}, err
		}
	}
	return o.store.Rows(ctx, l.Kind, which)
}

// within lists the ids of the projects that an actor sees.
func (o *Office) within(ctx context.Context, actor *access.Actor) ([]int64, error) {
	m, err := o.store.Masters(ctx)
	if err != nil {
		return nil, err
	}
	a := assess.New(m, nil, 0)
	var ids []int64
	for i := range m.Projects {
		if a.SeenBy(actor, &m.Projects[i]) {
			ids = append(ids, m.Projects[i].ID)
		}
	}
	return ids, nil
}

// Withdraw makes a load no longer count; what was current before it is so again. A load that a published period was computed
// from, or that other loads refer to, stays, with the reason.
func (o *Office) Withdraw(ctx context.Context, id int64, reason string) error {
	actor, err := access.PermitWhole(ctx, access.Withdraw)
	if err != nil {
		return err
	}
	if reason = strings.TrimSpace(reason); reason == "" || len(reason) > 2000 {
		return fault.Field("reason", reason, "why it is withdrawn, in a sentence")
	}
	l, err := o.Get(ctx, id)
	if err != nil {
		return err
	}
	if l.Withdrawn() {
		return fmt.Errorf("load %d is withdrawn already: %w", id, fault.ErrConflict)
	}
	return o.store.Withdraw(ctx, id, actor.Name, reason, o.now(),
		o.audit.Entry(ctx, "withdraw", fmt.Sprintf("load %d", id),
			fmt.Sprintf("%s, %s of %s", l.File, write.Count(l.Rows, "row", "rows"), l.Kind), reason))
}

// Current reads the current rows of a kind within the scope of the one who asks.
func (o *Office) Current(ctx context.Context, kind record.Kind) (*kept.File, error) {
	if _, err := access.PermitWhole(ctx, access.ReadLoads); err != nil {
		return nil, err
	}
	return o.store.Rows(ctx, kind, kept.Selection{})
}

// ErrUnmapped is wrapped by errors about files whose heads nobody has given a meaning yet.
var ErrUnmapped = errors.New("not mapped yet")

// TakeIn loads a draft at once and throws it away, whatever came of it. Since nobody looks at it, only sheets that were mapped
// before, or whose heads are the columns themselves, are taken.
func (o *Office) TakeIn(ctx context.Context, d *draft.Draft, dry bool) (*intake.Receipt, error) {
	defer func() { _ = o.desk.Discard(d.ID) }()
	if _, err := access.Permit(ctx, access.Send); err != nil {
		return nil, err
	}
	for i := range d.Sheets {
		s := &d.Sheets[i].Sheet
		if !s.Mapping.Skip && !s.Remembered && s.Problem == nil && !plainly(s) {
			return nil, fmt.Errorf("%s of %s: load such a file once in the browser, and it is known from then on: %w", s.Title(),
				d.Source, ErrUnmapped)
		}
	}
	return o.takeIn(ctx, d, intake.Origin{DryRun: dry})
}

// plainly reports whether every head that is read is the name of its column.
func plainly(s *intake.Sheet) bool {
	for h, c := range s.Mapping.Columns {
		if c != "" && c != h {
			return false
		}
	}
	return s.Mapping.Kind != "" && len(s.Months) == 0 && len(s.Doubts) == 0
}
