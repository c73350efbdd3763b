package register

import (
	"cmp"
	"errors"
	"fmt"
	"slices"
	"strings"

	"turret/internal/app/assess"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/records"
	"turret/internal/app/register"
	"turret/internal/core/measure"
	"turret/internal/core/risk"
	"turret/internal/core/write"
	"turret/internal/record"
	"turret/internal/web/page"
)

// recordView is one record in the margin: to be read, or with its fields to be changed.
type recordView struct {
	Token                     string
	Title, Holder, HolderHref string
	Kind                      string
	Says                      string
	Facts                     []page.Stated
	Steps                     []stepLine
	Step, MoreSteps           string // where a tick is sent, and how many are not shown
	Fields                    []field
	Problem                   string // why what was typed was refused
	Action                    string // where the fields are sent
	Was                       page.Was
	Hidden                    []page.Pair
	EditHref, CloseHref       string
	May, Editing              bool
	Moves                     []page.Option // states it may be put into
	Occur                     string
	Escalate                  string
	Above                     []page.Option
	Escalated                 string
	History                   []page.RecordEvent
	Alike                     []lessonRow // lessons that resemble it
	Said                      []saidLine
	Outside                   []outsideLine
	Say                       string // where a remark is sent
	Files                     []fileLine
	Attach, Accept            string      // where a file is sent, and of which endings
	From                      []page.Link // what it came from, and what came of it
}

// typedRecord is what was typed into a record and refused.
type typedRecord struct {
	kind                        record.Kind
	holder, code, problem, back string
	cells                       map[string]string
	clash                       error // that of somebody else, where it was refused for one
}

// labelled names what clashes by the labels of a kind's fields.
func labelled(kind record.Kind, refused error) error {
	var e *edit.Error
	if !errors.As(refused, &e) || len(e.Clashes) == 0 {
		return refused
	}
	in, by := kind.Input(), *e
	by.Clashes = slices.Clone(e.Clashes)
	for i := range by.Clashes {
		if at := in.At(by.Clashes[i].Column); at >= 0 {
			by.Clashes[i].Column = in.Columns[at].Head()
		}
	}
	return &by
}

// theirs says who changed what clashes, and how yours takes its place; nothing where nothing clashes.
func theirs(refused error, history []records.Event) string {
	var e *edit.Error
	if !errors.As(refused, &e) || len(e.Clashes) == 0 {
		return ""
	}
	said := ""
	at := slices.IndexFunc(history, func(event records.Event) bool {
		return slices.ContainsFunc(event.Changes, func(c records.Change) bool { return c.Column.Name == e.Clashes[0].Column })
	})
	if at >= 0 {
		l := &history[at].Load
		said = " It was changed on " + page.When(l.ReceivedAt) + " by " + l.Author + "."
	}
	return said + " Save again to put yours in its place."
}

// typedKey is where a refused record stands while the page is shown again.
const typedKey = "register-typed"

// typedIn is what was typed and refused; nil where nothing was.
func typedIn(r *page.Request) *typedRecord {
	x, _ := r.Locals(typedKey).(*typedRecord)
	return x
}

// mostSteps is how many steps of a checklist are shown.
const mostSteps = 200

type stepLine struct {
	Text string
	Done bool
}

// field is a cell of a record with the control that fits it.
type field struct {
	Name, Label, Value, Kind string
	Choices                  []page.Option
	Names                    []string // that may be typed
	Long                     bool
}

// open shows the record that the address names in the margin.
func (v *view) open(s *pages, r *page.Request) error {
	typed := typedIn(r)
	holder, code, ok := strings.Cut(r.Asked.Get("record"), ":")
	kind := v.Kind
	if r.Asked.Get("kind") == string(record.Activities) {
		kind = record.Activities
	}
	if typed != nil {
		kind, holder, code, ok = typed.kind, typed.holder, typed.code, true
	}
	if !ok {
		return nil
	}
	p, err := assess.HolderOf(r.Figures, holder)
	if err != nil {
		return err
	}
	if r.Figures.NoMoney && kind.IsCost() {
		v.Record = &recordView{Token: v.Page.Token, Title: code, Kind: kind.Noun(1), Holder: p.Code + " " + p.Name,
			HolderHref: r.Project(p.Code), CloseHref: r.Here("record", ""), Says: "Its record tells of costs, which are kept from you."}
		return nil
	}
	sheet, err := s.Office.Records.Of(r.Context(), r.Figures, holder, kind)
	if err != nil {
		return err
	}
	row := sheet.Row(code)
	history, err := s.Office.Records.History(r.Context(), r.Figures, holder, kind, code)
	if err != nil {
		return err
	}
	if row == nil && len(history) == 0 {
		return fmt.Errorf("%s %q of %s: %w", kind.Noun(1), fault.Clip(code, 60), holder, fault.ErrNotFound)
	}
	x := &recordView{Token: v.Page.Token, Title: code, Kind: kind.Noun(1), Holder: p.Code + " " + p.Name, CloseHref: r.Here("record", "",
		"kind", "", "edit", ""),
		HolderHref: r.Project(p.Code)}
	if p.Node {
		x.Holder, x.HolderHref = p.Name, r.To(kindPath(kind), "scope", p.Code)
	}
	n := page.NamesOf(r, p)
	for i := range history {
		x.History = append(x.History, page.EventOf(r, n, &history[i]))
	}
	if typed != nil {
		typed.problem += theirs(typed.clash, history)
	}
	v.Record = x
	if row == nil {
		return nil
	}
	return x.fill(s, r, kind, p, code, row.Cells, n)
}

