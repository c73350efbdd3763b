package pipeline_test

import (
	"context"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/pipeline"
	"turret/internal/app/setting"
	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/measure"
	"turret/internal/record"
)

func on(s string) calendar.Date {
	d, err := calendar.ParseDate(s)
	if err != nil {
		panic(err)
	}
	return d
}

func again(t *testing.T, o *app.Office) (*assess.Assessment, *pipeline.Pipeline) {
	t.Helper()
	a := apptest.Assessed(t, o, apptest.Last)
	p, err := pipeline.Read(apptest.Ctx, a)
	require.NoError(t, err)
	return a, p
}

// A board accepts P, which becomes a project with all it had, and puts Q off. A later decision of Q stands, the one before stays as a
// revision.
func TestDecisionsOfSeveralAtOnce(t *testing.T) {
	o, a, _ := board(t, "")
	r := pipeline.Ruling{Projects: []string{"P"}, Decision: record.Accepted, On: on("2026-10-20"), By: "Board", Reason: "Fish first",
		Opens: true}
	_, err := o.Pipeline.Decide(apptest.Ctx, a, r)
	require.NoError(t, err)
	_, err = o.Pipeline.Decide(apptest.Ctx, a, pipeline.Ruling{Projects: []string{"Q", "R"}, Decision: record.PutOff, On: on("2026-10-20"),
		By:     "Board",
		Reason: "Later", LookAgain: on("2027-03-01")})
	require.NoError(t, err)
	a, p := again(t, o)
	assert.Equal(t, measure.Open, a.ByCode["P"].Status)
	assert.Equal(t, "Pond", a.ByCode["P"].Name)
	assert.Equal(t, int64(3_500), a.ByCode["P"].Value(measure.BAC).N, "nothing of it is lost")
	assert.Len(t, p.Contributions["P"], 2)
	assert.Equal(t, []any{"accepted", "Board", "Fish first", on("2026-10-20")},
		[]any{p.Proposals["P"].Decision, p.Proposals["P"].DecidedBy, p.Proposals["P"].Reason, p.Proposals["P"].DecidedOn})
	for _, code := range []string{"Q", "R"} {
		assert.Equal(t, []any{"put off", on("2027-03-01")}, []any{p.Proposals[code].Decision, p.Proposals[code].LookAgain}, code)
	}
	assert.Equal(t, "Boats", p.Proposals["Q"].Purpose, "what it was asked for stays")
	_, err = o.Pipeline.Decide(apptest.Ctx, a, r)
	require.ErrorContains(t, err, "no proposal any more")
	_, err = o.Pipeline.Decide(apptest.Ctx, a, pipeline.Ruling{Projects: []string{"Q", "P"}, Decision: record.Declined,
		On: on("2026-10-21"), By: "Board",
		Reason: "No"})
	require.Error(t, err)
	_, err = o.Pipeline.Decide(apptest.Ctx, a, pipeline.Ruling{Projects: []string{"Q"}, Decision: record.Declined, On: on("2026-10-22"),
		By:     "Ann",
		Reason: "No berth"})
	require.NoError(t, err)
	_, p = again(t, o)
	assert.Equal(t, []any{"declined", calendar.Date(0)}, []any{p.Proposals["Q"].Decision, p.Proposals["Q"].LookAgain},
		"all of one refusal was refused")
}

func TestDecisionsThatAreRefused(t *testing.T) {
	o, a, _ := board(t, "")
	good := pipeline.Ruling{Projects: []string{"P"}, Decision: record.Accepted, On: on("2026-10-20"), By: "Board", Reason: "Why"}
	for field, spoil := range map[string]func(*pipeline.Ruling){
		"project":    func(r *pipeline.Ruling) { r.Projects = nil },
		"decision":   func(r *pipeline.Ruling) { r.Decision = "perhaps" },
		"decided_on": func(r *pipeline.Ruling) { r.On = 0 },
		"decided_by": func(r *pipeline.Ruling) { r.By = " " },
		"reason":     func(r *pipeline.Ruling) { r.Reason = "" },
		"look_again": func(r *pipeline.Ruling) { r.LookAgain = on("2027-01-01") },
		"template":   func(r *pipeline.Ruling) { r.Template = "small" }, // which would be of no use
	} {
		r := good
		spoil(&r)
		_, err := o.Pipeline.Decide(apptest.Ctx, a, r)
		var wrong *fault.FieldError
		require.ErrorAs(t, err, &wrong, field)
		assert.Equal(t, field, wrong.Field)
	}
	r := good
	r.Decision, r.LookAgain = record.PutOff, r.On
	_, err := o.Pipeline.Decide(apptest.Ctx, a, r)
	require.Error(t, err, "not on the day itself")
	for _, role := range []access.Role{access.Lead, access.Executive, access.Member} {
		c := access.As(context.Background(), &access.Actor{Login: "x", Name: "X", Role: role, Scopes: []string{"PF"}})
		_, err := o.Pipeline.Decide(c, a, good)
		require.ErrorIs(t, err, access.ErrForbidden)
		_, err = o.Pipeline.Rate(c, "M", map[string]map[string]string{"P": {"use": "1"}}, "")
		require.ErrorIs(t, err, access.ErrForbidden)
	}
	_, p := again(t, o)
	assert.Nil(t, p.Proposals["P"])
}

