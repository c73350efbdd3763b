package plan

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"turret/internal/app/assess"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
	"turret/internal/record"
)

// Op is one thing done to a project's schedule, by hand or in a rehearsal.
//
//	set     Field of the activity becomes Value; the field "predecessors" is in the notation of schedule.Predecessor
//	shift   it starts on Value, a day, and keeps its length
//	begin   it starts on Value, a day, and keeps its finish
//	finish  it finishes on Value, a day, and keeps its start
//	link    it waits for Value, in the same notation, besides what it waits for
//	unlink  it no longer waits for Value
//	add     a new activity; Value is its name
//	remove  it goes, with its links
type Op struct {
	Op    string `json:"op"`
	Code  string `json:"code"`
	Field string `json:"field,omitempty"`
	Value string `json:"value,omitempty"`
}

// OpError is what is wrong with an op: the field and what was expected.
type OpError struct {
	Code, Field, Value, Expected string
}

func (e *OpError) Error() string {
	return fmt.Sprintf("%s, %s: %q; expected %s", e.Code, e.Field, fault.Clip(e.Value, 80), e.Expected)
}

// maxOps bounds what is asked of one plan at once.
const maxOps = 5000

// draftPlan is a project's schedule while it is changed: cells as files hold them.
type draftPlan struct {
	a          *assess.Assessment
	p          *measure.Project
	acts       *edit.Grid
	links      *edit.Grid
	rows       map[string][]string // by code, as changed
	order      []string
	was        map[string][]string
	removed    map[string]bool
	linkRows   [][]string
	activities map[string]*schedule.Activity
	base       Base
}

// Base says which revisions of a project's schedule and links somebody looked at when they began to change them; 0 is the
// current one.
type Base struct {
	Activities int64 `json:"activities"`
	Links      int64 `json:"links"`
}

// columns of the two tables.
func column(k record.Kind, name string) int {
	return slices.IndexFunc(k.Input().Columns, func(c record.Column) bool { return c.Name == name })
}

func (o *Office) draftPlan(ctx context.Context, a *assess.Assessment, project string, base Base) (*draftPlan, error) {
	p, err := a.Project(project)
	if err != nil {
		return nil, err
	}
	d := &draftPlan{a: a, p: p, rows: map[string][]string{}, was: map[string][]string{}, removed: map[string]bool{},
		activities: map[string]*schedule.Activity{}}
	if d.acts, err = o.edit.Grid(ctx, record.Activities, project); err != nil {
		return nil, err
	}
	if d.links, err = o.edit.Grid(ctx, record.Links, project); err != nil {
		return nil, err
	}
	if err := o.basedOn(ctx, d, base); err != nil {
		return nil, err
	}
	for _, r := range d.acts.Rows {
		d.was[r[1]], d.rows[r[1]] = r, slices.Clone(r)
		d.order = append(d.order, r[1])
	}
	for _, r := range d.links.Rows {
		d.linkRows = append(d.linkRows, slices.Clone(r))
	}
	for i := range p.Activities {
		d.activities[p.Activities[i].Code] = &p.Activities[i]
	}
	return d, nil
}

// basedOn has the draft begin with the revisions that its author looked at, where others have come since.
func (o *Office) basedOn(ctx context.Context, d *draftPlan, base Base) error {
	for _, x := range []struct {
		kind record.Kind
		was  int64
		now  *int64
		grid *edit.Grid
	}{{record.Activities, base.Activities, &d.base.Activities, d.acts}, {record.Links, base.Links, &d.base.Links, d.links}} {
		var err error
		if *x.now, err = o.store.CurrentLoad(ctx, x.kind, d.p.ID); err != nil {
			return err
		}
		if x.was == 0 || x.was == *x.now {
			continue
		}
		*x.now = x.was
		f, err := o.store.Rows(ctx, x.kind, kept.Selection{Load: x.was, Projects: []int64{d.p.ID}})
		if err != nil {
			return err
		}
		x.grid.Rows = nil
		for i := range f.Len() {
			x.grid.Rows = append(x.grid.Rows, f.Cells(i))
		}
	}
	return nil
}

