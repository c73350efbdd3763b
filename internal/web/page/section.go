package page

import (
	"fmt"
	"html/template"
	"maps"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/plan"
	"turret/internal/app/trace"
	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/health"
	"turret/internal/core/measure"
)

// SectionFrame is what the pages of a section share.
type SectionFrame struct {
	Page     Page
	Tabs     []Tab
	Headline []Spoken
	Filters  []Picker
	Dates    []dateField
	Filtered bool
	Clear    string
	Keep     []Pair
	Files    []Link
}

// Tab is a page of a section.
type Tab struct {
	Link
	Current bool
}

type dateField struct{ Label, Name, Value string }

// TimelineKeys are the names of the filters in an address.
var TimelineKeys = []string{"group", "level", "state", "status", "lead", "owner", "ahead", "from", "to"}

// Choices is a choice among texts; all is the word for none of them, empty where one must be chosen.
func Choices(label, name, value string, list []string, all string) Picker {
	p := Picker{Label: label, Name: name}
	if all != "" {
		p.Options = append(p.Options, Option{"", all, value == ""})
	}
	for _, x := range list {
		p.Options = append(p.Options, Option{x, x, x == value})
	}
	return p
}

// TimelineFilters are the filters of a timeline as it was asked for.
func (v *SectionFrame) TimelineFilters(r *Request, t *plan.Timeline) {
	f, q := &t.Filter, r.Asked
	level := Choices("Milestones", "level", q.Get("level"), []string{"programme", "portfolio"}, "every level")
	for i := range level.Options[1:] {
		level.Options[i+1].Text = []string{"programme and up", "portfolio"}[i]
	}
	ahead := Choices("Ahead", "ahead", q.Get("ahead"), []string{"2", "4", "8", "13", "26"}, "any time")
	for i := range ahead.Options[1:] {
		ahead.Options[i+1].Text += " weeks"
	}
	v.Filters = []Picker{Choices("By", "group", f.Group, plan.TimelineGroups(), ""), level,
		Choices("State", "state", f.State, plan.MilestoneStates(), "any"), Choices("Lead", "lead", f.Lead, t.Leads, "all"),
		Choices("Owner", "owner", f.Owner, t.Owners, "all"), ahead,
		Choices("Projects", "status", f.Status, []string{"open", "proposed", "closed", "all"}, "")}
	if f.Ahead == 0 {
		v.Dates = []dateField{{"From", "from", q.Get("from")}, {"to", "to", q.Get("to")}}
	}
	var clear []string
	for _, k := range TimelineKeys {
		v.Filtered = v.Filtered || q.Get(k) != "" && k != "group"
		clear = append(clear, k, "")
	}
	v.Clear = r.Here(append(clear, "trace", "")...)
	for _, name := range []string{"scope", "asof", "view", "month", "by"} {
		if x := q.Get(name); x != "" {
			v.Keep = append(v.Keep, Pair{name, x})
		}
	}
}

// InlineTimeline is the name under which a timeline is drawn for a page.
const InlineTimeline = "inline"

// FiberWriter is where a file is written before it is sent, so that an error still finds its page.
type FiberWriter interface{ Write([]byte) (int, error) }

// Deliver writes a file and sends it to be kept; what goes wrong in writing is answered with a page.
func (r *Request) Deliver(name, kind string, write func(w FiberWriter) error) error {
	var b strings.Builder
	if err := write(&b); err != nil {
		return err
	}
	r.Set(fiber.HeaderContentType, kind)
	r.Set(fiber.HeaderContentDisposition, `attachment; filename="`+name+`"`)
	r.Set(fiber.HeaderCacheControl, "no-store")
	return r.SendString(b.String())
}

// Decoded reads a text from the path of an address.
func Decoded(c fiber.Ctx, name string) (string, error) {
	code, err := url.PathUnescape(c.Params(name))
	if err != nil {
		return "", fiber.ErrNotFound
	}
	return strings.Clone(code), nil
}

// Carry passes on what the filters of a form do not hold themselves.
func (v *SectionFrame) Carry(r *Request, own ...string) {
	for _, name := range []string{"scope", "asof", "currency"} {
		if x := r.Asked.Get(name); x != "" && !slices.Contains(own, name) {
			v.Keep = append(v.Keep, Pair{name, x})
		}
	}
}

// Differs reports whether a project belongs to what a filter shows.
func Differs(p *measure.Project, show string) bool {
	h := &p.Health
	steps := p.Value(measure.OpinionSteps)
	switch show {
	case "better":
		return steps.Known && steps.N > 0
	case "worse":
		return steps.Known && steps.N < 0
	case "set":
		return len(h.Overrides) > 0
	case "muted":
		return h.Wakes != 0
	case "moved":
		was, ok := FormerStatus(p)
		return ok && was != h.Overall
	case "act":
		return h.Overall == health.Act
	case "watch":
		return h.Overall == health.Watch
	}
	return true
}

// FormerStatus is the overall status when the last period was closed.
func FormerStatus(p *measure.Project) (health.Status, bool) {
	if len(p.Past) == 0 {
		return health.NotAssessed, false
	}
	v := p.Past[len(p.Past)-1].Value(measure.OverallHealth)
	return v.Status(), v.Known
}

// Nearest is the trigger that comes closest to its limit without being beyond it; nil where none has moved toward one.
func Nearest(p *measure.Project) *health.Trigger {
	var best *health.Trigger
	top := 0.0
	for i := range p.Health.Triggers {
		t := &p.Health.Triggers[i]
		if t.Level != health.OnTrack {
			continue
		}
		if x := t.Kind.Rule().Room(t.Value, health.Tolerance{Act: t.Limit.Watch}); x > top && x <= 1 {
			best, top = t, x
		}
	}
	return best
}

