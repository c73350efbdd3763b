package page

import (
	"turret/internal/app/access"
	"turret/internal/app/say"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// The tabs of a project, by which its pages say where they are.
const (
	SummaryTab = "Summary"
	AssessTab  = "Assessment"
	PlanTab    = "Plan"
	MoneyTab   = "Money"
	EarnedTab  = "Earned value"
	RiskTab    = "Risks and actions"
	PeopleTab  = "People"
	BacklogTab = "Backlog"
	BenefitTab = "Benefits"
	ExplainTab = "Explain"
	RecordTab  = "Records"

	ProposalTab = "Proposal"
	GateTab     = "Gates"
	CloseTab    = "Closing"
	OutlookTab  = "Outlook"
)

// KindsOf are the kinds of records that a tab of a project shows. A kind that no tab names is read under Records.
var KindsOf = map[string][]record.Kind{RiskTab: {record.Risks, record.Issues, record.Actions, record.Checklist, record.Meetings,
	record.Decisions, record.Lessons}, PeopleTab: {record.Assignments},
	BacklogTab: {record.Backlog}, BenefitTab: {record.Benefits}}

// TabOfKind is the tab of a project under which a kind is read.
func TabOfKind(kind record.Kind) string {
	for tab, kinds := range KindsOf {
		for _, k := range kinds {
			if k == kind {
				return tab
			}
		}
	}
	return RecordTab
}

// Of makes a page one of a project: its scope names the project, and the project's tabs stand over it.
func (r *Request) Of(html *Page, p *measure.Project, current string) {
	html.Scope = scopingOf(r, p.Code)
	html.Tabs = projectTabs(r, p, current)
	for i := range html.Sections {
		html.Sections[i].Current = html.Sections[i].Name == "Projects"
	}
	html.Awaits = say.Awaited([]*measure.Project{p}, r.Figures.Env)
}

// projectTabs are the parts of a project that the one who asks may see; those in another section are told by the section's name.
func projectTabs(r *Request, p *measure.Project, current string) []Tab {
	path := ProjectPath(p.Code)
	actor := access.ActorOf(r.Context())
	costs := actor != nil && !actor.HideMoney
	var list []Tab
	for _, x := range []struct {
		name, to string
		show     bool
	}{
		{SummaryTab, r.To(path), true}, {ProposalTab, r.To(path + "/proposal"), p.Status == measure.Proposed}, {GateTab, r.To(path +
			"/gates"),
			r.Figures.Masters.Staged}, {AssessTab, r.To(path + "/assess"), true}, {OutlookTab, r.To(path + "/outlook"),
			p.Status != measure.Proposed},
		{PlanTab, r.To(path + "/plan"), true},
		{MoneyTab, r.MoneyOf(p.Code), costs}, {EarnedTab, r.To("/assess/earned", "scope", p.Code), costs},
		{RiskTab, r.To(path + "/risks"), true}, {PeopleTab, r.To(path + "/people"), true},
		{BacklogTab, r.To(path + "/backlog"), p.Value(measure.BacklogPoints).Known},
		{BenefitTab, r.To(path + "/benefits"), costs}, {ExplainTab, r.ExplainPath(p.Code), true},
		{RecordTab, r.To(path + "/records"), true}, {CloseTab, r.To(path + "/closing"), current == CloseTab || ending(p)},
	} {
		if x.show {
			list = append(list, Tab{Link{x.name, x.to}, x.name == current || x.name == EarnedTab && current == "Assess"})
		}
	}
	return list
}

// nearEnd is how many days before its expected finish a project is told what closing it asks for.
const nearEnd = 60

// ending reports whether an open project is finished or nearly so.
func ending(p *measure.Project) bool {
	v := p.Value(measure.ExpectedFinish)
	return p.Status == measure.Open && v.Known && v.Date() <= p.Env().AsOf+nearEnd
}

// GatherTabs are the parts of Gather that the one who asks may see.
func GatherTabs(r *Request, current string) []Tab {
	actor := access.ActorOf(r.Context())
	var list []Tab
	for _, x := range []struct {
		name, path string
		show       bool
	}{{"Inputs", "/gather", true}, {"Load files", "/gather/load", true}, {"Loads", "/loads", actor.May(access.Send)},
		{"Feeds", "/feeds", actor != nil && actor.MayWhole(access.RunFeeds)}, {"Outbox", "/gather/outbox", actor.May(access.Remind)},
		{"Samples", "/gather/samples", true}} {
		if x.show {
			list = append(list, Tab{Link{x.name, r.To(x.path)}, x.name == current})
		}
	}
	return list
}

// PeopleTabs are the parts of People that the one who asks may see.
func PeopleTabs(r *Request, current string) []Tab {
	plans := access.ActorOf(r.Context()).May(access.Send)
	var list []Tab
	for _, x := range []struct {
		name, path string
		show       bool
	}{{"Load", "/people/load", plans}, {"Roles", "/people/roles", true},
		{"Utilisation", "/people/utilisation", true}, {"Planned and worked", "/people/work", plans}, {"Levelling", "/people/level", plans},
		{"Requests", "/people/asked", plans},
		{"Who needs help", "/people/help", true},
		{"Week sheet", "/hours", true},
		{"To approve", "/hours/approve", plans}, {"Weeks", "/hours/weeks", plans}} {
		if x.show {
			list = append(list, Tab{Link{x.name, r.To(x.path)}, x.name == current})
		}
	}
	return list
}

// MoneyTabs are the parts of Money; which projects are in view is kept.
func MoneyTabs(r *Request, current string) []Tab {
	var pairs []string
	if status := r.Asked.Get("status"); status != "" {
		pairs = []string{"status", status}
	}
	var list []Tab
	for _, x := range [][2]string{{"Overview", "/money"}, {"Projects", "/money/projects"}, {"Burn", "/money/burn"}, {"Year",
		"/money/year"},
		{"Funding", "/money/funding"}, {"Changes", "/money/changes"}, {"Revenue", "/money/revenue"}, {"Benefits", "/money/benefits"}} {
		list = append(list, Tab{Link{x[0], r.To(x[1], pairs...)}, x[0] == current})
	}
	return list
}

// RegisterTabs are the registers, and the backlogs beside them.
func RegisterTabs(r *Request, current string) []Tab {
	var list []Tab
	for _, k := range []record.Kind{record.Risks, record.Issues, record.Actions, record.Meetings, record.Decisions, record.Lessons} {
		list = append(list, Tab{Link{k.Title(), r.To("/registers/" + string(k))}, k.Title() == current})
	}
	return append(list, Tab{Link{"Backlogs", r.To("/registers/backlogs")}, current == "Backlogs"})
}

// PipelineTabs are the parts of Pipeline.
func PipelineTabs(r *Request, current string) []Tab {
	var list []Tab
	for _, x := range [][2]string{{"Proposals", "/pipeline/proposals"}, {"Ranking", "/pipeline/ranking"}, {"Goals", "/pipeline/goals"},
		{"Selection", "/pipeline/selection"}, {"Plane", "/pipeline/plane"}, {"Roadmap", "/pipeline/roadmap"}, {"Gates", "/pipeline/gates"},
		{"Templates", "/pipeline/templates"}, {"Propose", "/pipeline/new"}} {
		list = append(list, Tab{Link{x[0], r.To(x[1])}, x[0] == current})
	}
	return list
}
