package intake

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"sort"
	"strings"
	"time"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/money"
	"turret/internal/core/write"
	"turret/internal/record"
)

// Origin says who sends files, for which period, and how far to go.
type Origin struct {
	Source, Author string
	Note           string          // kept with its loads: why they are there
	Period         calendar.Period // 0 for that of the context, or in work
	DryRun         bool            // check everything, write nothing
	Progress       func(done, total int)
}

// Receipt is what an import did.
type Receipt struct {
	Files    []*kept.File
	Loads    []kept.Load     // empty after a dry run
	Warnings []fault.Problem // worth knowing; the load was taken in nevertheless
}

// Import holds the files against each other and against what is there, and takes all of them in or none. What is wrong with
// them comes back as a *Refusal.
func (o *Office) Import(ctx context.Context, files []*kept.File, from Origin) (*Receipt, error) {
	actor, err := access.Permit(ctx, access.Send)
	if err != nil {
		return nil, err
	}
	if from.Author == "" {
		from.Author = actor.Name
	}
	at := o.now()
	if from.Period == 0 {
		if from.Period, err = o.PeriodFor(ctx); err != nil {
			return nil, err
		}
	}
	if err := o.setting.OfCycle(ctx, from.Period); err != nil {
		return nil, err
	}
	r := &Receipt{Files: files}
	check := func(view kept.Reading) error {
		r.Warnings, err = Checked(ctx, view, files)
		return err
	}
	if from.DryRun {
		if err := o.MayWrite(ctx, o.store, files); err != nil {
			return nil, err
		}
		return r, errors.Join(check(o.store), o.MayDecide(ctx, o.store, files))
	}
	r.Loads, err = o.Save(ctx, kept.Batch{Files: files, Source: from.Source, Author: from.Author, At: at, Period: from.Period,
		Reason: from.Note, Check: check, Progress: from.Progress, Note: func(l kept.Load) kept.Entry {
			return o.audit.Entry(ctx, "load", fmt.Sprintf("load %d", l.ID), "", fmt.Sprintf("%s, %s of %s from %s, SHA-256 %s", l.File,
				write.Count(l.Rows, "row", "rows"), l.Kind, l.Source, l.Digest))
		}})
	var refusal *fault.Refusal
	if errors.As(err, &refusal) {
		err = errors.Join(err, o.Refuse(ctx, files, from, refusal.Problems))
	}
	return r, err
}

type periodKey struct{}

// For returns a context in which what is saved is for the period that holds a day; where that is closed, nothing is saved.
func For(ctx context.Context, day calendar.Date) context.Context {
	return context.WithValue(ctx, periodKey{}, day)
}

// PeriodFor is the period that something is sent for: the one of the context, else the one after the last closed, else the last whole
// one. A closed one in the context is an error wrapping fault.ErrConflict.
func (o *Office) PeriodFor(ctx context.Context) (calendar.Period, error) {
	closed, err := o.store.Periods(ctx)
	if err != nil {
		return 0, err
	}
	day, _ := ctx.Value(periodKey{}).(calendar.Date)
	if day == 0 && len(closed) > 0 {
		return closed[len(closed)-1].Span + 1, nil
	}
	if day == 0 {
		return o.setting.LastWhole(ctx)
	}
	period, err := o.setting.PeriodOf(ctx, day)
	if err == nil && slices.ContainsFunc(closed, func(p kept.Period) bool { return p.Span == period }) {
		return 0, fault.Conflict("%s is closed and stays as it is; reopen it, or go on in %s. Nothing was saved", period.Name(),
			(closed[len(closed)-1].Span + 1).Name())
	}
	return period, err
}

// Checked holds files against each other and against what can be read; it returns warnings, or a *Refusal.
func Checked(ctx context.Context, view kept.Reading, files []*kept.File) ([]fault.Problem, error) {
	m, err := view.Masters(ctx)
	if err != nil {
		return nil, err
	}
	g := newGatherer(m)
	for _, f := range files {
		g.file = f
		if f.Kind.Adds() {
			if err := refuseTwice(ctx, view, g, files); err != nil {
				return nil, err
			}
		}
		g.check()
	}
	if err := g.rounds(ctx, view, m, files); err != nil {
		return nil, err
	}
	if err := weigh(ctx, view, g, files); err != nil {
		return nil, err
	}
	if err := gated(ctx, view, g, files); err != nil {
		return nil, err
	}
	if len(g.problems) > 0 {
		return nil, &fault.Refusal{Problems: g.problems}
	}
	return append(g.missingRates(files), g.onClosed(files)...), nil
}

