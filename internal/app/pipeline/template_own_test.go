package pipeline_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/pipeline"
	"turret/internal/app/setting"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// culvert is a template by hand: dig for ten days, lay for five after it, and a day on which it is open. Divers dig. Of the cost three
// quarters are of the digging.
func culvert() *pipeline.Template {
	return &pipeline.Template{Name: "Culvert", Steps: []pipeline.Step{
		{Code: "P", Name: "Works", Kind: "summary"},
		{Code: "D", Name: "Dig", Parent: "P", Days: 10, Role: "diver", Percent: 150, CostCode: "C", Share: 7_500},
		{Code: "M", Name: "Open", Kind: "milestone", Report: "portfolio", From: pipeline.Soonest, After: []string{"L"}},
		{Code: "L", Name: "Lay", Parent: "P", From: pipeline.Soonest, Days: 5, After: []string{"D"}, CostCode: "C", Share: 2_500}},
		Risks: []pipeline.Doubt{{Title: "Rain", Likelihood: "3", Consequence: "2", Response: "Pumps"}}}
}

// From Monday 1 March 2027: ten working days to Friday the 12th, five more to the 19th, on which it opens. The 1 000.01 that are asked for
// lie 3 to 1 by hand: 750.01 and 250.00, and all of it in March.
func TestATemplateByHand(t *testing.T) {
	o, _ := site(t)
	apptest.Send(t, o, apptest.Sent{Kind: record.Budget, Period: apptest.October,
		Text: "project,cost_code,amount,month,change\nN,C,600,2027-03,\nN,C,400.01,2028-03,\n"})
	a := apptest.Assessed(t, o, apptest.Last)
	require.NoError(t, o.Pipeline.SaveTemplate(apptest.Ctx, a, culvert()))
	r := accept("Culvert")
	r.LayOut = true
	_, err := o.Pipeline.Decide(apptest.Ctx, a, r)
	require.NoError(t, err)
	a = apptest.Assessed(t, o, apptest.Last)
	assert.ElementsMatch(t, [][]string{{"P", "Works", "summary", "", ""}, {"D", "Dig", "activity", "2027-03-01", "2027-03-12"},
		{"L", "Lay", "activity", "2027-03-15", "2027-03-19"}, {"M", "Open", "milestone", "", "2027-03-19"}},
		rows(t, a, record.Activities, "code", "name", "kind", "start", "finish"))
	assert.ElementsMatch(t, [][]string{{"D", "L"}, {"L", "M"}}, rows(t, a, record.Links, "from", "to"))
	assert.Equal(t, [][]string{{"diver", "2027-03-01", "2027-03-12", "150", "D"}},
		rows(t, a, record.Assignments, "role", "from", "to", "percent", "activity"))
	assert.Equal(t, [][]string{{"Rain", "3", "2", "Pumps"}}, rows(t, a, record.Risks, "title", "likelihood", "consequence", "response"))
	assert.ElementsMatch(t, [][]string{{"C", "750.01", "2027-03", "D"}, {"C", "250.00", "2027-03", "L"}},
		rows(t, a, record.Budget, "cost_code", "amount", "month", "activity"))
	assert.EqualValues(t, 100_001, a.ByCode["N"].Value(measure.BAC).N, "nothing is lost of what was asked for")
}

// Without being asked to, a template leaves the cost as it was proposed.
func TestTheCostStaysAsItWasProposed(t *testing.T) {
	o, _ := site(t)
	apptest.Send(t, o, apptest.Sent{Kind: record.Budget, Period: apptest.October,
		Text: "project,cost_code,amount,month\nN,C,600,2027-03\n"})
	a := apptest.Assessed(t, o, apptest.Last)
	require.NoError(t, o.Pipeline.SaveTemplate(apptest.Ctx, a, culvert()))
	_, err := o.Pipeline.Decide(apptest.Ctx, a, accept("Culvert"))
	require.NoError(t, err)
	a = apptest.Assessed(t, o, apptest.Last)
	assert.Equal(t, [][]string{{"C", "600.00", "2027-03", ""}}, rows(t, a, record.Budget, "cost_code", "amount", "month", "activity"))
	r := accept("small")
	r.LayOut, r.Projects = true, []string{"N"}
	o, a = site(t)
	_, err = o.Pipeline.Decide(apptest.Ctx, a, r)
	require.ErrorContains(t, err, "says how its cost lies", "the small one does not")
}

