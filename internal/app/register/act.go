package register

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"turret/internal/app/access"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/core/calendar"
	"turret/internal/core/risk"
	"turret/internal/core/schedule"
	"turret/internal/record"
)

// Act is what is done to one record: cells that are set, by the names of their columns. Seen is the state that whoever does it saw it in;
// where it is in another by now, nothing is done. Empty asks for none. State is one that it is put into as of a day, which ends it or
// begins it again as that says; empty leaves it.
type Act struct {
	Kind         record.Kind
	Holder, Code string
	Seen, State  string
	AsOf         calendar.Date
	Set          map[string]string
	Was          map[string]string // what the cells were to whoever set them; nil where that is not told
	Reason       string
}

// Set changes cells of a record, as a load of its own.
func (o *Office) Set(ctx context.Context, x Act) (*intake.Receipt, error) {
	e, err := o.edited(ctx, x)
	if err != nil {
		return nil, err
	}
	return o.edit.SaveGridBecause(ctx, x.Kind, x.Holder, []intake.Edited{*e}, x.Reason)
}

// edited is the record as it is and as it is to be.
func (o *Office) edited(ctx context.Context, x Act) (*intake.Edited, error) {
	if err := o.edit.MayEdit(ctx, x.Kind, x.Holder); err != nil {
		return nil, err
	}
	g, err := edit.GridOf(ctx, o.store, x.Kind, x.Holder)
	if err != nil {
		return nil, err
	}
	at := g.Input.At("code")
	for _, row := range g.Rows {
		if at < 0 || row[at] != x.Code {
			continue
		}
		of := func(name string) string { return row[g.Input.At(name)] }
		set, err := o.moved(&x, of)
		if err != nil {
			return nil, err
		}
		now := map[string]string{}
		for name := range set {
			if g.Input.At(name) >= 0 {
				now[name] = of(name)
			}
		}
		if set, err = edit.Meanwhile(x.Was, now, set); err != nil {
			return nil, err
		}
		return &intake.Edited{Old: row, New: put(g.Input, row, set)}, nil
	}
	return nil, fmt.Errorf("%s %q of %s: %w", x.Kind.Noun(1), fault.Clip(x.Code, 40), fault.Clip(x.Holder, 40), fault.ErrNotFound)
}

// moved are the cells that an act sets, with those that its state brings along.
func (o *Office) moved(x *Act, was func(string) string) (map[string]string, error) {
	if x.Seen == "" && x.State == "" {
		return x.Set, nil
	}
	now := Stands(x.Kind, was, cmp.Or(x.AsOf, 1<<30))
	if x.Seen != "" && now != x.Seen {
		return nil, changedSince(x.Kind, x.Code, x.Holder, now, x.Seen)
	}
	if x.State == "" || x.State == now {
		return x.Set, nil
	}
	if !slices.Contains(States(x.Kind), x.State) {
		return nil, fault.Field("state", fault.Clip(x.State, 40), strings.Join(States(x.Kind), ", "))
	}
	set := map[string]string{}
	maps.Copy(set, x.Set)
	if x.Kind != record.Activities {
		maps.Copy(set, o.Finish(x.Kind, x.State, x.AsOf))
		return set, nil
	}
	if was("kind") == "milestone" && x.State == schedule.InWork {
		return nil, fault.Conflict("%s of %s is a milestone, which is done or not, never in work", x.Code, x.Holder)
	}
	maps.Copy(set, worked(was, x.State, o.day(x.AsOf)))
	return set, nil
}

// changedSince says that a record stands elsewhere than whoever would change it saw it.
func changedSince(kind record.Kind, code, holder, now, seen string) error {
	return fault.Conflict("%s %s of %s is “%s” by now, not “%s” any more: nothing was changed, look again", kind.Noun(1), code, holder,
		now, seen)
}

func or(s, none string) string {
	if s == "" {
		return none
	}
	return s
}

// put is a row with some cells set.
func put(in *record.Input, row []string, set map[string]string) []string {
	row = slices.Clone(row)
	for name, value := range set {
		if i := in.At(name); i >= 0 && !in.Columns[i].Owner() {
			row[i] = value
		}
	}
	return row
}

// Add makes a record of a project or node; without a code it gets the next one of its kind. It returns the code.
func (o *Office) Add(ctx context.Context, kind record.Kind, holder string, cells map[string]string) (string, *intake.Receipt, error) {
	e, code, err := o.added(ctx, kind, holder, cells)
	if err != nil {
		return "", nil, err
	}
	r, err := o.edit.SaveGrid(ctx, kind, holder, []intake.Edited{*e})
	return code, r, err
}