// fill shows what stands in a record, and what may be done with it.
func (x *recordView) fill(s *pages, r *page.Request, kind record.Kind, p *measure.Project, code string, cells []string,
	n *page.Names) error {
	in := kind.Input()
	of := func(name string) string {
		if at := in.At(name); at >= 0 {
			return cells[at]
		}
		return ""
	}
	x.Title = code + " " + cmp.Or(of("title"), of("name"))
	if at := in.At("description"); at >= 0 {
		x.Says = cells[at]
	}
	for i, c := range in.Columns {
		if c.Owner() || cells[i] == "" || c.Name == "code" || c.Name == "title" || c.Name == "description" ||
			c.Name == "name" {
			continue
		}
		if c.Name == "currency" && !hasUnits(in, cells) {
			continue
		}
		x.Facts = append(x.Facts, page.Stated{Name: c.Head(), Text: n.Show(c, cells[i]).Text})
	}
	x.linked(r, kind, p, code)
	if kind == record.Risks || kind == record.Issues {
		if err := x.alike(s, r, of("title")+" "+x.Says); err != nil {
			return err
		}
	}
	if slices.Contains(record.Abouts, kind) {
		if err := errors.Join(x.said(s, r, p.Code, kind, code), x.attached(s, r, p.Code, kind, code)); err != nil {
			return err
		}
	}
	x.May = r.Figures.Closed == nil && s.Office.Register.MayAct(r.Context(), kind, p.Code)
	if !x.May {
		return nil
	}
	x.Action = r.To(kindPath(kind) + "/set")
	x.Hidden = []page.Pair{{Name: "holder", Value: p.Code}, {Name: "code", Value: code}, {Name: "back", Value: r.Here("edit", "")}}
	if slices.Contains(record.Abouts, kind) {
		x.Say = r.To(kindPath(kind) + "/say")
	}
	if kind == record.Actions {
		x.Step = r.To("/registers/actions/step")
	}
	x.EditHref, x.Editing = r.Here("edit", "1"), r.Asked.Get("edit") != ""
	if typed := typedIn(r); typed != nil {
		x.Editing, x.Problem, x.Hidden[2].Value = true, typed.problem, typed.back
	}
	now := register.Stands(kind, of, r.AsOf)
	for _, state := range register.States(kind) {
		if state != "" && state != now {
			x.Moves = append(x.Moves, page.Option{Value: state, Text: state})
		}
	}
	if kind == record.Risks && !risk.State(of("state")).Over() {
		x.Occur = r.To("/registers/risks/occur")
	}
	if in.At("escalated_to") >= 0 {
		x.Escalate, x.Escalated = r.To(kindPath(kind)+"/escalate"), of("escalated_to")
		for _, above := range r.Figures.Path(p.Parent) {
			x.Above = append(x.Above, page.Option{Value: above.Code, Text: above.Name})
		}
	}
	if !x.Editing {
		return nil
	}
	g, err := s.Office.Edit.Grid(r.Context(), kind, p.Code)
	if err != nil {
		return err
	}
	if at := g.Input.At("code"); at >= 0 { // the form is made from what stands by now
		for _, row := range g.Rows {
			if row[at] == code {
				cells = row
			}
		}
	}
	x.fields(g, cells)
	if typed := typedIn(r); typed != nil {
		x.typedOver(typed.cells)
	}
	return nil
}

// typedOver puts what was typed and refused back into the fields.
func (x *recordView) typedOver(cells map[string]string) {
	for i := range x.Fields {
		f := &x.Fields[i]
		value, ok := cells[strings.TrimPrefix(f.Name, "c-")]
		if !ok {
			continue
		}
		f.Value = value
		for k := range f.Choices {
			f.Choices[k].Selected = f.Choices[k].Value == value
		}
	}
}

