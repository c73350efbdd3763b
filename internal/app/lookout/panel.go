package lookout

import (
	"context"
	"errors"
	"fmt"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/saved"
	"turret/internal/app/setting"
	"turret/internal/core/measure"
)

// Panel is a part of Lookout.
type Panel struct {
	Kind string // of PanelKinds, or a saved table
	Of   string // which one of several, or the number of the table
	Wide string // of PanelWidths
	Say  string // measures, or a text
}

// TablePanel is the kind of a panel that shows a saved table.
const TablePanel = "table"

// Key names the panel among others.
func (p *Panel) Key() string {
	if p.Of == "" {
		return p.Kind
	}
	return p.Kind + "." + p.Of
}

// PanelKind is a kind of panel.
type PanelKind struct {
	Kind, Name string
	Wide       string
	Measures   int    // that it takes; 0 for none
	Usual      string // measures where none are chosen
	Text       bool   // it shows what is typed
	Several    int    // how many of it there can be
	Money      bool
}

// PanelKinds are the panels of Lookout, besides saved tables.
func PanelKinds() []PanelKind {
	return []PanelKind{
		{Kind: "waits", Name: "What waits for you", Wide: "whole"},
		{Kind: "sighting", Name: "Sighting plot", Wide: "third"},
		{Kind: "attention", Name: "What needs attention", Wide: "two thirds"},
		{Kind: "ahead", Name: "What is predicted", Wide: "half"},
		{Kind: "pipeline", Name: "Gates and proposals that wait", Wide: "half"},
		{Kind: "decisions", Name: "Decisions asked for", Wide: "whole"},
		{Kind: "note", Name: "From the office", Wide: "half"},
		{Kind: "figures", Name: "Figures", Wide: "whole", Measures: 8, Usual: strings.Join(measure.Texts(measure.BAC, measure.AC,
			measure.EAC, measure.VAC, measure.MilestonesMissed, measure.Errors), ", ")},
		{Kind: "milestones", Name: "Milestones of the next month", Wide: "half"},
		{Kind: "trend", Name: "Trend", Wide: "half", Measures: 1, Usual: measure.FinishDeviation.String(), Several: 3},
		{Kind: "text", Name: "Text", Wide: "half", Text: true, Several: 2},
		{Kind: "risks", Name: "Top risks", Wide: "half"},
		{Kind: "issues", Name: "Issues, late ones first", Wide: "half"},
		{Kind: "actions", Name: "Actions, late ones first", Wide: "half"},
		{Kind: "gaps", Name: "Roles with too few people", Wide: "half"},
		{Kind: "overloads", Name: "People with too much", Wide: "half"},
	}
}

// PanelKindOf finds a kind of panel; nil where there is none.
func PanelKindOf(kind string) *PanelKind {
	for _, s := range PanelKinds() {
		if s.Kind == kind {
			return &s
		}
	}
	return nil
}

// PanelWidths are the widths of panels.
func PanelWidths() []string { return []string{"third", "half", "two thirds", "whole"} }

// shippedPanels are those of a role for which nothing else was set.
func shippedPanels(role access.Role) []Panel {
	kinds := []string{"waits", "sighting", "attention", "ahead"}
	if role == access.Executive {
		kinds = append(kinds, "decisions")
	}
	list := make([]Panel, len(kinds))
	for i, k := range kinds {
		list[i] = Panel{Kind: k, Wide: PanelKindOf(k).Wide}
	}
	return list
}

const maxPanels = 20

// ParsePanels reads how Lookout is set out from an address or a form. What it cannot be is a FieldError.
func ParsePanels(q url.Values) ([]Panel, error) {
	var list []Panel
	for _, key := range q["panel"] {
		kind, of, _ := strings.Cut(key, ".")
		p := Panel{Kind: kind, Of: of, Wide: q.Get("wide." + key), Say: strings.TrimSpace(q.Get("say." + key))}
		if err := p.check(); err != nil {
			return nil, err
		}
		if !slices.ContainsFunc(list, func(x Panel) bool { return x.Key() == key }) {
			list = append(list, p)
		}
	}
	if len(list) > maxPanels {
		return nil, fault.Field("panels", strconv.Itoa(len(list)), fmt.Sprintf("at most %d", maxPanels))
	}
	return list, nil
}