// Refuse keeps what was refused and why.
func (o *Office) Refuse(ctx context.Context, files []*kept.File, from Origin, problems []fault.Problem) error {
	var failed error
	for _, f := range files {
		r := Refused{At: o.now(), Source: from.Source, Author: from.Author, File: f.Name, Kind: f.Kind, Period: from.Period,
			Projects: f.OwnersOf()}
		for _, p := range problems {
			if p.File == f.Name {
				if r.Problems++; r.Problems == 1 {
					r.First = p.String()
				}
			}
		}
		if r.Problems > 0 {
			failed = errors.Join(failed, o.store.Refuse(context.WithoutCancel(ctx), r))
		}
	}
	return failed
}

// Refused is a file that was not taken in.
type Refused struct {
	ID                   int64
	At                   time.Time
	Source, Author, File string
	Kind                 record.Kind
	Period               calendar.Period
	Problems             int
	First                string // the first problem in words
	Projects             []string
}

func refuseTwice(ctx context.Context, view kept.Reading, g *gatherer, files []*kept.File) error {
	for _, f := range files {
		if f == g.file {
			break
		}
		if f.Kind == g.file.Kind && f.Digest == g.file.Digest {
			g.fail(0, "", "", "rows that are not already in "+f.Name+" of the same import; the two files are the same")
		}
	}
	old, err := view.LoadOf(ctx, g.file.Kind, g.file.Digest)
	if err == nil && old != nil {
		g.fail(0, "", "", fmt.Sprintf("rows not taken in before; the same file is load %d, %s of %s",
			old.ID, old.File, old.ReceivedAt.Format("2006-01-02 15:04")))
	}
	return err
}

// gatherer holds rows against the codes known so far: those in the store and those of the files before.
type gatherer struct {
	file      *kept.File
	reporting money.Currency
	nodes     map[string]string // code to parent's code
	projects  map[string]money.Currency
	codes     map[string]string // cost code to parent
	calendars map[string]bool
	people    map[string]bool
	closed    map[string]bool // cost codes that take no more
	rates     []cost.RateRow
	own       map[string]map[string]string // what projects have in fields of the office's own
	problems  []fault.Problem
}

func newGatherer(m *kept.Masters) *gatherer {
	g := &gatherer{reporting: m.Reporting, nodes: map[string]string{}, projects: map[string]money.Currency{},
		codes: map[string]string{}, calendars: map[string]bool{}, people: map[string]bool{}, closed: map[string]bool{},
		rates: slices.Clone(m.Rates), own: map[string]map[string]string{}}
	byID := map[int64]string{}
	for _, n := range m.Nodes {
		byID[n.ID] = n.Code
	}
	for _, n := range m.Nodes {
		g.nodes[n.Code] = byID[n.Parent]
	}
	for _, p := range m.Projects {
		g.projects[p.Code], g.own[p.Code] = p.Currency, p.Own
	}
	for _, c := range m.CostCodes {
		g.codes[c.Code] = c.Parent
		g.closed[c.Code] = c.Closed
	}
	for i := range m.People {
		g.people[m.People[i].Code] = true
	}
	for _, c := range m.Calendars {
		g.calendars[c.Calendar] = true
	}
	return g
}

func (g *gatherer) fail(row int32, column, value, expected string) {
	g.problems = append(g.problems, fault.Problem{File: g.file.Name, Row: row, Column: column, Value: value, Expected: expected})
}

func (g *gatherer) check() {
	switch g.file.Kind {
	case record.Structure:
		g.structure()
	case record.Calendars:
		g.checkCalendars()
	case record.CostCodes:
		g.costCodes()
	case record.Rates:
		g.checkRates()
	case record.Projects:
		g.checkProjects()
	case record.Activities:
		g.activities()
	case record.Links:
		g.links()
	case record.Budget, record.Forecast:
		g.lines()
	case record.Actuals:
		g.postings()
	case record.Statuses:
		g.statuses()
	default:
		g.records()
	}
}

// OnceOnlyText begins what is expected of keys that stand twice: no other meaning of the value would help there.
const OnceOnlyText = "each once"

// once reports a key that stands in the file a second time.
func (g *gatherer) once(seen map[string]int32, key string, row int32, column, value string) {
	if first, ok := seen[key]; ok {
		g.fail(row, column, value, fmt.Sprintf("%s; it stands in row %d already", OnceOnlyText, first))
		return
	}
	seen[key] = row
}

