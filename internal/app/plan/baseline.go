package plan

import (
	"cmp"
	"context"
	"fmt"
	"strings"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/app/say"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
	"turret/internal/core/write"
	"turret/internal/record"
)

// Version is a schedule of a project that can be looked at again: as it was loaded, or a baseline that was set then.
type Version struct {
	Key      string // names it in addresses: the load's number, with b before it for its baseline dates
	Text     string
	Load     kept.Load
	Baseline *kept.BaselineFact // nil for the plan as loaded
}

// Versions lists the schedules of a project and its baselines, newest first: of a closed period those that were known then. A baseline
// stands before the load it was set in.
func (o *Office) Versions(ctx context.Context, a *assess.Assessment, project string) ([]Version, error) {
	return o.versions(ctx, a.Reading, a, project)
}

// loads lists those that brought something of a project.
type loads interface {
	LoadsOf(ctx context.Context, kind record.Kind, project int64) ([]kept.Load, error)
}

func (o *Office) versions(ctx context.Context, in loads, a *assess.Assessment, project string) ([]Version, error) {
	p, err := o.readable(ctx, a, project)
	if err != nil {
		return nil, err
	}
	loads, err := in.LoadsOf(ctx, record.Activities, p.ID)
	if err != nil {
		return nil, err
	}
	named, err := o.store.Baselines(ctx, p.ID)
	if err != nil {
		return nil, err
	}
	var list []Version
	for _, l := range loads {
		for i := range named {
			if named[i].Load == l.ID {
				list = append(list, Version{Key: fmt.Sprintf("b%d", l.ID), Text: "Baseline “" + named[i].Name + "”", Load: l,
					Baseline: &named[i]})
			}
		}
		list = append(list, Version{Key: fmt.Sprint(l.ID), Text: planText(&l), Load: l})
	}
	return list, nil
}

func planText(l *kept.Load) string {
	text := "Plan of " + say.Moment(l.ReceivedAt)
	if l.Period > 0 {
		text += " for " + l.Period.Name()
	}
	if l.Note != "" {
		text += ": " + fault.Clip(l.Note, 60)
	}
	return text
}

func (o *Office) readable(ctx context.Context, a *assess.Assessment, project string) (*measure.Project, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	return a.Project(project)
}

// Comparison is what differs between two versions of a project's schedule.
type Comparison struct {
	Was, Is  Version
	Before   []schedule.Activity // at the dates meant
	After    []schedule.Activity
	Changes  []schedule.Change
	Versions []Version
}

// Count says how many of the changes are of a sort.
func (c *Comparison) Count(sort func(*schedule.Change) bool) int {
	n := 0
	for i := range c.Changes {
		if sort(&c.Changes[i]) {
			n++
		}
	}
	return n
}

// Compare compares two versions of a project's schedule by their keys; empty keys mean the newest baseline, else the plan
// before, against the present plan.
func (o *Office) Compare(ctx context.Context, a *assess.Assessment, project, was, is string) (*Comparison, error) {
	versions, err := o.versions(ctx, a.Reading, a, project)
	if err != nil {
		return nil, err
	}
	c := &Comparison{Versions: versions}
	if len(versions) == 0 {
		return c, nil
	}
	var plans []Version
	for _, v := range versions {
		if v.Baseline == nil {
			plans = append(plans, v)
		}
	}
	is = cmp.Or(is, plans[0].Key)
	if was == "" {
		was = "b" + plans[0].Key
		if len(plans) > 1 {
			was = plans[1].Key
		}
	}
	p := a.ByCode[project]
	before, err := o.version(ctx, a, p, versions, was, &c.Was)
	if err != nil {
		return nil, err
	}
	after, err := o.version(ctx, a, p, versions, is, &c.Is)
	if err != nil {
		return nil, err
	}
	c.Before, c.After = before.Activities, after.Activities
	c.Changes = schedule.Compare(before, after, a.Env.Calendar)
	return c, nil
}

func (o *Office) version(ctx context.Context, a *assess.Assessment, p *measure.Project, versions []Version, key string,
	found *Version) (*schedule.Version, error) {
	plain, baseline := strings.CutPrefix(key, "b")
	for _, v := range versions {
		if v.Key == key || baseline && v.Key == plain {
			*found = v
			break
		}
	}
	if found.Key == "" {
		return nil, fmt.Errorf("version %q: %w", fault.Clip(key, 20), fault.ErrNotFound)
	}
	if baseline && found.Baseline == nil {
		found.Key, found.Text = key, "Baseline dates in the "+write.Within(found.Text)
	}
	f, err := a.Reading.Rows(ctx, record.Activities, kept.Selection{Load: found.Load.ID, Projects: []int64{p.ID}})
	if err != nil {
		return nil, err
	}
	v := &schedule.Version{Activities: factsOf(a, f), AsOf: a.Env.AsOf}
	if baseline {
		v.Basis = schedule.Baseline
	}
	return v, a.Reading.LinksAt(ctx, p.ID, found.Load.ID, func(l *kept.LinkFact) {
		v.Links = append(v.Links, schedule.Dependency{FromCode: cmp.Or(l.FromProject, p.Code), ToCode: cmp.Or(l.ToProject, p.Code),
			From: l.From, To: l.To, Type: l.Type, Lag: l.Lag, Ref: l.Ref})
	})
}

// SetBaseline has the baseline dates of a project be those of its present plan, under a name and with a reason, and the approved
// change it is for, if any. The former baseline stays in the revisions before.
func (o *Office) SetBaseline(ctx context.Context, a *assess.Assessment, project string, b kept.BaselineFact) error {
	b.Name, b.Change = strings.TrimSpace(b.Name), strings.TrimSpace(b.Change)
	if b.Name == "" || len(b.Name) > 100 {
		return fault.Field("name", b.Name, "a name of up to 100 characters")
	}
	reason, err := fault.ReasonOf(b.Reason, fault.MaxPlanReason)
	if err != nil {
		return err
	}
	if len(b.Change) > 100 {
		return fault.Field("approved change", b.Change, "its reference")
	}
	d, err := o.draftPlan(ctx, a, project, Base{})
	if err != nil {
		return err
	}
	if len(d.order) == 0 {
		return fault.Field("baseline", project, "a project with a schedule")
	}
	versions, err := o.versions(ctx, o.store, a, project)
	if err != nil {
		return err
	}
	for _, v := range versions {
		if v.Baseline != nil && v.Baseline.Name == b.Name {
			return fault.Field("name", b.Name, "a name that no other baseline of the project has")
		}
	}
	d.rebase()
	b.Project, b.Reason, b.Who, b.At, b.Load = project, reason, access.ActorOf(ctx).Name, o.now(), versions[0].Load.ID
	_, err = o.edit.SaveTables(ctx, project, []edit.TableEdit{{Kind: record.Activities, Edits: d.edits()}},
		edit.SaveAs{Reason: "baseline " + b.Name + ": " + reason,
			Baseline: &b})
	return err
}

// rebase writes the expected and actual dates over those of the baseline.
func (d *draftPlan) rebase() {
	put := func(c cells, name string, day calendar.Date) {
		if day != 0 {
			c.put(name, day.String())
		}
	}
	for code, a := range d.activities {
		row := d.rows[code]
		if row == nil {
			continue
		}
		c, start := cells(row), a.Start
		if a.ActualStart != 0 {
			start = a.ActualStart
		}
		if a.Kind != schedule.Milestone {
			put(c, "baseline_start", start)
		}
		put(c, "baseline_finish", a.Expected(d.a.Env.Calendar, d.a.Env.AsOf))
	}
}
