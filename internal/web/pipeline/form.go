package pipeline

import (
	"fmt"
	"slices"
	"strconv"

	"turret/internal/app/fault"
	"turret/internal/app/pipeline"
	"turret/internal/app/setting"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/record"
	"turret/internal/web/page"
)

// partView is a part of the form: lines of fields below each other.
type partView struct {
	Key, Title, Help string
	Required         bool
	Lines            [][]fieldView
}

// fieldView is a field with its name and what stands in it.
type fieldView struct {
	Name, Label, Value string
	Type               string // of the input: text, date or decimal; empty where one chooses
	Options            []page.Option
	Wide               bool
}

// yearsAsked is for how many budget years amounts are asked; linesAsked is how many people, benefits and risks.
const (
	yearsAsked = 4
	linesAsked = 3
)

// partTitles are what the parts of a form are called.
var partTitles = map[string]string{setting.PartCategory: "What kind of work it is", setting.PartDates: "When",
	setting.PartCost: "What it costs, roughly, by budget year", setting.PartGoals: "What it does for the goals",
	setting.PartPeople: "Who is needed", setting.PartBenefits: "What it brings, in money, by budget year",
	setting.PartRisks: "What may happen", setting.PartNeeds: "Without what it cannot be"}

// former makes the form of a proposal, and reads what was typed.
type former struct {
	r   *page.Request
	p   *pipeline.Pipeline
	get func(string) string
}

// part is a part of the form; false where there is nothing to ask, such as goals where none are known.
func (f *former) part(x setting.FormPart) (partView, bool) {
	v := partView{Key: x.Part, Title: partTitles[x.Part], Help: x.Help, Required: x.Required}
	switch x.Part {
	case setting.PartCategory:
		v.Lines = [][]fieldView{{{Name: "category", Label: "Category", Value: f.get("category"), Type: "text"}}}
	case setting.PartDates:
		v.Lines = [][]fieldView{{f.day("start", "Start"), f.day("finish", "Finish")}}
	case setting.PartCost:
		v.Lines = [][]fieldView{append(f.years("cost"), f.choice("cost_code", "Mostly on", f.codes()))}
	case setting.PartGoals:
		v.Lines = f.goals()
	case setting.PartBenefits:
		for i := range linesAsked {
			name := fmt.Sprintf("gain.%d", i)
			v.Lines = append(v.Lines, append([]fieldView{f.text(name, "What comes of it")}, f.years(name)...))
		}
	case setting.PartPeople, setting.PartRisks, setting.PartNeeds:
		for i := range linesAsked {
			v.Lines = append(v.Lines, f.line(x.Part, "."+strconv.Itoa(i)))
		}
	default:
		c, ok := f.own(x.Part)
		if !ok {
			return v, false
		}
		v.Title, v.Lines = c.Head(), [][]fieldView{{f.ownField(c)}}
		if v.Help == "" {
			v.Help = c.Says
		}
	}
	return v, len(v.Lines) > 0
}

// line is who is needed, what may happen, or what it cannot be without.
func (f *former) line(part, n string) []fieldView {
	switch part {
	case setting.PartPeople:
		return []fieldView{f.choice("role"+n, "Role", f.roles()), f.day("from"+n, "From"), f.day("to"+n, "To"),
			{Name: "percent" + n, Label: "Percent of a day", Value: f.get("percent" + n), Type: "decimal"}}
	case setting.PartRisks:
		s := f.r.Figures.Settings
		return []fieldView{f.text("risk"+n, "What may happen"), f.choice("likely"+n, "How likely", scaleOf(s.LikelihoodNames())),
			f.choice("consequence"+n, "How bad", scaleOf(s.ConsequenceNames())), f.text("response"+n, "What is done about it")}
	}
	return []fieldView{f.choice("needs"+n, "Project or proposal", f.others())}
}

func (f *former) text(name, label string) fieldView {
	return fieldView{Name: name, Label: label, Value: f.get(name), Type: "text", Wide: true}
}

func (f *former) day(name, label string) fieldView {
	return fieldView{Name: name, Label: label, Value: f.get(name), Type: "date"}
}

// choice is a field in which one chooses, or nothing.
func (f *former) choice(name, label string, options []page.Option) fieldView {
	list := append([]page.Option{{}}, options...)
	for i := range list {
		list[i].Selected = list[i].Value == f.get(name)
	}
	return fieldView{Name: name, Label: label, Options: list}
}

// years are fields for amounts by budget year.
func (f *former) years(name string) []fieldView {
	var list []fieldView
	for i := range yearsAsked {
		first := f.year(i)
		key := name + "." + first.String()
		list = append(list, fieldView{Name: key, Label: cost.YearName(first), Value: f.get(key), Type: "decimal"})
	}
	return list
}

