package pipeline

import (
	"context"
	"encoding/json"
	"fmt"
	"net/url"
	"slices"
	"strings"
	"unicode/utf8"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/app/saved"
	"turret/internal/record"
)

// Templates lists those that ship with Turret, then those that the office wrote, by name.
func (o *Office) Templates(ctx context.Context) ([]Template, error) {
	list := Shipped()
	views, err := o.saved.List(ctx, saved.Template)
	for i := range views {
		t, wrong := templateOf(&views[i])
		if wrong != nil {
			return nil, wrong
		}
		list = append(list, *t)
	}
	return list, err
}

// Template finds one by its name, as it stands now. Where there is none the error wraps ErrNotFound.
func (o *Office) Template(ctx context.Context, name string) (*Template, error) {
	list, err := o.Templates(ctx)
	if err != nil {
		return nil, err
	}
	if at := slices.IndexFunc(list, func(t Template) bool { return t.Name == name }); at >= 0 {
		return &list[at], nil
	}
	return nil, fmt.Errorf("template %q: %w", fault.Clip(name, longestName), fault.ErrNotFound)
}

// TemplateVersions lists how a template that the office wrote ever stood, the first first.
func (o *Office) TemplateVersions(ctx context.Context, name string) (list []Template, err error) {
	views, err := o.saved.Every(ctx, saved.Template, name)
	for i := range views {
		t, wrong := templateOf(&views[i])
		if wrong != nil {
			return nil, wrong
		}
		t.Version = i + 1
		list = append(list, *t)
	}
	return list, err
}

func templateOf(v *saved.View) (*Template, error) {
	t := &Template{Name: v.Name, Who: v.Who, At: v.At, Version: 1}
	if err := json.Unmarshal([]byte(v.Query), t); err != nil {
		return nil, fmt.Errorf("template %s: %w", v.Name, err)
	}
	return t, nil
}

// SaveTemplate keeps a template as the next version of the one of its name. Names of those that ship and codes of projects are taken.
func (o *Office) SaveTemplate(ctx context.Context, a *assess.Assessment, t *Template) error {
	if _, err := access.PermitWhole(ctx, access.Judge); err != nil {
		return err
	}
	if err := t.check(); err != nil {
		return err
	}
	taken := slices.ContainsFunc(Shipped(), func(x Template) bool { return x.Name == t.Name })
	if t.Reason = strings.TrimSpace(t.Reason); utf8.RuneCountInString(t.Reason) > mostReason {
		return fault.Field("reason", fault.Clip(t.Reason, 40), fmt.Sprintf("at most %d letters", mostReason))
	}
	switch {
	case taken || a.ByCode[t.Name] != nil:
		return fault.Field("name", t.Name, "a name that no template has that ships, and that is no code of a project")
	case t.Limits != "" && a.Settings.LimitsOf()[t.Limits] == nil:
		return fault.Field("tolerances of", fault.Clip(t.Limits, 40), "a project or node with tolerances of its own")
	}
	if err := t.checkReferences(a); err != nil {
		return err
	}
	text, err := json.Marshal(t)
	if err != nil {
		return err
	}
	return o.saved.KeepForAll(ctx, saved.View{Kind: saved.Template, Name: t.Name, Query: string(text)}, mostTemplates)
}

// checkReferences refuses cost codes that are not in the tree or closed, and inputs that there are not.
func (t *Template) checkReferences(a *assess.Assessment) error {
	for i := range t.Steps {
		s := &t.Steps[i]
		at := slices.IndexFunc(a.Masters.CostCodes, func(c kept.CostCode) bool { return c.Code == s.CostCode })
		if s.CostCode != "" && (at < 0 || a.Masters.CostCodes[at].Closed) {
			return fault.Field("cost code of "+s.Code, fault.Clip(s.CostCode, 40), "a code of the tree of cost codes that is open")
		}
	}
	for _, kind := range t.Asked {
		if !slices.Contains(record.MatrixKinds(), kind) {
			return fault.Field("input", fault.Clip(string(kind), 40), "a kind of input that comes each period")
		}
	}
	return nil
}

// EndTemplate takes a template away. What became of it stays, and its versions are kept.
func (o *Office) EndTemplate(ctx context.Context, name string) error {
	if _, err := access.PermitWhole(ctx, access.Judge); err != nil {
		return err
	}
	return o.saved.EndForAll(ctx, saved.Template, name)
}

// begun sets what projects that begin with a template have besides their rows: the inputs asked for, tolerances, and a report.
func (o *Office) begun(ctx context.Context, a *assess.Assessment, template string, projects []string) error {
	t, p, err := o.source(ctx, a, template)
	if err != nil {
		return err
	}
	if p != nil {
		_, err := o.setting.Inherit(ctx, template, projects)
		return err
	}
	if len(t.Asked) > 0 {
		if err := o.setting.Ask(ctx, projects, t.Asked); err != nil {
			return err
		}
	}
	if t.Limits != "" {
		if err := o.setting.InheritLimits(ctx, t.Limits, projects); err != nil {
			return err
		}
	}
	if t.Report == nil {
		return nil
	}
	for _, code := range projects {
		q, err := url.ParseQuery(t.Report.Query)
		if err != nil {
			return err
		}
		q.Set("scope", code)
		v := saved.View{Kind: saved.ReportView, Name: fault.Clip(code+": "+t.Report.Name, 80), Query: q.Encode(), Shared: true}
		if _, err := o.saved.Keep(ctx, v, mostReports); err != nil {
			return err
		}
	}
	return nil
}

// mostReports bounds the reports that a person keeps.
const mostReports = 400
