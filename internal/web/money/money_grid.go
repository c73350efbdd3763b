package money

import (
	"cmp"
	"encoding/json"
	"errors"
	"fmt"
	"html/template"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/assess"
	"turret/internal/app/edit"
	"turret/internal/app/fault"

	appmoney "turret/internal/app/money"
	"turret/internal/app/say"
	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/write"
	"turret/internal/record"
	"turret/internal/web/page"
	"turret/internal/web/plan"
)

type gridView struct {
	Page     page.Page
	Headline []page.Spoken
	Others   []page.Link
	Shows    []page.Tab
	Code     string
	Show     string
	Data     string
	Save     string
	May      bool
	Done     string
	Note     string
	Files    []page.Link
	Rows     []gridPlainRow // for readers without scripts
	Total    string
	Currency page.Picker
	Codes    []page.Option
	Work     []page.Option // activities to name
	Months   string
	Empty    string
	NoCodes  string // where the first cost code is typed, while there is none
}

type gridPlainRow struct{ Kind, Code, Activity, Centre, Currency, Amount string }

// showNames are the ways to see a project's money in words.
var showNames = map[string]string{"estimate": "Actual and forecast", "budget": "Budget", "actual": "Actual by supplier",
	"commitment": "Commitments", "all": "All kinds"}

func (s *pages) sheetOf(c fiber.Ctx) (*page.Request, *measure.Project, *appmoney.Sheet, error) {
	r, p, err := s.OfProject(c)
	if err != nil {
		return nil, nil, nil, err
	}
	m, err := s.Office.Money.Sheet(c.Context(), r.Figures, p.Code, r.Asked.Get("rows"))
	return r, p, m, err
}

func (s *pages) projectMoney(c fiber.Ctx) error {
	r, p, m, err := s.sheetOf(c)
	if err != nil {
		return err
	}
	path := page.ProjectPath(p.Code) + "/money"
	v := gridView{Page: r.Page("Money of "+p.Code, "Money"), Code: p.Code, Show: m.Show, May: m.May, Save: path,
		Data: r.Here("trace", "", "at", "", "code", "", "milestone", "")}
	v.Data = strings.Replace(v.Data, path, path+"/data.json", 1)
	if err := r.ProjectTrace(&v.Page, p.Code); err != nil {
		return err
	}
	r.Of(&v.Page, p, page.MoneyTab)
	v.Others = []page.Link{{Text: "Curve", Href: r.To("/money", "scope", p.Code)}, {Text: "By activity", Href: r.To(path + "/activities")},
		{Text: "Versions and bridge", Href: r.To(path + "/versions")},
		{Text: "Changes", Href: r.To("/money/changes", "scope", p.Code)},
		{Text: "Funding", Href: r.To("/money/funding", "scope", p.Code, "status", "all")}}
	for _, x := range appmoney.Shows() {
		v.Shows = append(v.Shows, page.Tab{Link: page.Link{Text: showNames[x], Href: r.Here("rows", x, "trace", "", "at", "")},
			Current: x == m.Show})
	}
	v.Currency = r.Currencies()
	for _, name := range []string{"money.xlsx", "money.csv", "money.json"} {
		v.Files = append(v.Files, page.Link{Text: strings.ToUpper(name[strings.Index(name, ".")+1:]),
			Href: strings.Replace(v.Data, "/data.json", "/download/"+name, 1)})
	}
	if m.Partial {
		v.Note = fmt.Sprintf("%s is under way: it stands here as planned, and its postings so far count in the figures but not in "+
			"this grid.", r.AsOf.Month().Name())
	}
	v.Headline = gridHeadline(r, p)
	if says := labourSays(p); says != "" {
		v.Note = strings.TrimSpace(v.Note + " " + says)
	}
	v.plain(r, m)
	for _, k := range r.Figures.Masters.CostCodes {
		if !k.Closed {
			v.Codes = append(v.Codes, page.Option{Value: k.Code, Text: k.Code + " " + k.Name, Selected: false})
		}
	}
	for i := range p.Activities {
		v.Work = append(v.Work, page.Option{Value: p.Activities[i].Code, Text: p.Activities[i].Name})
	}
	return r.Answer("project-money", &v.Page, &v)
}

