package assess

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"sort"

	"golang.org/x/sync/errgroup"

	"turret/internal/app/access"
	"turret/internal/app/condition"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/app/setting"
	"turret/internal/core/calendar"
	"turret/internal/core/capacity"
	"turret/internal/core/cost"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
	"turret/internal/record"
)

// Assessment is every project computed as of a day. It is read-only once made.
type Assessment struct {
	Env         measure.Env
	Masters     *kept.Masters
	Rates       *cost.Rates
	Projects    []*measure.Project            // in the order of their codes
	Holders     []*measure.Project            // nodes with registers of their own
	everyHolder []*measure.Project            // where something is kept from the one who asks
	NoMoney     bool                          // costs are kept from the one who asked
	net         *net                          // of all projects, whoever asks
	Calendars   map[string]*calendar.Calendar // by name
	Classes     cost.Classes
	Settings    *setting.Settings // that it was computed under
	Closed      *kept.Period      // the closed period whose facts it shows; nil where it shows what stands now
	Older       bool              // newer figures are being computed
	Broken      []string          // own checks that are not understood, or take too much work
	overworked  map[string]bool
	Reading     kept.Reading
	view        view
	head        int64
	Shown       bool               // in another currency than the reporting one
	All         []*measure.Project // of the plan, by its indexes
	ByCode      map[string]*measure.Project
	nodes       map[int64]*kept.Node
	NodeCodes   map[string]*kept.Node
	Own         []condition.OwnRule
	parents     map[int64]int64 // of all nodes
	Narrowed    bool            // something is kept from the one who asks
	codeNames   []string
	closedCodes []bool
	links       [][]schedule.Dependency // by the index of the project that sent them
	Slots       slots
	People      []capacity.Person // who works here, in the order of their codes
	personAt    map[string]int32
	Begun       bool   // something has come for the period
	books       []book // while reading
}

// Day computes all projects as of the end of asOf, or returns what it computed before where nothing has changed since. What
// the one who asks may not see is not in it. For whoever is patient with older figures (Lagging), the last complete ones are returned at
// once while newer are computed, except where only a few projects are to be computed, or that person changed something since.
func (o *Office) Day(ctx context.Context, asOf calendar.Date) (*Assessment, error) {
	actor, err := access.Permit(ctx, access.Read)
	if err != nil {
		return nil, err
	}
	head, err := o.store.Head(ctx)
	if err != nil {
		return nil, err
	}
	former := o.cache.find(asOf, currencyIn(ctx))
	if former == nil || former.a.head != head {
		if lagging, err := o.mayLag(ctx, actor, former, head); err != nil {
			return nil, err
		} else if lagging {
			o.later.Go(func() {
				if _, err := o.fresh(context.WithoutCancel(ctx), asOf, head); err != nil {
					o.cache.broke(asOf, currencyIn(ctx), head)
				}
			})
			return o.cache.older(former, actor), nil
		}
		if former, err = waitFor(ctx, o, asOf, head); err != nil {
			return nil, fmt.Errorf("assessing %s: %w", asOf, err)
		}
	}
	return o.cache.seen(former, actor), nil
}

// AtHand is the last complete assessment of a day, nil where there is none: for whoever shows no figures of it.
func (o *Office) AtHand(ctx context.Context, asOf calendar.Date) *Assessment {
	actor, err := access.Permit(ctx, access.Read)
	former := o.cache.find(asOf, currencyIn(ctx))
	if err != nil || former == nil {
		return nil
	}
	return o.cache.seen(former, actor)
}

// Keeps reports whether an assessment, in whatever view, is the newest of its day and still kept. What is made of another is of no use to
// those who come, and holds on to all its rows.
func (o *Office) Keeps(a *Assessment) bool { return o.cache.keeps(a) }

// Environment is what the figures are computed under.
func (a *Assessment) Environment() *measure.Env { return &a.Env }

// Head counts the changes that the assessment knows of.
func (a *Assessment) Head() int64 { return a.head }

type laggingKey struct{}

// Lagging marks whoever asks as content with the last complete figures while newer ones are computed.
func Lagging(ctx context.Context) context.Context { return context.WithValue(ctx, laggingKey{}, true) }

// mayLag tells whether a former assessment may be shown for now. Where the newer ones could not be computed, whoever asks is to hear why.
func (o *Office) mayLag(ctx context.Context, actor *access.Actor, former *cachedDay, head int64) (bool, error) {
	if former == nil || ctx.Value(laggingKey{}) == nil || former.a.head < o.cache.lastWrote(actor.Account) ||
		o.cache.brokeAt(former.a.Env.AsOf, currencyIn(ctx)) == head {
		return false, nil
	}
	changed, whole, err := o.store.Stirred(ctx, former.a.head)
	return whole || len(changed) > mostRenewed, err
}

