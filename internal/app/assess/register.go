package assess

import (
	"context"
	"errors"
	"slices"
	"strings"
	"time"

	"golang.org/x/sync/errgroup"

	"turret/internal/app/kept"
	"turret/internal/app/setting"
	"turret/internal/core/backlog"
	"turret/internal/core/benefit"
	"turret/internal/core/calendar"
	"turret/internal/core/check"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/risk"
	"turret/internal/record"
)

// readRegisters fills in risks, issues, actions, backlogs and benefits, what is kept of closed periods, and what people set and accepted.
// It needs nothing of the facts.
func readRegisters(ctx context.Context, a *Assessment, s kept.Reading, only []int64) error {
	at := func(project int64, f func(p *measure.Project)) {
		if i, ok := a.Slots.Of(project); ok {
			f(a.Projects[i])
		}
	}
	steps := []func() error{
		func() error { return readRecords(ctx, a, s, only, at) },
		func() error { return readAssignments(ctx, a, s, only, at) },
		func() error {
			return s.Backlogs(ctx, only, func(id int64, x backlog.Item) {
				at(id, func(p *measure.Project) { p.Items = append(p.Items, x) })
			}, func(id int64, x backlog.Iteration) {
				at(id, func(p *measure.Project) { p.Iterations = append(p.Iterations, x) })
			})
		},
		func() error {
			return s.Benefits(ctx, only, func(id int64, x benefit.Benefit) { at(id, func(p *measure.Project) { placeBenefit(a, p, x) }) })
		},
		func() error { return readGating(ctx, a, s, only, at) },
		func() error { return readOverrides(ctx, a, s, at) },
		func() error { return readAcceptances(ctx, a, s, at) },
	}
	var past errgroup.Group // which nothing else of the registers touches
	past.Go(func() error { return readPast(ctx, a, s, only) })
	for _, step := range steps {
		if err := step(); err != nil {
			return errors.Join(err, past.Wait())
		}
	}
	return past.Wait()
}

// readSent fills in what hangs on the facts: which inputs are late, and what was written, which comes with a declared status too.
func readSent(ctx context.Context, a *Assessment, s kept.Reading, only []int64) error {
	if err := readLate(ctx, a, s, only); err != nil {
		return err
	}
	return readWords(ctx, a, s, only, func(project int64, f func(p *measure.Project)) {
		if i, ok := a.Slots.Of(project); ok {
			f(a.Projects[i])
		}
	})
}

// readRecords fills in what a project or a node may have: risks, issues, actions with their steps, and decisions.
func readRecords(ctx context.Context, a *Assessment, s kept.Reading, only []int64, at func(int64, func(*measure.Project))) error {
	err := s.Risks(ctx, only, func(id int64, x risk.Risk) { at(id, func(p *measure.Project) { placeRisk(a, p, x) }) })
	ids := a.Masters.Holders()
	for _, x := range []struct {
		kind record.Kind
		add  func(p *measure.Project, f *kept.File, i int)
	}{{record.Issues, func(p *measure.Project, f *kept.File, i int) { p.Issues = append(p.Issues, f.Issue(i)) }},
		{record.Actions, func(p *measure.Project, f *kept.File, i int) { p.Actions = append(p.Actions, f.Action(i)) }},
		{record.Checklist, func(p *measure.Project, f *kept.File, i int) { p.Steps = append(p.Steps, f.Step(i)) }},
		{record.Decisions, func(p *measure.Project, f *kept.File, i int) { p.Decisions = append(p.Decisions, f.Decision(i)) }}} {
		if err != nil {
			return err
		}
		var f *kept.File
		if f, err = s.Rows(ctx, x.kind, kept.Selection{Projects: only}); err != nil {
			return err
		}
		for i := range f.Len() {
			at(ids[f.OwnerOf(i)], func(p *measure.Project) { x.add(p, f, i) })
		}
	}
	return err
}

// readNodes reads the registers of all nodes that have any, and computes what they come to.
func readNodes(ctx context.Context, a *Assessment, s kept.Reading) error {
	a.Holders = nil
	held := map[int64]*measure.Project{}
	var ids []int64
	for i := range a.Masters.Nodes {
		n := &a.Masters.Nodes[i]
		if n.Holder == 0 {
			continue
		}
		p := &measure.Project{Node: true, Info: measure.Info{ID: n.Holder, Code: n.Code, Name: n.Name, Parent: n.Parent, Lead: n.Owner,
			Currency: a.Masters.Reporting, Status: measure.Closed, Ref: n.Ref}} // closed, so that nothing is missed that only projects have
		held[n.Holder], ids = p, append(ids, n.Holder)
		a.Holders = append(a.Holders, p)
	}
	if len(ids) == 0 {
		return nil
	}
	err := readRecords(ctx, a, s, ids, func(id int64, f func(*measure.Project)) {
		if p := held[id]; p != nil {
			f(p)
		}
	})
	by := a.Settings.LimitsOf()
	for _, p := range a.Holders {
		measure.Assess(p, a.EnvOf(p, by))
	}
	return err
}

