package draft

import (
	"context"
	"slices"
	"strings"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
)

// meaningsOwner is whose meanings an actor teaches and is served by: those of the office are for those from whom nothing is kept, others
// have their own, so that nobody changes what a file of somebody else's projects means.
func meaningsOwner(a *access.Actor) string {
	if a.Unbounded() {
		return ""
	}
	return a.Login
}

// senderFor is who a file is from: a lead sends in the own name.
func senderFor(a *access.Actor, source string) string {
	if a.Role == access.Lead {
		return a.Name
	}
	return fault.Clip(strings.TrimSpace(source), 200)
}

// Remembered lists the mappings of a source that hold for the one who asks.
func (o *Office) Remembered(ctx context.Context, source string) ([]intake.Mapping, error) {
	actor, err := access.Permit(ctx, access.Send)
	if err != nil || source == "" {
		return nil, err
	}
	list, err := o.store.Meanings(ctx, source, meaningsOwner(actor))
	var mappings []intake.Mapping
	for i := range list {
		mappings = append(mappings, list[i].Mapping)
	}
	return mappings, err
}

// ChangedMeanings tells what was changed in the meanings of a source and has not been used since, to be looked at with the next file.
func (o *Office) ChangedMeanings(ctx context.Context, source string) ([]intake.Meaning, error) {
	actor, err := access.Permit(ctx, access.Send)
	if err != nil || source == "" {
		return nil, err
	}
	list, err := o.store.Meanings(ctx, source, meaningsOwner(actor))
	return slices.DeleteFunc(list, func(m intake.Meaning) bool { return !m.Fresh() }), err
}

// Remember keeps the mappings of a loaded draft for the next files of its source. What changes by that is in the trail.
func (o *Office) Remember(ctx context.Context, d *Draft) error {
	if d.Source == "" {
		return nil
	}
	actor, err := access.Permit(ctx, access.Send)
	if err != nil {
		return err
	}
	owner := meaningsOwner(actor)
	known, err := o.store.Meanings(ctx, d.Source, owner)
	if err != nil {
		return err
	}
	for i := range d.Sheets {
		m := d.Sheets[i].Sheet.Lasting()
		if len(m.Heads) == 0 || m.Kind == "" && !m.Skip {
			continue
		}
		if err := o.rememberOne(ctx, d.Source, owner, known, m); err != nil {
			return err
		}
	}
	return nil
}

func (o *Office) rememberOne(ctx context.Context, source, owner string, known []intake.Meaning, m intake.Mapping) error {
	now := intake.Meaning{Mapping: m, UsedAt: o.now()}
	changed := true
	i := slices.IndexFunc(known, func(x intake.Meaning) bool { return x.Signature() == m.Signature() })
	if i >= 0 {
		now.ChangedAt, now.ChangedBy, now.Change = known[i].ChangedAt, known[i].ChangedBy, known[i].Change
		words := known[i].Changes(&m)
		if changed = words != nil; changed {
			now.ChangedAt, now.ChangedBy, now.Change = now.UsedAt, access.ActorOf(ctx).Name, strings.Join(words, "; ")
		}
	}
	if !changed {
		return o.store.SaveMeaning(ctx, source, owner, now, kept.Entry{})
	}
	subject := source
	if owner != "" {
		subject += ", for " + owner
	}
	return o.store.SaveMeaning(ctx, source, owner, now, o.audit.Entry(ctx, "remember what is sent", subject, "",
		fault.Clip(strings.Join(m.Words(), "; "), 4000)))
}
