package app

import (
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"turret/internal/app/access"
	"turret/internal/app/fault"
)

// Meaning is what is remembered of a sender's sheets of one shape, and who changed it last: nobody where it is as it was first given.
type Meaning struct {
	Mapping
	UsedAt    time.Time
	ChangedAt time.Time
	ChangedBy string
	Change    string // in words
}

// fresh says whether nothing was loaded by the meaning since it was changed.
func (m *Meaning) fresh() bool { return m.ChangedBy != "" && !m.UsedAt.After(m.ChangedAt) }

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
func (o *Office) Remembered(ctx context.Context, source string) ([]Mapping, error) {
	actor, err := access.Permit(ctx, access.Send)
	if err != nil || source == "" {
		return nil, err
	}
	list, err := o.store.Meanings(ctx, source, meaningsOwner(actor))
	var mappings []Mapping
	for i := range list {
		mappings = append(mappings, list[i].Mapping)
	}
	return mappings, err
}

// ChangedMeanings tells what was changed in the meanings of a source and has not been used since, to be looked at with the next file.
func (o *Office) ChangedMeanings(ctx context.Context, source string) ([]Meaning, error) {
	actor, err := access.Permit(ctx, access.Send)
	if err != nil || source == "" {
		return nil, err
	}
	list, err := o.store.Meanings(ctx, source, meaningsOwner(actor))
	return slices.DeleteFunc(list, func(m Meaning) bool { return !m.fresh() }), err
}

// remember keeps the mappings of a loaded draft for the next files of its source. What changes by that is in the trail.
func (o *Office) remember(ctx context.Context, d *Draft) error {
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
		m := d.Sheets[i].Sheet.Mapping
		if len(m.Heads) == 0 || m.Kind == "" && !m.Skip {
			continue
		}
		if err := o.rememberOne(ctx, d.Source, owner, known, m); err != nil {
			return err
		}
	}
	return nil
}

func (o *Office) rememberOne(ctx context.Context, source, owner string, known []Meaning, m Mapping) error {
	now := Meaning{Mapping: m, UsedAt: o.now()}
	changed := true
	i := slices.IndexFunc(known, func(x Meaning) bool { return x.Signature() == m.Signature() })
	if i >= 0 {
		now.ChangedAt, now.ChangedBy, now.Change = known[i].ChangedAt, known[i].ChangedBy, known[i].Change
		words := known[i].changes(&m)
		if changed = words != nil; changed {
			now.ChangedAt, now.ChangedBy, now.Change = now.UsedAt, access.ActorOf(ctx).Name, strings.Join(words, "; ")
		}
	}
	if !changed {
		return o.store.SaveMeaning(ctx, source, owner, now, Entry{})
	}
	subject := source
	if owner != "" {
		subject += ", for " + owner
	}
	return o.store.SaveMeaning(ctx, source, owner, now, o.note(ctx, "remember what is sent", subject, "",
		fault.Clip(strings.Join(m.words(), "; "), 4000)))
}

// words says what a mapping means: each head, value and what else was chosen.
func (m *Mapping) words() []string {
	var list []string
	if m.Skip {
		list = append(list, "the sheet is left out")
	} else {
		list = append(list, "read as "+m.Kind.Title())
	}
	for _, head := range slices.Sorted(maps.Keys(m.Columns)) {
		if c := m.Columns[head]; c != "" {
			list = append(list, fmt.Sprintf("“%s” is %s", head, c))
		} else {
			list = append(list, fmt.Sprintf("“%s” is ignored", head))
		}
	}
	for _, column := range slices.Sorted(maps.Keys(m.Values)) {
		for _, says := range slices.Sorted(maps.Keys(m.Values[column])) {
			list = append(list, fmt.Sprintf("“%s” in %s means %s", says, column, m.Values[column][says]))
		}
	}
	for _, column := range slices.Sorted(maps.Keys(m.Factors)) {
		list = append(list, fmt.Sprintf("%s times %d", column, m.Factors[column]))
	}
	for _, column := range slices.Sorted(maps.Keys(m.Fixed)) {
		list = append(list, fmt.Sprintf("%s is %s in every row", column, m.Fixed[column]))
	}
	for _, says := range m.LeaveOut {
		list = append(list, "rows of "+says+" are left out")
	}
	for _, x := range []struct {
		is   bool
		says string
	}{{m.Keep, "columns that are not there keep what stands"}, {m.Round, "amounts are rounded"}} {
		if x.is {
			list = append(list, x.says)
		}
	}
	d := m.Dialect
	for _, x := range [][2]string{{"written in", d.Encoding}, {"cells parted by", d.Separator}, {"decimals by", d.Decimal},
		{"dates as", d.Dates}} {
		if x[1] != "" {
			list = append(list, x[0]+" "+x[1])
		}
	}
	if d.HeadRow != 0 {
		list = append(list, fmt.Sprintf("heads in row %d", d.HeadRow))
	}
	return list
}

// changes says in words what another mapping means differently: what is new, and what no longer holds.
func (m *Mapping) changes(now *Mapping) []string {
	was, is := m.words(), now.words()
	var list []string
	for _, w := range is {
		if !slices.Contains(was, w) {
			list = append(list, w)
		}
	}
	for _, w := range was {
		if !slices.Contains(is, w) {
			list = append(list, "no longer: "+w)
		}
	}
	return list
}