func (o *Office) added(ctx context.Context, kind record.Kind, holder string, cells map[string]string) (*intake.Edited, string, error) {
	if err := o.edit.MayEdit(ctx, kind, holder); err != nil {
		return nil, "", err
	}
	g, err := edit.GridOf(ctx, o.store, kind, holder)
	if err != nil {
		return nil, "", err
	}
	row := put(g.Input, make([]string, len(g.Input.Columns)), cells)
	owner := "project"
	if g.Node {
		owner = "node"
	}
	row[g.Input.At(owner)] = holder
	at := g.Input.At("code")
	if at < 0 {
		return &intake.Edited{New: row}, "", nil
	}
	if row[at] == "" {
		row[at] = nextCode(kind, g.Rows, at)
	}
	return &intake.Edited{New: row}, row[at], nil
}

// New is a new row of a register, to be saved with others.
func (o *Office) New(ctx context.Context, kind record.Kind, holder string, cells map[string]string) (*intake.Edited, error) {
	e, _, err := o.added(ctx, kind, holder, cells)
	return e, err
}

// Edited is a record as it is and as it is to be, to be saved with others.
func (o *Office) Edited(ctx context.Context, x Act) (*intake.Edited, error) { return o.edited(ctx, x) }

// NextCodes gives codes that no record of a holder has yet, one after the other, by kind.
func (o *Office) NextCodes(ctx context.Context, holder string, kinds ...record.Kind) (map[record.Kind]func() string, error) {
	next := map[record.Kind]func() string{}
	for _, kind := range kinds {
		g, err := edit.GridOf(ctx, o.store, kind, holder)
		if err != nil {
			return nil, err
		}
		at, rows := g.Input.At("code"), g.Rows
		next[kind] = func() string {
			row := make([]string, len(g.Input.Columns))
			row[at] = nextCode(kind, rows, at)
			rows = append(rows, row)
			return row[at]
		}
	}
	return next, nil
}

// letters begin the codes of records that are made here.
var letters = map[record.Kind]string{record.Risks: "R", record.Issues: "I", record.Actions: "T", record.Meetings: "M",
	record.Decisions: "D",
	record.Lessons:   "L"}

// nextCode is the letter of the kind with the number after the highest that is there.
func nextCode(kind record.Kind, rows [][]string, at int) string {
	highest := 0
	for _, row := range rows {
		if n, err := strconv.Atoi(strings.TrimPrefix(row[at], letters[kind])); err == nil {
			highest = max(highest, n)
		}
	}
	return letters[kind] + strconv.Itoa(highest+1)
}

// day is the day on which something is done in the period in view: today, or its last day where that is past.
func (o *Office) day(asOf calendar.Date) string {
	now := o.now()
	return min(asOf, calendar.On(now.Year(), int(now.Month()), now.Day())).String()
}

// Finish is what ends a record of a kind in a state, with the day where the state says that it is over.
func (o *Office) Finish(kind record.Kind, state string, asOf calendar.Date) map[string]string {
	set := map[string]string{"state": state}
	column := map[record.Kind]string{record.Risks: "closed", record.Issues: "closed", record.Actions: "done_on",
		record.Decisions: "decided_on"}[kind]
	set[column] = ""
	if s := risk.State(state); s.Over() || s.Settled() {
		set[column] = o.day(asOf)
	}
	return set
}

// Begun are the cells of a new record: it is there from the day on, in the first state that its kind has.
func (o *Office) Begun(kind record.Kind, cells map[string]string, asOf calendar.Date) map[string]string {
	set := maps.Clone(cells)
	in := kind.Input()
	for name, value := range map[string]string{"raised": o.day(asOf), "state": States(kind)[0]} {
		if in.At(name) >= 0 && set[name] == "" {
			set[name] = value
		}
	}
	return set
}

// Cells are some cells of a record as it stands, by the names of their columns.
func (o *Office) Cells(ctx context.Context, kind record.Kind, holder, code string, columns ...string) (map[string]string, error) {
	e, err := o.edited(ctx, Act{Kind: kind, Holder: holder, Code: code})
	if err != nil {
		return nil, err
	}
	set, in := map[string]string{}, kind.Input()
	for _, name := range columns {
		if at := in.At(name); at >= 0 {
			set[name] = e.Old[at]
		}
	}
	return set, nil
}

