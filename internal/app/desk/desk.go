// Package desk is the door to what one person has to do over all projects.
package desk

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"turret/internal/app/access"
	"turret/internal/app/account"
	"turret/internal/app/assess"
	"turret/internal/app/explain"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/money"
	"turret/internal/app/register"
	"turret/internal/app/setting"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
	"turret/internal/record"
)

// Store keeps what desks need.
type Store interface {
	Accounts(ctx context.Context) ([]account.Account, error)
}

// Office is the door to desks. It is safe for concurrent use.
type Office struct {
	store    Store
	setting  *setting.Office
	register *register.Office
	explain  *explain.Office
}

// NewOffice makes the door to desks.
func NewOffice(store Store, setting *setting.Office, register *register.Office, explain *explain.Office) *Office {
	return &Office{store: store, setting: setting, register: register, explain: explain}
}

// Item is something that a person has to do: an action or issue of theirs, a risk to be looked at, an activity in work or due.
type Item struct {
	Kind        record.Kind
	Holder      *measure.Project
	Code, Title string
	Says        string // why it is on the desk
	State       string
	Due         calendar.Date // 0 for none
	Late        bool
	Percent     fact.Int // hundredths of a percent
	New         bool     // it was not there at the end of the period before
}

// ahead is how many days before it is due a risk or an activity comes onto the desk.
const ahead = 30

// Items are what a person has to do as of the day, in the order in which it is due; what has no day stands last.
func Items(a *assess.Assessment, name string) []Item {
	if name == "" {
		return nil
	}
	mine := func(owner string) bool { return a.Settings.OwnerOf(owner) == name }
	s := &assess.Scope{Projects: a.Projects, Nodes: a.Holders}
	var list []Item
	for _, kind := range []record.Kind{record.Actions, record.Issues, record.Risks} {
		for _, l := range register.Lines(a, s, kind) {
			if l.Open && mine(l.Owner) && !over(l.Holder) {
				if x, ok := itemOf(a, &l); ok {
					list = append(list, x)
				}
			}
		}
	}
	for _, p := range a.Projects {
		if p.Status != "open" {
			continue
		}
		for i := range p.Activities {
			if act := &p.Activities[i]; mine(act.Owner) {
				if x, ok := workOf(a, p, act); ok {
					list = append(list, x)
				}
			}
		}
	}
	slices.SortStableFunc(list, func(x, y Item) int {
		far := func(d calendar.Date) calendar.Date { return cmp.Or(d, 1<<30) }
		return cmp.Or(cmp.Compare(far(x.Due), far(y.Due)), strings.Compare(x.Holder.Code, y.Holder.Code), strings.Compare(x.Code, y.Code))
	})
	return list
}

// over reports whether nothing of a project is to be done any more.
func over(p *measure.Project) bool {
	return !p.Node && (p.Status == "cancelled" || p.Status == "closed")
}

func itemOf(a *assess.Assessment, l *register.Line) (Item, bool) {
	x := Item{Kind: l.Kind, Holder: l.Holder, Code: l.Code, Title: l.Title, State: l.StateOf(), Due: l.Due, Late: l.Late,
		Percent: l.Percent,
		Says:    l.Kind.Noun(1)}
	if l.Risk != nil {
		x.Says = "risk to be looked at"
		if review := l.Risk.Review; review != 0 && (x.Due == 0 || review < x.Due) {
			x.Due = review
		} else if x.Due != 0 {
			x.Says = "response to a risk"
		}
		if x.Due == 0 || x.Due > a.Env.AsOf+ahead {
			return x, false
		}
	}
	return x, true
}

// workNames are what activities are called by their kind.
var workNames = map[schedule.Kind]string{schedule.Work: "activity", schedule.Milestone: "milestone", schedule.Deliverable: "deliverable"}

// workOf is an activity that has begun, or is to begin or end before long.
func workOf(a *assess.Assessment, p *measure.Project, act *schedule.Activity) (Item, bool) {
	day := a.Env.AsOf
	if act.Kind == schedule.Summary || act.ActualFinish != 0 && act.ActualFinish <= day || act.Withdrawn() {
		return Item{}, false
	}
	x := Item{Kind: record.Activities, Holder: p, Code: act.Code, Title: act.Name, State: "not started", Due: cmp.Or(act.Finish,
		act.BaselineFinish),
		Percent: act.Percent, Says: workNames[act.Kind]}
	begun := act.ActualStart != 0 && act.ActualStart <= day
	if begun {
		x.State = "in work"
	}
	if act.State != "" {
		x.State = act.State
	}
	start := cmp.Or(act.Start, act.BaselineStart, x.Due)
	x.Late = x.Due != 0 && x.Due <= day
	return x, begun || x.Due != 0 && min(start, x.Due) <= day+ahead
}

// Desk is all that waits for a person.
type Desk struct {
	Items     []Item
	Questions []Question
	Changes   []money.ChangeLine // that wait for a decision, where the person may decide
	Gone      int                // items of the period before that are done
}

