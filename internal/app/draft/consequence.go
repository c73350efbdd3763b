package draft

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"sort"
	"strings"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// Consequences are what loading a draft would do, found out before anything is written.
type Consequences struct {
	Taken
	Changes []Change // by kind, then project
	Totals  []TotalChange
}

// Change counts what happens to the rows of one kind, of one project where the kind belongs to projects.
type Change struct {
	Kind                     record.Kind
	Input                    *record.Input // with the columns of the office's own
	Project                  string
	New, Changed, Gone, Same int
	Zero                     int         // rows of the file whose amount is 0
	Rows                     []RowChange // the first of those that differ
	More                     int         // how many more differ
}

// RowChange is a row that differs. Old or New is nil where there was or will be none; cells stand in the kind's columns.
type RowChange struct {
	Row      int32
	Old, New []string
}

// TotalChange is a figure of a project that would move. Code is empty for all projects together.
type TotalChange struct {
	Code, Name    string
	Key           measure.Key
	Measure       string
	Before, After string
	Delta         string
}

// shown is how many differing rows of a project are listed.
const shown = 60

// inTurn reads a draft when it is its turn, which is given back by done, also after an error.
func inTurn(ctx context.Context, o *Office, id string) (d *Draft, t *Taken, done func(), err error) {
	done = func() {}
	if d, err = o.Get(ctx, id); err != nil {
		return nil, nil, done, err
	}
	turn, err := o.turns.Wait(ctx)
	if err != nil {
		return nil, nil, done, err
	}
	t, err = o.Read(ctx, d)
	return d, t, turn, err
}

// Preview reads a draft, checks it, and finds out what loading it would do as of a day. Nothing is written.
func (o *Office) Preview(ctx context.Context, id string, asOf calendar.Date) (*Draft, *Consequences, error) {
	d, t, done, err := inTurn(ctx, o, id)
	defer done()
	if err != nil {
		return nil, nil, err
	}
	if err := o.intake.MayWrite(ctx, o.store, t.Files); err != nil {
		return nil, nil, err
	}
	c := &Consequences{Taken: *t}
	if len(t.Problems) > 0 {
		if len(t.Files) > 0 { // what can be held against the codes is, so that all that is wrong is seen at once
			if _, err := intake.Checked(ctx, o.store, t.Files); err != nil {
				var refusal *fault.Refusal
				if !errors.As(err, &refusal) {
					return nil, nil, err
				}
				c.Problems = append(c.Problems, refusal.Problems...)
			}
		}
		return d, c, nil
	}
	if onlyPostings(t.Files) {
		err = post(ctx, o, d, c, asOf)
	} else {
		err = rehearse(ctx, o, d, c, asOf)
	}
	var refusal *fault.Refusal
	if errors.As(err, &refusal) {
		c.Problems, c.Changes = refusal.Problems, nil
		return d, c, nil
	}
	return d, c, err
}

// check holds files against what stands.
func check(ctx context.Context, o *Office, view kept.Reading, c *Consequences) error {
	warnings, err := intake.Checked(ctx, view, c.Files)
	if err != nil {
		return err
	}
	c.Warnings = append(c.Warnings, warnings...)
	return o.intake.MayDecide(ctx, view, c.Files)
}

// post finds out what postings would do: as they are only added, by reading them beside those that stand.
func post(ctx context.Context, o *Office, d *Draft, c *Consequences, asOf calendar.Date) error {
	m, err := o.store.Masters(ctx)
	if err != nil {
		return err
	}
	if late, err := withPostings(o.store, m, c, d).late(ctx); err != nil {
		return err
	} else if late {
		return rehearse(ctx, o, d, c, asOf)
	}
	if err := check(ctx, o, o.store, c); err != nil { // which fills in what rows leave out
		return err
	}
	after := withPostings(o.store, m, c, d)
	suspects, err := after.suspects(ctx)
	if err != nil {
		return err
	}
	for _, f := range c.Files {
		c.Changes = append(c.Changes, Differences(nil, f)...)
		if len(suspects) == 0 {
			continue
		}
		old, err := o.store.Rows(ctx, f.Kind, kept.Selection{Projects: suspects})
		if err != nil {
			return err
		}
		c.Warnings = append(c.Warnings, alike(old, f)...)
	}
	return o.totals(ctx, after, c, asOf)
}