// Known refuses a record that is not there.
func (o *Office) Known(ctx context.Context, kind record.Kind, holder, code string) error {
	_, err := o.edited(ctx, Act{Kind: kind, Holder: holder, Code: code})
	return err
}

// Said are the cells of a remark about a record, by whoever says it on the day.
func (o *Office) Said(about record.Kind, code, by, text string, asOf calendar.Date) map[string]string {
	return map[string]string{"about": string(about), "code": code, "on": o.day(asOf), "by": by, "text": text}
}

// Attached are the cells of a file attached to a record on the day.
func (o *Office) Attached(about record.Kind, code string, cells map[string]string, asOf calendar.Date) map[string]string {
	set := maps.Clone(cells)
	set["about"], set["code"], set["added"] = string(about), code, o.day(asOf)
	return set
}

// Occur makes an issue of a risk that has struck: the risk has occurred, and the issue names it. It returns the code of the issue.
func (o *Office) Occur(ctx context.Context, holder, code string, asOf calendar.Date, reason string) (string, *intake.Receipt, error) {
	e, err := o.edited(ctx, Act{Kind: record.Risks, Holder: holder, Code: code, Set: o.Finish(record.Risks, "occurred", asOf)})
	if err != nil {
		return "", nil, err
	}
	in := record.Risks.Input()
	was := func(name string) string { return e.Old[in.At(name)] }
	if s := risk.State(was("state")); s.Over() {
		return "", nil, fault.Conflict("risk %s of %s is %s, so that no issue comes of it", code, holder, s)
	}
	made, issue, err := o.added(ctx, record.Issues, holder, map[string]string{"title": was("title"), "category": was("category"),
		"description": was("description"), "owner": was("owner"), "raised": o.day(asOf), "state": "open", "priority": "high",
		"from_risk": code, "blocks": was("activity"), "escalated_to": was("escalated_to"), "escalated_why": was("escalated_why")})
	if err != nil {
		return "", nil, err
	}
	r, err := o.edit.SaveTables(ctx, holder, []edit.TableEdit{{Kind: record.Risks, Edits: []intake.Edited{*e}},
		{Kind: record.Issues, Edits: []intake.Edited{*made}}}, edit.SaveAs{Reason: reason})
	return issue, r, err
}

// Escalate asks a node above to deal with a risk or issue, with the reason; an empty node takes that back.
func (o *Office) Escalate(ctx context.Context, kind record.Kind, holder, code, node, reason string) (*intake.Receipt, error) {
	if kind != record.Risks && kind != record.Issues {
		return nil, fmt.Errorf("escalating %s: %w", kind, fault.ErrNotFound)
	}
	reason = strings.TrimSpace(reason)
	if node != "" && reason == "" {
		return nil, fault.Field("reason", "", "why it is beyond the project")
	}
	if err := o.above(ctx, holder, node); err != nil {
		return nil, err
	}
	if node == "" {
		reason = ""
	}
	return o.Set(ctx, Act{Kind: kind, Holder: holder, Code: code, Set: map[string]string{"escalated_to": node, "escalated_why": reason},
		Reason: fault.Clip(reason, fault.MaxPlanReason)})
}

// above refuses a node that does not stand above a project or node.
func (o *Office) above(ctx context.Context, holder, node string) error {
	if node == "" {
		return nil
	}
	m, err := o.store.Masters(ctx)
	if err != nil {
		return err
	}
	parents, at := map[int64]int64{}, int64(0)
	for i := range m.Nodes {
		parents[m.Nodes[i].ID] = m.Nodes[i].Parent
	}
	for i := range m.Projects {
		if m.Projects[i].Code == holder {
			at = m.Projects[i].Parent
		}
	}
	if n := m.Node(holder); n != nil {
		at = n.Parent
	}
	to := m.Node(node)
	for range m.Nodes {
		if to != nil && at == to.ID {
			return nil
		}
		at = parents[at]
	}
	return fault.Field("escalated_to", fault.Clip(node, 40), "a portfolio or programme above "+holder)
}

// MayAct reports whether the one who asks may write records of a kind for a project or node.
func (o *Office) MayAct(ctx context.Context, kind record.Kind, holder string) bool {
	return access.ActorOf(ctx).May(access.Send) && o.edit.MayEdit(ctx, kind, holder) == nil
}