// T began on Monday 5 October 2026, N begins on Monday 1 March 2027. Months go by their middle: 15 October is the ninth day of T, and 11
// March that of N; 15 April 2027 is 27 weeks and three days after T began, and 9 September as long after N. Approved changes are T's own.
func TestTheCostLiesAsThatOfAProject(t *testing.T) {
	o, _ := site(t)
	apptest.Send(t, o,
		apptest.Sent{Kind: record.CostCodes, Text: "code,name\nC,Cost\nK,Other\n"},
		apptest.Sent{Kind: record.Changes, Period: apptest.October, Text: "project,change,title,state,amount\nT,X,More,approved,50\n"},
		apptest.Sent{Kind: record.Budget, Period: apptest.October, Text: "project,cost_code,amount,month,change,activity\n" +
			"T,C,300,2026-10,,A\nT,K,100,2027-04,,\nT,K,50,2026-10,X,\nN,C,8,2027-03,,\n"})
	a := apptest.Assessed(t, o, apptest.Last)
	r := accept("T")
	r.LayOut = true
	_, err := o.Pipeline.Decide(apptest.Ctx, a, r)
	require.NoError(t, err)
	a = apptest.Assessed(t, o, apptest.Last)
	assert.ElementsMatch(t, [][]string{{"C", "6.00", "2027-03", "A"}, {"K", "2.00", "2027-09", ""}},
		rows(t, a, record.Budget, "cost_code", "amount", "month", "activity"))
}

// What a template asks for besides rows: the inputs, the tolerances of another, a category and a report of the project's own.
func TestATemplateSetsWhatIsAskedFor(t *testing.T) {
	o, _ := site(t)
	s, err := o.Setting.Get(apptest.Ctx)
	require.NoError(t, err)
	s.Inputs = []setting.Expectation{{Kind: record.Activities, Rhythm: setting.EachPeriod}, {Kind: record.Forecast,
		Rhythm: setting.EachPeriod},
		{Kind: record.Statuses, Rhythm: setting.EachPeriod}, {Kind: record.Budget, Rhythm: setting.Never}}
	s.Tolerances = append(s.Tolerances, setting.Limits{Scope: "A", Of: map[string][2]float64{"vac_share": {0.01, 0.02}}})
	require.NoError(t, o.Setting.Save(apptest.Ctx, s))
	a := apptest.Assessed(t, o, apptest.Last)
	x := culvert()
	x.Asked, x.Limits, x.Category = []record.Kind{record.Statuses}, "A", "dam"
	x.Report = &pipeline.Reported{Name: "Monthly", Query: "part=status&scope=PF"}
	require.NoError(t, o.Pipeline.SaveTemplate(apptest.Ctx, a, x))
	_, err = o.Pipeline.Decide(apptest.Ctx, a, accept("Culvert"))
	require.NoError(t, err)
	s, err = o.Setting.Get(apptest.Ctx)
	require.NoError(t, err)
	assert.ElementsMatch(t, []record.Kind{record.Activities, record.Forecast}, s.NotExpected["N"])
	assert.Equal(t, "N", s.Tolerances[len(s.Tolerances)-1].Scope)
	assert.Equal(t, "dam", apptest.Assessed(t, o, apptest.Last).ByCode["N"].Category)
	list, err := o.Saved.List(apptest.Ctx, "report")
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.Equal(t, []string{"N: Monthly", "part=status&scope=N"}, []string{list[0].Name, list[0].Query})
}

