// Package condition compiles conditions over projects and their records, and runs them within bounds of work.
package condition

import (
	"errors"
	"fmt"
	"math"
	"reflect"
	"slices"
	"strings"

	"github.com/expr-lang/expr"
	"github.com/expr-lang/expr/ast"
	"github.com/expr-lang/expr/builtin"
	"github.com/expr-lang/expr/file"
	"github.com/expr-lang/expr/vm"

	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/risk"
	"turret/internal/core/schedule"
	"turret/internal/record"
)

// Bounds of an expression.
const (
	maxExpression = 2000
	maxNodes      = 300
)

// Expression is a condition over the catalogue's names and a record's fields, compiled once. A name without a value makes every
// comparison with it false.
type Expression struct {
	Text    string
	on      string
	program *vm.Program
	names   []string // of projects, that it uses
	own     []string // fields of the office's own that it uses, by their codes
	nodes   int      // its parts
	reads   int      // how often the bytes of texts are read, at most
}

// Name is a name that expressions may use.
type Name struct{ Name, Says string }

// Records lists what an expression can be about: the project, or its records one by one.
func Records() []string { return []string{"project", "activity", "risk", "issue", "action"} }

// Frame is what a condition may ask beyond a project itself.
type Frame interface {
	// Programme is the programme a project belongs to, nil for none.
	Programme(p *measure.Project) *kept.Node
	Environment() *measure.Env
	// OwnField is the field of the office's own that a column such as own.county is of.
	OwnField(name string) (record.Column, bool)
}

// facts are names of a project besides the catalogue's.
var projectNames = []struct {
	Name
	text func(Frame, *measure.Project) string
	is   func(*measure.Project) bool
}{
	{Name: Name{"code", "code of the project"}, text: func(_ Frame, p *measure.Project) string { return p.Code }},
	{Name: Name{"name", "name of the project"}, text: func(_ Frame, p *measure.Project) string { return p.Name }},
	{Name: Name{"programme", "code of the programme it belongs to"}, text: func(a Frame, p *measure.Project) string {
		if n := a.Programme(p); n != nil {
			return n.Code
		}
		return ""
	}},
	{Name: Name{"lead", "who leads it"}, text: func(_ Frame, p *measure.Project) string { return p.Lead }},
	{Name: Name{"sponsor", "who wants it"}, text: func(_ Frame, p *measure.Project) string { return p.Sponsor }},
	{Name: Name{"category", "its category"}, text: func(_ Frame, p *measure.Project) string { return p.Category }},
	{Name: Name{"stage", "its stage"}, text: func(_ Frame, p *measure.Project) string { return p.Stage }},
	{Name: Name{"business_unit", "its business unit"}, text: func(_ Frame, p *measure.Project) string { return p.BusinessUnit }},
	{Name: Name{"status", "open, proposed, closed or cancelled"}, text: func(_ Frame,
		p *measure.Project) string {
		return p.Status.String()
	}},
	{Name: Name{"commentary", "what the lead wrote"}, text: func(_ Frame, p *measure.Project) string {
		if p.Declared == nil {
			return ""
		}
		return p.Declared.Commentary
	}},
	{Name: Name{"driven", "whether its dates are the network's"}, is: func(p *measure.Project) bool { return p.Driven }},
	{Name: Name{"earned_value", "whether earned value is on"}, is: func(p *measure.Project) bool { return p.EarnedValue }},
}

// activityFields are what an expression sees of an activity.
type activityFields struct {
	Code           string  `expr:"code"`
	Name           string  `expr:"name"`
	Kind           string  `expr:"kind"`
	Owner          string  `expr:"owner"`
	Party          string  `expr:"party"`
	Level          string  `expr:"report_to"`
	BaselineStart  string  `expr:"baseline_start"`
	BaselineFinish string  `expr:"baseline_finish"`
	Start          string  `expr:"start"`
	Finish         string  `expr:"finish"`
	ActualStart    string  `expr:"actual_start"`
	ActualFinish   string  `expr:"actual_finish"`
	Percent        float64 `expr:"percent_complete"`
	Duration       float64 `expr:"duration"`
	Remaining      float64 `expr:"remaining"`
	Float          float64 `expr:"total_float"`
	Critical       bool    `expr:"critical"`
	Done           bool    `expr:"done"`
}