// year is the first month of a budget year, counted from that of the as-of date.
func (f *former) year(i int) calendar.Month {
	return f.r.Figures.Env.YearBegins(f.r.AsOf) + calendar.Month(12*i)
}

func (f *former) goals() [][]fieldView {
	var list [][]fieldView
	for _, g := range f.p.Goals {
		rating := f.choice("goal."+g.Code, g.Name, []page.Option{{Value: "1", Text: "1, a little"}, {Value: "2", Text: "2"},
			{Value: "3", Text: "3, much"}, {Value: "4", Text: "4"}, {Value: "5", Text: "5, it is for that"}})
		rating.Options[0].Text = "nothing"
		list = append(list, []fieldView{rating, f.text("why."+g.Code, "How")})
	}
	return list
}

// codes are the open cost codes that no other lies beneath.
func (f *former) codes() []page.Option {
	all := f.r.Figures.Masters.CostCodes
	above := map[string]bool{}
	for i := range all {
		above[all[i].Parent] = true
	}
	var list []page.Option
	for i := range all {
		if x := &all[i]; !x.Closed && !above[x.Code] {
			list = append(list, page.Option{Value: x.Code, Text: x.Code + " " + x.Name})
		}
	}
	return list
}

// roles are those that people have, by name.
func (f *former) roles() []page.Option {
	var names []string
	for i := range f.r.Figures.People {
		names = append(names, f.r.Figures.People[i].Role)
	}
	slices.Sort(names)
	var list []page.Option
	for _, name := range slices.Compact(names) {
		if name != "" {
			list = append(list, page.Option{Value: name, Text: name})
		}
	}
	return list
}

// others are the projects and proposals that whoever proposes sees.
func (f *former) others() []page.Option {
	var list []page.Option
	for _, p := range f.r.Figures.Projects {
		if p.Status == measure.Open || p.Status == measure.Proposed {
			list = append(list, page.Option{Value: p.Code, Text: p.Code + " " + p.Name})
		}
	}
	return list
}

func (f *former) own(name string) (record.Column, bool) {
	own := f.r.Figures.Masters.Own
	at := slices.IndexFunc(own, func(c record.Column) bool { return c.Name == name })
	if at < 0 {
		return record.Column{}, false // the field was taken away since
	}
	return own[at], true
}

// ownField is a field of one's own, as its cells are written.
func (f *former) ownField(c record.Column) fieldView {
	x := fieldView{Name: c.Name, Label: c.Head(), Value: f.get(c.Name), Type: "text"}
	switch {
	case len(c.Choices) > 0:
		var list []page.Option
		for _, text := range c.Choices {
			list = append(list, page.Option{Value: text, Text: text})
		}
		return f.choice(c.Name, c.Head(), list)
	case c.Cell == record.Day:
		x.Type = "date"
	case c.Cell == record.Number:
		x.Type = "decimal"
	}
	return x
}

// scaleOf are the words of a scale from 1 on.
func scaleOf(words []string) []page.Option {
	var list []page.Option
	for i, w := range words {
		list = append(list, page.Option{Value: strconv.Itoa(i + 1), Text: fmt.Sprintf("%d, %s", i+1, w)})
	}
	return list
}

// amounts reads cost and benefits. They are spread over no months: each stands in the first of its budget year, or of the start where that
// is later.
func (f *former) amounts(x *pipeline.Idea) (err error) {
	if x.Cost, err = f.amountsOf("cost", x.Start); err != nil {
		return err
	}
	for i := range linesAsked {
		name := fmt.Sprintf("gain.%d", i)
		by, err := f.amountsOf(name, x.Start)
		if err != nil {
			return err
		}
		switch said := f.get(name) != ""; {
		case !said && len(by) > 0:
			return fault.Field("what it brings", "", "what comes of it, beside the amount")
		case said && len(by) == 0:
			return fault.Field("what it brings", fault.Clip(f.get(name), 40), "an amount in one of the years beside it")
		}
		x.Benefits = append(x.Benefits, pipeline.Gain{Name: f.get(name), By: by})
	}
	return nil
}

func (f *former) amountsOf(name string, start calendar.Date) (map[string]string, error) {
	by := map[string]string{}
	cur := f.r.Figures.Masters.Reporting
	for i := range yearsAsked {
		first := f.year(i)
		text := f.get(name + "." + first.String())
		if text == "" {
			continue
		}
		amount, err := money.Parse(money.Typed(text), cur)
		if err != nil || amount < 0 {
			return nil, fault.Field(name+" of "+cost.YearName(first), fault.Clip(text, 40), "an amount of 0 or more, such as 250000")
		}
		month := first
		if start != 0 && start.Month() > first && start.Month() < first+12 {
			month = start.Month()
		}
		by[month.String()] = amount.Text(cur)
	}
	return by, nil
}