// apply does the ops in turn; the first that cannot be done is an *OpError.
func (d *draftPlan) apply(ops []Op) error {
	if len(ops) > maxOps {
		return &OpError{d.p.Code, "changes", strconv.Itoa(len(ops)), fmt.Sprintf("at most %d at once", maxOps)}
	}
	for _, op := range ops {
		if op.Op == "add" {
			if err := d.add(op); err != nil {
				return err
			}
			continue
		}
		row := d.rows[op.Code]
		if row == nil || d.removed[op.Code] {
			return &OpError{op.Code, "activity", op.Code, "an activity of " + d.p.Code}
		}
		var err error
		switch op.Op {
		case "set":
			err = d.set(row, op)
		case "shift":
			err = d.shift(row, op)
		case "begin":
			err = d.begin(row, op)
		case "finish":
			err = d.finish(row, op)
		case "link", "unlink":
			err = d.relink(op)
		case "remove":
			d.remove(op.Code)
		default:
			err = &OpError{op.Code, "change", op.Op, "set, shift, begin, finish, link, unlink, add or remove"}
		}
		if err != nil {
			return err
		}
	}
	return nil
}

func (d *draftPlan) add(op Op) error {
	code := strings.TrimSpace(op.Code)
	if _, there := d.rows[code]; there || code == "" || len(code) > 100 || strings.ContainsAny(code, ",\x1f\n") {
		return &OpError{code, "code", code, "a code that no other activity of the project has, without a comma"}
	}
	row := make([]string, len(d.acts.Input.Columns))
	row[0], row[1], row[2] = d.p.Code, code, cmp.Or(strings.TrimSpace(op.Value), code)
	row[column(record.Activities, "kind")] = cmp.Or(op.Field, "activity")
	d.rows[code] = row
	d.order = append(d.order, code)
	return nil
}

func (d *draftPlan) remove(code string) {
	d.removed[code] = true
	d.linkRows = slices.DeleteFunc(d.linkRows, func(r []string) bool {
		return r[1] == code && (r[5] == "" || r[5] == d.p.Code) || r[2] == code && (r[6] == "" || r[6] == d.p.Code)
	})
}

func (d *draftPlan) set(row []string, op Op) error {
	value := strings.TrimSpace(op.Value)
	if op.Field == "predecessors" {
		return d.predecessors(op.Code, value)
	}
	i := column(record.Activities, op.Field)
	if i < 2 {
		return &OpError{op.Code, op.Field, value, "a field of the schedule"}
	}
	if done, err := d.follow(row, op, value); done || err != nil {
		return err
	}
	row[i] = value
	return nil
}

// follow has a typed date or length carry the others along, as dragging does: a start keeps the length, a finish or a length
// keeps the start. It says whether that is all that is to be done.
func (d *draftPlan) follow(row []string, op Op, value string) (bool, error) {
	c, days := cells(row), calendarOf(d, row)
	_, dated := calendar.ParseDate(value)
	n, counted := strconv.Atoi(value)
	over := c.day("actual_finish") != 0 || c.event()
	start := d.begins(row, op.Code)
	switch {
	case over:
	case op.Field == "start" && dated == nil && c.day("actual_start") == 0:
		return true, d.shift(row, Op{Code: op.Code, Op: "shift", Value: value})
	case op.Field == "finish" && dated == nil && start != 0:
		return true, d.finish(row, Op{Code: op.Code, Op: "finish", Value: value})
	case op.Field == "duration" && counted == nil && n > 0 && start != 0 && !d.p.Driven:
		c.put("finish", days.Finish(start, n).String())
	case op.Field == "remaining" && counted == nil && n > 0 && c.day("actual_start") != 0 && !d.p.Driven:
		c.put("finish", days.Add(d.a.Env.AsOf, n).String())
	}
	return false, nil
}

// day reads the day of an op.
func (op *Op) day() (calendar.Date, error) {
	d, err := calendar.ParseDate(strings.TrimSpace(op.Value))
	if err != nil {
		return 0, &OpError{op.Code, op.Op, op.Value, "a day as YYYY-MM-DD"}
	}
	return d, nil
}

func calendarOf(d *draftPlan, row []string) *calendar.Calendar {
	if c := d.a.Calendars[row[column(record.Activities, "calendar")]]; c != nil {
		return c
	}
	return d.a.Env.Calendar
}

// cells of an activity, by the names of their columns.
type cells []string

func (c cells) get(name string) string { return c[column(record.Activities, name)] }

func (c cells) put(name, value string) { c[column(record.Activities, name)] = value }

func (c cells) day(name string) calendar.Date {
	d, _ := calendar.ParseDate(c.get(name))
	return d
}

func (c cells) event() bool { return c.get("kind") == "milestone" }