type riskFields struct {
	Code        string  `expr:"code"`
	Title       string  `expr:"title"`
	Category    string  `expr:"category"`
	Owner       string  `expr:"owner"`
	Kind        string  `expr:"response_kind"`
	Response    string  `expr:"response"`
	Raised      string  `expr:"raised"`
	State       string  `expr:"state"`
	Review      string  `expr:"review"`
	Due         string  `expr:"due"`
	Likelihood  float64 `expr:"likelihood"`
	Consequence float64 `expr:"consequence"`
	Probability float64 `expr:"probability"`
	CostImpact  float64 `expr:"cost_impact"`
	DaysImpact  float64 `expr:"days_impact"`
	Open        bool    `expr:"open"`
}

type issueFields struct {
	Code     string `expr:"code"`
	Title    string `expr:"title"`
	Priority string `expr:"priority"`
	Owner    string `expr:"owner"`
	State    string `expr:"state"`
	Due      string `expr:"due"`
	Open     bool   `expr:"open"`
}

type actionFields struct {
	Code    string  `expr:"code"`
	Title   string  `expr:"title"`
	Owner   string  `expr:"owner"`
	State   string  `expr:"state"`
	Source  string  `expr:"source"`
	Due     string  `expr:"due"`
	Percent float64 `expr:"percent_complete"`
	Open    bool    `expr:"open"`
}

var recordFields = map[string]any{"activity": activityFields{}, "risk": riskFields{}, "issue": issueFields{}, "action": actionFields{}}

// Names lists what an expression about a kind of record may use, in the order of their names.
func Names(on string) []Name {
	var list []Name
	for _, d := range measure.All() {
		list = append(list, Name{d.Key.String(), d.Name})
	}
	for _, n := range projectNames {
		list = append(list, n.Name)
	}
	if fields, ok := recordFields[on]; ok {
		t := reflect.TypeOf(fields)
		for i := range t.NumField() {
			list = append(list, Name{on + "." + t.Field(i).Tag.Get("expr"), "of the " + on})
		}
	}
	slices.SortFunc(list, func(x, y Name) int { return strings.Compare(x.Name, y.Name) })
	return list
}

func typesOf(on string) map[string]any {
	env := map[string]any{}
	for _, d := range measure.All() {
		env[d.Key.String()] = 0.0
		if d.Unit.Worded() {
			env[d.Key.String()] = ""
		}
	}
	for _, n := range projectNames {
		env[n.Name.Name] = ""
		if n.is != nil {
			env[n.Name.Name] = false
		}
	}
	if fields, ok := recordFields[on]; ok {
		env[on] = fields
	}
	env[own] = map[string]any{}
	return env
}

// helpful are the functions that expressions may call.
var helpful = []string{"abs", "ceil", "floor", "round", "max", "min", "lower", "upper", "trim", "len"}

// Compile reads a condition about a kind of record, "project" for the project itself. What it does not understand is a FieldError that
// names the place.
func Compile(text, on string) (*Expression, error) {
	text = strings.TrimSpace(text)
	wrong := func(expected string) error {
		return &fault.FieldError{Field: "expression", Value: text, Expected: expected}
	}
	switch {
	case text == "":
		return nil, wrong("a condition such as cpi < 0.9")
	case len(text) > maxExpression:
		return nil, wrong(fmt.Sprintf("at most %d characters", maxExpression))
	case !slices.Contains(Records(), on):
		return nil, &fault.FieldError{Field: "record", Value: on, Expected: strings.Join(Records(), ", ")}
	}
	if largePattern(text) {
		return nil, wrong(fmt.Sprintf("a condition whose patterns have at most %d steps each", maxPattern))
	}
	options := []expr.Option{expr.Env(typesOf(on)), expr.AsBool(), expr.MaxNodes(maxNodes), expr.DisableAllBuiltins(),
		expr.Optimize(false)}
	for _, f := range builtin.Builtins {
		if slices.Contains(helpful, f.Name) {
			options = append(options, expr.EnableBuiltin(f.Name))
		}
	}
	x := &Expression{Text: text, on: on}
	program, err := expr.Compile(text, options...)
	if err != nil {
		return nil, wrong(understood(err, on))
	}
	node := program.Node()
	v := &visitor{x: x, lists: map[ast.Node]bool{}, fields: map[ast.Node]bool{}}
	v.walk(node)
	if v.refused != "" {
		return nil, wrong("a condition about one record, of names, numbers, texts and comparisons; it cannot have " + v.refused)
	}
	x.program = program
	return x, nil
}