// fields are the cells that may be changed, each with its control.
func (x *recordView) fields(g *edit.Grid, cells []string) {
	x.Was = page.Was{}
	for i, c := range g.Input.Columns {
		if g.Kind == record.Activities && !slices.Contains(workFields, c.Name) {
			continue
		}
		if c.Owner() || c.Name == "code" || c.Name == "escalated_to" || c.Name == "escalated_why" {
			continue
		}
		f := field{Name: "c-" + c.Name, Label: c.Head(), Value: cells[i], Kind: "text",
			Long: c.Name == "description" || c.Name == "response" || c.Name == "reason"}
		x.Was[c.Name] = edit.Plain(cells[i])
		list := g.Choices[c.Name]
		switch {
		case len(c.Choices) > 0 || c.Refers != "":
			if len(c.Choices) > 0 {
				list = c.Choices
			}
			f.Choices = append(f.Choices, page.Option{Text: "", Selected: cells[i] == ""})
			for _, choice := range list {
				f.Choices = append(f.Choices, page.Option{Value: choice, Text: choice, Selected: choice == cells[i]})
			}
		case list != nil:
			f.Names = list
		case c.Cell == record.Day:
			f.Kind = "date"
		}
		x.Fields = append(x.Fields, f)
	}
}

// workFields are what is changed of an activity beside its plan; the rest is the plan's.
var workFields = []string{"name", "owner", "party", "priority", "start", "finish", "actual_start", "actual_finish", "percent_complete",
	"remaining", "state"}

// hasUnits reports whether an amount stands in a row.
func hasUnits(in *record.Input, cells []string) bool {
	for i, c := range in.Columns {
		if c.Cell == record.Units && cells[i] != "" {
			return true
		}
	}
	return false
}

// linked leads from a record to what it came from and to what came of it, and shows the steps of an action.
func (x *recordView) linked(r *page.Request, kind record.Kind, p *measure.Project, code string) {
	to := func(kind record.Kind, code, title string) {
		x.From = append(x.From, page.Link{Text: write.Capital(kind.Noun(1)) + " " + code + " " + title,
			Href: r.To(kindPath(kind), "record", p.Code+":"+code, "open", "all")})
	}
	if kind == record.Activities {
		x.plan(r, p, code, to)
		return
	}
	for i := range p.Risks {
		for j := range p.Issues {
			if q, of := &p.Issues[j], &p.Risks[i]; q.FromRisk == of.Code {
				if kind == record.Risks && of.Code == code {
					to(record.Issues, q.Code, q.Title)
				} else if kind == record.Issues && q.Code == code {
					to(record.Risks, of.Code, of.Title)
				}
			}
		}
	}
	for i := range p.Actions {
		a := &p.Actions[i]
		if kind != record.Actions && a.Source == code {
			to(record.Actions, a.Code, a.Title)
		}
		if kind == record.Actions && a.Code == code {
			x.source(p, a.Source, to)
		}
	}
	for i := range p.Steps {
		if kind == record.Actions && p.Steps[i].Action == code {
			x.Steps = append(x.Steps, stepLine{p.Steps[i].Text, p.Steps[i].Done})
		}
	}
	if more := len(x.Steps) - mostSteps; more > 0 {
		x.Steps, x.MoreSteps = x.Steps[:mostSteps], write.Whole(more)+" more steps stand in the table of checklists."
	}
}

// plan leads from an activity to what threatens or blocks it, and to where it stands in its plan.
func (x *recordView) plan(r *page.Request, p *measure.Project, code string, to func(record.Kind, string, string)) {
	for i := range p.Issues {
		if q := &p.Issues[i]; q.Blocks == code {
			to(record.Issues, q.Code, q.Title)
		}
	}
	for i := range p.Risks {
		if q := &p.Risks[i]; q.Activity == code {
			to(record.Risks, q.Code, q.Title)
		}
	}
	x.From = append(x.From, page.Link{Text: "The plan of " + p.Code, Href: r.To(page.ProjectPath(p.Code) + "/plan")})
}

// source finds what an action comes from by its code: a risk, an issue or a decision.
func (x *recordView) source(p *measure.Project, code string, to func(record.Kind, string, string)) {
	for i := range p.Risks {
		if p.Risks[i].Code == code {
			to(record.Risks, code, p.Risks[i].Title)
		}
	}
	for i := range p.Issues {
		if p.Issues[i].Code == code {
			to(record.Issues, code, p.Issues[i].Title)
		}
	}
	for i := range p.Decisions {
		if p.Decisions[i].Code == code {
			to(record.Decisions, code, p.Decisions[i].Title)
		}
	}
}