// parents reports unknown parents and chains of parents that come back to where they began.
func (g *gatherer) parents(parent map[string]string, rows []string, at func(string) int32, what string) {
	reported := map[string]bool{}
	for _, code := range rows {
		p := parent[code]
		if p == "" {
			continue
		}
		if _, ok := parent[p]; !ok {
			g.fail(at(code), "parent", p, "the code of a "+what+" in this file or taken in before")
			continue
		}
		chain := []string{code}
		for p != "" && p != code && len(chain) <= len(parent) {
			chain = append(chain, p)
			p = parent[p]
		}
		if p == code && !reported[code] {
			for _, c := range chain {
				reported[c] = true
			}
			g.fail(at(code), "parent", parent[code], "parents that end; this one goes round: "+strings.Join(append(chain, code), " → "))
		}
	}
}

func (g *gatherer) structure() {
	seen := map[string]int32{}
	var codes []string
	for _, n := range g.file.Nodes {
		g.once(seen, n.Code, n.Row, "code", n.Code)
		if _, ok := g.projects[n.Code]; ok {
			g.fail(n.Row, "code", n.Code, "a code that no project has")
		}
		g.nodes[n.Code] = n.Parent
		codes = append(codes, n.Code)
	}
	g.parents(g.nodes, codes, func(c string) int32 { return seen[c] }, "portfolio or programme")
}

func (g *gatherer) costCodes() {
	seen := map[string]int32{}
	var codes []string
	for _, c := range g.file.CostCodes {
		g.once(seen, c.Code, c.Row, "code", c.Code)
		g.codes[c.Code] = c.Parent
		g.closed[c.Code] = c.Closed
		codes = append(codes, c.Code)
	}
	g.parents(g.codes, codes, func(c string) int32 { return seen[c] }, "cost code")
}

func (g *gatherer) checkCalendars() {
	for name, week := range kept.Weeks(g.file.Calendars) {
		g.calendars[name] = true
		if _, err := calendar.New(week.Days, week.Exceptions); err != nil {
			g.fail(0, "calendar", name, err.Error())
		}
	}
	seen := map[string]int32{}
	for _, c := range g.file.Calendars {
		day := c.Date.String()
		if c.Weekday.Given {
			day = fmt.Sprint("weekday ", c.Weekday.N)
		}
		g.once(seen, c.Calendar+"\x00"+day, c.Row, "calendar", c.Calendar+" "+day)
	}
}

func (g *gatherer) checkRates() {
	seen := map[string]int32{}
	for _, r := range g.file.Rates {
		g.once(seen, fmt.Sprint(r.Currency, r.Month, r.Plan), r.Row, "currency", string(r.Currency))
		if r.Currency == g.reporting {
			g.fail(r.Row, "currency", string(r.Currency), "another currency than the reporting one")
		}
		g.rates = append(g.rates, cost.RateRow{Currency: r.Currency, Month: r.Month, Plan: r.Plan, Rate: r.Rate})
	}
}

func (g *gatherer) checkProjects() {
	seen := map[string]int32{}
	for i := range g.file.Projects {
		p := &g.file.Projects[i]
		g.once(seen, p.Code, p.Row, "code", p.Code)
		if _, ok := g.nodes[p.Code]; ok {
			g.fail(p.Row, "code", p.Code, "a code that no portfolio or programme has")
		}
		if _, ok := g.nodes[p.Parent]; p.Parent != "" && !ok {
			g.fail(p.Row, "parent", p.Parent, "the code of a portfolio or programme")
		}
		if p.Currency == "" {
			p.Currency = g.reporting
		}
		g.projects[p.Code] = p.Currency
		p.Own = keepOwn(g.own[p.Code], p.Own)
		g.own[p.Code] = p.Own
	}
}

func (g *gatherer) project(code string, row int32, column string) bool {
	_, ok := g.projects[code]
	if !ok {
		g.fail(row, column, code, "the code of a project in projects or taken in before")
	}
	return ok
}

func (g *gatherer) activities() {
	seen := map[string]int32{}
	parent := map[string]string{}
	var keys []string
	for _, a := range g.file.Activities {
		g.project(a.Project, a.Row, "project")
		key := a.Project + "\x00" + a.Activity.Code
		g.once(seen, key, a.Row, "code", a.Activity.Code)
		if a.Calendar != "" && !g.calendars[a.Calendar] {
			g.fail(a.Row, "calendar", a.Calendar, "the name of a calendar")
		}
		parent[key] = ""
		if a.Activity.Parent != "" {
			parent[key] = a.Project + "\x00" + a.Activity.Parent
		}
		keys = append(keys, key)
	}
	before := len(g.problems)
	g.parents(parent, keys, func(k string) int32 { return seen[k] }, "summary of the same project")
	for i := range g.problems[before:] {
		p := &g.problems[before+i]
		_, p.Value, _ = strings.Cut(p.Value, "\x00")
		p.Expected = strings.ReplaceAll(p.Expected, "\x00", "/")
	}
}