// Ratings of several projects are set, changed and taken back together; one off the scale refuses all of them.
func TestRatingsAreTypedBesideEachOther(t *testing.T) {
	o, _, _ := board(t, "")
	r, err := o.Pipeline.Rate(apptest.Ctx, "M", map[string]map[string]string{"P": {"use": "3.5", "ease": ""}, "Q": {"use": "2"},
		"R": {"use": "1"},
		"S": {"use": ""}}, "at the board")
	require.NoError(t, err)
	assert.Len(t, r.Loads, 2, "of Q and S nothing changed")
	a, p := again(t, o)
	m, err := p.Model("M")
	require.NoError(t, err)
	use, ease := &m.Criteria[1], &m.Criteria[0]
	got := func(code string, c *pipeline.Criterion) fact.Ratio {
		x, _ := p.RatingOf(a.ByCode[code], m, c, "EUR")
		return x
	}
	assert.Equal(t, []int64{35_000, 20_000, 10_000}, []int64{got("P", use).Num, got("Q", use).Num, got("R", use).Num})
	assert.False(t, got("P", ease).Given(), "it was taken back")
	_, err = o.Pipeline.Rate(apptest.Ctx, "M", map[string]map[string]string{"P": {"use": "1"}, "Q": {"use": "5.5"}}, "")
	require.Error(t, err)
	_, p = again(t, o)
	assert.Equal(t, int64(35_000), got("P", use).Num)
}

// Whoever is signed in may propose; what is proposed is complete, and stands under a code of its own.
func TestAnybodyMayPropose(t *testing.T) {
	o, _, _ := board(t, "")
	c := access.As(context.Background(), &access.Actor{Login: "mia", Name: "Mia", Role: access.Member, Scopes: []string{"S"}})
	idea := &pipeline.Idea{Name: "Footbridge", Programme: "PF", Purpose: "It is closed since the frost.", Start: on("2027-03-01"),
		Finish: on("2027-09-30"), CostCode: "K", Cost: map[string]string{"2027-03": "1000.50", "2028-01": "20"},
		Goals: map[string]string{"SAFE": "4", "BOAT": ""}, Statements: map[string]string{"SAFE": "Nobody slips"}}
	code, r, err := o.Pipeline.Propose(c, idea, on("2026-11-03"))
	require.NoError(t, err)
	assert.Equal(t, "NEW-01", code)
	assert.Equal(t, "Mia", r.Loads[0].Author)
	a, p := again(t, o)
	x := a.ByCode[code]
	assert.Equal(t, []any{measure.Proposed, "Footbridge", "Mia", int64(102_050)}, []any{x.Status, x.Name, x.Lead, x.Value(measure.BAC).N})
	assert.Equal(t, []any{"Mia", "It is closed since the frost.", on("2026-11-03"), ""},
		[]any{p.Proposals[code].AskedBy, p.Proposals[code].Purpose, p.Proposals[code].AskedOn, p.Proposals[code].Decision})
	assert.Equal(t, "Nobody slips", p.Contributions[code][0].Statement)
	theirs, err := o.Assess.Day(c, apptest.Last)
	require.NoError(t, err)
	p, err = pipeline.Read(c, theirs)
	require.NoError(t, err)
	require.Len(t, p.Own, 1, "what Mia proposed, which lies in no scope of hers")
	assert.Equal(t, []string{"Footbridge", ""}, []string{p.Own[0].Name, p.Own[0].Decision})
	assert.Empty(t, p.Proposals)
	for field, spoil := range map[string]func(*pipeline.Idea){
		"name":      func(x *pipeline.Idea) { x.Name = " " },
		"purpose":   func(x *pipeline.Idea) { x.Purpose = "" },
		"finish":    func(x *pipeline.Idea) { x.Finish = on("2027-02-28") },
		"cost code": func(x *pipeline.Idea) { x.CostCode = "" },
		"amount":    func(x *pipeline.Idea) { x.Cost = map[string]string{"2027-03": "much"} },
	} {
		bad := *idea
		spoil(&bad)
		_, _, err := o.Pipeline.Propose(c, &bad, on("2026-11-03"))
		var wrong *fault.FieldError
		require.ErrorAs(t, err, &wrong, field)
		assert.Equal(t, field, wrong.Field)
	}
	code, _, err = o.Pipeline.Propose(c, idea, on("2026-11-03"))
	require.NoError(t, err)
	assert.Equal(t, "NEW-02", code)
}