// Changed notes that the one who asks changed something, so that older figures are not shown to them.
func (o *Office) Changed(ctx context.Context) error {
	actor := access.ActorOf(ctx)
	if actor == nil {
		return nil
	}
	head, err := o.store.Head(ctx)
	if err == nil {
		o.cache.changed(actor.Account, head)
	}
	return err
}

// ErrNotComputed is returned where newer figures could not be computed.
var ErrNotComputed = errors.New("newer figures could not be computed")

// Newer reports whether asking for a day again shows figures that are newer than those of a head. Where they could not be computed the
// error is ErrNotComputed.
func (o *Office) Newer(ctx context.Context, asOf calendar.Date, than int64) (bool, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return false, err
	}
	k := o.cache.find(asOf, currencyIn(ctx))
	switch {
	case k == nil:
		return o.cache.runningAt(dayIn{asOf, currencyIn(ctx)}) == nil, nil
	case k.a.head > than:
		return true, nil
	}
	head, err := o.store.Head(ctx)
	if err == nil && o.cache.brokeAt(asOf, currencyIn(ctx)) == head {
		err = ErrNotComputed
	}
	return false, err
}

// fresh has a day computed for a head, or a later one.
func (o *Office) fresh(ctx context.Context, asOf calendar.Date, head int64) (*cachedDay, error) {
	currency := currencyIn(ctx)
	return o.cache.once(ctx, dayIn{asOf, currency}, head, func(ctx context.Context) (*cachedDay, error) {
		head, err := o.store.Head(ctx)
		if err != nil {
			return nil, err
		}
		former := o.cache.find(asOf, currency)
		if former != nil && former.a.head == head {
			return former, nil
		}
		a, err := anew(ctx, o, asOf, former)
		if err != nil {
			return nil, err
		}
		a.head = head
		return o.cache.put(a, former), nil
	})
}

// anew computes a day, with what still stands of a former assessment taken from that.
func anew(ctx context.Context, o *Office, asOf calendar.Date, former *cachedDay) (*Assessment, error) {
	v, err := o.viewOf(ctx, asOf)
	if err != nil {
		return nil, err
	}
	if former != nil {
		if a, err := o.renewed(ctx, former.a, v); a != nil || err != nil {
			return a, err
		}
	}
	var a *Assessment
	if v.closed != nil {
		a, err = o.AssessClosed(ctx, v.Reading, v.closed)
	} else {
		a, err = o.AssessFrom(ctx, v.Reading, asOf, nil)
	}
	if err == nil {
		a.view = v
	}
	return a, err
}

// AssessClosed computes a closed period again from its own facts and settings.
func (o *Office) AssessClosed(ctx context.Context, view kept.Reading, p *kept.Period) (*Assessment, error) {
	settings, err := setting.AtClosing(p)
	if err != nil {
		return nil, err
	}
	return o.compute(ctx, view, p.AsOf, nil, settings, p)
}

// AssessPart is AssessClosed for the projects of the ids alone, and whatever their dates hang on.
func (o *Office) AssessPart(ctx context.Context, view kept.Reading, p *kept.Period, only []int64) (*Assessment, error) {
	settings, err := setting.AtClosing(p)
	if err != nil {
		return nil, err
	}
	return o.compute(ctx, view, p.AsOf, only, settings, p)
}

// AssessFrom computes the projects of the ids, all of them where that is nil.
func (o *Office) AssessFrom(ctx context.Context, view kept.Reading, asOf calendar.Date, only []int64) (*Assessment, error) {
	settings, err := setting.Of(ctx, view)
	if err != nil {
		return nil, err
	}
	return o.compute(ctx, view, asOf, only, settings, nil)
}