// shift puts the start to a day. In a driven project that is a constraint, as its dates are the network's.
func (d *draftPlan) shift(row []string, op Op) error {
	day, err := op.day()
	if err != nil {
		return err
	}
	c, days := cells(row), calendarOf(d, row)
	switch {
	case c.day("actual_finish") != 0:
		return &OpError{op.Code, "start", op.Value, "work that is not finished; finished work keeps its dates"}
	case c.day("actual_start") != 0 && !c.event():
		return &OpError{op.Code, "start", op.Value, "work that has not begun; drag its end instead"}
	case c.event():
		return d.finish(row, op)
	}
	length := max(d.length(row, op.Code), 1)
	start := days.Add(day, 0)
	if d.p.Driven {
		c.put("not_before", start.String())
		return nil
	}
	c.put("start", start.String())
	c.put("finish", days.Finish(start, length).String())
	return nil
}

// begins is the day on which an activity began, or is expected to: in a driven project by the network.
func (d *draftPlan) begins(row []string, code string) calendar.Date {
	c, a := cells(row), d.activities[code]
	switch {
	case c.day("actual_start") != 0:
		return c.day("actual_start")
	case a != nil && (d.p.Driven || c.day("start") == 0):
		return a.Start
	}
	return c.day("start")
}

// length is how many working days an activity takes.
func (d *draftPlan) length(row []string, code string) int {
	c := cells(row)
	if n, err := strconv.Atoi(c.get("duration")); err == nil {
		return n
	}
	if s, f := c.day("start"), c.day("finish"); s != 0 && f != 0 {
		return calendarOf(d, row).Count(s, f)
	}
	if a := d.activities[code]; a != nil {
		return int(a.Days(d.a.Env.Calendar))
	}
	return 0
}

// begin puts the start to a day and leaves the end where it is: work gets longer or shorter.
func (d *draftPlan) begin(row []string, op Op) error {
	day, err := op.day()
	if err != nil {
		return err
	}
	c, days := cells(row), calendarOf(d, row)
	if c.day("actual_start") != 0 || c.day("actual_finish") != 0 || c.event() {
		return &OpError{op.Code, "start", op.Value, "work that has not begun"}
	}
	finish := c.day("finish")
	if a := d.activities[op.Code]; a != nil && (d.p.Driven || finish == 0) {
		finish = a.Expected(d.a.Env.Calendar, d.a.Env.AsOf)
	}
	start := days.Add(day, 0)
	if finish == 0 || start > finish {
		return &OpError{op.Code, "start", op.Value, "a day on or before its finish"}
	}
	if d.p.Driven || c.get("duration") != "" {
		c.put("duration", strconv.Itoa(days.Count(start, finish)))
	}
	if d.p.Driven {
		c.put("not_before", start.String())
		return nil
	}
	c.put("start", start.String())
	c.put("finish", finish.String())
	return nil
}

// finish puts the end to a day: work gets longer or shorter, an event happens then.
func (d *draftPlan) finish(row []string, op Op) error {
	day, err := op.day()
	if err != nil {
		return err
	}
	c, days := cells(row), calendarOf(d, row)
	if c.day("actual_finish") != 0 {
		return &OpError{op.Code, "finish", op.Value, "work that is not finished; finished work keeps its dates"}
	}
	if c.event() {
		switch {
		case !d.p.Driven:
			c.put("finish", day.String())
		case d.linked(op.Code):
			c.put("not_before", (day + 1).String()) // behind predecessors it happens at the end of the day before
		default:
			c.put("not_before", day.String())
		}
		return nil
	}
	start := d.begins(row, op.Code)
	if start == 0 || day < start {
		return &OpError{op.Code, "finish", op.Value, "a day on or after its start"}
	}
	length := days.Count(start, day)
	if d.p.Driven || c.get("duration") != "" {
		c.put("duration", strconv.Itoa(length))
	}
	if c.day("actual_start") != 0 && (d.p.Driven || c.get("remaining") != "") {
		c.put("remaining", strconv.Itoa(days.Count(d.a.Env.AsOf+1, day)))
	}
	if !d.p.Driven {
		c.put("finish", day.String())
	}
	return nil
}

// linked says whether an activity waits for anything.
func (d *draftPlan) linked(code string) bool {
	if slices.ContainsFunc(d.linkRows, func(r []string) bool { return d.waits(r, code) }) {
		return true
	}
	return slices.ContainsFunc(d.a.Plan().Dependencies, func(x schedule.Dependency) bool {
		return x.ToCode == d.p.Code && x.To == code && x.Crosses()
	})
}

