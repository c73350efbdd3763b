// Package desk is the door to what one person has to do over all projects.
package desk

import (
	"cmp"
	"context"
	"slices"
	"strings"
	"time"

	"turret/internal/app/access"
	"turret/internal/app/account"
	"turret/internal/app/assess"
	"turret/internal/app/explain"
	"turret/internal/app/fault"
	"turret/internal/app/gate"
	"turret/internal/app/money"
	"turret/internal/app/pipeline"
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
	Looked(ctx context.Context, login string) (Looks, error)
	Look(ctx context.Context, login string, l Looks) error
}

// Office is the door to desks. It is safe for concurrent use.
type Office struct {
	store    Store
	now      func() time.Time
	setting  *setting.Office
	register *register.Office
	explain  *explain.Office
}

// NewOffice makes the door to desks.
func NewOffice(store Store, now func() time.Time, setting *setting.Office, register *register.Office, explain *explain.Office) *Office {
	return &Office{store: store, now: now, setting: setting, register: register, explain: explain}
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
	Percent     fact.Int      // hundredths of a percent
	Dated       calendar.Date // the day that is changed to put it off: due, review or expected finish; 0 for none
	Stepped     bool          // its percentage is that of its steps
	New         bool          // it was not there when its owner looked the time before
	Changed     bool          // it was, in another state, by another title or due on another day
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
	for _, kind := range []record.Kind{record.Actions, record.Issues, record.Risks, record.Activities} {
		for _, l := range register.LinesOf(a, s, kind, mine) {
			if l.Open && !over(l.Holder) && (kind != record.Activities || l.Holder.Status == measure.Open) {
				if x, ok := itemOf(a, &l); ok {
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
	return !p.Node && (p.Status == measure.Cancelled || p.Status == measure.Closed)
}

func itemOf(a *assess.Assessment, l *register.Line) (Item, bool) {
	x := Item{Kind: l.Kind, Holder: l.Holder, Code: l.Code, Title: l.Title, State: l.StateOf(), Due: l.Due, Late: l.Late,
		Percent: l.Percent,
		Says:    l.Kind.Noun(1), Dated: l.Due, Stepped: len(l.Steps) > 0}
	if l.Risk != nil {
		x.Says, x.Dated = "risk to be looked at", l.Risk.Review
		if review := l.Risk.Review; review != 0 && (x.Due == 0 || review < x.Due) {
			x.Due = review
		} else if x.Due != 0 {
			x.Says = "response to a risk"
		}
		if x.Due == 0 || x.Due > a.Env.AsOf+ahead {
			return x, false
		}
	}
	if l.Work != nil {
		x.Says, x.Dated = workNames[l.Work.Kind], l.Work.Finish
		return x, isNear(l, a.Env.AsOf)
	}
	return x, true
}

// workNames are what activities are called by their kind.
var workNames = map[schedule.Kind]string{schedule.Work: "activity", schedule.Milestone: "milestone", schedule.Deliverable: "deliverable"}

// isNear reports whether an activity has begun, or is to begin or end before long.
func isNear(l *register.Line, day calendar.Date) bool {
	x := l.Work
	if x.ActualStart != 0 && x.ActualStart <= day {
		return true
	}
	start := cmp.Or(x.Start, x.BaselineStart, l.Due)
	return l.Due != 0 && min(start, l.Due) <= day+ahead
}

// Desk is all that waits for a person.
type Desk struct {
	Items     []Item
	Questions []Question
	Changes   []money.ChangeLine // that wait for a decision, where the person may decide
	Proposals []Waiting          // likewise
	Gates     []gate.Stand       // that projects wait at, likewise
	Gone      int                // how many that stood there the time before do no more
	Since     time.Time          // when its owner looked the time before; zero for never
}

// Waiting is a proposal that nobody decided, or one that was put off until now.
type Waiting struct {
	Project *measure.Project
	*pipeline.Proposal
}

// waiting are the proposals that wait for a decision, the oldest first.
func waiting(ctx context.Context, a *assess.Assessment) ([]Waiting, error) {
	if !slices.ContainsFunc(a.Projects, func(p *measure.Project) bool { return p.Status == measure.Proposed }) {
		return nil, nil
	}
	p, err := pipeline.Read(ctx, a)
	if err != nil {
		return nil, err
	}
	var list []Waiting
	for _, x := range pipeline.Waiting(a, p, a.Projects) {
		w := Waiting{x, p.Proposals[x.Code]}
		if w.Proposal == nil {
			w.Proposal = &pipeline.Proposal{}
		}
		list = append(list, w)
	}
	return list, nil
}

// Question is a remark that waits for an answer.
type Question struct {
	explain.Remark
	Project *measure.Project
}

// Of is the desk of the one who asks, who looks at it now.
func (o *Office) Of(ctx context.Context, a *assess.Assessment) (*Desk, error) {
	actor, err := access.Permit(ctx, access.Read)
	if err != nil {
		return nil, err
	}
	d := &Desk{Items: Items(a, actor.Name)}
	if a.Closed == nil {
		if err := o.look(ctx, actor, d); err != nil {
			return nil, err
		}
	}
	if actor.May(access.Send) && a.Closed == nil {
		asked, by, err := o.explain.Asked(ctx, a)
		if err != nil {
			return nil, err
		}
		for _, q := range asked {
			if p := by[q.Project]; q.Login != actor.Login && q.Who != actor.Name && (actor.Role != access.Lead || p.Lead == actor.Name) {
				d.Questions = append(d.Questions, Question{q, p})
			}
		}
	}
	if actor.MayWhole(access.Withdraw) && a.Closed == nil && !a.NoMoney {
		for _, c := range money.Changes(a, &assess.Scope{Projects: a.Projects}) {
			if c.State == cost.Requested && c.Project.Status == measure.Open {
				d.Changes = append(d.Changes, c)
			}
		}
	}
	if actor.MayWhole(access.Judge) && a.Closed == nil {
		if d.Proposals, err = waiting(ctx, a); err != nil {
			return nil, err
		}
		d.Gates, err = gate.Waiting(ctx, a)
	}
	return d, err
}

// Ticked is how to take a tick back: the state that an item is in now, and the cells that it changed, as they were before.
type Ticked struct {
	Now string
	Was map[string]string
}

// Tick does an item.
func (o *Office) Tick(ctx context.Context, a *assess.Assessment, kind record.Kind, holder, code string) (*Ticked, error) {
	t := &Ticked{}
	var columns []string
	switch kind {
	case record.Actions:
		t.Now, columns = "done", []string{"state", "done_on"}
	case record.Issues, record.Risks:
		t.Now, columns = "closed", []string{"state", "closed"}
	case record.Activities:
		t.Now, columns = schedule.Finished, []string{"state", "actual_start", "actual_finish", "percent_complete", "remaining"}
	default:
		return nil, fault.Field("kind", fault.Clip(string(kind), 40), "an action, an issue, a risk or an activity")
	}
	var err error
	if t.Was, err = o.register.Cells(ctx, kind, holder, code, columns...); err != nil {
		return nil, err
	}
	_, err = o.register.Set(ctx, register.Act{Kind: kind, Holder: holder, Code: code, State: t.Now, AsOf: a.Env.AsOf})
	return t, err
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