func (o *Office) compute(ctx context.Context, view kept.Reading, asOf calendar.Date, only []int64, settings *setting.Settings,
	closed *kept.Period) (*Assessment, error) {
	how := progressIn(ctx)
	how.at(Progress{Step: "reading what was sent"})
	m, err := view.Masters(ctx)
	if err != nil {
		return nil, err
	}
	calendars, err := BuildCalendars(m.Calendars)
	if err != nil {
		return nil, err
	}
	if only, err = joined(ctx, view, m, only); err != nil {
		return nil, err
	}
	a := New(m, calendars, asOf)
	if err := showIn(a, currencyIn(ctx)); err != nil {
		return nil, err
	}
	a.Env.Cycle, a.Env.YearMonth = settings.Cycle(), settings.YearMonth
	a.Env.Milestones.LookAhead, a.Env.Likelihood = settings.LookAhead, settings.Scale()
	a.Env.Grace, a.Env.YearlyRate = settings.Grace, settings.Rate()
	a.Env.Tolerances, a.Env.Checks = settings.Whole(), settings.Checks()
	a.Settings, a.Reading, a.Closed = settings, view, closed
	if err := readPeople(ctx, a, view); err != nil {
		return nil, err
	}
	all, within := errgroup.WithContext(ctx) // they fill in different parts of the projects
	all.Go(func() error { return readFacts(within, a, view, calendars, only) })
	all.Go(func() error { return readRegisters(within, a, view, only) })
	all.Go(func() error { return readDependencies(within, a, view, only) })
	if err := all.Wait(); err != nil {
		return nil, err
	}
	if err := readSent(ctx, a, view, only); err != nil {
		return nil, err
	}
	if err := readNodes(ctx, a, view); err != nil {
		return nil, err
	}
	if err := o.compareForecasts(ctx, a, only); err != nil {
		return nil, err
	}
	how.at(Progress{Step: "running the network"})
	runNetwork(a)
	rate(ctx, a, a.Projects)
	return a, nil
}

// rate computes the measures of projects whose facts are there.
func rate(ctx context.Context, a *Assessment, projects []*measure.Project) {
	by := a.Settings.LimitsOf()
	how := progressIn(ctx)
	for i, p := range projects {
		if i%50 == 0 {
			how.at(Progress{Step: "computing measures", Done: i, All: len(projects)})
		}
		measure.Assess(p, a.EnvOf(p, by))
	}
	readyOwn(a)
	runOwn(a, projects)
}

// showIn has amounts computed in a currency other than the reporting one.
func showIn(a *Assessment, c money.Currency) error {
	if c == "" || c == a.Env.Currency {
		return nil
	}
	if !slices.Contains(a.Rates.Known(), c) {
		return fmt.Errorf("rates of %s: %w", fault.Clip(string(c), 10), fault.ErrNotFound)
	}
	a.Rates, a.Env.Currency, a.Shown = a.Rates.In(c), c, true
	return nil
}

// EnvOf is the environment of a project, with the tolerances of the narrowest scopes around it.
func (a *Assessment) EnvOf(p *measure.Project, by map[string]*setting.Limits) measure.Env {
	env := a.Env
	if len(by) == 0 {
		return env
	}
	for _, l := range limitsOver(a, p, by) {
		env.Tolerances = l.Over(env.Tolerances)
		if l.Grace != nil {
			env.Grace = *l.Grace
		}
	}
	return env
}

// limitsOver are the limits of the scopes around a project that have any, the widest first and its own last.
func limitsOver(a *Assessment, p *measure.Project, by map[string]*setting.Limits) (list []*setting.Limits) {
	for _, n := range a.Path(p.Parent) {
		if l := by[n.Code]; l != nil {
			list = append(list, l)
		}
	}
	if l := by[p.Code]; l != nil {
		list = append(list, l)
	}
	return list
}

// BurnOf is what the backlog of a project is drawn by: points, or items where a scope around it says so.
func BurnOf(a *Assessment, p *measure.Project) string {
	by := "points"
	for _, l := range limitsOver(a, p, a.Settings.LimitsOf()) {
		by = cmp.Or(l.Burn, by)
	}
	return by
}

// DefaultCalendar is the organisation's.
const DefaultCalendar = "default"

// BuildCalendars makes the calendars of their rows, by name; the standard one is among them.
func BuildCalendars(rows []kept.CalendarRow) (map[string]*calendar.Calendar, error) {
	built := map[string]*calendar.Calendar{DefaultCalendar: calendar.Standard}
	for name, w := range kept.Weeks(rows) {
		c, err := calendar.New(w.Days, w.Exceptions)
		if err != nil {
			return nil, fmt.Errorf("calendar %s: %w", name, err)
		}
		built[name] = c
	}
	return built, nil
}