// visitor notes the names that an expression uses.
type visitor struct {
	x       *Expression
	lists   map[ast.Node]bool // that stand after in
	fields  map[ast.Node]bool // names of own that stand before a field of it
	refused string            // what it must not have
}

// walk visits a condition twice: first for what may hold lists, since parts are visited before what they are part of.
func (v *visitor) walk(node ast.Node) {
	ast.Walk(&node, listed{v})
	ast.Walk(&node, v)
}

// listed notes the lists that stand after in, and the fields of the office's own.
type listed struct{ *visitor }

// Visit implements ast.Visitor.
func (v listed) Visit(node *ast.Node) {
	if n, ok := (*node).(*ast.BinaryNode); ok && n.Operator == "in" {
		v.lists[n.Right] = true
	}
	v.field(*node)
}

// Visit implements ast.Visitor.
func (v *visitor) Visit(node *ast.Node) {
	v.weigh(*node)
	if n, ok := (*node).(*ast.BuiltinNode); ok && !slices.Contains(helpful, n.Name) {
		v.refuse(n.Name)
	}
	if id, ok := (*node).(*ast.IdentifierNode); ok && id.Value == own && !v.fields[*node] {
		v.refuse("own without a field, as in own.county,")
	}
	if id, ok := (*node).(*ast.IdentifierNode); ok && recordFields[id.Value] == nil && !slices.Contains(v.x.names, id.Value) {
		v.x.names = append(v.x.names, id.Value)
	}
}

// Measures are the keys of the catalogue that the expression uses, in the order in which they stand in it.
func (x *Expression) Measures() (keys []measure.Key) {
	for _, name := range x.names {
		if key := measure.KeyOf(name); key != measure.None {
			keys = append(keys, key)
		}
	}
	return keys
}

// TellsCosts reports whether the expression uses a figure of costs, so that what it finds tells of them.
func (x *Expression) TellsCosts() bool {
	return x.on == "risk" || slices.ContainsFunc(x.names, func(name string) bool {
		d, ok := measure.Lookup(name)
		return ok && d.IsCost()
	})
}

// understood says what is wrong with an expression, and where.
func understood(err error, on string) string {
	var e *file.Error
	if !errors.As(err, &e) {
		return "a condition that can be understood; " + fault.Clip(err.Error(), 200)
	}
	what := e.Message
	if _, field, ok := strings.Cut(what, " has no field "); ok {
		name := on + "." + field
		what = "there is no " + name
		if near := nearest(name, on); near != "" {
			what += "; did you mean " + near
		}
	}
	if name, ok := strings.CutPrefix(what, "unknown name "); ok {
		what = "there is no " + name
		if near := nearest(name, on); near != "" {
			what += "; did you mean " + near
		}
	}
	return fmt.Sprintf("a condition that can be understood; at character %d: %s", e.Column+1, fault.Clip(what, 200))
}

// nearest is the name that differs least from one that is not there; empty where none is close.
func nearest(name, on string) string {
	best, least := "", 1+len(name)/3
	for _, n := range Names(on) {
		if d := distance(name, n.Name, least); d <= least && (best == "" || d < least) {
			best, least = n.Name, d
		}
	}
	return best
}

// distance is how many letters differ between two words, at most one more than most.
func distance(a, b string, most int) int {
	if d := len(a) - len(b); d > most || -d > most {
		return most + 1
	}
	row := make([]int, len(b)+1)
	for j := range row {
		row[j] = j
	}
	for i := range len(a) {
		before := row[0]
		row[0] = i + 1
		for j := range len(b) {
			cost := 1
			if a[i] == b[j] {
				cost = 0
			}
			before, row[j+1] = row[j+1], min(row[j+1]+1, row[j]+1, before+cost)
		}
	}
	return row[len(b)]
}

// given is what names stand for.
type given map[string]any

// values are what the names that the expression uses stand for in a project; false where a date that it uses is not known.
func (x *Expression) values(a Frame, p *measure.Project) (given, bool) {
	env := given{}
	for _, name := range x.names {
		if name == own {
			fields, ok := x.ownValues(a, p)
			if !ok {
				return nil, false
			}
			env[own] = fields
			continue
		}
		d, ok := measure.Lookup(name)
		if !ok {
			for _, n := range projectNames {
				if n.Name.Name == name && n.is != nil {
					env[name] = n.is(p)
				} else if n.Name.Name == name {
					env[name] = n.text(a, p)
				}
			}
			continue
		}
		v := p.Value(d.Key)
		if (d.Unit == measure.Day || d.Unit == measure.Month) && !v.Known {
			return nil, false
		}
		env[name] = number(d, v, a.Environment().Currency)
	}
	return env, true
}