// labourSays tells what the cost of labour is known from, where that is not the ledger.
func labourSays(p *measure.Project) string {
	aside := ""
	if n := p.Account.Labour.Aside; n > 0 {
		aside = "; " + write.Count(n, "posting on codes of labour is", "postings on codes of labour are") + " not counted"
	}
	switch p.Labour {
	case cost.Timesheets:
		return "Its cost of labour is hours at hourly rates" + aside + "."
	case cost.AsPlanned:
		return "Its cost of labour is what was planned for the months that have passed" + aside + "."
	}
	return ""
}

func gridHeadline(r *page.Request, p *measure.Project) []page.Spoken {
	trace := func(key measure.Key, text string) page.Spoken {
		f := r.ShortFigure(p, key)
		return page.Spoken{Text: cmp.Or(text, f.Text), Href: r.Here("trace", key.String(), "at", "", "code", ""), Trace: key}
	}
	vac := p.Value(measure.VAC)
	list := []page.Spoken{{Text: p.Name + ": "}, trace(measure.AC, ""), {Text: " spent"}}
	if !vac.Known {
		return append(list, page.Spoken{Text: " of "}, trace(measure.BAC, ""), page.Spoken{Text: "; there is no estimate, since " +
			vac.Reason +
			"."})
	}
	list = append(list, page.Spoken{Text: ", "}, trace(measure.ForecastToGo, ""), page.Spoken{Text: " to go; the estimate of "},
		trace(measure.EAC, ""),
		page.Spoken{Text: " is "})
	word := " under budget"
	if vac.N < 0 {
		word = " over budget"
	}
	return append(list, trace(measure.VAC, max(vac.Amount(), -vac.Amount()).Short(r.Figures.Env.Currency)+word), page.Spoken{Text: "."})
}

// plain lists the rows with their totals, for readers without scripts.
func (v *gridView) plain(r *page.Request, m *appmoney.Sheet) {
	for i := range m.Rows {
		row := &m.Rows[i]
		x := gridPlainRow{row.Kind.String(), r.Figures.CodeName(row.Code), row.Activity, row.Centre, string(row.Currency),
			m.RowTotal(row).Human(m.Currency)}
		if row.Problem != nil {
			x.Amount = "– " + row.Problem.Error()
		}
		v.Rows = append(v.Rows, x)
	}
	v.Total = m.Total().Human(m.Currency)
	v.Months = fmt.Sprintf("%s to %s", m.First.Name(), (m.First + calendar.Month(m.Months) - 1).Name())
	if len(r.Figures.Masters.CostCodes) == 0 {
		v.NoCodes = r.To(page.EditPath(record.CostCodes, ""))
	}
	if len(m.Rows) == 0 {
		v.Empty = map[string]string{"estimate": "Nothing was spent or forecast yet. Add the first line below.",
			"budget":     "There is no budget yet. Add the first line below.",
			"actual":     "Nothing was posted up to this day.",
			"commitment": "No open order was sent. They come with the file commitments."}[m.Show]
	}
}

// gridJSON is a project's money as the grid of the page works on it. Amounts are whole minor units.
type gridJSON struct {
	Kind     string                 `json:"kind"`
	Show     string                 `json:"show"`
	May      bool                   `json:"may"`
	First    string                 `json:"first"`
	Months   int                    `json:"months"`
	Locked   int                    `json:"locked"` // months that have ended
	Currency string                 `json:"currency"`
	Own      string                 `json:"own"` // the project's
	Decimals map[string]int         `json:"decimals"`
	Rates    map[string][][2]string `json:"rates"` // plan rates by month, as fractions of whole minor units; empty where there is none
	Codes    []codeJSON             `json:"codes"`
	Work     []workJSON             `json:"work"` // what the plan holds, and what amounts name beside it
	Rows     []gridRowJSON          `json:"rows"`
	Most     int64                  `json:"most"`
}

type codeJSON struct {
	Code   string   `json:"code"`
	Name   string   `json:"name"`
	Class  string   `json:"class"`
	Path   []string `json:"path"` // codes from the top down to it
	Closed bool     `json:"closed"`
}