// New makes an assessment of masters with nothing computed in it yet.
func New(m *kept.Masters, calendars map[string]*calendar.Calendar, asOf calendar.Date) *Assessment {
	a := &Assessment{
		Env: measure.Env{AsOf: asOf, Currency: m.Reporting, Calendar: calendars[DefaultCalendar],
			Tolerances: health.Defaults(), Milestones: schedule.Options{LookAhead: setting.LookAhead}},
		Masters: m, Rates: cost.NewRates(m.Reporting, m.Rates), Calendars: calendars, Classes: classes(m.CostCodes),
		ByCode: map[string]*measure.Project{}, net: &net{}, nodes: map[int64]*kept.Node{}, NodeCodes: map[string]*kept.Node{},
		parents: map[int64]int64{},
	}
	for i := range m.Nodes {
		n := &m.Nodes[i]
		a.nodes[n.ID], a.NodeCodes[n.Code], a.parents[n.ID] = n, n, n.Parent
	}
	for _, c := range m.CostCodes {
		for int64(len(a.codeNames)) <= c.ID {
			a.codeNames, a.closedCodes = append(a.codeNames, ""), append(a.closedCodes, false)
		}
		a.closedCodes[c.ID] = c.Closed
		a.codeNames[c.ID] = c.Code + " " + c.Name
	}
	for i := range m.Projects {
		p := &measure.Project{Info: m.Projects[i]}
		a.Projects = append(a.Projects, p)
		a.ByCode[p.Code] = p
	}
	a.Slots = newSlots(a.Projects)
	return a
}

// CodeName is a cost code with its name.
func (a *Assessment) CodeName(id int32) string {
	if int(id) < len(a.codeNames) && a.codeNames[id] != "" {
		return a.codeNames[id]
	}
	if id == 0 {
		return "no cost code"
	}
	return fmt.Sprint("cost code ", id)
}

// closedCode reports whether a cost code takes no more: it is closed, or no load that stands brought it.
func closedCode(a *Assessment, id int32) bool {
	return int(id) >= len(a.closedCodes) || a.codeNames[id] == "" || a.closedCodes[id]
}

// readFacts fills in accounts, activities and declarations with one pass over each table.
func readFacts(ctx context.Context, a *Assessment, s kept.Reading, calendars map[string]*calendar.Calendar, only []int64) error {
	slots := a.Slots
	builders := make([]*cost.Builder, len(a.Projects))
	for i := range builders {
		builders[i] = cost.NewBuilder(a.Rates, a.Env.Calendar, a.Env.AsOf)
		builders[i].Classify(a.Classes)
		builders[i].By(a.Projects[i].Labour)
	}
	of := func(project int64, f func(p *measure.Project, b *cost.Builder)) {
		if i, ok := slots.Of(project); ok {
			f(a.Projects[i], builders[i])
		}
	}
	a.books = make([]book, len(a.Projects))
	both, within := errgroup.WithContext(ctx) // dates go into projects, amounts into builders
	both.Go(func() error { return readDates(within, a, s, calendars, only) })
	both.Go(func() error { return readPlanned(within, a, s, only, of) })
	err := both.Wait()
	if err == nil {
		err = readPosted(ctx, a, s, only, of) // which is held against the dates
	}
	for i, p := range a.Projects {
		p.Account = builders[i].Account()
		a.books[i].close(a, p)
	}
	a.books = nil
	return err
}

// readDates passes activities and declarations.
func readDates(ctx context.Context, a *Assessment, s kept.Reading, calendars map[string]*calendar.Calendar, only []int64) error {
	err := s.Activities(ctx, only, func(project int64, f *kept.ActivityFact) {
		if c, ok := calendars[f.CalendarName]; ok && f.CalendarName != "" {
			f.Calendar = c
		}
		if i, ok := a.Slots.Of(project); ok {
			a.Projects[i].Activities = append(a.Projects[i].Activities, f.Activity)
		}
	})
	if err != nil {
		return err
	}
	return s.Declared(ctx, only, func(project int64, d measure.Declared) {
		if i, ok := a.Slots.Of(project); ok {
			a.Projects[i].Declared = &d
		}
	})
}