// What the form asks for has to be there; all of it becomes records of the proposal. By hand: 300 of benefits in two months, a risk of 3
// x 4,
// half a diver, and P that it needs.
func TestAProposalSaysWhatTheFormAsksFor(t *testing.T) {
	o, _, _ := board(t, "")
	apptest.Send(t, o, apptest.Sent{Kind: record.OwnFields, Period: apptest.October, Text: "code,name,type\nsite,Site,text\n"})
	asks := func(parts ...setting.FormPart) { require.NoError(t, o.Setting.ComposeForm(apptest.Ctx, parts, nil)) }
	empty := pipeline.Idea{Name: "Bridge", Purpose: "Frost"}
	for _, part := range append(setting.FormParts(), "own.site") {
		asks(setting.FormPart{Part: part, Required: true})
		_, _, err := o.Pipeline.Propose(apptest.Ctx, &empty, on("2026-11-03"))
		var wrong *fault.FieldError
		require.ErrorAs(t, err, &wrong, part)
		assert.Equal(t, part, wrong.Field)
	}
	all := []setting.FormPart{}
	for _, part := range append(setting.FormParts(), "own.site") {
		all = append(all, setting.FormPart{Part: part, Required: true})
	}
	asks(setting.FormPart{Part: setting.PartDates, Required: true})
	half := empty
	half.Start = on("2027-03-01")
	_, _, err := o.Pipeline.Propose(apptest.Ctx, &half, on("2026-11-03"))
	require.ErrorContains(t, err, "the form asks for it", "a start without a finish")
	asks(all...)
	full := pipeline.Idea{Name: "Bridge", Purpose: "Frost", Category: "renewal", Start: on("2027-03-01"), Finish: on("2027-09-30"),
		CostCode: "K", Cost: map[string]string{"2027-03": "1000"}, Goals: map[string]string{"SAFE": "4"},
		People:   []pipeline.Wish{{}, {Role: "diver", From: "2027-03-01", To: "2027-03-31", Percent: "50"}},
		Benefits: []pipeline.Gain{{Name: "Fewer detours", By: map[string]string{"2027-10": "100", "2028-01": "200"}}, {}},
		Risks:    []pipeline.Doubt{{}, {Title: "Ice", Likelihood: "3", Consequence: "4", Response: "Wait"}}, Needs: []string{"P"},
		Own: map[string]string{"own.site": "North bank"}}
	code, _, err := o.Pipeline.Propose(apptest.Ctx, &full, on("2026-11-03"))
	require.NoError(t, err)
	a, p := again(t, o)
	x := a.ByCode[code]
	assert.Equal(t, []any{"renewal", "North bank"}, []any{x.Category, x.Own["site"]})
	require.Len(t, x.Risks, 1)
	r := &x.Risks[0]
	assert.Equal(t, []any{"R2", "Ice", int64(3), int64(4)}, []any{r.Code, r.Title, r.Likelihood.N, r.Consequence.N})
	assert.Equal(t, int64(30_000), x.Value(measure.BenefitPlanned).N)
	require.Len(t, x.Shares, 1)
	assert.Equal(t, []any{"diver", int64(5_000)}, []any{x.Shares[0].Role, int64(x.Shares[0].Percent)})
	require.Len(t, p.Requirements[code], 1)
	assert.Equal(t, []string{record.Needs, "P"}, []string{p.Requirements[code][0].Kind, p.Requirements[code][0].Other})

	hides := access.As(context.Background(), &access.Actor{Login: "mia", Name: "Mia", Role: access.Member, HideMoney: true})
	parts, err := o.Pipeline.Form(hides)
	require.NoError(t, err)
	assert.Len(t, parts, len(all)-2, "nothing of costs is asked of whom they are kept from")
	require.NoError(t, o.Setting.ComposeForm(apptest.Ctx, nil, nil))
	parts, err = o.Pipeline.Form(apptest.Ctx)
	require.NoError(t, err)
	assert.Equal(t, []setting.FormPart{{Part: "dates"}, {Part: "cost"}, {Part: "goals"}}, parts, "as shipped")
	require.NoError(t, o.Setting.ComposeForm(apptest.Ctx, []setting.FormPart{}, nil))
	parts, err = o.Pipeline.Form(apptest.Ctx)
	require.NoError(t, err)
	assert.Empty(t, parts, "a form may ask for nothing more")
	for _, bad := range [][]setting.FormPart{{{Part: "dog"}}, {{Part: "cost"}, {Part: "cost"}}, {{Part: "cost",
		Help: strings.Repeat("x", 401)}}} {
		var wrong *fault.FieldError
		require.ErrorAs(t, o.Setting.ComposeForm(apptest.Ctx, bad, nil), &wrong)
	}
	require.ErrorIs(t, o.Setting.ComposeForm(hides, nil, nil), access.ErrForbidden)
}