// placeRisk adds a risk with what it is expected to cost before and after the response, where it is open.
func placeRisk(a *Assessment, p *measure.Project, x risk.Risk) {
	p.Risks = append(p.Risks, x)
	worth := func(r risk.Rating) money.Amount {
		e, ok := r.Expected()
		if !ok || !x.Open(a.Env.AsOf) {
			return 0
		}
		w, _, err := a.Rates.Planned(e, x.Currency, a.Env.AsOf.Month())
		if err != nil && p.Threat.Missing == nil {
			p.Threat.Missing = err
		}
		return w
	}
	scale := a.Env.Scale()
	p.Threat.Worth = append(p.Threat.Worth, worth(scale.Before(&x)))
	p.Threat.After = append(p.Threat.After, worth(scale.After(&x)))
}

func placeBenefit(a *Assessment, p *measure.Project, x benefit.Benefit) {
	p.Benefits = append(p.Benefits, x)
	if !x.InMoney() {
		return
	}
	g := &p.Gains
	g.Counted++
	worth := func(own money.Amount) money.Amount {
		w, _, err := a.Rates.Planned(own, x.Currency, x.Month)
		if err != nil && g.Missing == nil {
			g.Missing = err
		}
		return w
	}
	planned, outlook := worth(x.Planned), worth(x.Outlook(a.Env.AsOf))
	g.Planned += planned
	g.Outlook += outlook
	g.Due += x.Due(planned, a.Env.AsOf, a.Env.Calendar)
	g.Achieved += worth(x.Come(a.Env.AsOf))
	g.Flow.Add(x.Month, outlook)
	g.Plan.Add(x.Month, planned)
}

// readLate tells which inputs that are expected each period are awaited, since they came last for an earlier one, and which are late: the
// one after the last was due by the as-of date. Nothing is late while nothing at all has come for the period.
func readLate(ctx context.Context, a *Assessment, s kept.Reading, only []int64) error {
	last := map[SlotKey]kept.Delivery{}
	now := a.Env.Period()
	begun, ledgers, err := s.Begun(ctx, now)
	if err != nil {
		return err
	}
	a.Begun = begun
	if err := s.LastDelivered(ctx, only, func(d kept.Delivery) { last[SlotKey{d.Project, d.Kind}] = d }); err != nil {
		return err
	}
	for _, p := range a.Projects {
		if p.Status != measure.Open {
			continue
		}
		for _, k := range record.MatrixKinds() {
			d, came := last[SlotKey{p.ID, k}]
			if !came || a.Settings.Expected(k).Rhythm != setting.EachPeriod || slices.Contains(a.Settings.NotExpected[p.Code], k) {
				continue
			}
			p.Audit.Tested++
			if d.Period == 0 || d.Period >= now {
				continue
			}
			if due := a.Env.Calendar.Add((d.Period + 1).Last(), a.Settings.Expected(k).Due); begun && due <= a.Env.AsOf {
				p.Audit.Late = append(p.Audit.Late, check.Late{Kind: string(k), Last: d.Period.Name()})
			}
			if k == record.Actuals && slices.Contains(ledgers, d.Source) {
				continue // its ledger came, and tells of no cost of the project
			}
			if slices.Contains(awaited, k) {
				p.Awaits = append(p.Awaits, measure.Awaited{Kind: string(k), Last: d.Period, Regular: d.Periods > 1})
			}
		}
	}
	return nil
}

// awaited are the inputs without which the figures of a period look better than they are.
var awaited = []record.Kind{record.Actuals, record.Forecast, record.Activities}

// SlotKey is one kind of input of one project.
type SlotKey struct {
	Project int64
	Kind    record.Kind
}

// Known is the moment until which what people decided and wrote counts: that of closing, or zero while the period is open.
func (a *Assessment) Known() time.Time {
	if a.Closed != nil {
		return a.Closed.At
	}
	return time.Time{}
}

// readWords gives projects what was written to the period assessed.
func readWords(ctx context.Context, a *Assessment, s kept.Reading, only []int64, at func(int64, func(*measure.Project))) error {
	period, by := a.Env.Period(), a.Known()
	if err := s.Commentaries(ctx, only, period, period, by, func(c kept.Commentary) {
		if c.Scope <= 0 {
			return
		}
		at(c.Scope, func(p *measure.Project) {
			w := measure.Words{On: c.On, Text: c.Text, Who: c.Who}
			if c.On == health.Overall {
				p.Words = slices.Insert(p.Words, 0, w)
				return
			}
			p.Words = append(p.Words, w)
		})
	}); err != nil {
		return err
	}
	for _, p := range a.Projects {
		if w, ok := SentWords(p, period); ok && (len(p.Words) == 0 || p.Words[0].On != health.Overall) {
			p.Words = slices.Insert(p.Words, 0, w)
		}
	}
	return nil
}

// SentWith is who wrote what came with a declared status.
const SentWith = "sent with the status"

// SentWords is what came with the status that was declared for a period; it is the project's commentary until somebody writes another.
func SentWords(p *measure.Project, period calendar.Period) (measure.Words, bool) {
	if p.Declared == nil || p.Declared.Period != period {
		return measure.Words{}, false
	}
	text := strings.TrimSpace(p.Declared.Commentary)
	return measure.Words{On: health.Overall, Text: text, Who: SentWith}, text != ""
}
