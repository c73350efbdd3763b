package judge

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/app/letter"
	"turret/internal/core/calendar"
	"turret/internal/core/check"
	"turret/internal/core/measure"
)

// Found is a finding with its project, and how it compares with the period closed before.
type Found struct {
	*check.Finding
	Project *measure.Project
	New     bool // it was not there when the last period was closed
}

// Mended is a finding of the last closed period that is no longer there.
type Mended struct {
	Project *measure.Project
	Rule    *check.Rule
	Record  string
}

// Checked is what checks found in a scope.
type Checked struct {
	List   []Found // errors first, then by check and project
	Mended []Mended
	Since  calendar.Period // the period compared with; 0 where none was closed before
	Rules  []check.Count   // of every check that ran, added up
	// Waiting tells that what is simulated is not there yet, so that its checks did not run.
	Waiting bool
}

// closedFound are the closed projects of a scope on which something was found.
func closedFound(a *assess.Assessment, s *assess.Scope) []*measure.Project {
	closed, err := a.Scope(s.Code, measure.Closed)
	if err != nil {
		return nil
	}
	return slices.DeleteFunc(closed.Projects, func(p *measure.Project) bool {
		return p.Status != measure.Closed || len(p.Checks.Findings) == 0 || slices.Contains(s.Projects, p)
	})
}

// Check gathers what checks found in the projects of a scope, without what a simulation tells.
func (o *Office) Check(ctx context.Context, a *assess.Assessment, s *assess.Scope) (*Checked, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	x := &Checked{}
	was, err := o.formerFindings(ctx, a, x)
	if err != nil {
		return nil, err
	}
	for _, p := range slices.Concat(s.Projects, closedFound(a, s)) {
		there, before := map[kept.PeriodFinding]bool{}, was[p.ID]
		for i := range p.Checks.Findings {
			f := &p.Checks.Findings[i]
			key := kept.PeriodFinding{Project: p.ID, Rule: f.Rule.ID, Record: f.Record}
			there[key] = true
			x.List = append(x.List, Found{f, p, x.Since != 0 && !before[key] && f.Accepted == nil})
		}
		for key := range before {
			if !there[key] {
				if rule := rule(a, key.Rule); rule != nil {
					x.Mended = append(x.Mended, Mended{p, rule, key.Record})
				}
			}
		}
		x.count(&p.Checks)
	}
	x.sort()
	slices.SortFunc(x.Mended, func(p, q Mended) int {
		return cmp.Or(cmp.Compare(p.Rule.Severity, q.Rule.Severity), cmp.Compare(p.Project.Code, q.Project.Code),
			cmp.Compare(p.Rule.ID, q.Rule.ID), cmp.Compare(p.Record, q.Record))
	})
	return x, nil
}

func (x *Checked) sort() {
	slices.SortStableFunc(x.List, func(p, q Found) int {
		return cmp.Or(cmp.Compare(p.Rule.Severity, q.Rule.Severity), cmp.Compare(p.Rule.ID, q.Rule.ID),
			cmp.Compare(p.Project.Code, q.Project.Code))
	})
}

func rule(a *assess.Assessment, id string) *check.Rule {
	if r := check.Lookup(id); r != nil {
		return r
	}
	for i := range a.Own {
		if a.Own[i].Rule.ID == id {
			return &a.Own[i].Rule
		}
	}
	return nil
}

// LoadFiles are the names of the files that were taken in, by the numbers of their loads.
func (o *Office) LoadFiles(ctx context.Context) (map[int64]string, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	loads, err := o.store.Loads(ctx)
	files := make(map[int64]string, len(loads))
	for _, l := range loads {
		files[l.ID] = l.File
	}
	return files, err
}