// readPlanned passes what is planned, ordered, funded and billed.
func readPlanned(ctx context.Context, a *Assessment, s kept.Reading, only []int64,
	of func(int64, func(*measure.Project, *cost.Builder))) error {
	for _, read := range []func() error{
		func() error {
			return s.Changes(ctx, only, func(project int64, c cost.Change) { // before the budget, whose lines they hold back
				of(project, func(p *measure.Project, b *cost.Builder) {
					p.Changes = append(p.Changes, c)
					b.Change(c)
				})
			})
		},
		func() error {
			return s.Lines(ctx, record.Budget, only, func(project int64, l cost.Line) {
				of(project, func(_ *measure.Project, b *cost.Builder) {
					b.Budget(l)
					bookOf(a, project).budgeted(l)
				})
			})
		},
		func() error {
			return s.Lines(ctx, record.Forecast, only, func(project int64, l cost.Line) {
				of(project, func(_ *measure.Project, b *cost.Builder) {
					b.Forecast(l)
					bookOf(a, project).forecast.Add(&l, a.Env.Calendar)
				})
			})
		},
		func() error {
			return s.Commitments(ctx, only, func(project int64, c cost.Commitment) {
				of(project, func(_ *measure.Project, b *cost.Builder) { b.Commit(c) })
			})
		},
		func() error {
			return s.Shares(ctx, only, func(project int64, x cost.Share) {
				of(project, func(_ *measure.Project, b *cost.Builder) { b.Fund(x) })
			})
		},
		func() error {
			return s.Billings(ctx, only, func(project int64, x cost.Billing) {
				of(project, func(_ *measure.Project, b *cost.Builder) { b.Bill(x) })
			})
		},
	} {
		if err := read(); err != nil {
			return err
		}
	}
	return nil
}

// readPosted passes the ledger and the timesheets.
func readPosted(ctx context.Context, a *Assessment, s kept.Reading, only []int64,
	of func(int64, func(*measure.Project, *cost.Builder))) error {
	if err := readLedger(ctx, a, s, only, of); err != nil {
		return err
	}
	return s.Bookings(ctx, only, func(project int64, x *cost.Booking) {
		of(project, func(p *measure.Project, b *cost.Builder) {
			b.Book(*x, a.Masters.Tariffs)
			bookOf(a, project).booked(p, x, a.Env.AsOf)
		})
	})
}

// readLedger counts postings by the sums kept of them where these may be taken whole, else one by one.
func readLedger(ctx context.Context, a *Assessment, s kept.Reading, only []int64,
	of func(int64, func(*measure.Project, *cost.Builder))) error {
	err := s.Ledger(ctx, only, func(project, load int64, x *cost.MonthSum) bool {
		taken := x.Month > a.Env.AsOf.Month() // nothing of it counts
		of(project, func(p *measure.Project, b *cost.Builder) {
			if book := bookOf(a, project); !taken && book.whole(p, x, &a.Env) {
				b.PostSum(x)
				book.summed(p, load, x, a.Env.AsOf)
				taken = true
			}
		})
		return taken
	}, func(project int64, x *cost.Posting) {
		of(project, func(p *measure.Project, b *cost.Builder) {
			b.Post(*x)
			bookOf(a, project).posted(p, x, a.Env.AsOf)
		})
	})
	if err == nil {
		err = nameTwice(ctx, a, s)
	}
	return err
}

// classes tells how cost codes are treated: as they say themselves, else as the code above them does.
func classes(codes []kept.CostCode) cost.Classes {
	var c cost.Classes
	at := map[string]*kept.CostCode{}
	for i := range codes {
		at[codes[i].Code] = &codes[i]
	}
	for i := range codes {
		for int64(len(c.Of)) <= codes[i].ID {
			c.Of, c.Reserve, c.Labour = append(c.Of, cost.Unclassed), append(c.Reserve, false), append(c.Labour, false)
		}
		k := &codes[i]
		for steps := 0; k != nil && steps <= len(codes); steps++ {
			if c.Of[codes[i].ID] == cost.Unclassed {
				c.Of[codes[i].ID] = map[string]cost.Class{"capital": cost.Capital, "operating": cost.Operating}[k.Type]
			}
			c.Reserve[codes[i].ID] = c.Reserve[codes[i].ID] || k.Contingency
			c.Labour[codes[i].ID] = c.Labour[codes[i].ID] || k.Labour
			k = at[k.Parent]
		}
	}
	return c
}

// slots maps the ids of projects, which are small, to their index.
type slots []int32

// Of returns the index of a project. One that a load brought after the projects were read has none: its rows are passed
// over, and the next page assesses afresh, since the newest load is another.
func (s slots) Of(project int64) (int32, bool) {
	if project < 0 || project >= int64(len(s)) || s[project] < 0 {
		return 0, false
	}
	return s[project], true
}

func newSlots(projects []*measure.Project) slots {
	var slots slots
	for i, p := range projects {
		for int64(len(slots)) <= p.ID {
			slots = append(slots, -1)
		}
		slots[p.ID] = int32(i)
	}
	return slots
}