type workJSON struct {
	Code  string `json:"code"`
	Name  string `json:"name"`
	Phase string `json:"phase"` // the topmost of the plan that it lies in
}

type gridRowJSON struct {
	Kind     string         `json:"kind"`
	Code     string         `json:"code"`
	Centre   string         `json:"centre"`
	Currency string         `json:"currency"`
	Change   string         `json:"change"`
	Supplier string         `json:"supplier"`
	Note     string         `json:"note"`
	Activity string         `json:"activity"`
	Spread   bool           `json:"spread"`
	Edit     bool           `json:"edit"`
	Own      []money.Amount `json:"own"`
	Amounts  []money.Amount `json:"amounts"`
	Actual   []money.Amount `json:"actual,omitempty"`
	ActualIn []money.Amount `json:"actualIn,omitempty"`
	Problem  string         `json:"problem,omitempty"`
}

func (s *pages) projectMoneyData(c fiber.Ctx) error {
	r, p, m, err := s.sheetOf(c)
	if err != nil {
		return err
	}
	out := gridJSON{Kind: string(m.Kind), Show: m.Show, May: m.May, First: m.First.String(), Months: m.Months,
		Locked:   min(max(0, int(m.Locked-m.First)+1), m.Months),
		Currency: string(m.Currency), Own: cmp.Or(string(p.Currency), string(m.Currency)), Decimals: map[string]int{},
		Rates: map[string][][2]string{}, Rows: []gridRowJSON{}, Codes: []codeJSON{}, Most: int64(money.MaxAmount)}
	if m.Show == "budget" {
		out.Locked = 0
	}
	out.codes(r.Figures)
	out.work(p)
	for _, cur := range append(r.Figures.Rates.Known(), p.Currency) {
		out.rate(m, cur)
	}
	codes := map[int32]string{}
	for _, k := range r.Figures.Masters.CostCodes {
		codes[int32(k.ID)] = k.Code
	}
	for i := range m.Rows {
		x := &m.Rows[i]
		out.rate(m, x.Currency)
		row := gridRowJSON{Kind: x.Kind.String(), Code: codes[x.Code], Centre: x.Centre, Currency: string(x.Currency), Change: x.Change,
			Supplier: x.Supplier, Note: x.Note, Activity: x.Activity,
			Spread: x.Spread, Edit: m.May && x.Editable, Own: x.Own, Amounts: x.Amounts, Actual: x.Actual, ActualIn: x.ActualAmounts}
		if x.Problem != nil {
			row.Problem = x.Problem.Error()
		}
		out.Rows = append(out.Rows, row)
	}
	return page.SendJSON(r, out)
}

func (out *gridJSON) codes(a *assess.Assessment) {
	parent := map[string]string{}
	for _, k := range a.Masters.CostCodes {
		parent[k.Code] = k.Parent
	}
	for _, k := range a.Masters.CostCodes {
		x := codeJSON{Code: k.Code, Name: k.Name, Class: a.Classes.Class(int32(k.ID)).String(), Closed: k.Closed}
		for at := k.Code; at != "" && len(x.Path) < 50; at = parent[at] {
			x.Path = append(x.Path, at)
		}
		slices.Reverse(x.Path)
		out.Codes = append(out.Codes, x)
	}
}

// work names the activities of the plan with the phases they lie in.
func (out *gridJSON) work(p *measure.Project) {
	parent := map[string]string{}
	for i := range p.Activities {
		parent[p.Activities[i].Code] = p.Activities[i].Parent
	}
	out.Work = make([]workJSON, len(p.Activities))
	for i := range p.Activities {
		a := &p.Activities[i]
		top := a.Code
		for range 50 {
			up := parent[top]
			if _, known := parent[up]; up == "" || !known {
				break
			}
			top = up
		}
		out.Work[i] = workJSON{Code: a.Code, Name: a.Name, Phase: top}
	}
}

