package breakdown

import (
	"slices"

	"turret/internal/core/fact"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
)

// Account is the money of an activity of a project, or of a phase with everything below it.
//
// Each account of its own is measured as a project that has these amounts and this work alone; a phase adds those below it by the rules
// of groups. Together with what names no activity, and what names one that is not in the plan, budget, actual cost and commitments add up
// to those of the project.
type Account struct {
	Activity *schedule.Activity // nil where the amounts name none, or one that is not in the plan
	Code     string             // as the amounts name it; empty for those that name none
	Depth    int                // below the top of the plan
	Phase    bool               // something below has money too
	Own      *measure.Project   // what names the activity itself; nil where nothing does
	Evidence *measure.Evidence  // of Own
	All      *measure.Group     // with all below
}

// Accounts lists the accounts of a project in the order of its plan, each phase before what is below it; then those whose activity is not
// in the plan, by code; at last what names no activity. It is empty where no amount of the project names one.
func Accounts(p *measure.Project, ev *measure.Evidence) []Account {
	named := namedBy(ev)
	if len(named) == 0 {
		return nil
	}
	m := &accounts{p: p, ev: ev, named: named, forecasts: forecastsNaming(ev), below: map[string][]int{}, seen: make([]bool,
		len(p.Activities))}
	known := map[string]bool{}
	for i := range p.Activities {
		known[p.Activities[i].Code] = true
	}
	var tops []int
	for i := range p.Activities {
		if a := &p.Activities[i]; a.Parent != "" && known[a.Parent] {
			m.below[a.Parent] = append(m.below[a.Parent], i)
		} else {
			tops = append(tops, i)
		}
	}
	for _, i := range tops {
		m.add(i, 0)
	}
	for i := range p.Activities { // of parents that go round
		m.add(i, 0)
	}
	for _, code := range named {
		if !known[code] {
			m.alone(code)
		}
	}
	m.alone("")
	return m.list
}

// namedBy are the activities that amounts name, ascending.
func namedBy(ev *measure.Evidence) []string {
	var list []string
	for _, l := range ev.Budget {
		list = append(list, l.Activity)
	}
	for _, l := range ev.Forecast {
		list = append(list, l.Activity)
	}
	for _, x := range ev.Postings {
		list = append(list, x.Activity)
	}
	for _, c := range ev.Commitments {
		list = append(list, c.Activity)
	}
	slices.Sort(list)
	list = slices.Compact(list)
	return slices.DeleteFunc(list, func(s string) bool { return s == "" })
}

// forecastsNaming counts the forecast lines that name an activity.
func forecastsNaming(ev *measure.Evidence) (n int) {
	for _, l := range ev.Forecast {
		if l.Activity != "" {
			n++
		}
	}
	return n
}

// accounts is the walk over a project's plan that lists its accounts.
type accounts struct {
	p         *measure.Project
	ev        *measure.Evidence
	named     []string         // codes, ascending
	forecasts int              // lines that name an activity
	below     map[string][]int // activities by their parent
	seen      []bool           // by activity: it is listed, or has no money below it
	list      []Account
}

// add lists an activity and what is below it, where one of them has money; it returns what they come to.
func (m *accounts) add(i, depth int) []*measure.Project {
	if m.seen[i] {
		return nil
	}
	m.seen[i] = true
	a := &m.p.Activities[i]
	at := len(m.list)
	x := Account{Activity: a, Code: a.Code, Depth: depth}
	m.list = append(m.list, x)
	var parts []*measure.Project
	if _, ok := slices.BinarySearch(m.named, a.Code); ok {
		x.Own, x.Evidence = m.own(a.Code, m.work(i))
		parts = append(parts, x.Own)
	}
	before := len(parts)
	for _, kid := range m.below[a.Code] {
		parts = append(parts, m.add(kid, depth+1)...)
	}
	if len(parts) == 0 {
		m.list = m.list[:at]
		return nil
	}
	x.Phase = len(parts) > before
	x.All = measure.Roll(parts, m.ev.Env)
	m.list[at] = x
	return parts
}

// alone lists what names an activity that is not in the plan, or none.
func (m *accounts) alone(code string) {
	own, ev := m.own(code, nil)
	if len(ev.Budget)+len(ev.Forecast)+len(ev.Postings)+len(ev.Commitments) == 0 {
		return
	}
	m.list = append(m.list, Account{Code: code, Own: own, Evidence: ev, All: measure.Roll([]*measure.Project{own}, m.ev.Env)})
}