func (p *Panel) check() error {
	sort := PanelKindOf(p.Kind)
	n, err := strconv.Atoi(p.Of)
	switch {
	case p.Kind == TablePanel && (err != nil || n < 1), sort == nil && p.Kind != TablePanel,
		sort != nil && sort.Several == 0 && p.Of != "", sort != nil && sort.Several > 0 && (err != nil || n < 1 || n > sort.Several):
		return fault.Field("panel", p.Key(), "a panel of Lookout")
	case p.Wide == "" && sort != nil:
		p.Wide = sort.Wide
	case p.Wide == "":
		p.Wide = "whole"
	case !slices.Contains(PanelWidths(), p.Wide):
		return fault.Field("width", p.Wide, strings.Join(PanelWidths(), ", "))
	}
	if sort == nil {
		return nil
	}
	if sort.Text && len([]rune(p.Say)) > setting.MaxPanelText {
		return fault.Field(sort.Name, fault.Clip(p.Say, 40), fmt.Sprintf("at most %d characters", setting.MaxPanelText))
	}
	if sort.Measures > 0 {
		keys := p.Measures()
		for _, k := range keys {
			if _, ok := measure.Lookup(k); !ok {
				return fault.Field("measure of "+sort.Name, k, "a measure of the catalogue, as the glossary names it")
			}
		}
		if len(keys) > sort.Measures {
			return fault.Field("measures of "+sort.Name, p.Say, fmt.Sprintf("at most %d", sort.Measures))
		}
	}
	return nil
}

// Measures are those that a panel shows.
func (p *Panel) Measures() []string {
	say := p.Say
	if say == "" {
		if s := PanelKindOf(p.Kind); s != nil {
			say = s.Usual
		}
	}
	return strings.FieldsFunc(say, func(r rune) bool { return r == ',' || r == ' ' })
}

func panelQuery(list []Panel) string {
	q := url.Values{}
	for _, p := range list {
		q.Add("panel", p.Key())
		q.Set("wide."+p.Key(), p.Wide)
		if p.Say != "" {
			q.Set("say."+p.Key(), p.Say)
		}
	}
	return q.Encode()
}

// names under which the order of Lookout is kept.
const ownPanels = "own"

func rolePanels(role access.Role) string { return "every " + string(role) }

// Panels is how Lookout is set out for the one who asks: their own way, else that of their role, else as shipped.
func (o *Office) Panels(ctx context.Context) (list []Panel, own bool, err error) {
	actor, err := access.Permit(ctx, access.Read)
	if err != nil {
		return nil, false, err
	}
	views, err := o.store.SavedViews(ctx, saved.LookoutView, false)
	if err != nil {
		return nil, false, err
	}
	var best *saved.View
	for i := range views {
		switch v := &views[i]; {
		case v.Name == ownPanels && v.Login == actor.Login && !v.Shared:
			best, own = v, true
		case v.Name == rolePanels(actor.Role) && v.Shared && best == nil:
			best = v
		}
	}
	if best == nil {
		return shippedPanels(actor.Role), false, nil
	}
	q, err := url.ParseQuery(best.Query)
	if err == nil {
		list, err = ParsePanels(q)
	}
	if field := (*fault.FieldError)(nil); errors.As(err, &field) { // a measure or panel that is no more
		return shippedPanels(actor.Role), own, nil
	}
	return list, own, err
}

// SavePanels sets out Lookout for the one who asks.
func (o *Office) SavePanels(ctx context.Context, list []Panel) error {
	_, err := o.saved.Keep(ctx, saved.View{Kind: saved.LookoutView, Name: ownPanels, Query: panelQuery(list)}, 10)
	return err
}

// EndPanels goes back to what is usual for the role.
func (o *Office) EndPanels(ctx context.Context) error {
	list, err := o.saved.List(ctx, saved.LookoutView)
	if err != nil {
		return err
	}
	for _, v := range list {
		if v.Name == ownPanels && !v.Shared {
			return o.saved.End(ctx, saved.LookoutView, v.ID)
		}
	}
	return nil
}

// SaveRolePanels sets out Lookout for everybody of a role who has not chosen otherwise.
func (o *Office) SaveRolePanels(ctx context.Context, role access.Role, list []Panel) error {
	actor, err := access.PermitWhole(ctx, access.Judge)
	if err != nil {
		return err
	}
	if !slices.Contains(access.Roles(), role) {
		return fault.Field("role", string(role), fmt.Sprint("one of ", access.Roles()))
	}
	views, err := o.store.SavedViews(ctx, saved.LookoutView, false)
	if err != nil {
		return err
	}
	v := saved.View{Kind: saved.LookoutView, Name: rolePanels(role), Query: panelQuery(list), Shared: true, Who: actor.Name,
		Login: actor.Login,
		At:    o.now()}
	if len(v.Query) > 8000 {
		return fault.Field("panels", "", "less text")
	}
	var former []int64 // of whoever set it out before
	for i := range views {
		if views[i].Shared && views[i].Name == v.Name {
			former = append(former, views[i].ID)
		}
	}
	_, err = o.store.SaveView(ctx, v, former...)
	return err
}
