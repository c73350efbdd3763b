package records

import (
	"context"
	"fmt"
	"slices"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// Sheet is what a project has of a kind, as it stood in the period of an assessment.
type Sheet struct {
	Kind  record.Kind
	Input *record.Input
	Rows  []Row
	Load  *kept.Load // that brought them all; nil where rows come from many loads or none
	Cut   bool       // there are more than these
	key   []int
}

// Row is one record. Key is what it is known again by within its project and kind, From its row in the file that brought it.
type Row struct {
	Cells []string
	Key   string
	From  int32
}

// mostRows bounds a sheet of rows that are added load by load, such as postings.
const mostRows = 500

// Of reads a kind of a project, as of the day of the assessment. Projects and kinds that the one who asks may not see are not found.
func (o *Office) Of(ctx context.Context, a *assess.Assessment, project string, kind record.Kind) (*Sheet, error) {
	p, view, err := o.open(ctx, a, project, kind)
	if err != nil {
		return nil, err
	}
	s := newSheet(kind, a.Masters.Own)
	which := kept.Selection{Projects: []int64{p.ID}}
	if kind.Adds() {
		which.Limit = mostRows + 1
	}
	f, err := view.Rows(ctx, kind, which)
	if err != nil {
		return nil, err
	}
	s.take(f, p.Code)
	if kind.Adds() && len(s.Rows) > mostRows {
		s.Rows, s.Cut = s.Rows[:mostRows], true
	}
	if !kind.IsRevision() {
		return s, nil
	}
	load, err := view.CurrentLoad(ctx, kind, p.ID)
	if err != nil || load == 0 {
		return s, err
	}
	list, err := view.LoadsOf(ctx, kind, p.ID)
	if i := slices.IndexFunc(list, func(l kept.Load) bool { return l.ID == load }); i >= 0 {
		s.Load = &list[i]
	}
	return s, err
}

// open finds the project and what its records of a kind are read from, for one who may see both.
func (o *Office) open(ctx context.Context, a *assess.Assessment, project string, kind record.Kind) (*measure.Project, kept.Reading, error) {
	actor, err := access.Permit(ctx, access.Read)
	if err != nil {
		return nil, nil, err
	}
	p, err := assess.HolderOf(a, project)
	if err != nil {
		return nil, nil, err
	}
	if n := a.NodeCodes[project]; n != nil && !assess.NodeSeenBy(a, actor, n) {
		return nil, nil, fmt.Errorf("records of %q: %w", fault.Clip(project, 40), fault.ErrNotFound)
	}
	if !kind.OfProject() || p.Node && !kind.OfNodes() || len(actor.MayKnow([]record.Kind{kind})) == 0 {
		return nil, nil, fmt.Errorf("records of %q: %w", fault.Clip(string(kind), 40), fault.ErrNotFound)
	}
	view, err := o.assess.View(ctx, a.Env.AsOf)
	return p, view, err
}

func newSheet(kind record.Kind, own []record.Column) *Sheet {
	s := &Sheet{Kind: kind, Input: kind.InputWith(own)}
	for _, at := range intake.KeyColumns(s.Input) {
		if !s.Input.Columns[at].Owner() {
			s.key = append(s.key, at)
		}
	}
	return s
}

// take adds the rows of a file that are of a project.
func (s *Sheet) take(f *kept.File, project string) {
	for i := range f.Len() {
		if f.OwnerOf(i) != project {
			continue
		}
		cells := f.Cells(i)
		s.Rows = append(s.Rows, Row{Cells: cells, Key: intake.KeyText(cells, s.key), From: f.Row(i)})
	}
}

// Row finds a record by its key; nil where there is none.
func (s *Sheet) Row(key string) *Row {
	if i := slices.IndexFunc(s.Rows, func(r Row) bool { return r.Key == key }); i >= 0 {
		return &s.Rows[i]
	}
	return nil
}

// Event is what one load did to a record.
type Event struct {
	Load    kept.Load
	From    int32 // its row in the file
	Act     Act
	Changes []Change
}

// Change is what became of one cell.
type Change struct {
	Column  record.Column
	Was, Is string
}

// Act is what became of a record.
type Act string

// The acts.
const (
	Came    Act = "came"
	Changed Act = "changed"
	Gone    Act = "taken away"
)

// mostLoads bounds how far back a history is read.
const mostLoads = 60

// History is what the loads up to the period of the assessment did to a record of a project, newest first.
func (o *Office) History(ctx context.Context, a *assess.Assessment, project string, kind record.Kind, key string) ([]Event, error) {
	p, view, err := o.open(ctx, a, project, kind)
	if err != nil {
		return nil, err
	}
	loads, err := o.loads(ctx, view, kind, p.ID)
	if err != nil {
		return nil, err
	}
	period := a.Env.Period()
	loads = slices.DeleteFunc(loads, func(l kept.Load) bool { return l.Withdrawn() || l.Period > period })
	slices.SortFunc(loads, func(x, y kept.Load) int { return int(x.ID - y.ID) })
	loads = loads[max(0, len(loads)-mostLoads):]
	var list []Event
	var before *Row
	for _, l := range loads {
		f, err := view.Rows(ctx, kind, kept.Selection{Load: l.ID, Projects: []int64{p.ID}})
		if err != nil {
			return nil, err
		}
		s := newSheet(kind, a.Masters.Own)
		s.take(f, p.Code)
		if len(s.Rows) == 0 {
			continue // it told nothing of the project
		}
		now := s.Row(key)
		if e := eventOf(s.Input, before, now); e != nil && (now != nil || kind.IsRevision()) {
			e.Load = l
			list = append(list, *e)
		}
		if now != nil || kind.IsRevision() {
			before = now
		}
	}
	slices.Reverse(list)
	return list, nil
}

// loads are those that may tell of a project's records of a kind: those that did, and for rows of the office all of the kind.
func (o *Office) loads(ctx context.Context, view kept.Reading, kind record.Kind, project int64) ([]kept.Load, error) {
	if kind.PerProject() {
		return view.LoadsOf(ctx, kind, project)
	}
	list, err := o.store.Loads(ctx)
	return slices.DeleteFunc(list, func(l kept.Load) bool { return l.Kind != kind }), err
}

// eventOf compares a record before and after a load; nil where nothing became of it.
func eventOf(in *record.Input, before, now *Row) *Event {
	switch {
	case before == nil && now == nil:
		return nil
	case before == nil:
		return &Event{Act: Came, From: now.From}
	case now == nil:
		return &Event{Act: Gone}
	}
	e := &Event{Act: Changed, From: now.From}
	for i, c := range in.Columns {
		if was, is := intake.CellOf(before.Cells, i), intake.CellOf(now.Cells, i); was != is {
			e.Changes = append(e.Changes, Change{c, was, is})
		}
	}
	if len(e.Changes) == 0 {
		return nil
	}
	return e
}