// number is a figure as expressions see it: amounts in major units, shares as fractions, dates and statuses as text.
func number(d *measure.Definition, v measure.Value, c money.Currency) any {
	switch d.Unit {
	case measure.Health:
		if !v.Known {
			return "not assessed"
		}
		return v.Status().String()
	case measure.Day, measure.Month:
		return v.Text(d.Unit, c)
	}
	if !v.Known {
		return math.NaN()
	}
	switch d.Unit {
	case measure.Money:
		return float64(v.N) / math.Pow10(c.Decimals())
	case measure.Share, measure.Index, measure.Score:
		return v.Ratio
	case measure.Hours, measure.Points, measure.ExpectedDays:
		return float64(v.N) / 10_000
	}
	return float64(v.N)
}

// Holds reports whether the condition is true of a project.
func (x *Expression) Holds(a Frame, p *measure.Project, w *Work) (bool, error) {
	env, ok := x.values(a, p)
	if !ok {
		return false, nil
	}
	if err := w.take(x.steps(env.bytes())); err != nil {
		return false, err
	}
	return x.run(env)
}

func (x *Expression) run(env map[string]any) (bool, error) {
	out, err := expr.Run(x.program, env)
	if err != nil {
		return false, &fault.FieldError{Field: "expression", Value: x.Text, Expected: "a condition that can be computed; " +
			fault.Clip(firstLine(err.Error()), 160)}
	}
	is, _ := out.(bool)
	return is, nil
}

func firstLine(s string) string {
	line, _, _ := strings.Cut(s, "\n")
	return line
}

func isoDay(d interface{ String() string }, given bool) string {
	if !given {
		return ""
	}
	return d.String()
}

func optional(n int64, given bool, per float64) float64 {
	if !given {
		return math.NaN()
	}
	return float64(n) / per
}

func fieldsOfActivity(a Frame, p *measure.Project, i int) activityFields {
	x := &p.Activities[i]
	f := activityFields{Code: x.Code, Name: x.Name, Owner: x.Owner, Party: x.Party, Kind: [...]string{"activity", "summary", "milestone",
		"deliverable"}[x.Kind],
		Level: [...]string{"project", "programme", "portfolio"}[x.Level], BaselineStart: isoDay(x.BaselineStart, x.BaselineStart != 0),
		BaselineFinish: isoDay(x.BaselineFinish, x.BaselineFinish != 0), Start: isoDay(x.Start, x.Start != 0),
		Finish:      isoDay(x.Finish, x.Finish != 0),
		ActualStart: isoDay(x.ActualStart, x.ActualStart != 0), ActualFinish: isoDay(x.ActualFinish, x.ActualFinish != 0),
		Percent: optional(x.Percent.N, x.Percent.Given, 100), Duration: optional(x.Duration.N, x.Duration.Given, 1),
		Remaining: optional(x.Remaining.N, x.Remaining.Given, 1), Float: math.NaN(), Done: x.Done(a.Environment().AsOf)}
	if i < len(p.Logic.Times) && x.Kind != schedule.Summary && p.Logic.Times[i].EarlyFinish != 0 && !p.Logic.Times[i].Finished {
		f.Float, f.Critical = float64(p.Logic.Times[i].TotalFloat), p.Logic.Times[i].Critical
	}
	return f
}

func fieldsOfRisk(x *risk.Risk, asOf calendar.Date) riskFields {
	f := riskFields{Code: x.Code, Title: x.Title, Category: x.Category, Owner: x.Owner, Kind: x.ResponseKind,
		Response: x.Response, Raised: isoDay(x.Raised, x.Raised != 0), State: string(x.State),
		Review: isoDay(x.Review, x.Review != 0), Due: isoDay(x.Due, x.Due != 0),
		Likelihood: optional(x.Likelihood.N, x.Likelihood.Given, 1), Consequence: optional(x.Consequence.N, x.Consequence.Given, 1),
		Probability: optional(x.Probability.N, x.Probability.Given, 100), CostImpact: math.NaN(),
		DaysImpact: optional(x.Days.N, x.Days.Given, 1), Open: x.Open(asOf)}
	if x.Costs {
		f.CostImpact = float64(x.Impact) / math.Pow10(x.Currency.Decimals())
	}
	return f
}
