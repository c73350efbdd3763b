// Package backlog is the door to what projects work off: its order, what is done with items, and how backlogs of a scope stand.
package backlog

import (
	"context"
	"fmt"
	"slices"
	"strconv"

	"turret/internal/app/assess"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/core/backlog"
	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// Office is the door to backlogs. It is safe for concurrent use.
type Office struct {
	store kept.Reading
	edit  *edit.Office
}

// NewOffice makes the door to backlogs.
func NewOffice(store kept.Reading, edit *edit.Office) *Office { return &Office{store, edit} }

// mostAtOnce bounds how many items are changed at once.
const mostAtOnce = 500

// Change is what is done with some items of a project at once. Cells that are not named stay.
type Change struct {
	Project  string
	Codes    []string
	Set      map[string]string // cells by column: state, iteration, owner, blocked, points
	TakenOut bool
}

// Set changes items, all of them or none. Days follow the state: what begins is started, what is accepted is accepted on the day, and
// loses that day where it is not any more.
func (o *Office) Set(ctx context.Context, x Change, on calendar.Date) (*intake.Receipt, error) {
	if len(x.Codes) == 0 || len(x.Codes) > mostAtOnce {
		return nil, fault.Field("items", strconv.Itoa(len(x.Codes)), fmt.Sprintf("1 to %d items", mostAtOnce))
	}
	grid, err := edit.GridOf(ctx, o.store, record.Backlog, x.Project)
	if err != nil {
		return nil, err
	}
	in := grid.Input
	if name := x.Set["iteration"]; name != "" {
		if err := o.hasIteration(ctx, x.Project, name); err != nil {
			return nil, err
		}
	}
	var edits []intake.Edited
	for _, code := range x.Codes {
		at := slices.IndexFunc(grid.Rows, func(row []string) bool { return row[in.At("code")] == code })
		if at < 0 {
			return nil, fmt.Errorf("item %q of %s: %w", fault.Clip(code, 40), x.Project, fault.ErrNotFound)
		}
		row := slices.Clone(grid.Rows[at])
		for column, value := range x.Set {
			if in.At(column) < 0 {
				return nil, fault.Field(column, value, "a column of items")
			}
			row[in.At(column)] = value
		}
		if state, ok := x.Set["state"]; ok {
			dated(in, row, state, on.String())
		}
		if x.TakenOut {
			row[in.At("removed")] = on.String()
		}
		if !slices.Equal(row, grid.Rows[at]) {
			edits = append(edits, intake.Edited{Old: grid.Rows[at], New: row})
		}
	}
	return o.save(ctx, x.Project, edits)
}

// dated gives an item the days that follow from a new state.
func dated(in *record.Input, row []string, state, on string) {
	started, done, accepted := &row[in.At("started")], &row[in.At("done_on")], &row[in.At("accepted")]
	if state != "todo" && *started == "" {
		*started = on
	}
	if (state == "done" || state == "accepted") && *done == "" {
		*done = max(on, *started)
	}
	switch state {
	case "accepted":
		if *accepted == "" {
			*accepted = max(on, row[in.At("added")])
		}
	case "done":
		*accepted = ""
	default:
		*accepted, *done = "", ""
	}
	if state == "todo" {
		*started = ""
	}
}

func (o *Office) hasIteration(ctx context.Context, project, code string) error {
	grid, err := edit.GridOf(ctx, o.store, record.Iterations, project)
	if err != nil {
		return err
	}
	if !slices.ContainsFunc(grid.Rows, func(row []string) bool { return row[grid.Input.At("code")] == code }) {
		return fault.Field("iteration", fault.Clip(code, 40), "the code of an iteration of "+project)
	}
	return nil
}

func (o *Office) save(ctx context.Context, project string, edits []intake.Edited) (*intake.Receipt, error) {
	if len(edits) == 0 {
		return &intake.Receipt{}, nil
	}
	return o.edit.SaveTables(ctx, project, []edit.TableEdit{{Kind: record.Backlog, Edits: edits}}, edit.SaveAs{})
}

// Rank puts an item before another, or last where that is empty, and numbers those that remain anew.
func (o *Office) Rank(ctx context.Context, p *measure.Project, code, before string) (*intake.Receipt, error) {
	b := measure.BacklogOf(p)
	var order []string
	for _, i := range b.Order(p.Env().AsOf) {
		if b.Items[i].Code != code {
			order = append(order, b.Items[i].Code)
		}
	}
	at := len(order)
	if before != "" {
		if at = slices.Index(order, before); at < 0 {
			return nil, fmt.Errorf("item %q of %s: %w", fault.Clip(before, 40), p.Code, fault.ErrNotFound)
		}
	}
	order = slices.Insert(order, at, code)
	grid, err := edit.GridOf(ctx, o.store, record.Backlog, p.Code)
	if err != nil {
		return nil, err
	}
	in, rows := grid.Input, map[string][]string{}
	for _, row := range grid.Rows {
		rows[row[in.At("code")]] = row
	}
	if rows[code] == nil {
		return nil, fmt.Errorf("item %q of %s: %w", fault.Clip(code, 40), p.Code, fault.ErrNotFound)
	}
	var edits []intake.Edited
	for i, name := range order {
		old := rows[name]
		if rank := strconv.Itoa(i + 1); old != nil && old[in.At("rank")] != rank {
			row := slices.Clone(old)
			row[in.At("rank")] = rank
			edits = append(edits, intake.Edited{Old: old, New: row})
		}
	}
	return o.save(ctx, p.Code, edits)
}

// Line is an item where it stands: when it is done at the mean velocity, and whether that is too late.
type Line struct {
	*backlog.Item
	Done, Late, Unplanned bool
	By                    calendar.Date // 0 where that is not known, or it is done
}

// Lines are the items of a project that are there, those that remain by rank, then what is accepted, the last first.
func Lines(p *measure.Project) []Line {
	b, s := measure.BacklogOf(p), p.BacklogProgress()
	asOf := p.Env().AsOf
	late := map[int]bool{}
	for _, i := range s.Late {
		late[i] = true
	}
	var list, done []Line
	for _, i := range b.Order(asOf) {
		x := &b.Items[i]
		list = append(list, Line{Item: x, Late: late[i], Unplanned: b.Unplanned(x)})
	}
	days(list, s, asOf)
	for i := range b.Items {
		if x := &b.Items[i]; x.Here(asOf) && x.Done(asOf) {
			done = append(done, Line{Item: x, Done: true, Unplanned: b.Unplanned(x)})
		}
	}
	slices.SortStableFunc(done, func(x, y Line) int { return int(y.Accepted - x.Accepted) })
	return append(list, done...)
}

// Span is an iteration, or none, with its items and their points.
type Span struct {
	*backlog.Iteration          // nil for items of none
	Current                     bool
	Points, Accepted, Unplanned int64
	Lines                       []Line
}

// ByIteration lists the iterations of a project that have items, the newest first, then what is in none.
func ByIteration(p *measure.Project) []Span {
	s, at := p.BacklogProgress(), map[string]int{}
	sorted := slices.SortedFunc(slices.Values(p.Iterations), func(x, y backlog.Iteration) int { return int(y.From - x.From) })
	list := make([]Span, len(sorted)+1)
	for i := range sorted {
		list[i].Iteration = &sorted[i]
		list[i].Current = s.Current != nil && s.Current.Code == sorted[i].Code
		at[sorted[i].Code] = i
	}
	for _, l := range Lines(p) {
		i, ok := at[l.Iteration]
		if !ok {
			i = len(sorted)
		}
		x := &list[i]
		x.Lines = append(x.Lines, l)
		x.Points += l.Points.N
		if l.Done {
			x.Accepted += l.Points.N
		}
		if l.Unplanned {
			x.Unplanned += l.Points.N
		}
	}
	return slices.DeleteFunc(list, func(x Span) bool { return len(x.Lines) == 0 })
}

// days tells by when each item is done, in their order, at the mean velocity.
func days(list []Line, s *backlog.Progress, asOf calendar.Date) {
	v := s.Velocity
	if v.Sum == 0 || s.Length == 0 {
		return
	}
	from, spare := asOf, int64(0)
	if s.Current != nil {
		from, spare = s.Current.To, max(0, v.Sum-s.InWork*v.Count)
	}
	sum := int64(0)
	for i := range list {
		sum += list[i].Points.N * v.Count
		n := (max(0, sum-spare) + v.Sum - 1) / v.Sum
		if n*int64(s.Length) < 100_000 {
			list[i].By = from + calendar.Date(n*int64(s.Length))
		}
	}
}

// Row is how the backlog of a project stands beside others.
type Row struct {
	Project  *measure.Project
	Blocked  []*backlog.Item // that remain
	Issues   int             // open ones that block an activity
	Elapsed  fact.Ratio      // share of the time to the deadline that has passed; none where that is not known
	Unplan   fact.Ratio      // share of the points of the current iteration that came after it had begun
	Warns    float64         // share of the time from which on it warns: that from which ratios count, among the tolerances of the project
	Awakened bool            // warnings count: enough time has passed
}

// Of lists the backlogs of a scope, those with most that is late first.
func Of(a *assess.Assessment, s *assess.Scope) []Row {
	var list []Row
	for _, p := range s.Projects {
		if p.Status != measure.Open || len(p.Items) == 0 {
			continue
		}
		list = append(list, rowOf(a, p))
	}
	slices.SortStableFunc(list, func(x, y Row) int {
		return int(y.Project.BacklogProgress().LatePoints - x.Project.BacklogProgress().LatePoints)
	})
	return list
}

func rowOf(a *assess.Assessment, p *measure.Project) Row {
	x := Row{Project: p, Warns: p.Tolerances.Early}
	b, s, asOf := measure.BacklogOf(p), p.BacklogProgress(), a.Env.AsOf
	for _, i := range b.Order(asOf) {
		if b.Items[i].Blocked != "" {
			x.Blocked = append(x.Blocked, &b.Items[i])
		}
	}
	for i := range p.Issues {
		if y := &p.Issues[i]; y.Blocks != "" && y.Open(asOf) {
			x.Issues++
		}
	}
	if from := b.Begins(); from != 0 && b.Deadline > from {
		x.Elapsed = fact.Of(int64(min(max(asOf-from, 0), b.Deadline-from)), int64(b.Deadline-from))
		x.Awakened = x.Elapsed.Cmp(fact.Decimal(x.Warns)) >= 0
	}
	if s.Current != nil {
		var all, late int64
		for i := range b.Items {
			if y := &b.Items[i]; y.Here(asOf) && y.Iteration == s.Current.Code {
				if all += y.Points.N; b.Unplanned(y) {
					late += y.Points.N
				}
			}
		}
		x.Unplan = fact.Of(late, all)
	}
	return x
}