// What candidates want, by hand: 35 of 2027 and 20 of 2028; of divers 340 of the 512 hours of the first quarter, where S leaves Kim free,
// and 8 in the
// second. The first is tighter: 172 hours are left, of the other 512.
func TestWhatCandidatesWant(t *testing.T) {
	_, a, _ := board(t, "")
	list, err := pipeline.WantedOf(apptest.Ctx, a, []*measure.Project{a.ByCode["P"], a.ByCode["Q"]})
	require.NoError(t, err)
	var got [][]any
	for i := range list {
		got = append(got, []any{list[i].Limit.Name, list[i].All, list[i].Free.Given})
	}
	const hour = 100_000_000
	assert.Equal(t, [][]any{{"2027", int64(3_500), false}, {"2028", int64(2_000), false}, {"fte:diver:2027Q1", int64(340 * hour), true},
		{"fte:diver:2027Q2", int64(8 * hour), true}}, got)
	assert.Equal(t, int64(512*hour), list[2].Free.N)
	assert.Equal(t, fact.Some(66), list[2].FTE(a, list[2].All))
}

// The frontier, by hand: nothing below 20, Q with 55 from there, P with 60 from 35, both with 115 at 55.
func TestFrontierOfAChoice(t *testing.T) {
	_, a, p := board(t, "")
	c := choose(t, a, p, "2027=1")
	assert.Equal(t, int64(2_000), c.Spent())
	for _, x := range c.Frontier(apptest.Ctx) {
		want := int64(0)
		switch {
		case x.Budget >= 5_500:
			want = 115_000_000
		case x.Budget >= 3_500:
			want = 60_000_000
		case x.Budget >= 2_000:
			want = 55_000_000
		}
		assert.Equal(t, want, x.Value, x.Budget)
	}
}

// What one proposal wants, by hand: P has 30 in March and 5 in December 2027, which are two budget years where those begin in April; it
// wants divers
// for 168 and 172 hours, by role and by name.
func TestWhatOneProposalWants(t *testing.T) {
	_, a, _ := board(t, "")
	assert.Equal(t, []pipeline.YearCost{{Name: "2027", Amount: 3_500}}, pipeline.YearsOf(a, a.ByCode["P"]))
	april := *a
	april.Env.YearMonth = 4
	assert.Equal(t, []pipeline.YearCost{{Name: "2026/27", Amount: 3_000}, {Name: "2027/28", Amount: 500}}, pipeline.YearsOf(&april,
		a.ByCode["P"]))
	assert.Equal(t, []pipeline.RoleHours{{Role: "diver", Want: 340 * 100_000_000}}, pipeline.RolesOf(a, a.ByCode["P"]))
	assert.Empty(t, pipeline.RolesOf(a, a.ByCode["S"]))
}

// P was never dated, Q neither; R is declined until it is put off to a day that has come, and S runs.
func TestWaitingForADecision(t *testing.T) {
	o, a, p := board(t, "")
	assert.Equal(t, []string{"P", "Q"}, apptest.Codes(pipeline.Waiting(a, p, a.Projects)))
	apptest.Send(t, o, apptest.Sent{Kind: record.Proposals, Period: apptest.October,
		Text: "project,asked_on,decision,decided_on,look_again\n" +
			"R,2026-05-04,put off,2026-06-01,2026-10-31\nQ,2026-09-01,,,\n"})
	a, p = again(t, o)
	assert.Equal(t, []string{"R", "Q", "P"}, apptest.Codes(pipeline.Waiting(a, p, a.Projects)), "the longest first, undated ones last")
}