// rehearse finds out what files would do by taking them into a copy.
func rehearse(ctx context.Context, o *Office, d *Draft, c *Consequences, asOf calendar.Date) error {
	batch := kept.Batch{Files: c.Files, Source: d.Source, Author: access.ActorOf(ctx).Name, At: o.now(), Period: d.Period,
		Check: func(view kept.Reading) error {
			if err := check(ctx, o, view, c); err != nil {
				return err
			}
			return o.changes(ctx, view, c)
		}}
	return o.store.Rehearse(ctx, batch, func(after kept.Reading) error { return o.totals(ctx, after, c, asOf) })
}

// changes holds the rows of the files against the current ones.
func (o *Office) changes(ctx context.Context, view kept.Reading, c *Consequences) error {
	m, err := view.Masters(ctx)
	if err != nil {
		return err
	}
	ids := map[string]int64{}
	for _, p := range m.Projects {
		ids[p.Code] = p.ID
	}
	for _, f := range c.Files {
		var touched []int64
		for _, code := range f.OwnersOf() {
			if id, ok := ids[code]; ok {
				touched = append(touched, id)
			}
		}
		old := &kept.File{Kind: f.Kind}
		if !f.Kind.PerProject() {
			touched = nil
		}
		if !f.Kind.PerProject() || len(touched) > 0 {
			if old, err = view.Rows(ctx, f.Kind, kept.Selection{Projects: touched}); err != nil {
				return err
			}
		}
		c.Changes = append(c.Changes, Differences(old, f)...)
		if f.Kind == record.Actuals {
			c.Warnings = append(c.Warnings, alike(old, f)...)
		}
	}
	return nil
}

// Differences compares the present rows of a kind with those that a file brings. Rows are known again by the key of the
// kind; where several have the same key they are paired in their order. Masters that a file does not name stay, and so do
// postings; of the other kinds a file brings the whole of each project in it.
func Differences(old, now *kept.File) []Change {
	in := now.Input()
	at := intake.KeyColumns(in)
	group := func(f *kept.File, i int) string {
		if now.Kind.PerProject() {
			return f.OwnerOf(i)
		}
		return ""
	}
	by := map[string]*Change{}
	var order []string
	change := func(project string) *Change {
		c, ok := by[project]
		if !ok {
			c = &Change{Kind: now.Kind, Input: in, Project: project}
			by[project] = c
			order = append(order, project)
		}
		return c
	}
	if now.Kind.Adds() {
		for i := range now.Len() {
			c := change(group(now, i))
			if c.New++; len(c.Rows) < shown {
				c.Rows = append(c.Rows, RowChange{Row: now.Row(i), New: now.Cells(i)})
			} else {
				c.More++
			}
		}
	} else {
		pairUp(old, now, at, change, group)
	}
	for i := range now.Len() {
		if now.ZeroAt(i) {
			change(group(now, i)).Zero++
		}
	}
	list := make([]Change, 0, len(order))
	sort.Strings(order)
	for _, project := range order {
		list = append(list, *by[project])
	}
	return list
}

func pairUp(old, now *kept.File, at []int, change func(string) *Change, group func(*kept.File, int) string) {
	before := map[string][]int{}
	for i := range old.Len() {
		k := intake.KeyOf(old.Cells(i), at)
		before[k] = append(before[k], i)
	}
	met := make([]bool, old.Len())
	for i := range now.Len() {
		cells := now.Cells(i)
		k := intake.KeyOf(cells, at)
		c := change(group(now, i))
		if len(before[k]) == 0 {
			c.New++
			c.differ(RowChange{Row: now.Row(i), New: cells})
			continue
		}
		j := before[k][0]
		before[k] = before[k][1:]
		met[j] = true
		if was := old.Cells(j); slices.Equal(was, cells) {
			c.Same++
		} else {
			c.Changed++
			c.differ(RowChange{Row: now.Row(i), Old: was, New: cells})
		}
	}
	gone := now.Kind.IsRevision()
	calendars := map[string]bool{}
	for _, r := range now.Calendars {
		calendars[r.Calendar] = true
	}
	for j := range met {
		if met[j] || !gone && !(now.Kind == record.Calendars && calendars[old.Calendars[j].Calendar]) {
			continue
		}
		c := change(group(old, j))
		c.Gone++
		c.differ(RowChange{Row: old.Row(j), Old: old.Cells(j)})
	}
}