// Accept takes responsibility for a finding until a day.
func (o *Office) Accept(ctx context.Context, a *assess.Assessment, project string, f check.Acceptance) error {
	actor, p, err := judging(ctx, a, project)
	if err != nil {
		return err
	}
	if f.Reason, err = fault.ReasonOf(f.Reason, fault.MaxReason); err != nil {
		return err
	}
	found := slices.ContainsFunc(p.Checks.Findings, func(x check.Finding) bool { return x.Rule.ID == f.Rule && x.Record == f.Record })
	if rule := check.Lookup(f.Rule); rule != nil && rule.Simulated() {
		if found, err = o.finds(ctx, a, p, f.Rule, f.Record); err != nil {
			return err
		}
	}
	switch {
	case a.Closed != nil:
		return fault.Conflict("%s is closed", a.Closed.Span.Name())
	case !found:
		return fmt.Errorf("finding of %s in %s: %w", fault.Clip(f.Rule, 60), project, fault.ErrNotFound)
	case f.Until <= a.Env.AsOf:
		return fault.Field("until", f.Until.Human(), "a day after "+a.Env.AsOf.Human())
	case f.Until > a.Env.AsOf+longest:
		return fault.Field("until", f.Until.Human(), "a day within two years")
	}
	f.Who = actor.Name
	return o.store.SaveAcceptance(ctx, kept.AcceptanceFact{Acceptance: f, Project: p.ID, At: o.now()},
		o.audit.Entry(ctx, "accept a finding", strings.TrimSpace(project+" "+f.Rule+" "+f.Record), "",
			fmt.Sprintf("until %s: %s", f.Until, f.Reason)))
}

// Unaccept takes back the acceptance of a finding.
func (o *Office) Unaccept(ctx context.Context, a *assess.Assessment, project string, id int64) error {
	actor, p, err := judging(ctx, a, project)
	if err != nil {
		return err
	}
	return o.store.EndAcceptance(ctx, p.ID, id, actor.Name, o.now(), o.audit.Entry(ctx, "take back an acceptance", project, "",
		fmt.Sprint(id)))
}

// SendFindings writes to the leads of a scope what was found in their projects: errors and warnings that nobody has accepted.
func (o *Office) SendFindings(ctx context.Context, a *assess.Assessment, s *assess.Scope) (*letter.Reminded, error) {
	actor, err := access.Permit(ctx, access.Remind)
	if err != nil {
		return nil, err
	}
	addresses, blind, err := o.letter.Reached(ctx)
	if err != nil {
		return nil, err
	}
	round := letter.NewRound[*measure.Project](addresses)
	for _, p := range s.Projects {
		if blind[p.Lead] {
			p = p.WithoutMoney()
		}
		if p.Checks.Failed(check.Error)+p.Checks.Failed(check.Warning) > 0 {
			round.Tell(p.Lead, p.Code, p)
		}
	}
	return round.Send(func(lead, to string, projects []*measure.Project) (m letter.Message, err error) {
		m = findingsLetter(lead, to, letter.Signature(actor, a.Settings), a, projects, o.now())
		if m.File, err = o.letter.Put(ctx, m); err != nil {
			return m, err
		}
		return m, o.store.Note(ctx, o.audit.Entry(ctx, "send findings", lead, "", m.Subject))
	})
}

// findingsLetter lists the findings of a lead's projects.
func findingsLetter(lead, to, from string, a *assess.Assessment, projects []*measure.Project, at time.Time) letter.Message {
	var b strings.Builder
	n := 0
	fmt.Fprintf(&b, "%s,\n\nthese records of your projects cannot be right, or are unlikely, as of %s:\n", lead, a.Env.AsOf.Human())
	for _, p := range projects {
		fmt.Fprintf(&b, "\n%s %s\n", p.Code, p.Name)
		for i := range p.Checks.Findings {
			f := &p.Checks.Findings[i]
			if f.Accepted != nil || f.Rule.Severity == check.Information {
				continue
			}
			n++
			fmt.Fprintf(&b, "  - %s: %s. %s\n", f.Rule.Severity, f.Says, f.Rule.Mend)
		}
	}
	fmt.Fprintf(&b, "\nPlease fix them at their source and send the files again, or tell us why they are right.\n\n%s\n", from)
	return letter.Message{To: to, Subject: fmt.Sprintf("%d records to look at, %s", n, a.Env.Period().Name()), Text: b.String(), At: at}
}
