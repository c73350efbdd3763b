package saved

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"turret/internal/app/access"
	"turret/internal/app/fault"
)

// View is what a person keeps by a name, as an address says it: a table, a report, or how Lookout is set out.
type View struct {
	ID     int64
	Kind   Kind
	Name   string
	Query  string
	Who    string
	Login  string
	Shared bool
	At     time.Time
}

// Kind says what a saved view is of.
type Kind string

// What views are of.
const (
	tableView   Kind = "table"
	ReportView  Kind = "report"
	LookoutView Kind = "lookout"
	Proposal    Kind = "proposal" // the form of one, half done
	Template    Kind = "template" // a plan that projects begin with
)

// maxViews bounds how many tables a person keeps.
const maxViews = 100

// Views lists the saved tables that the one who asks may use: the own, and those that are shared.
func (o *Office) Views(ctx context.Context) ([]View, error) { return o.List(ctx, tableView) }

// SaveView keeps a table by a name, in the place of the own one of that name.
func (o *Office) SaveView(ctx context.Context, name, query string, shared bool) error {
	_, err := o.Keep(ctx, View{Kind: tableView, Name: name, Query: query, Shared: shared}, maxViews)
	return err
}

// EndView takes away an own table; that of another is an error wrapping ErrForbidden.
func (o *Office) EndView(ctx context.Context, id int64) error { return o.End(ctx, tableView, id) }

// List lists what is kept of a kind that the one who asks may use.
func (o *Office) List(ctx context.Context, kind Kind) ([]View, error) {
	actor, err := access.Permit(ctx, access.Read)
	if err != nil {
		return nil, err
	}
	list, err := o.store.SavedViews(ctx, kind, false)
	return slices.DeleteFunc(list, func(v View) bool { return !v.Shared && v.Login != actor.Login }), err
}

// Keep keeps a view of the one who asks, in the place of the own one of its name, and returns its number.
func (o *Office) Keep(ctx context.Context, v View, most int) (int64, error) {
	actor, err := access.Permit(ctx, access.Read)
	if err != nil {
		return 0, err
	}
	if err := v.check(); err != nil {
		return 0, err
	}
	list, err := o.store.SavedViews(ctx, v.Kind, false)
	if err != nil {
		return 0, err
	}
	own := 0
	for i := range list {
		if x := &list[i]; x.Login == actor.Login && x.Name != v.Name {
			own++
		}
	}
	if own >= most {
		return 0, fault.Field("name", v.Name, fmt.Sprintf("at most %d of your own; take one away first", most))
	}
	v.Who, v.Login, v.At = actor.Name, actor.Login, o.now()
	return o.store.SaveView(ctx, v)
}

// check tidies the name.
func (v *View) check() error {
	v.Name = strings.TrimSpace(v.Name)
	if v.Name == "" || utf8.RuneCountInString(v.Name) > 80 {
		return fault.Field("name", fault.Clip(v.Name, 80), "a name of at most 80 characters")
	}
	if n := mostQuery(v.Kind); len(v.Query) > n {
		return fault.Field("what is kept", fault.Clip(v.Query, 40), fmt.Sprintf("at most %d characters in all", n))
	}
	return nil
}

// mostQuery bounds what is kept by a name.
func mostQuery(s Kind) int {
	switch s {
	case Proposal:
		return 40_000 // whole texts, as an address writes them
	case Template:
		return 200_000
	}
	return 8_000
}

// KeepForAll keeps a view that everybody uses, in the place of the one of its name, whoever kept that.
func (o *Office) KeepForAll(ctx context.Context, v View, most int) error {
	actor, err := access.Permit(ctx, access.Read)
	if err == nil {
		err = v.check()
	}
	if err != nil {
		return err
	}
	list, err := o.store.SavedViews(ctx, v.Kind, false)
	if err != nil {
		return err
	}
	var former []int64
	for i := range list {
		if list[i].Name == v.Name {
			former = append(former, list[i].ID)
		}
	}
	if len(former) == 0 && len(list) >= most {
		return fault.Field("name", v.Name, fmt.Sprintf("at most %d in all; take one away first", most))
	}
	v.Shared, v.Who, v.Login, v.At = true, actor.Name, actor.Login, o.now()
	_, err = o.store.SaveView(ctx, v, former...)
	return err
}

// Every lists what was ever kept of a kind by a name, the oldest first.
func (o *Office) Every(ctx context.Context, kind Kind, name string) ([]View, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	list, err := o.store.SavedViews(ctx, kind, true)
	return slices.DeleteFunc(list, func(v View) bool { return v.Name != name }), err
}

// EndForAll takes away what everybody uses by a name; where there is none the error wraps ErrNotFound.
func (o *Office) EndForAll(ctx context.Context, kind Kind, name string) error {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return err
	}
	list, err := o.store.SavedViews(ctx, kind, false)
	if err != nil {
		return err
	}
	for i := range list {
		if list[i].Name == name && list[i].Shared {
			return o.store.EndView(ctx, list[i].ID, o.now())
		}
	}
	return fmt.Errorf("%s: %w", fault.Clip(name, 80), fault.ErrNotFound)
}

// End takes away an own view; that of another is an error wrapping ErrForbidden.
func (o *Office) End(ctx context.Context, kind Kind, id int64) error {
	actor, err := access.Permit(ctx, access.Read)
	if err != nil {
		return err
	}
	list, err := o.store.SavedViews(ctx, kind, false)
	if err != nil {
		return err
	}
	for _, v := range list {
		if v.ID != id {
			continue
		}
		if v.Login != actor.Login {
			return fmt.Errorf("taking away what %s keeps: %w", v.Who, access.ErrForbidden)
		}
		return o.store.EndView(ctx, id, o.now())
	}
	return fmt.Errorf("number %d: %w", id, fault.ErrNotFound)
}