func (c *Change) differ(r RowChange) {
	if len(c.Rows) < shown {
		c.Rows = append(c.Rows, r)
	} else {
		c.More++
	}
}

// alike warns of postings that look as if they had been taken in before.
func alike(old, now *kept.File) []fault.Problem {
	seen := map[string]int{}
	key := func(p *kept.PostingRow) string {
		return strings.Join([]string{p.Project, p.CostCode, p.Date.String(), p.Amount.Text(p.Currency), string(p.Currency), p.Document,
			p.Supplier}, "\x1f")
	}
	for i := range old.Postings {
		seen[key(&old.Postings[i])]++
	}
	var first *kept.PostingRow
	n := 0
	for i := range now.Postings {
		p := &now.Postings[i]
		if p.Document == "" || seen[key(p)] == 0 {
			continue
		}
		seen[key(p)]--
		if n++; first == nil {
			first = p
		}
	}
	if n == 0 {
		return nil
	}
	return []fault.Problem{{File: now.Name, Row: first.Row, Column: "document", Value: first.Document,
		Expected: fmt.Sprintf("postings not taken in before; %d of %d stand in the ledger already, with the same document, date and "+
			"amount", n, now.Len())}}
}

// consequential are the measures whose movement a preview shows.
var consequential = []measure.Key{measure.BAC, measure.AC, measure.EAC, measure.VAC, measure.ExpectedFinish, measure.FinishDeviation,
	measure.OverallHealth, measure.DeclaredHealth}

// totals assesses the touched projects as they are and as they would be.
func (o *Office) totals(ctx context.Context, after kept.Reading, c *Consequences, asOf calendar.Date) error {
	base, err := o.assess.Day(ctx, asOf)
	if err != nil {
		return err
	}
	touched, all := map[string]bool{}, false
	for _, f := range c.Files {
		for _, code := range f.OwnersOf() {
			touched[code] = true
		}
		all = all || f.Kind == record.Rates || f.Kind == record.Calendars
	}
	m, err := after.Masters(ctx)
	if err != nil {
		return err
	}
	var only []int64
	for _, p := range m.Projects {
		if touched[p.Code] || all {
			only = append(only, p.ID)
		}
	}
	if len(only) == 0 {
		return nil
	}
	then, err := o.assess.AssessFrom(ctx, after, asOf, only)
	if err != nil {
		return err
	}
	actor := access.ActorOf(ctx)
	var was, now []*measure.Project
	for _, p := range then.Projects {
		if !touched[p.Code] && !all || !then.SeenBy(actor, &p.Info) {
			continue
		}
		if actor.HideMoney {
			p = p.WithoutMoney()
		}
		now = append(now, p)
		before, err := base.Project(p.Code)
		if err == nil {
			was = append(was, before)
		}
		c.Totals = append(c.Totals, moved(before, p, base.Env)...)
	}
	if len(now) > 1 {
		group := &measure.Project{Values: measure.Roll(now, then.Env).Values}
		c.Totals = append(moved(&measure.Project{Values: measure.Roll(was, base.Env).Values}, group, base.Env), c.Totals...)
	}
	return nil
}

// moved lists the figures of a project that differ; was is nil for a new one.
func moved(was, now *measure.Project, env measure.Env) []TotalChange {
	var list []TotalChange
	for _, key := range consequential {
		d := measure.Of(key)
		after := now.Value(key)
		before := measure.Value{Reason: "the project is new"}
		if was != nil {
			before = was.Value(key)
		}
		a, b := before.Human(d.Unit, env.Currency), after.Human(d.Unit, env.Currency)
		if a == b {
			continue
		}
		list = append(list, TotalChange{Code: now.Code, Name: now.Name, Key: key, Measure: d.Name, Before: a, After: b,
			Delta: d.Unit.Delta(before, after, env.Currency, env.Calendar)})
	}
	return list
}
