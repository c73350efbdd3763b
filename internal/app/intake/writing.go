package intake

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/app/setting"
	"turret/internal/core/cost"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// Save writes files as loads. Every row that comes in comes by here, whether it is typed, pasted, sent as a file or drawn from a feed, and
// none is written that the one who asks has no right over.
func (o *Office) Save(ctx context.Context, b kept.Batch) ([]kept.Load, error) {
	also := b.Check
	b.Check = func(view kept.Reading) error {
		if err := o.MayWrite(ctx, view, b.Files); err != nil {
			return err
		}
		if err := also(view); err != nil {
			return err
		}
		return o.MayDecide(ctx, view, b.Files)
	}
	return o.store.Save(ctx, b)
}

// MayWrite refuses files with any row that is not for the one who asks to write: by its kind, by the project that it belongs to now, or
// by where that would stand afterwards.
func (o *Office) MayWrite(ctx context.Context, view kept.Reading, files []*kept.File) error {
	actor, err := access.Permit(ctx, access.Send)
	if err != nil {
		return err
	}
	b, err := o.Allowed(ctx, view, actor)
	if err != nil || b == nil {
		return err
	}
	for _, f := range files {
		if err := b.MaySend(f.Kind, f.OwnersOf()); err != nil {
			return err
		}
		for i := range f.Projects {
			if err := b.mayPlace(&f.Projects[i]); err != nil {
				return err
			}
		}
		if err := b.mayLink(ctx, view, f); err != nil {
			return err
		}
	}
	return nil
}

// Allowed are what an actor may send: the kinds asked for, and with a scope the projects in it.
type Allowed struct {
	Actor *access.Actor
	asked []record.Kind
	all   *assess.Assessment // of which the actor sees a part
}

// Allowed reads them once for as many questions as are asked; they are nil for an actor from whom nothing is kept.
func (o *Office) Allowed(ctx context.Context, view kept.Reading, actor *access.Actor) (*Allowed, error) {
	if actor.Unbounded() {
		return nil, nil
	}
	settings, err := setting.Of(ctx, view)
	if err != nil {
		return nil, err
	}
	m, err := view.Masters(ctx)
	if err != nil {
		return nil, err
	}
	return &Allowed{actor, actor.Asked(settings.AskedOfLeads), assess.New(m, nil, 0)}, nil
}

// MaySend refuses a kind that is not asked of the actor, and projects that are not the actor's.
func (b *Allowed) MaySend(kind record.Kind, projects []string) error {
	switch {
	case b == nil:
		return nil
	case !slices.Contains(b.asked, kind):
		return fmt.Errorf("sending %s as %s: %w", kind.Title(), b.Actor.Role, access.ErrForbidden)
	case !kind.OfProject() && !b.Actor.Everything():
		return fmt.Errorf("sending %s beyond your scope: %w", kind.Title(), access.ErrForbidden)
	}
	for _, code := range projects {
		if n := b.all.NodeCodes[code]; n != nil && kind.OfNodes() {
			if !assess.NodeSeenBy(b.all, b.Actor, n) {
				return fmt.Errorf("sending for %q: %w", fault.Clip(code, 40), access.ErrForbidden)
			}
			continue
		}
		if p := b.all.ByCode[code]; (p != nil || !b.Actor.Everything()) && (p == nil || !b.all.SeenBy(b.Actor, &p.Info)) {
			return fmt.Errorf("sending for project %q: %w", fault.Clip(code, 40), access.ErrForbidden)
		}
	}
	return nil
}

// mayPlace refuses a project that would no longer be the actor's, or would become it.
func (b *Allowed) mayPlace(p *kept.ProjectRow) error {
	after := measure.Info{Code: p.Code, Lead: p.Lead}
	if n := b.all.NodeCodes[p.Parent]; n != nil {
		after.Parent = n.ID
	}
	if !b.Actor.Everything() && !b.all.SeenBy(b.Actor, &after) {
		return fmt.Errorf("placing project %q there: %w", fault.Clip(p.Code, 40), access.ErrForbidden)
	}
	return nil
}

// mayLink refuses links that make the work of a project wait that is not the actor's; those that stand already may stay.
func (b *Allowed) mayLink(ctx context.Context, view kept.Reading, f *kept.File) error {
	var now map[string]bool
	for i := range f.Links {
		l := &f.Links[i]
		waits := b.all.ByCode[cmp.Or(l.ToProject, l.Project)]
		if waits == nil || b.all.SeenBy(b.Actor, &waits.Info) {
			continue
		}
		if now == nil {
			old, err := standing(ctx, view, f)
			if err != nil {
				return err
			}
			now = map[string]bool{}
			for k := range old.Links {
				now[strings.Join(old.Cells(k), "\x1f")] = true
			}
		}
		if !now[strings.Join(f.Cells(i), "\x1f")] {
			return fmt.Errorf("making project %q wait: %w", fault.Clip(waits.Code, 40), access.ErrForbidden)
		}
	}
	return nil
}