// own measures the amounts that name an activity against its work alone.
func (m *accounts) own(code string, work []schedule.Activity) (*measure.Project, *measure.Evidence) {
	one, ev := Part(m.p, m.ev, func(_ int32, activity string) bool { return activity == code })
	if code != "" {
		one.Account.ForecastLines = m.forecasts
	}
	one.Activities, one.Logic, one.Benefits = work, schedule.Logic{Last: -1}, nil
	if len(work) == 0 { // what belongs to no work earns by none
		one.Items, one.Declared = nil, nil
	}
	measure.Assess(one, m.ev.Env)
	return one, ev
}

// work is what an account earns by: an activity alone, with the milestones that credit it; a phase's own money by all that is below.
func (m *accounts) work(i int) []schedule.Activity {
	a := m.p.Activities[i]
	if a.Kind == schedule.Summary {
		return m.beneath(a.Code, nil)
	}
	a.Weight = fact.Some(1)
	list := []schedule.Activity{a}
	if a.Method != "milestones" {
		return list
	}
	for _, kid := range m.below[a.Code] {
		if k := &m.p.Activities[kid]; k.Kind == schedule.Milestone {
			list = append(list, *k)
		}
	}
	return list
}

// beneath adds everything below a phase, each once.
func (m *accounts) beneath(code string, list []schedule.Activity) []schedule.Activity {
	for _, kid := range m.below[code] {
		a := m.p.Activities[kid]
		if slices.ContainsFunc(list, func(x schedule.Activity) bool { return x.Code == a.Code }) {
			continue
		}
		list = m.beneath(a.Code, append(list, a))
	}
	return list
}

// AccountKeys are the measures that are told of an account.
var AccountKeys = []measure.Key{measure.BAC, measure.PV, measure.EV, measure.AC, measure.ForecastToGo, measure.EAC, measure.VAC,
	measure.Commitments, measure.CV, measure.SV, measure.CPI, measure.SPI}

// ExplainAccount traces a measure of an account: of an activity by its rows, of a phase by the accounts below it.
func ExplainAccount(p *measure.Project, ev *measure.Evidence, code string, key measure.Key) (measure.Node, bool) {
	list := Accounts(p, ev)
	at := slices.IndexFunc(list, func(a Account) bool { return a.Code == code })
	if at < 0 || !slices.Contains(AccountKeys, key) {
		return measure.Node{}, false
	}
	x := &list[at]
	if !x.Phase {
		n, ok := measure.Explain(x.Own, x.Evidence, key)
		n.Label += ", " + x.Name()
		return n, ok
	}
	d := measure.Of(key)
	n := measure.Node{Label: d.Name + ", " + x.Name(), Key: key.String(), Unit: d.Unit, Value: x.All.Value(key), Rule: d.Formula}
	if len(d.Inputs) > 0 {
		for _, input := range d.Inputs {
			if child, ok := ExplainAccount(p, ev, code, input); ok {
				n.Children = append(n.Children, child)
			}
		}
		return n, true
	}
	for i := at; i < len(list) && (i == at || list[i].Depth > x.Depth && list[i].Activity != nil); i++ {
		part := &list[i]
		if part.Own == nil {
			continue
		}
		child, _ := measure.Explain(part.Own, part.Evidence, key)
		child.Label = part.Name()
		n.Children = append(n.Children, child)
	}
	return n, true
}

// CostLevel is where the cost index of an account stands against the tolerance of its project; not assessed where there is none.
func (a *Account) CostLevel(p *measure.Project) health.Status {
	v := a.All.Value(measure.CPI)
	if !v.Known {
		return health.NotAssessed
	}
	return health.CPI.Rule().Level(v.Fraction(), p.Tolerances.Of[health.CPI])
}

// Name is the code and name of the activity, or what stands in its place.
func (a *Account) Name() string {
	switch {
	case a.Activity != nil && a.Activity.Name != "":
		return a.Code + " " + a.Activity.Name
	case a.Activity != nil:
		return a.Code
	case a.Code != "":
		return a.Code + ", not in the plan"
	}
	return "No activity named"
}