func (g *gatherer) links() {
	for _, l := range g.file.Links {
		g.project(l.Project, l.Row, "project")
		if l.FromProject != "" {
			g.project(l.FromProject, l.Row, "from_project")
		}
		if l.ToProject != "" {
			g.project(l.ToProject, l.Row, "to_project")
		}
	}
}

func (g *gatherer) costCode(code string, row int32) {
	if _, ok := g.codes[code]; !ok {
		g.fail(row, "cost_code", code, "a cost code in cost_codes or taken in before")
	}
}

// settle turns units into an amount of the row's currency, by default the project's.
func (g *gatherer) settle(project string, c *money.Currency, units int64, row int32) money.Amount {
	if *c == "" {
		if *c = g.projects[project]; *c == "" {
			*c = g.reporting
		}
	}
	step := int64(1)
	for range 4 - c.Decimals() {
		step *= 10
	}
	if g.file.Round && units%step != 0 {
		sign := int64(1)
		if units < 0 {
			sign, units = -1, -units
		}
		units = sign * step * int64(money.MulDiv(money.Amount(units), 1, step))
	}
	a := money.Amount(units / step)
	switch {
	case units%step != 0:
		g.fail(row, "amount", money.Decimal(units, 4), fmt.Sprintf("at most %d decimals for %s, or amounts to be rounded", c.Decimals(),
			*c))
	case a > money.MaxAmount || a < -money.MaxAmount:
		g.fail(row, "amount", money.Decimal(units, 4), "an amount up to "+money.MaxAmount.Human(*c))
	}
	return a
}

func (g *gatherer) lines() {
	for i := range g.file.Lines {
		l := &g.file.Lines[i]
		if g.project(l.Project, l.Row, "project") {
			l.Amount = g.settle(l.Project, &l.Currency, l.Units, l.Row)
		}
		g.costCode(l.CostCode, l.Row)
	}
}

func (g *gatherer) postings() {
	for i := range g.file.Postings {
		p := &g.file.Postings[i]
		if g.project(p.Project, p.Row, "project") {
			p.Amount = g.settle(p.Project, &p.Currency, p.Units, p.Row)
		}
		g.costCode(p.CostCode, p.Row)
	}
}

func (g *gatherer) statuses() {
	seen := map[string]int32{}
	for _, s := range g.file.Statuses {
		g.project(s.Project, s.Row, "project")
		g.once(seen, s.Project, s.Row, "project", s.Project)
	}
}

// missingRates names each currency and month that rows need a rate for and there is none.
func (g *gatherer) missingRates(files []*kept.File) []fault.Problem {
	rates := cost.NewRates(g.reporting, g.rates)
	seen := map[cost.MissingRate]bool{}
	var list []fault.Problem
	need := func(f *kept.File, row int32, c money.Currency, m calendar.Month, plan bool) {
		if c == g.reporting {
			return
		}
		key := cost.MissingRate{Currency: c, Month: m, Plan: plan}
		if _, err := rates.Find(c, m, plan); err != nil && !seen[key] {
			seen[key] = true
			list = append(list, fault.Problem{File: f.Name, Row: row, Column: "currency", Value: string(c),
				Expected: "a rate; there is " + err.Error() + ", and the figures that need it stay undefined"})
		}
	}
	for _, f := range files {
		for i := range f.Lines {
			l := &f.Lines[i]
			first, last := l.Month, l.Month
			if l.Month == 0 {
				first, last = l.From.Month(), l.To.Month()
			}
			for m := first; m <= last && l.Currency != g.reporting; m++ {
				need(f, l.Row, l.Currency, m, true)
			}
		}
		for i := range f.Postings {
			p := &f.Postings[i]
			if p.Currency != g.reporting {
				need(f, p.Row, p.Currency, p.Date.Month(), false)
			}
		}
	}
	sort.SliceStable(list, func(i, j int) bool { return list[i].Value < list[j].Value })
	return list
}

// TypedBy is the source of what an actor types in: a lead sends so, the office corrects.
func TypedBy(a *access.Actor) string {
	if a.Role == access.Lead {
		return a.Name
	}
	return kept.ByHand
}

// OfItsPeriod is what is said of one period alone, so that none of it stands for the next, by kind.
var OfItsPeriod = map[record.Kind][]string{record.Statuses: {"commentary"}}