// Room draws how far a trigger is from its limits.
func Room(t health.Trigger) template.HTML {
	rule := t.Kind.Rule()
	// drawn from numbers alone
	return template.HTML(chart.Room(rule.Room(t.Value, t.Limit), rule.Room(t.Limit.Watch, t.Limit), t.Level).SVG())
}

// MonthsBack reads how many periods an address asks for.
func MonthsBack(r *Request, name string) int {
	for _, n := range []int{6, 12, 24, 36} {
		if r.Asked.Get(name) == strconv.Itoa(n) {
			return n
		}
	}
	return 12
}

// MoneyFilters offers the currency and the statuses, and keeps the rest of the address.
func (v *SectionFrame) MoneyFilters(r *Request, more ...Picker) {
	status := Picker{Label: "Projects", Name: "status"}
	for _, x := range [][2]string{{"", "open"}, {"closed", "closed"}, {"all", "all"}} {
		status.Options = append(status.Options, Option{x[0], x[1], x[0] == r.Asked.Get("status")})
	}
	v.Filters = append([]Picker{status, r.Currencies()}, more...)
	v.Keep = nil
	own := map[string]bool{"trace": true, "at": true, "of": true, "month": true}
	for _, p := range v.Filters {
		own[p.Name] = true
	}
	for _, name := range slices.Sorted(maps.Keys(r.Asked)) {
		if !own[name] {
			v.Keep = append(v.Keep, Pair{name, r.Asked.Get(name)})
		}
	}
}

// Currencies offers those that there are rates of.
func (r *Request) Currencies() Picker {
	p := Picker{Label: "in", Name: "currency"}
	for i, c := range r.Figures.Rates.Known() {
		value := string(c)
		if i == 0 {
			value = "" // the reporting one
		}
		p.Options = append(p.Options, Option{value, string(c), c == r.Figures.Env.Currency})
	}
	return p
}

// MoneyOf is the address of a project's grid of money.
func (r *Request) MoneyOf(code string) string { return r.To(ProjectPath(code) + "/money") }

// ScopeTrace fills in the margin of a page about a scope: a measure, or a month of its money.
func (r *Request) ScopeTrace(p *Page, s *assess.Scope) error {
	key := r.Asked.Get("trace")
	if key == "" {
		return nil
	}
	var t *trace.Trace
	one := len(s.Projects) == 1 && s.Projects[0].Code == r.Scope
	m, err := calendar.ParseMonth(r.Asked.Get("month"))
	switch {
	case key == "month" && err != nil:
		return fiber.NewError(fiber.StatusBadRequest, "“"+fault.Clip(r.Asked.Get("month"), 40)+"” is not a month; expected YYYY-MM.")
	case key == "month" && one:
		t, err = r.Server.Office.Trace.TraceMonth(r.Context(), r.Figures, r.Scope, m)
	case key == "month":
		t, err = r.Server.Office.Trace.TraceMonthOf(r.Context(), r.Figures, s, m)
	case one:
		t, err = r.Server.Office.Trace.Trace(r.Context(), r.Figures, r.Scope, key)
	default:
		t, err = r.Server.Office.Trace.TraceGroup(r.Context(), r.Figures, s, key)
	}
	if err != nil {
		return err
	}
	return showTrace(r, p, t)
}

// Rolled is a figure of a scope with the address of its trace; money is written short, with the whole in its title.
func Rolled(r *Request, g *measure.Group, key measure.Key) Figure {
	d := measure.Of(key)
	v := g.Value(key)
	f := Figure{Text: v.Human(d.Unit, r.Figures.Env.Currency), Title: d.Name, Href: r.Here("trace", key.String(), "at", "", "month", "",
		"of", "")}
	if !v.Known {
		f.Title += ": " + v.Reason
	} else if d.Unit == measure.Money {
		f.Title += ": " + f.Text
		f.Text = v.Amount().Short(r.Figures.Env.Currency)
	}
	if n := g.CountOf(key); n < len(g.Projects) {
		f.Title += fmt.Sprintf(" (%d of %d projects)", n, len(g.Projects))
	}
	return f
}

// RolledColumn is the figure of a scope in a column of a table. A field of the office's own does not add up: its figure is empty.
func RolledColumn(r *Request, g *measure.Group, column string) Figure {
	if _, own := r.Figures.OwnField(column); own {
		return Figure{}
	}
	return Rolled(r, g, measure.KeyOf(column))
}

// Say is a piece of a headline that leads to a trace.
func Say(r *Request, g *measure.Group, key measure.Key, text string) Spoken {
	f := Rolled(r, g, key)
	if text == "" {
		text = f.Text
	}
	return Spoken{Text: text, Href: f.Href, Trace: key}
}

// ShortFigure is a project's figure, money written short.
func (r *Request) ShortFigure(p *measure.Project, key measure.Key) Figure {
	d := measure.Of(key)
	f := r.Figure(p, key, "")
	if v := p.Value(key); v.Known && d.Unit == measure.Money {
		f.Title += ": " + v.Amount().Human(r.Figures.Env.Currency)
		f.Text = v.Amount().Short(r.Figures.Env.Currency)
		if v.N < 0 && d.Better == measure.Higher {
			f.Tone = "tone-act"
		}
	}
	return f
}

// FileKinds are the files that money is written as.
var FileKinds = map[string]string{"money.csv": "text/csv; charset=utf-8", "money.json": "application/json; charset=utf-8",
	"money.xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"}