// Every version stays; an earlier one taken again is the next version. What is taken away can be written anew.
func TestTemplatesHaveVersions(t *testing.T) {
	o, a := site(t)
	require.NoError(t, o.Pipeline.SaveTemplate(apptest.Ctx, a, culvert()))
	x := culvert()
	x.Steps[1].Days, x.Reason = 20, "digging took longer"
	require.NoError(t, o.Pipeline.SaveTemplate(apptest.Ctx, a, x))
	list, err := o.Pipeline.TemplateVersions(apptest.Ctx, "Culvert")
	require.NoError(t, err)
	require.Len(t, list, 2)
	assert.Equal(t, []int{15, 25}, []int{list[0].Length(), list[1].Length()})
	assert.Equal(t, "digging took longer", list[1].Reason)
	now, err := o.Pipeline.Template(apptest.Ctx, "Culvert")
	require.NoError(t, err)
	assert.Equal(t, 25, now.Length())
	assert.Equal(t, 3, now.Count())
	require.NoError(t, o.Pipeline.EndTemplate(apptest.Ctx, "Culvert"))
	_, err = o.Pipeline.Template(apptest.Ctx, "Culvert")
	require.Error(t, err)
	all, err := o.Pipeline.Templates(apptest.Ctx)
	require.NoError(t, err)
	assert.Len(t, all, 2)
	require.Error(t, o.Pipeline.EndTemplate(apptest.Ctx, "small"), "what ships stays")
}

func TestTemplatesThatAreRefused(t *testing.T) {
	o, a := site(t)
	steps := func(list ...pipeline.Step) func(*pipeline.Template) {
		return func(x *pipeline.Template) { x.Steps = list }
	}
	for want, change := range map[string]func(*pipeline.Template){
		"a name of at most 40 letters":    func(x *pipeline.Template) { x.Name = " " },
		"that no template has that ships": func(x *pipeline.Template) { x.Name = "small" },
		"no code of a project":            func(x *pipeline.Template) { x.Name = "T" },
		"steps":                           steps(),
		"another code": steps(pipeline.Step{Code: "A", Name: "A", Days: 1},
			pipeline.Step{Code: "A", Name: "B", Days: 1}),
		"a working day from 1":   steps(pipeline.Step{Code: "A", Name: "A", Days: 1, From: -2}), // before the start
		"1 to 2500 working days": steps(pipeline.Step{Code: "A", Name: "A"}),
		"day 4 or later, when A has ended": steps(pipeline.Step{Code: "A", Name: "A", Days: 3},
			pipeline.Step{Code: "B", Name: "B", Days: 1, From: 2, After: []string{"A"}}),
		"day 3 or later, when A has ended": steps(pipeline.Step{Code: "A", Name: "A", Days: 3},
			pipeline.Step{Code: "B", Name: "B", Kind: "milestone", From: 1, After: []string{"A"}}),
		"nothing that waits for it in turn": steps(pipeline.Step{Code: "A", Name: "A", Kind: "milestone", After: []string{"B"}},
			pipeline.Step{Code: "B", Name: "B", Kind: "milestone", After: []string{"A"}}),
		"codes of other steps":  steps(pipeline.Step{Code: "A", Name: "A", Days: 1, After: []string{"A"}}),
		"the code of a summary": steps(pipeline.Step{Code: "A", Name: "A", Days: 1, Parent: "X"}),
		"no phase that lies within itself": steps(pipeline.Step{Code: "A", Name: "A", Kind: "summary", Parent: "B"},
			pipeline.Step{Code: "B", Name: "B", Kind: "summary", Parent: "A"}),
		"100 % in all":                             func(x *pipeline.Template) { x.Steps[1].Share = 7_499 },
		"a cost code together":                     func(x *pipeline.Template) { x.Steps[1].CostCode = "" },
		"a code of the tree":                       func(x *pipeline.Template) { x.Steps[1].CostCode = "Q" },
		"a role together":                          func(x *pipeline.Template) { x.Steps[1].Percent = 0 },
		"none, since it is a day":                  func(x *pipeline.Template) { x.Steps[2].Days = 2 },
		"likelihood of Rain":                       func(x *pipeline.Template) { x.Risks[0].Likelihood = "6" },
		"with tolerances of its own":               func(x *pipeline.Template) { x.Limits = "B" },
		"a kind of input":                          func(x *pipeline.Template) { x.Asked = []record.Kind{"nonsense"} },
		"no days, role or cost of its own":         func(x *pipeline.Template) { x.Steps[0].Days = 1 },
		"project, programme or portfolio":          func(x *pipeline.Template) { x.Steps[2].Report = "board" },
		"empty, milestone, deliverable or summary": func(x *pipeline.Template) { x.Steps[2].Kind = "gate" },
	} {
		x := culvert()
		change(x)
		require.ErrorContains(t, o.Pipeline.SaveTemplate(apptest.Ctx, a, x), want, want)
	}
	all, err := o.Pipeline.Templates(apptest.Ctx)
	require.NoError(t, err)
	assert.Len(t, all, 2, "nothing was kept")
}