func (d *draftPlan) isProject(code string) bool { return d.a.ByCode[code] != nil }

func (d *draftPlan) parse(code, text string) ([]schedule.Predecessor, error) {
	if d.rows[text] != nil && text != code && strings.ContainsAny(text, ", ") { // a code that the notation would take apart
		return []schedule.Predecessor{{Code: text}}, nil
	}
	list, err := schedule.ParsePredecessors(text, d.isProject)
	var fault *schedule.NotationError
	if errors.As(err, &fault) {
		return nil, &OpError{code, "predecessors", fault.Piece, strings.TrimPrefix(fault.Why, "expected ")}
	}
	for _, p := range list {
		if !d.there(p) {
			return nil, &OpError{code, "predecessors", p.String(), "an activity that is there, no summary"}
		}
		if p.Code == code && (p.Project == "" || p.Project == d.p.Code) {
			return nil, &OpError{code, "predecessors", p.String(), "another activity than itself"}
		}
	}
	return list, err
}

func (d *draftPlan) there(p schedule.Predecessor) bool {
	if p.Project == "" || p.Project == d.p.Code {
		row := d.rows[p.Code]
		return row != nil && !d.removed[p.Code] && cells(row).get("kind") != "summary"
	}
	i := d.a.Index(p.Project)
	return i >= 0 && d.a.Lookup(int32(i), p.Code)
}

// waits says whether a row of links has an activity of the project wait.
func (d *draftPlan) waits(r []string, code string) bool {
	return r[2] == code && (r[6] == "" || r[6] == d.p.Code)
}

// predecessors replaces all that the project itself says an activity waits for.
func (d *draftPlan) predecessors(code, text string) error {
	list, err := d.parse(code, text)
	if err != nil {
		return err
	}
	d.linkRows = slices.DeleteFunc(d.linkRows, func(r []string) bool { return d.waits(r, code) })
	for _, p := range list {
		d.linkRows = append(d.linkRows, d.linkRow(p, code))
	}
	return nil
}

func (d *draftPlan) linkRow(p schedule.Predecessor, code string) []string {
	from := p.Project
	if from == d.p.Code {
		from = ""
	}
	return []string{d.p.Code, p.Code, code, p.Type.String(), strconv.Itoa(int(p.Lag)), from, ""}
}

func (d *draftPlan) relink(op Op) error {
	list, err := d.parse(op.Code, op.Value)
	if err != nil {
		return err
	}
	if len(list) != 1 {
		return &OpError{op.Code, "link", op.Value, "one predecessor"}
	}
	row := d.linkRow(list[0], op.Code)
	same := func(r []string) bool {
		return d.waits(r, op.Code) && r[1] == row[1] && r[5] == row[5] && (r[3] == row[3] || op.Op == "unlink")
	}
	n := len(d.linkRows)
	d.linkRows = slices.DeleteFunc(d.linkRows, same)
	if op.Op == "link" {
		d.linkRows = append(d.linkRows, row)
	} else if n == len(d.linkRows) {
		return &OpError{op.Code, "link", op.Value, "a link that this project sent"}
	}
	return nil
}

// edits are the rows of activities that changed.
func (d *draftPlan) edits() []intake.Edited {
	var list []intake.Edited
	for _, code := range d.order {
		was, now := d.was[code], d.rows[code]
		if d.removed[code] {
			now = nil
		}
		if was == nil && now == nil || slices.Equal(was, now) {
			continue
		}
		list = append(list, intake.Edited{Old: was, New: now})
	}
	return list
}

// linkEdits are the rows of links that changed.
func (d *draftPlan) linkEdits() []intake.Edited {
	left := map[string]int{}
	for _, r := range d.linkRows {
		left[strings.Join(r, "\x1f")]++
	}
	var list []intake.Edited
	for _, r := range d.links.Rows {
		key := strings.Join(r, "\x1f")
		if left[key] > 0 {
			left[key]--
			continue
		}
		list = append(list, intake.Edited{Old: r, New: nil})
	}
	for _, r := range d.linkRows {
		if key := strings.Join(r, "\x1f"); left[key] > 0 {
			left[key]--
			list = append(list, intake.Edited{Old: nil, New: r})
		}
	}
	return list
}