// Project finds a project by its code, or returns an error wrapping ErrNotFound.
func (a *Assessment) Project(code string) (*measure.Project, error) {
	if p, ok := a.ByCode[code]; ok {
		return p, nil
	}
	return nil, fmt.Errorf("project %q: %w", code, fault.ErrNotFound)
}

// Path lists the nodes above a project or node, from the top down.
func (a *Assessment) Path(parent int64) []*kept.Node {
	var list []*kept.Node
	for n := a.nodes[parent]; n != nil && len(list) <= len(a.nodes); n = a.nodes[n.Parent] {
		list = append(list, n)
	}
	slices.Reverse(list)
	return list
}

// Programme is the nearest node above a project; nil where there is none.
func (a *Assessment) Programme(p *measure.Project) *kept.Node { return a.nodes[p.Parent] }

// Roll is the figures of the scope together: of its projects, and what its nodes have in registers of their own.
func (s *Scope) Roll(env measure.Env) *measure.Group {
	return measure.Roll(s.Projects, env, s.Nodes...)
}

// Roll is the figures of some projects together.
func (a *Assessment) Roll(projects []*measure.Project) *measure.Group {
	return measure.Roll(projects, a.Env)
}

// Scope is a part of the structure with the projects in it.
type Scope struct {
	Code, Name string // both empty for everything
	Projects   []*measure.Project
	Nodes      []*measure.Project // in it that have registers of their own
}

// Scope finds the projects below a node, or the one project of that code; an empty code means all of them. Only projects of
// the states named are in it, all where none is. An unknown code is an error wrapping ErrNotFound.
func (a *Assessment) Scope(code string, states ...measure.State) (*Scope, error) {
	s := &Scope{Code: code}
	node, isNode := a.NodeCodes[code]
	switch p, isProject := a.ByCode[code]; {
	case isNode:
		s.Name = node.Name
	case isProject:
		s.Name, s.Projects = p.Name, []*measure.Project{p}
		return s, nil
	case code != "":
		return nil, fmt.Errorf("scope %q: %w", code, fault.ErrNotFound)
	}
	s.Nodes = HoldersIn(a, node)
	for _, p := range a.Projects {
		if len(states) > 0 && !slices.Contains(states, p.Status) {
			continue
		}
		if !isNode || slices.Contains(a.Path(p.Parent), node) {
			s.Projects = append(s.Projects, p)
		}
	}
	return s, nil
}

// States reads the states of projects that are asked for: open ones where nothing is said, nil for all. A word that is none is a
// FieldError.
func States(text string) ([]measure.State, error) {
	if text == "all" {
		return nil, nil
	}
	list, wrong := measure.StatesOf(cmp.Or(text, measure.Open.String()))
	if wrong != "" {
		return nil, fault.Field("status", fault.Clip(wrong, 40), "open, proposed, closed, cancelled or all")
	}
	return list, nil
}

// HolderOf finds a project or, where a code is of a node, what that has in registers of its own: nothing, where nothing ever came.
func HolderOf(a *Assessment, code string) (*measure.Project, error) {
	n := a.NodeCodes[code]
	if n == nil {
		return a.Project(code)
	}
	for _, h := range a.Holders {
		if h.Code == code {
			return h, nil
		}
	}
	return &measure.Project{Node: true, Info: measure.Info{ID: n.Holder, Code: n.Code, Name: n.Name, Parent: n.Parent, Lead: n.Owner,
		Status: measure.Closed}}, nil
}

// HoldersIn are the nodes with registers of their own at or below a node; all of them where it is nil.
func HoldersIn(a *Assessment, node *kept.Node) []*measure.Project {
	if node == nil {
		return a.Holders
	}
	var list []*measure.Project
	for _, h := range a.Holders {
		if h.Code == node.Code || slices.Contains(a.Path(h.Parent), node) {
			list = append(list, h)
		}
	}
	return list
}

// ByAttention sorts projects in the order in which they need attention: act before watch, within it by the money at stake,
// then by days late, then by code.
func ByAttention(list []*measure.Project) {
	sort.SliceStable(list, func(i, j int) bool {
		a, b := &list[i].Health, &list[j].Health
		if a.Overall != b.Overall {
			return a.Overall > b.Overall
		}
		if a.Stake != b.Stake {
			return a.Stake > b.Stake
		}
		if a.DaysLate != b.DaysLate {
			return a.DaysLate > b.DaysLate
		}
		return list[i].Code < list[j].Code
	})
}
