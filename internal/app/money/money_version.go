package money

import (
	"cmp"
	"context"
	"fmt"
	"strconv"
	"strings"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/app/say"
	"turret/internal/app/trace"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/write"
	"turret/internal/record"
)

// Version is a standing plan of money that can be compared.
type Version struct {
	kept.MoneyLoad
	Key, Text string
}

// Comparison is what differs between two plans of money, and the way from the one total to the other.
type Comparison struct {
	Kind     record.Kind
	Versions []Version
	Was, Is  Version
	WasAsOf  calendar.Date
	IsAsOf   calendar.Date
	Changes  []cost.Difference
	By       money.Amount // what the changes come to
	Added    int          // lines that only the newer one has
	Taken    int          // lines that only the older one had
	Bridge   *cost.Bridge // of the estimate at completion; nil for budgets
	Problem  string       // why there is no bridge
}

// Versions lists the standing plans of a kind, newest first: of a closed period those that were known then.
func (o *Office) Versions(ctx context.Context, a *assess.Assessment, kind record.Kind, project string) ([]Version, error) {
	return versions(ctx, a.Reading, a, kind, project)
}

func versions(ctx context.Context, in kept.Reading, a *assess.Assessment, kind record.Kind, project string) ([]Version, error) {
	if _, err := assess.PermitMoney(ctx, access.Read); err != nil {
		return nil, err
	}
	p, err := a.Project(project)
	if err != nil {
		return nil, err
	}
	loads, err := in.MoneyLoads(ctx, kind, p.ID)
	if err != nil {
		return nil, err
	}
	var list []Version
	for _, l := range loads {
		v := Version{MoneyLoad: l, Key: strconv.FormatInt(l.ID, 10)}
		v.Text = fmt.Sprintf("%s, %s, load %d by %s", cmp.Or(l.Name, l.Period.Name()), say.Day(l.ReceivedAt), l.ID, l.Author)
		if l.Note != "" {
			v.Text += ": " + fault.Clip(l.Note, 60)
		}
		list = append(list, v)
	}
	return list, nil
}

// Compare compares two plans of a kind, by default the present one with the one before. Each is seen as of the end of the
// period it was sent for.
func (o *Office) Compare(ctx context.Context, a *assess.Assessment, kind record.Kind, project, was, is string) (*Comparison, error) {
	versions, err := versions(ctx, a.Reading, a, kind, project)
	if err != nil {
		return nil, err
	}
	c := &Comparison{Kind: kind, Versions: versions}
	if len(versions) == 0 {
		return c, nil
	}
	is = cmp.Or(is, versions[0].Key)
	was = cmp.Or(was, versions[min(1, len(versions)-1)].Key)
	for _, v := range versions {
		if v.Key == was {
			c.Was = v
		}
		if v.Key == is {
			c.Is = v
		}
	}
	for key, v := range map[string]Version{was: c.Was, is: c.Is} {
		if v.Key == "" {
			return nil, fmt.Errorf("version %q: %w", fault.Clip(key, 20), fault.ErrNotFound)
		}
	}
	if c.Was.ID > c.Is.ID { // the older first, whichever way it is asked
		c.Was, c.Is = c.Is, c.Was
	}
	p := a.ByCode[project]
	c.WasAsOf, c.IsAsOf = min(c.Was.Period.Last(), a.Env.AsOf), min(c.Is.Period.Last(), a.Env.AsOf)
	c.WasAsOf = min(c.WasAsOf, c.IsAsOf)
	return c, o.compareMoney(ctx, a, p, c)
}

func (o *Office) compareMoney(ctx context.Context, a *assess.Assessment, p *measure.Project, c *Comparison) error {
	stands := [2]cost.Stand{{AsOf: c.WasAsOf}, {AsOf: c.IsAsOf}}
	kind := cost.BudgetRow
	if c.Kind == record.Forecast {
		kind = cost.ForecastRow
	}
	var sheets [2]*cost.Sheet
	for i, v := range []Version{c.Was, c.Is} {
		s := &stands[i]
		if err := a.Reading.LinesAt(ctx, c.Kind, p.ID, v.ID, func(l cost.Line) { s.Forecast = append(s.Forecast, l) }); err != nil {
			return err
		}
		sheets[i] = cost.NewSheet(a.Rates, a.Env.Calendar, a.Env.AsOf)
		sheets[i].Lines(kind, s.Forecast)
	}
	c.Changes = cost.Differences(sheets[0], sheets[1])
	c.By, c.Added, c.Taken = cost.Sum(c.Changes)
	if c.Kind != record.Forecast {
		return nil
	}
	ev, err := o.trace.Evidence(ctx, a, p)
	if err != nil {
		return err
	}
	for i := range stands {
		stands[i].Postings = trace.Counted(ev, p, stands[i].Forecast)
	}
	if c.Bridge, err = cost.NewBridge(stands[0], stands[1], a.Rates, a.Env.Calendar); err != nil {
		c.Problem = "The way between the two cannot be told: " + err.Error() + "."
	}
	return nil
}

// Name gives the present plan of a kind a name, by which it is found again among the versions.
func (o *Office) Name(ctx context.Context, a *assess.Assessment, kind record.Kind, project, name string) error {
	if _, err := assess.PermitMoney(ctx, access.Send); err != nil {
		return err
	}
	if err := o.edit.MayEdit(ctx, kind, project); err != nil {
		return err
	}
	if name = strings.TrimSpace(name); name == "" || len(name) > 100 {
		return fault.Field("name", name, "a name of up to 100 characters")
	}
	versions, err := versions(ctx, o.store, a, kind, project)
	if err != nil {
		return err
	}
	if len(versions) == 0 {
		return fault.Field("name", name, "a project with a "+write.Within(kind.Title()))
	}
	for _, v := range versions {
		if v.Name == name {
			return fault.Field("name", name, "a name that no other version of the project has")
		}
	}
	p := a.ByCode[project]
	return o.store.NameMoney(ctx, p.ID, versions[0].ID, name, access.ActorOf(ctx).Name, o.now(),
		o.audit.Entry(ctx, "name a plan of money", fmt.Sprintf("%s %s, load %d", kind.Title(), project, versions[0].ID), versions[0].Name,
			name))
}