// rate tells the plan rate of each month, so that totals can follow what is typed.
func (out *gridJSON) rate(m *appmoney.Sheet, c money.Currency) {
	if _, known := out.Rates[string(c)]; known || c == "" {
		return
	}
	out.Decimals[string(c)] = c.Decimals()
	list := make([][2]string, m.Months)
	for i := range list {
		if row, err := m.Rates.Find(c, m.First+calendar.Month(i), true); err == nil {
			num, den := row.Rate.Fraction(c, m.Currency)
			list[i] = [2]string{num, den}
		}
	}
	out.Rates[string(c)] = list
}

// spread says what of an amount falls into each month.
func (s *pages) spread(c fiber.Ctx) error {
	r, _, err := s.OfProject(c)
	if err != nil {
		return err
	}
	wrong := func(name, expected string) error {
		return fiber.NewError(fiber.StatusUnprocessableEntity, fmt.Sprintf("%s “%s”: expected %s.", name, fault.Clip(r.Asked.Get(name),
			40),
			expected))
	}
	cur, err := money.ParseCurrency(r.Asked.Get("of"))
	if err != nil {
		return wrong("of", "a currency")
	}
	amount, err := money.Parse(r.Asked.Get("amount"), cur)
	if err != nil {
		return wrong("amount", "an amount such as 1234.50")
	}
	var days [2]calendar.Date
	for i, name := range []string{"from", "to"} {
		if days[i], err = calendar.ParseDate(r.Asked.Get(name)); err != nil {
			return wrong(name, "a day as YYYY-MM-DD")
		}
	}
	first, parts, err := appmoney.SpreadOver(r.Figures, amount, days[0], days[1], cost.ParseProfile(r.Asked.Get("profile")))
	if err != nil {
		return err
	}
	return page.SendJSON(r, fiber.Map{"first": first.String(), "parts": parts})
}

type moneySaveRequest struct {
	Kind   record.Kind     `json:"kind"`
	Reason string          `json:"reason"`
	Cells  []appmoney.Cell `json:"cells"`
}

func (s *pages) saveMoney(c fiber.Ctx) error {
	code, err := page.Decoded(c, "code")
	if err != nil {
		return err
	}
	var asked moneySaveRequest
	if err := json.Unmarshal(c.Body(), &asked); err != nil {
		return fiber.NewError(fiber.StatusBadRequest, "The changes cannot be read.")
	}
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	if _, err := r.Figures.Project(code); err != nil {
		return err
	}
	if _, err = s.Office.Money.Save(c.Context(), code, asked.Kind, asked.Cells, asked.Reason); err != nil {
		return moneyProblem(c, err)
	}
	page.Tell(c, "Saved as a revision"+r.InPeriod()+". What stood before is under Versions and bridge.")
	return page.SendJSON(r, fiber.Map{"saved": true})
}

// moneyProblem answers which cells cannot be taken, so that the grid can mark them.
func moneyProblem(c fiber.Ctx, err error) error {
	var edit *edit.Error
	if !errors.As(err, &edit) {
		return plan.Problem(c, err)
	}
	type cell struct {
		Index  int    `json:"index"`
		Says   string `json:"says"`
		Theirs string `json:"theirs,omitempty"`
		Clash  bool   `json:"clash"`
	}
	list := []cell{}
	for _, k := range edit.Clashes {
		list = append(list, cell{k.Index, fmt.Sprintf("somebody else made it “%s” meanwhile", k.Theirs), k.Theirs, true})
	}
	for _, p := range edit.Problems {
		list = append(list, cell{int(p.Row), fmt.Sprintf("%s “%s”: expected %s", p.Column, fault.Clip(p.Value, 60), p.Expected), "",
			false})
	}
	c.Status(fiber.StatusUnprocessableEntity)
	if len(edit.Clashes) > 0 {
		c.Status(fiber.StatusConflict)
	}
	return c.JSON(fiber.Map{"error": page.EditText(edit), "cells": list})
}

func (s *pages) projectMoneyFile(c fiber.Ctx) error {
	r, p, m, err := s.sheetOf(c)
	if err != nil {
		return err
	}
	name := strings.Clone(c.Params("file"))
	if page.FileKinds[name] == "" {
		return fiber.NewError(fiber.StatusNotFound, "There is no such file; expected money.csv, money.xlsx or money.json.")
	}
	as := strings.Map(func(c rune) rune {
		if c == '/' || c == '"' || c == '\\' || c < ' ' || c > '~' {
			return '-'
		}
		return c
	}, p.Code) + "-" + name
	return r.Deliver(as, page.FileKinds[name], func(w page.FiberWriter) error { return s.Reports.Sheet(w, name, r.Figures, m) })
}