// Of T the dig is five days, and M is the day after it; nobody is wanted for an activity by name of it.
func TestATemplateFromAProject(t *testing.T) {
	o, a := site(t)
	x, err := o.Pipeline.TemplateFrom(apptest.Ctx, a, "T")
	require.NoError(t, err)
	require.Len(t, x.Steps, 2)
	assert.Equal(t, pipeline.Step{Code: "A", Name: "Dig", Report: "project", Days: 5}, x.Steps[0])
	assert.Equal(t, pipeline.Step{Code: "M", Name: "Dug", Kind: "milestone", Report: "project", From: 5, Days: 1, After: []string{"A"}},
		x.Steps[1])
	assert.Equal(t, []pipeline.Doubt{{Title: "Flood", Likelihood: "3"}}, x.Risks)
	x.Name = "As T"
	require.NoError(t, o.Pipeline.SaveTemplate(apptest.Ctx, a, x))
	_, err = o.Pipeline.TemplateFrom(apptest.Ctx, a, "B")
	require.ErrorContains(t, err, "baseline dates")
}

// What a template sets besides rows is set after the decision: where that fails, it is said that the decision stands.
func TestADecisionStandsWhateverItsTemplateSets(t *testing.T) {
	o, a := site(t)
	x := culvert()
	x.Report = &pipeline.Reported{Name: "Broken", Query: "%zz"}
	require.NoError(t, o.Pipeline.SaveTemplate(apptest.Ctx, a, x))
	_, err := o.Pipeline.Decide(apptest.Ctx, a, accept("Culvert"))
	require.ErrorContains(t, err, "What was decided stands.")
	assert.Equal(t, measure.Open, apptest.Assessed(t, o, apptest.Last).ByCode["N"].Status)
}

// A template that goes by the tolerances of a project takes nothing else over from it: all that the office asks for is asked for.
func TestATemplateTakesTolerancesAlone(t *testing.T) {
	o, _ := site(t)
	s, err := o.Setting.Get(apptest.Ctx)
	require.NoError(t, err)
	s.NotExpected = map[string][]record.Kind{"A": {record.Statuses}}
	s.Tolerances = append(s.Tolerances, setting.Limits{Scope: "A", Of: map[string][2]float64{"vac_share": {0.01, 0.02}}})
	require.NoError(t, o.Setting.Save(apptest.Ctx, s))
	x := culvert()
	x.Limits = "A"
	require.NoError(t, o.Pipeline.SaveTemplate(apptest.Ctx, apptest.Assessed(t, o, apptest.Last), x))
	_, err = o.Pipeline.Decide(apptest.Ctx, apptest.Assessed(t, o, apptest.Last), accept("Culvert"))
	require.NoError(t, err)
	s, err = o.Setting.Get(apptest.Ctx)
	require.NoError(t, err)
	assert.Nil(t, s.NotExpected["N"])
	assert.Equal(t, "N", s.Tolerances[2].Scope)
}
