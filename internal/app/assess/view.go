package assess

import (
	"slices"
	"strings"

	"turret/internal/app/access"
	"turret/internal/app/kept"
	"turret/internal/core/measure"
)

// viewKey tells apart what different people see of one assessment.
type viewKey struct {
	lead   string
	scopes string
	hide   bool
	older  bool // newer figures are being computed
}

// sightOf is what decides what an actor sees; all reports whether that is everything.
func sightOf(actor *access.Actor) (key viewKey, all bool) {
	if actor.Everything() && !actor.HideMoney {
		return viewKey{}, true
	}
	key = viewKey{scopes: strings.Join(actor.Scopes, "\x00"), hide: actor.HideMoney}
	if actor.Role == access.Lead {
		key.lead = "\x00" + actor.Name
	}
	return key, false
}

// Narrowed is the part of an assessment that an actor may see.
func Narrowed(a *Assessment, actor *access.Actor) *Assessment {
	masters := *a.Masters
	masters.Projects, masters.Nodes = nil, nil
	v := *a
	v.Masters, v.Projects, v.NoMoney, v.Narrowed = &masters, nil, actor.HideMoney, true
	v.everyHolder = a.Holders
	v.ByCode = map[string]*measure.Project{}
	v.nodes, v.NodeCodes = map[int64]*kept.Node{}, map[string]*kept.Node{}
	above := map[int64]bool{}
	for _, p := range a.Projects {
		if !a.SeenBy(actor, &p.Info) {
			continue
		}
		for _, n := range a.Path(p.Parent) {
			above[n.ID] = true
		}
		masters.Projects = append(masters.Projects, p.Info)
		if actor.HideMoney {
			p = p.WithoutMoney()
		}
		v.Projects = append(v.Projects, p)
		v.ByCode[p.Code] = p
	}
	for _, n := range a.Masters.Nodes {
		if above[n.ID] || actor.Everything() {
			masters.Nodes = append(masters.Nodes, n)
		}
	}
	v.Holders = nil
	for _, p := range a.Holders {
		if n := a.NodeCodes[p.Code]; n == nil || !NodeSeenBy(a, actor, n) {
			continue
		}
		if actor.HideMoney {
			p = p.WithoutMoney()
		}
		v.Holders = append(v.Holders, p)
	}
	for i := range masters.Nodes {
		n := &masters.Nodes[i]
		v.nodes[n.ID], v.NodeCodes[n.Code] = n, n
	}
	return &v
}

// EveryHolder is the nodes with registers of their own, whoever asks.
func EveryHolder(a *Assessment) []*measure.Project {
	if a.Narrowed {
		return a.everyHolder
	}
	return a.Holders
}

// NodeSeenBy tells whose records of a portfolio or programme an actor sees: of those in the own scopes, or of all.
func NodeSeenBy(a *Assessment, who *access.Actor, n *kept.Node) bool {
	return who.Everything() || slices.ContainsFunc(a.Path(n.ID), func(x *kept.Node) bool { return slices.Contains(who.Scopes, x.Code) })
}

// SeenBy tells which projects an actor sees.
func (a *Assessment) SeenBy(who *access.Actor, p *measure.Info) bool {
	if who.Everything() || who.Role == access.Lead && p.Lead != "" && p.Lead == who.Name || slices.Contains(who.Scopes, p.Code) {
		return true
	}
	for _, n := range a.Path(p.Parent) {
		if slices.Contains(who.Scopes, n.Code) {
			return true
		}
	}
	return false
}