type moneyVersionsView struct {
	Page     page.Page
	Headline []page.Spoken
	Others   []page.Link
	Kinds    []page.Tab
	Pair     []page.Picker
	Keep     []page.Pair
	Chart    template.HTML
	Moved    string
	Steps    []BridgeRow
	Rows     []differenceRow
	Shown    string
	Problem  string
	Names    []plan.BaselineRow
	Kind     string
	Action   string
	May      bool
	Empty    string
	Typed    string
	Refused  string
}

// BridgeRow is a step from one sum to another.
type BridgeRow struct{ Name, Amount, Says, Tone string }

type differenceRow struct{ Code, Centre, Currency, Change, Month, Was, Is, By, What, Tone string }

func (s *pages) moneyVersions(c fiber.Ctx) error { return s.showMoneyVersions(c, nil, "") }

func (s *pages) showMoneyVersions(c fiber.Ctx, problem error, typed string) error {
	r, p, err := s.OfProject(c)
	if err != nil {
		return err
	}
	kind := record.Kind(cmp.Or(r.Asked.Get("kind"), string(record.Forecast)))
	if kind != record.Forecast && kind != record.Budget {
		return fiber.NewError(fiber.StatusNotFound, "There are versions of budget and forecast.")
	}
	cmp, err := s.Office.Money.Compare(c.Context(), r.Figures, kind, p.Code, r.Asked.Get("was"), r.Asked.Get("is"))
	if err != nil {
		return err
	}
	path := page.ProjectPath(p.Code) + "/money"
	v := moneyVersionsView{Page: r.Page("Versions of the money of "+p.Code, "Money"), Kind: string(kind), Action: r.To(path + "/name"),
		Typed:  typed,
		Others: []page.Link{{Text: "Money", Href: r.To(path)}}, Problem: cmp.Problem}
	r.Of(&v.Page, p, page.MoneyTab)
	for _, x := range [][2]string{{"forecast", "Forecast"}, {"budget", "Budget"}} {
		v.Kinds = append(v.Kinds, page.Tab{Link: page.Link{Text: x[1], Href: r.Here("kind", x[0], "was", "", "is", "")},
			Current: x[0] == string(kind)})
	}
	kinds, err := s.Office.Edit.Editable(c.Context(), p.Code)
	if err != nil {
		return err
	}
	v.May = slices.Contains(kinds, kind)
	if problem != nil {
		v.Refused = page.Sentence(problem.Error())
		c.Status(fiber.StatusUnprocessableEntity)
	}
	v.fill(r, p, cmp)
	return r.Answer("money-versions", &v.Page, &v)
}

func (v *moneyVersionsView) fill(r *page.Request, p *measure.Project, c *appmoney.Comparison) {
	if len(c.Versions) == 0 {
		v.Empty = "No " + write.Within(c.Kind.Title()) + " of this project has been loaded yet, so there is nothing to compare."
		v.Headline = []page.Spoken{{Text: p.Name + " has none yet."}}
		return
	}
	for _, x := range []struct {
		label, name string
		is          appmoney.Version
	}{{"From", "was", c.Was}, {"to", "is", c.Is}} {
		pick := page.Picker{Label: x.label, Name: x.name}
		for _, o := range c.Versions {
			pick.Options = append(pick.Options, page.Option{Value: o.Key, Text: o.Text, Selected: o.Key == x.is.Key})
		}
		v.Pair = append(v.Pair, pick)
	}
	for _, name := range []string{"kind", "asof", "currency"} {
		if x := r.Asked.Get(name); x != "" {
			v.Keep = append(v.Keep, page.Pair{Name: name, Value: x})
		}
	}
	for _, o := range c.Versions {
		if o.Name != "" {
			v.Names = append(v.Names, plan.BaselineRow{Name: o.Name, Reason: o.Note, Who: o.Author, At: say.Day(o.ReceivedAt),
				Href: r.Here("was", o.Key, "is", "")})
		}
	}
	v.differences(r, c)
	if c.Bridge != nil {
		v.bridge(r, c)
	}
}