// decided are the columns of a change that say how it was decided, by whom and when.
var decided = []string{"state", "decided_by", "decided_on", "answer"}

// MayDecide refuses decisions on changes to those who may not decide: in their rows a change is asked for, and what was decided stands as
// it was. The files are checked already, so that their amounts are written as those that stand.
func (o *Office) MayDecide(ctx context.Context, view kept.Reading, files []*kept.File) error {
	actor, err := access.Permit(ctx, access.Send)
	if err != nil || actor.Unbounded() {
		return err
	}
	for _, f := range files {
		if f.Kind != record.Changes {
			continue
		}
		if err := undecided(ctx, view, f); err != nil {
			return err
		}
	}
	return nil
}

// undecided says which change of a file would be decided, or be another than the one that was decided.
func undecided(ctx context.Context, view kept.Reading, f *kept.File) error {
	stands, err := decidedOf(ctx, view, f)
	if err != nil {
		return err
	}
	for i := range f.Len() {
		key := [2]string{f.OwnerOf(i), f.Cell(i, "change")}
		was, ok := stands[key]
		delete(stands, key)
		if ok && slices.Equal(was, f.Cells(i)) || !ok && onlyAsked(f, i) {
			continue
		}
		return fmt.Errorf("deciding change %q of %s: %w", fault.Clip(key[1], 40), fault.Clip(key[0], 40), access.ErrForbidden)
	}
	for key := range stands {
		return fmt.Errorf("leaving out change %q of %s, which is decided: %w", key[1], key[0], access.ErrForbidden)
	}
	return nil
}

// decidedOf are the decided changes of a file's projects, by project and reference.
func decidedOf(ctx context.Context, view kept.Reading, f *kept.File) (map[[2]string][]string, error) {
	now, err := standing(ctx, view, f)
	if err != nil {
		return nil, err
	}
	list := map[[2]string][]string{}
	for i := range now.Len() {
		if !onlyAsked(now, i) {
			list[[2]string{now.OwnerOf(i), now.Cell(i, "change")}] = now.Cells(i)
		}
	}
	return list, nil
}

// standing are the rows that the projects of a file have of its kind.
func standing(ctx context.Context, view kept.Reading, f *kept.File) (*kept.File, error) {
	m, err := view.Masters(ctx)
	if err != nil {
		return nil, err
	}
	var ids []int64
	projects := f.OwnersOf()
	for i := range m.Projects {
		if slices.Contains(projects, m.Projects[i].Code) {
			ids = append(ids, m.Projects[i].ID)
		}
	}
	if len(ids) == 0 {
		return &kept.File{Kind: f.Kind}, nil
	}
	return view.Rows(ctx, f.Kind, kept.Selection{Projects: ids})
}

// onlyAsked says whether a change is only asked for.
func onlyAsked(f *kept.File, i int) bool {
	for _, c := range decided[1:] {
		if f.Cell(i, c) != "" {
			return false
		}
	}
	return f.Cell(i, "state") == cost.Requested.String()
}

// Decides says whether a column tells how a change was decided; such are set by deciding it, not typed.
func Decides(kind record.Kind, column string) bool {
	return kind == record.Changes && slices.Contains(decided, column)
}

// AskedFor fills in, of new changes, that they are asked for and by whom.
func AskedFor(actor *access.Actor, edits []Edited) []Edited {
	list := slices.Clone(edits)
	for i, x := range list {
		if x.Old != nil || x.New == nil {
			continue
		}
		row := slices.Clone(x.New)
		for k, c := range record.Changes.Input().Columns {
			switch {
			case k >= len(row) || row[k] != "":
			case c.Name == "state":
				row[k] = cost.Requested.String()
			case c.Name == "requested_by":
				row[k] = actor.Name
			}
		}
		list[i].New = row
	}
	return list
}

// TypedDecisions are the cells of a table of changes that say more than that one is asked for, by whoever types them: there is an act for
// that, which says who decided.
func TypedDecisions(kind record.Kind, actor *access.Actor, edits []Edited) []fault.Problem {
	if kind != record.Changes {
		return nil
	}
	var list []fault.Problem
	for e, x := range edits {
		if x.New == nil {
			continue
		}
		for i, c := range kind.Input().Columns {
			was, is := CellOf(x.Old, i), CellOf(x.New, i)
			switch {
			case was == is:
			case slices.Contains(decided, c.Name) && !(x.Old == nil && is == cost.Requested.String()):
				list = append(list, fault.Problem{Row: int32(e), Column: c.Name, Value: is,
					Expected: "what stands; a change is decided where changes are listed, by whoever does it"})
			case c.Name == "requested_by" && is != actor.Name:
				list = append(list, fault.Problem{Row: int32(e), Column: c.Name, Value: is, Expected: "your own name, or what stands"})
			}
		}
	}
	return list
}
