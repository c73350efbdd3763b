package assess

import (
	"context"
	"slices"

	"turret/internal/app/kept"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
)

// mostRenewed is how many projects may have changed for the others to be taken over.
const mostRenewed = 50

// renewed computes again what changed since a former assessment: the projects themselves and those that hang together with them by
// dependencies. It is nil where everything is to be computed.
func (o *Office) renewed(ctx context.Context, former *Assessment, v view) (*Assessment, error) {
	if !v.reaches(former.view) {
		return nil, nil
	}
	changed, whole, err := o.store.Stirred(ctx, former.head)
	if err != nil || whole || len(changed) > mostRenewed {
		return nil, err
	}
	a := emptied(former, v)
	own := map[int32]bool{}
	for _, id := range changed {
		i, ok := a.Slots.Of(id)
		if ok {
			own[i] = true
		} else if !slices.ContainsFunc(EveryHolder(former), func(p *measure.Project) bool { return p.ID == id }) {
			return nil, nil
		}
	}
	if err := readNodes(ctx, a, a.Reading); err != nil {
		return nil, err
	}
	if err := readDependencies(ctx, a, a.Reading, changed); err != nil {
		return nil, err
	}
	only := together(a, own, former)
	if len(only) > mostRenewed {
		return nil, nil
	}
	for _, p := range a.Projects {
		p.Sent = nil // the dependencies are read once more, with those of the others
	}
	if len(only) > 0 {
		if err := readAgain(ctx, o, a, only); err != nil {
			return nil, err
		}
	}
	var list []*measure.Project
	for _, id := range only {
		i, _ := a.Slots.Of(id)
		list = append(list, a.Projects[i])
	}
	if len(only) > 0 && a.Begun != former.Begun {
		return nil, nil // what is late is so for all projects
	}
	rate(ctx, a, list)
	return merged(former, a, only), nil
}

// readAgain reads what some projects are computed from, and runs their network.
func readAgain(ctx context.Context, o *Office, a *Assessment, only []int64) error {
	if err := readFacts(ctx, a, a.Reading, a.Calendars, only); err != nil {
		return err
	}
	for _, read := range []func(context.Context, *Assessment, kept.Reading, []int64) error{readRegisters, readSent, readDependencies} {
		if err := read(ctx, a, a.Reading, only); err != nil {
			return err
		}
	}
	if err := o.compareForecasts(ctx, a, only); err != nil {
		return err
	}
	runNetwork(a)
	return nil
}

// emptied is an assessment under the same settings whose projects have no facts yet, and are read by a view.
func emptied(a *Assessment, v view) *Assessment {
	b := New(a.Masters, a.Calendars, a.Env.AsOf)
	b.Env, b.Rates, b.Settings, b.Shown, b.Slots = a.Env, a.Rates, a.Settings, a.Shown, a.Slots
	b.view, b.Reading, b.Closed = v, v.Reading, v.closed
	b.overworked, b.People, b.personAt = a.overworked, a.People, a.personAt
	return b
}

// together lists the ids of projects that hang together with some by dependencies, those included: by the links that these send now, and
// that they and all others sent before.
func together(a *Assessment, own map[int32]bool, former *Assessment) []int64 {
	next := map[int32][]int32{}
	for _, lists := range [][][]schedule.Dependency{a.links, former.links} {
		for _, list := range lists {
			for k := range list {
				if d := &list[k]; d.FromProject != d.ToProject && d.FromProject >= 0 && d.ToProject >= 0 {
					next[d.FromProject] = append(next[d.FromProject], d.ToProject)
					next[d.ToProject] = append(next[d.ToProject], d.FromProject)
				}
			}
		}
	}
	seen := map[int32]bool{}
	var ids []int64
	var add func(i int32)
	add = func(i int32) {
		if seen[i] {
			return
		}
		seen[i] = true
		ids = append(ids, a.Projects[i].ID)
		for _, other := range next[i] {
			add(other)
		}
	}
	for i := range own {
		add(i)
	}
	slices.Sort(ids)
	return ids
}

// merged is the assessment with some projects taken from another.
func merged(a *Assessment, b *Assessment, only []int64) *Assessment {
	c := *a
	c.net, c.Own, c.Broken, c.Holders = &net{}, b.Own, b.Broken, b.Holders
	c.view, c.Reading, c.Closed = b.view, b.Reading, b.Closed
	c.Projects, c.links = slices.Clone(a.All), slices.Clone(a.links)
	c.ByCode = make(map[string]*measure.Project, len(c.Projects))
	for _, id := range only {
		i, _ := c.Slots.Of(id)
		c.Projects[i], c.links[i] = b.Projects[i], b.links[i]
	}
	for _, p := range c.Projects {
		c.ByCode[p.Code] = p
	}
	c.All = c.Projects
	return &c
}