// Question is a remark that waits for an answer.
type Question struct {
	explain.Remark
	Project *measure.Project
}

// Of is the desk of the one who asks. Former is the assessment of the period before, nil where nothing is to be compared.
func (o *Office) Of(ctx context.Context, a, former *assess.Assessment) (*Desk, error) {
	actor, err := access.Permit(ctx, access.Read)
	if err != nil {
		return nil, err
	}
	d := &Desk{Items: Items(a, actor.Name)}
	if former != nil {
		d.compare(Items(former, actor.Name))
	}
	if actor.May(access.Send) && a.Closed == nil {
		asked, by, err := o.explain.Asked(ctx, a)
		if err != nil {
			return nil, err
		}
		for _, q := range asked {
			if p := by[q.Project]; q.Login != actor.Login && (actor.Role != access.Lead || p.Lead == actor.Name) {
				d.Questions = append(d.Questions, Question{q, p})
			}
		}
	}
	if actor.MayWhole(access.Withdraw) && a.Closed == nil && !a.NoMoney {
		for _, c := range money.Changes(a, &assess.Scope{Projects: a.Projects}) {
			if c.State == cost.Requested && c.Project.Status == "open" {
				d.Changes = append(d.Changes, c)
			}
		}
	}
	return d, nil
}

// compare tells what is new on the desk, and how much has gone from it.
func (d *Desk) compare(former []Item) {
	was := map[[3]string]bool{}
	for i := range former {
		was[former[i].key()] = true
	}
	for i := range d.Items {
		x := &d.Items[i]
		if d.Items[i].New = !was[x.key()]; !x.New {
			delete(was, x.key())
		}
	}
	d.Gone = len(was)
}

func (x *Item) key() [3]string { return [3]string{string(x.Kind), x.Holder.Code, x.Code} }

// Tick does an item, or puts it back as it was, in the state that it was seen in.
func (o *Office) Tick(ctx context.Context, a *assess.Assessment, kind record.Kind, holder, code string, done bool) (*intake.Receipt,
	error) {
	set, seen, err := o.ticked(a, kind, done)
	if err != nil {
		return nil, err
	}
	return o.register.Set(ctx, register.Act{Kind: kind, Holder: holder, Code: code, Seen: seen, Set: set})
}

func (o *Office) ticked(a *assess.Assessment, kind record.Kind, done bool) (set map[string]string, seen string, err error) {
	states := map[record.Kind][2]string{record.Actions: {"done", "open"}, record.Issues: {"closed", "open"}, record.Risks: {"closed",
		"open"}}
	pair, ok := states[kind]
	if !ok {
		return nil, "", fault.Field("kind", fault.Clip(string(kind), 40), "an action, an issue or a risk")
	}
	if done {
		return o.register.Finish(kind, pair[0], a.Env.AsOf), "", nil
	}
	return o.register.Finish(kind, pair[1], a.Env.AsOf), pair[0], nil
}

// Stranger is an owner of open records who is nobody that is known.
type Stranger struct {
	Name    string
	Records int
}

// Strangers are owners that match no person, account, lead or sponsor, most records first.
func (o *Office) Strangers(ctx context.Context, a *assess.Assessment) (list []Stranger, known []string, err error) {
	if _, err := access.PermitWhole(ctx, access.Send); err != nil {
		return nil, nil, err
	}
	accounts, err := o.store.Accounts(ctx)
	if err != nil {
		return nil, nil, err
	}
	names := map[string]bool{}
	add := func(name string) {
		if name != "" && !names[name] {
			names[name] = true
			known = append(known, name)
		}
	}
	for i := range a.Masters.People {
		add(a.Masters.People[i].Name)
	}
	for i := range accounts {
		add(accounts[i].Name)
	}
	for _, p := range a.Projects {
		add(p.Lead)
		add(p.Sponsor)
	}
	for i := range a.Masters.Nodes {
		add(a.Masters.Nodes[i].Owner)
	}
	count := map[string]int{}
	s := &assess.Scope{Projects: a.Projects, Nodes: a.Holders}
	for _, kind := range []record.Kind{record.Actions, record.Issues, record.Risks} {
		for _, l := range register.Lines(a, s, kind) {
			if owner := a.Settings.OwnerOf(l.Owner); l.Open && owner != "" && !names[owner] {
				count[owner]++
			}
		}
	}
	for name, n := range count {
		list = append(list, Stranger{name, n})
	}
	slices.SortFunc(list, func(x, y Stranger) int {
		return cmp.Or(cmp.Compare(y.Records, x.Records), strings.Compare(x.Name, y.Name))
	})
	slices.Sort(known)
	return list, known, nil
}

// Match has records of an owner's text count as those of a person from now on; an empty person takes that back.
func (o *Office) Match(ctx context.Context, text, person string) error {
	if _, err := access.PermitWhole(ctx, access.Send); err != nil {
		return err
	}
	return o.setting.MatchOwner(ctx, text, person)
}