// mostDifferences is how many differing months a comparison lists.
const mostDifferences = 400

func (v *moneyVersionsView) differences(r *page.Request, c *appmoney.Comparison) {
	cur := r.Figures.Env.Currency
	for i := range c.Changes[:min(len(c.Changes), mostDifferences)] {
		d := &c.Changes[i]
		what := "changed"
		switch {
		case d.Added:
			what = "new line"
		case d.Taken:
			what = "line gone"
		}
		code := r.Figures.CodeName(d.Code)
		if d.Activity != "" {
			code += ", for " + d.Activity
		}
		v.Rows = append(v.Rows, differenceRow{Code: code, Centre: d.Centre, Currency: string(d.Currency),
			Change: d.Change, Month: d.Month.Name(),
			Was: d.Old.Human(d.Currency), Is: d.New.Human(d.Currency), By: d.By.Human(cur), What: what,
			Tone: map[bool]string{true: "tone-watch"}[d.By > 0]})
	}
	if len(c.Changes) > mostDifferences {
		v.Shown = fmt.Sprintf("The first %d of %d differing months are listed.", mostDifferences, len(c.Changes))
	}
	v.Headline = []page.Spoken{{Text: fmt.Sprintf("%s differ, %s in all: %d new, %d gone.", write.Count(len(c.Changes), "month of a line",
		"months of lines"),
		c.By.Gain(cur), c.Added, c.Taken)}}
}

func (v *moneyVersionsView) bridge(r *page.Request, c *appmoney.Comparison) {
	b, cur := c.Bridge, r.Figures.Env.Currency
	steps := []chart.BridgeStep{{Name: c.WasAsOf.Human(), Title: "Estimate as of " + c.WasAsOf.Human() + ": " + b.From.Human(cur),
		Amount: b.From, Whole: true}}
	for _, x := range []struct {
		name, says string
		a          money.Amount
	}{{"Actuals", "what the months between came to, against what was forecast for them, at plan rates", b.Actuals},
		{"New lines", "lines that the forecast did not have", b.Added},
		{"Lines gone", "lines that the forecast has no longer", b.Taken}, {"Amounts", "lines of which more or less is expected",
			b.Amounts},
		{"Exchange rates", "rates of the postings against the plan rates", b.Rate}} {
		steps = append(steps, chart.BridgeStep{Name: x.name, Title: x.name + ": " + x.a.Human(cur) + ", " + x.says, Amount: x.a})
		tone := ""
		if x.a > 0 {
			tone = "tone-watch"
		}
		v.Steps = append(v.Steps, BridgeRow{x.name, x.a.Human(cur), x.says, tone})
	}
	v.Steps = append(v.Steps, BridgeRow{"Timing", money.Amount(0).Human(cur), "moved to later months, changing nothing in all: " +
		b.Moved.Human(cur), ""})
	steps = append(steps, chart.BridgeStep{Name: c.IsAsOf.Human(), Title: "Estimate as of " + c.IsAsOf.Human() + ": " + b.To.Human(cur),
		Amount: b.To, Whole: true})
	v.Chart = template.HTML(chart.Bridge(steps, cur, page.StripWidth, 260).SVG()) // the scene escapes texts
	v.Headline = []page.Spoken{{Text: fmt.Sprintf("The estimate went from %s to %s, %s.", b.From.Short(cur), b.To.Short(cur),
		(b.To - b.From).Gain(cur))}}
}

func (s *pages) nameMoney(c fiber.Ctx) error {
	r, p, err := s.OfProject(c)
	if err != nil {
		return err
	}
	kind, name := record.Kind(strings.Clone(c.FormValue("kind"))), strings.Clone(c.FormValue("name"))
	err = s.Office.Money.Name(c.Context(), r.Figures, kind, p.Code, name)
	return page.AnsweredWith(c, err, "The version is named “"+name+"”.", page.ProjectPath(p.Code)+"/money/versions?kind="+string(kind),
		func(refused error) error { return s.showMoneyVersions(c, refused, name) })
}
