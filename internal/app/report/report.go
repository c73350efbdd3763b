package report

import (
	"context"
	"fmt"
	"net/url"
	"slices"
	"strings"
	"time"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/saved"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// Report is what is set out in a document: parts of a scope's figures, in their order, and the paper they are set on.
type Report struct {
	ID       int64  // of one that is kept; 0 for one that ships or is not kept
	Key      string // of one that ships
	Name     string
	Says     string // what it is for, of one that ships
	Title    string // on the cover; the name where empty
	Scope    string // code; empty for what is in view
	Period   calendar.Period
	Parts    []Part
	A3       bool
	Portrait bool
	Cover    bool

	Who, Login string
	Shared     bool
	At         time.Time
}

// Part is one section of a report.
type Part struct {
	Key     string
	Columns []string // measures, of those that show a table
	Few     bool     // only the projects that need attention
}

// SectionKind is a kind of section that reports are made of.
type SectionKind struct {
	Key, Name, Says string
	Columns         []string // measures shown where none are chosen; nil where it has no such columns
	Few             bool     // it goes by project, so that it can be kept to those that need attention
	Money           bool     // it is about costs alone
}

// SectionKinds are the sections that reports are made of, in the order in which they are offered.
func SectionKinds() []SectionKind {
	return []SectionKind{
		{Key: "headline", Name: "Headline", Says: "the sentence of Lookout, and the figures of the whole"},
		{Key: "sighting", Name: "Sighting plot", Says: "projects by finish and cost deviation, with those at act beside"},
		{Key: "attention", Name: "Attention table", Says: "each project with its status, deviations, next milestone and reason",
			Columns: measure.Texts(measure.VACShare, measure.FinishDeviation), Few: true},
		{Key: "decisions", Name: "Decisions asked for", Says: "projects at act, changes that wait for an answer, issues and dates " +
			"that need one"},
		{Key: "became", Name: "What became of the last decisions",
			Says: "the decisions asked for before, with the answer and what follows"},
		{Key: "risks", Name: "Risks", Says: "the grid of open risks, and the gravest of them with their response"},
		{Key: "issues", Name: "Issues", Says: "open issues, late ones first"},
		{Key: "actions", Name: "Actions", Says: "open actions, late ones first"},
		{Key: "commentary", Name: "Commentary", Says: "what the office and the leads wrote", Few: true},
		{Key: "status", Name: "Status table", Says: "projects by measures of the catalogue", Few: true,
			Columns: measure.Texts(measure.OverallHealth, measure.DeclaredHealth, measure.PercentComplete, measure.BAC, measure.EAC,
				measure.VAC, measure.ExpectedFinish,
				measure.FinishDeviation)},
		{Key: "projects", Name: "Project summary", Says: "a page for each project: figures, strip, texts, milestones", Few: true},
		{Key: "strips", Name: "Strips", Says: "milestones, activities, cost and risks of each project over its time", Few: true},
		{Key: "timeline", Name: "Timeline", Says: "bars and milestones of all projects", Few: true},
		{Key: "milestones", Name: "Milestone lines", Says: "the milestones that are not done, by date", Few: true},
		{Key: "slips", Name: "Slip chart", Says: "milestones whose forecasts keep moving"},
		{Key: "money", Name: "Money table", Says: "projects by measures of cost, by programme", Few: true, Money: true,
			Columns: measure.Texts(measure.BAC, measure.AC, measure.ForecastToGo, measure.EAC, measure.VAC, measure.VACShare)},
		{Key: "curves", Name: "Cost curves", Says: "budget, actual cost and forecast over time: of the whole, and of the projects " +
			"furthest off", Money: true},
		{Key: "bridge", Name: "Bridge", Says: "from the forecast of the period closed before to this one", Money: true},
		{Key: "earned", Name: "Earned value", Says: "planned and earned value, and the indices", Money: true, Few: true,
			Columns: measure.Texts(measure.BAC, measure.PV, measure.EV, measure.AC, measure.CV, measure.CPI, measure.SPIInTime,
				measure.TCPIToEAC)},
		{Key: "checks", Name: "Checks", Says: "how far the data can be relied on, and what was found", Few: true},
		{Key: "staffing", Name: "Staffing", Says: "roles with too few people by month, who is overloaded, and utilisation"},
		{Key: "people", Name: "People by project", Says: "days planned and worked in the period, with those over the tolerance"},
		{Key: "pipeline", Name: "Proposals", Says: "what is proposed, by rank, with what was decided"},
		{Key: "goals", Name: "Goals", Says: "how goals are served by money and projects"},
		{Key: "selection", Name: "Selection",
			Says: "the choices among proposals that were kept by name: their limits, and what they choose"},
		{Key: "gates", Name: "Gates", Says: "how projects and proposals spread over stages, and what waits at a gate"},
		{Key: "roadmap", Name: "Roadmap", Says: "what runs and what is proposed over the years, by programme"},
		{Key: "ranges", Name: "Ranges", Says: "what projects and programmes may come to over many runs, by day and by cost"},
		{Key: "prediction", Name: "Prediction", Says: "what is predicted beside what was declared and computed, and why"},
	}
}

// SectionKindOf finds a kind of section; nil where there is none.
func SectionKindOf(key string) *SectionKind {
	for _, s := range SectionKinds() {
		if s.Key == key {
			return &s
		}
	}
	return nil
}

func parts(keys ...string) []Part {
	list := make([]Part, len(keys))
	for i, k := range keys {
		list[i].Key = strings.TrimSuffix(k, "!")
		list[i].Few = strings.HasSuffix(k, "!")
	}
	return list
}

// ExecutivePack is the report that a period is published with.
const ExecutivePack = "executive"

// StandardReports are those that ship.
func StandardReports() []Report {
	return []Report{
		{Key: ExecutivePack, Name: "Executive pack", Says: "what needs a decision and why, with a page for each project that needs " +
			"attention", Cover: true,
			Parts: parts("headline", "sighting", "decisions", "became", "attention", "bridge", "commentary!", "projects!")},
		{Key: "project", Name: "One-page project summary", Says: "a page for each project in view", Parts: parts("projects")},
		{Key: "status", Name: "Status table", Says: "all projects by status, cost and dates", Parts: parts("headline", "status")},
		{Key: "milestone", Name: "Milestone report", Says: "what is due, what slips, and what keeps slipping",
			Parts: parts("timeline", "milestones", "slips")},
		{Key: "registers", Name: "Risk report", Says: "risks, issues and actions, and what became of decisions",
			Parts: parts("headline", "risks", "issues", "actions", "became")},
		{Key: "staffing", Name: "Staffing report", Says: "whether the plan can be staffed, and who works on what",
			Parts: parts("staffing", "people")},
		{Key: "pipeline", Name: "Pipeline report", Says: "what is proposed and decided, and which goals it serves",
			Parts: parts("pipeline", "goals")},
		{Key: "cost", Name: "Cost report", Says: "budget, actual cost and estimates, and what moved them",
			Parts: parts("headline", "money", "bridge", "curves", "earned")},
		{Key: "quality", Name: "Data quality report", Says: "what checks found in the data, project by project", Portrait: true,
			Parts: parts("checks")},
	}
}

// StandardReport finds one that ships. An unknown one is an error wrapping ErrNotFound.
func StandardReport(key string) (*Report, error) {
	for _, r := range StandardReports() {
		if r.Key == key {
			return &r, nil
		}
	}
	return nil, fmt.Errorf("report %q: %w", fault.Clip(key, 60), fault.ErrNotFound)
}

// bounds of what a report may hold.
const (
	maxReports = 100
	maxColumns = 40
)

// Parse reads a report from an address. What it cannot be is a FieldError.
func Parse(q url.Values) (*Report, error) {
	r := &Report{Title: strings.TrimSpace(q.Get("title")), Scope: q.Get("over"), A3: q.Get("size") == "A3",
		Portrait: q.Get("turn") == "portrait", Cover: q.Get("cover") != ""}
	if len([]rune(r.Title)) > 120 {
		return nil, fault.Field("title", r.Title, "at most 120 characters")
	}
	if p := q.Get("for"); p != "" {
		period, err := calendar.ParsePeriod(p)
		if err != nil {
			return nil, fault.Field("period", p, calendar.PeriodForm)
		}
		r.Period = period
	}
	seen := map[string]bool{}
	for _, key := range q["part"] {
		if SectionKindOf(key) == nil {
			return nil, fault.Field("section", key, "one of the sections that reports are made of")
		}
		if seen[key] {
			continue
		}
		seen[key] = true
		p := Part{Key: key, Few: q.Get("few."+key) != ""}
		for _, list := range q["columns."+key] {
			for _, k := range strings.FieldsFunc(list, func(r rune) bool { return r == ',' || r == ' ' }) {
				if !isColumn(k) {
					return nil, fault.Field("column of "+SectionKindOf(key).Name, k,
						"a measure of the catalogue, as the glossary names it, or an own field such as own.county")
				}
				if !slices.Contains(p.Columns, k) {
					p.Columns = append(p.Columns, k)
				}
			}
		}
		if len(p.Columns) > maxColumns {
			return nil, fault.Field("columns of "+SectionKindOf(key).Name, fmt.Sprint(len(p.Columns)), fmt.Sprintf("at most %d",
				maxColumns))
		}
		r.Parts = append(r.Parts, p)
	}
	return r, nil
}

// Query is the report as an address says it, without its name.
func (r *Report) Query() url.Values {
	q := url.Values{}
	set := func(name, value string, when bool) {
		if when && value != "" {
			q.Set(name, value)
		}
	}
	set("title", r.Title, true)
	set("over", r.Scope, true)
	set("for", r.Period.String(), r.Period != 0)
	set("size", "A3", r.A3)
	set("turn", "portrait", r.Portrait)
	set("cover", "1", r.Cover)
	for _, p := range r.Parts {
		q.Add("part", p.Key)
		set("few."+p.Key, "1", p.Few)
		set("columns."+p.Key, strings.Join(p.Columns, ","), true)
	}
	return q
}

// Shown are the measures that a part shows, those of costs left out where they are kept from the one who asks.
func (p *Part) Shown(a *assess.Assessment) []string {
	keys := p.Columns
	if len(keys) == 0 {
		if s := SectionKindOf(p.Key); s != nil {
			keys = s.Columns
		}
	}
	return slices.DeleteFunc(slices.Clone(keys), func(k string) bool {
		if _, own := a.OwnField(k); own {
			return false
		}
		d, ok := measure.Lookup(k)
		return !ok || a.NoMoney && d.IsCost()
	})
}

// isColumn says whether a table of a report may have a column of this key: a measure, or a field that the office has or may have.
func isColumn(key string) bool {
	_, ok := measure.Lookup(key)
	return ok || strings.HasPrefix(key, record.OwnPrefix)
}

// List lists those that are kept and that the one who asks may use: the own, and those that are shared.
func (o *Office) List(ctx context.Context) ([]Report, error) {
	list, err := o.saved.List(ctx, saved.ReportView)
	if err != nil {
		return nil, err
	}
	var out []Report
	for _, v := range list {
		r, err := report(&v)
		if err != nil {
			return nil, err
		}
		out = append(out, *r)
	}
	return out, nil
}

func report(v *saved.View) (*Report, error) {
	q, err := url.ParseQuery(v.Query)
	if err != nil {
		return nil, err
	}
	for name, list := range q { // a measure or section that is no more does not take the report with it
		for i := range list {
			if strings.HasPrefix(name, "columns.") {
				list[i] = strings.Join(slices.DeleteFunc(strings.Split(list[i], ","), func(k string) bool {
					return !isColumn(k)
				}), ",")
			}
		}
	}
	q["part"] = slices.DeleteFunc(q["part"], func(k string) bool { return SectionKindOf(k) == nil })
	r, err := Parse(q)
	if err != nil {
		return nil, fmt.Errorf("report %s: %w", v.Name, err)
	}
	r.ID, r.Name, r.Who, r.Login, r.Shared, r.At = v.ID, v.Name, v.Who, v.Login, v.Shared, v.At
	return r, nil
}

// Get finds a report that is kept by its number, or one that ships by its key. Where there is none that the one who asks may use, the
// error wraps ErrNotFound.
func (o *Office) Get(ctx context.Context, which string) (*Report, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	list, err := o.List(ctx)
	if err != nil {
		return nil, err
	}
	for i := range list {
		if fmt.Sprint(list[i].ID) == which || list[i].Name == which {
			return &list[i], nil
		}
	}
	for _, r := range StandardReports() {
		if r.Key == which || r.Name == which {
			return &r, nil
		}
	}
	return nil, fmt.Errorf("report %q: %w", fault.Clip(which, 60), fault.ErrNotFound)
}

// Save keeps a report by its name, in the place of the own one of that name, and returns its number.
func (o *Office) Save(ctx context.Context, r *Report) (int64, error) {
	if len(r.Parts) == 0 {
		return 0, fault.Field("sections", "", "at least one section")
	}
	return o.saved.Keep(ctx, saved.View{Kind: saved.ReportView, Name: r.Name, Query: r.Query().Encode(), Shared: r.Shared}, maxReports)
}

// End takes away an own report; that of another is an error wrapping ErrForbidden. Lists that send it no longer do.
func (o *Office) End(ctx context.Context, id int64) error {
	return o.saved.End(ctx, saved.ReportView, id)
}
