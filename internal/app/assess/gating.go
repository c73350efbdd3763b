package assess

import (
	"cmp"
	"context"
	"strings"

	"turret/internal/app/kept"
	"turret/internal/app/stage"
	"turret/internal/core/calendar"
	"turret/internal/core/check"
	"turret/internal/core/fact"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// readGating fills in which gates are behind projects, what the last one released, and what waits for a decision.
func readGating(ctx context.Context, a *Assessment, s kept.Reading, only []int64, at func(int64, func(*measure.Project))) error {
	if err := readWaiting(ctx, a, s, only); err != nil || !a.Masters.Staged {
		return err
	}
	gates, err := stage.Read(ctx, s, only, func(code string) *measure.Project { return a.ByCode[code] })
	if err != nil {
		return err
	}
	if only == nil {
		for _, p := range a.Projects {
			gatingOf(a, gates, p)
		}
	}
	for _, id := range only {
		at(id, func(p *measure.Project) { gatingOf(a, gates, p) })
	}
	return nil
}

func gatingOf(a *Assessment, gates *stage.Gates, p *measure.Project) {
	stand := gates.Stand(p)
	g := &p.Audit.Gating
	for i := range stand.Behind {
		x := &stand.Behind[i]
		b := check.Behind{Stage: x.Stage.Code, Name: cmp.Or(x.Stage.Name, x.Stage.Code), Passed: x.Passed, Ref: p.Ref}
		if x.Gate != nil {
			b.Says, b.Ref = x.Gate.Says(), x.Gate.Ref
		}
		g.Behind = append(g.Behind, b)
	}
	if stand.Last == nil || !stand.Last.Releases {
		return
	}
	g.Last, g.LastName, g.Ref = stand.Last.Stage, stand.Last.Stage, stand.Last.Ref
	if st := stand.Model.Stage(g.Last); st != nil {
		g.LastName = cmp.Or(st.Name, st.Code)
	}
	if n, _, err := a.Rates.Planned(stand.Last.Released, stand.Last.Currency, a.Env.AsOf.Month()); err == nil {
		g.Released = measure.Value{N: int64(n), Known: true}
	}
}

// readWaiting fills in since when proposals wait: those that nobody decided on since they were asked for, those put off since the day to
// look again.
func readWaiting(ctx context.Context, a *Assessment, s kept.Reading, only []int64) error {
	f, err := s.Rows(ctx, record.Proposals, kept.Selection{Projects: only})
	if err != nil {
		return err
	}
	for i := range f.Len() {
		p := a.ByCode[f.OwnerOf(i)]
		if p == nil || p.Status != measure.Proposed {
			continue
		}
		var since calendar.Date
		switch strings.TrimSpace(f.Cell(i, "decision")) {
		case "":
			since, _ = calendar.ParseDate(f.Cell(i, "asked_on"))
		case record.PutOff:
			since, _ = calendar.ParseDate(f.Cell(i, "look_again"))
		}
		if since != 0 && since <= a.Env.AsOf {
			p.Audit.Gating.Waits, p.Audit.Gating.Proposal = since, fact.Ref{Load: f.Records[i].Load, Row: f.Records[i].Row}
		}
	}
	return nil
}
