package gate_test

import (
	"context"
	"path/filepath"
	"testing"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/gate"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/record"
	"turret/internal/store"
)

func on(s string) calendar.Date {
	d, err := calendar.ParseDate(s)
	if err != nil {
		panic(err)
	}
	return d
}

// works is an office whose model WORKS has three stages; LOCKS is for the category lock. P is in Idea, by its name, Q in delivery, R in a
// stage that no model has, S is a lock that names none. P has 30 by year on the top code K, and 5 in a month on K1 below it.
func works(t *testing.T, more ...apptest.Sent) (*store.Store, *app.Office) {
	t.Helper()
	list := []apptest.Sent{
		{Kind: record.CostCodes, Text: "code,name,parent\nK,Works,\nK1,Steel,K\nK11,Bolts,K1\n"},
		{Kind: record.Projects, Text: "code,name,parent,lead,category,stage,currency,planned_start\nP,Pond,PF,Ann,,Idea,EUR,2027-01-04\n" +
			"Q,Quay,PF,Bob,dam,delivery,EUR,\nR,Reed,PF,Bob,,gone,EUR,\nS,Sluice,PF,Bob,lock,,EUR,\n"},
		{Kind: record.Stages, Text: "model,code,name,place,categories,decided_by,money_level,money_by\n" +
			"WORKS,plan,Planning,2,,Board,2,quarter\nWORKS,idea,Idea,1,,Board,1,year\nWORKS,delivery,Delivery,3,,,,\n" +
			"LOCKS,all,All,1,\"lock, weir\",,,\n"},
		{Kind: record.GateNeeds,
			Text: "model,stage,code,name,need,of\nWORKS,idea,a,,field,lead\nWORKS,idea,b,It costs,condition,bac > 0\n" +
				"WORKS,idea,c,,money,\nWORKS,plan,a,,money,\nWORKS,plan,b,,risks rated,\nWORKS,plan,c,,score,M 60\n" +
				"WORKS,plan,d,,benefits,\nWORKS,plan,e,,no errors,\nWORKS,plan,f,,field,own.county\n"},
		{Kind: record.Budget, Text: "project,cost_code,amount,month,from,to\nP,K,30,,2027-01-01,2027-12-31\nP,K1,5,2028-03,,\n"},
	}
	for i := range list {
		list[i].Period = apptest.October
	}
	for i := range more {
		more[i].Period = apptest.October
	}
	return apptest.Stored(t, append(list, more...)...)
}

func stands(t *testing.T, o *app.Office, projects ...string) (*assess.Assessment, map[string]gate.Stand) {
	t.Helper()
	a := apptest.Assessed(t, o, apptest.Last)
	g, err := gate.Read(apptest.Ctx, a)
	require.NoError(t, err)
	var list []*measure.Project
	for _, code := range projects {
		list = append(list, a.ByCode[code])
	}
	all, err := gate.Stands(apptest.Ctx, a, g, list)
	require.NoError(t, err)
	by := map[string]gate.Stand{}
	for _, s := range all {
		by[s.Project.Code] = s
	}
	return a, by
}

func missing(s gate.Stand) (list []string) {
	for _, c := range s.Missing() {
		list = append(list, c.Says()+": "+c.Found)
	}
	return list
}

// Stages stand by their place, not as they came; a project is in one by its code or name, in the first where it names none.
func TestWhereProjectsStand(t *testing.T) {
	_, o := works(t)
	_, by := stands(t, o, "P", "Q", "R", "S")
	p, q, r, s := by["P"], by["Q"], by["R"], by["S"]
	assert.Equal(t, []string{"idea", "plan"}, []string{p.Stage().Code, p.Next().Code})
	assert.Empty(t, missing(p), "its lead, its cost and money by year")
	assert.Equal(t, "delivery", q.Stage().Code)
	assert.Nil(t, q.Next())
	assert.Len(t, q.Skipped(), 2, "it passed neither gate before it")
	assert.Nil(t, r.Stage(), "no model has its stage")
	assert.Equal(t, []string{"LOCKS", "all"}, []string{s.Model.Code, s.Stage().Code})
}

// In planning: 30 stands on the top code and over a whole year; nobody wrote down a risk; the score is 40; no benefits; the field is no
// more.
func TestWhatIsMissing(t *testing.T) {
	_, o := works(t, apptest.Sent{Kind: record.Projects, Text: "code,name,parent,lead,stage\nP,Pond,PF,Ann,plan\n"},
		apptest.Sent{Kind: record.Criteria, Text: "model,code,name,weight\nM,use,Use,1\n"},
		apptest.Sent{Kind: record.Ratings, Text: "project,model,criterion,rating\nP,M,use,2\n"})
	_, by := stands(t, o, "P")
	assert.Equal(t, []string{
		"Money as finely as the stage asks: 2 lines, 1 on codes above level 2, 1 over more than a quarter",
		"Risks, all of them rated: no risk was ever written down",
		"A score of 60 or more in M: scored 40, asked is 60",
		"Benefits that are planned: none planned",
		"No errors in its data: 1 error",
		"Field own.county: there is no field own.county"}, missing(by["P"]))
	apptest.Send(t, o, apptest.Sent{Kind: record.Budget, Period: apptest.October, Text: "project,cost_code,amount,month,from,to\n" +
		"P,K1,30,,2027-04-01,2027-06-30\nP,K11,5,,2028-02-01,2028-03-31\n"},
		apptest.Sent{Kind: record.Risks, Period: apptest.October, Text: "project,code,title,likelihood,consequence,state,raised,closed\n" +
			"P,R1,Ice,3,,open,,\nP,R2,Fire,,,closed,2026-01-01,2026-02-01\n"},
		apptest.Sent{Kind: record.Ratings, Period: apptest.October, Text: "project,model,criterion,rating\nP,M,use,3\n"},
		apptest.Sent{Kind: record.Benefits, Period: apptest.October, Text: "project,code,name,month,planned\nP,B,Fish,2028-01,7\n"},
		apptest.Sent{Kind: record.OwnFields, Period: apptest.October, Text: "code,name,type\ncounty,County,text\n"},
		apptest.Sent{Kind: record.Projects, Period: apptest.October,
			Text: "code,name,parent,lead,stage,own.county\nP,Pond,PF,Ann,plan,Marn\n"},
		apptest.Sent{Kind: record.Activities, Period: apptest.October,
			Text: "project,code,name,baseline_start,baseline_finish\nP,X,Dig,2027-01-04,2027-03-31\n"})
	_, by = stands(t, o, "P")
	assert.Equal(t, []string{"Risks, all of them rated: 1 open risk, 1 not rated"}, missing(by["P"]),
		"60 is enough; a closed risk asks nothing")
}

// Those who see no costs are not told of them by what is missing.
func TestNeedsOfCostsAreKept(t *testing.T) {
	_, o := works(t)
	c := access.As(context.Background(), &access.Actor{Login: "hid", Name: "Hid", Role: access.Analyst, HideMoney: true})
	a, err := o.Assess.Day(c, apptest.Last)
	require.NoError(t, err)
	g, err := gate.Read(c, a)
	require.NoError(t, err)
	list, err := gate.Stands(c, a, g, []*measure.Project{a.ByCode["P"]})
	require.NoError(t, err)
	var hidden []string
	for _, x := range list[0].Checks {
		if x.Hidden {
			hidden = append(hidden, x.Code)
			assert.Empty(t, x.Found)
		}
	}
	assert.Equal(t, []string{"b", "c"}, hidden)
	assert.Empty(t, list[0].Missing())
}

func decide(o *app.Office, a *assess.Assessment, r gate.Ruling) error {
	_, err := o.Gate.Decide(apptest.Ctx, a, r)
	return err
}

// P asks, is refused, asks again, passes with conditions, and goes on; its snapshot holds what it was, and is compared with what it
// became.
func TestThroughAGate(t *testing.T) {
	s, o := works(t)
	a, _ := stands(t, o, "P")
	bob := access.As(context.Background(), &access.Actor{Login: "bob", Name: "Bob", Role: access.Lead})
	_, _, err := o.Gate.Ask(bob, a, "P", on("2026-10-05"))
	require.ErrorIs(t, err, access.ErrForbidden, "it is Ann's")
	ann := access.As(context.Background(), &access.Actor{Login: "ann", Name: "Ann", Role: access.Lead})
	_, _, err = o.Gate.Ask(ann, a, "P", on("2026-10-05"))
	require.NoError(t, err)
	a, by := stands(t, o, "P")
	require.NotNil(t, by["P"].Open)
	assert.Equal(t, "waits since 5 Oct 2026", by["P"].Open.Says())
	_, _, err = o.Gate.Ask(ann, a, "P", on("2026-10-06"))
	require.ErrorIs(t, err, fault.ErrConflict)

	good := gate.Ruling{Project: "P", Decision: record.Refused, On: on("2026-10-07"), By: "Board", Reason: "Where is the fish?"}
	require.NoError(t, decide(o, a, good))
	a, by = stands(t, o, "P")
	assert.Nil(t, by["P"].Open)
	assert.Equal(t, "Idea", by["P"].Project.Stage)
	_, _, err = o.Gate.Ask(ann, a, "P", on("2026-10-05"))
	require.ErrorIs(t, err, fault.ErrConflict, "what was decided is not written over")
	_, _, err = o.Gate.Ask(ann, a, "P", on("2026-10-20"))
	require.NoError(t, err)
	a, _ = stands(t, o, "P")
	good = gate.Ruling{Project: "P", Decision: record.Conditions, On: on("2026-10-21"), By: "Board", Reason: "Go on", Released: "12.50",
		Conditions: []gate.Condition{{Title: "Count the fish", Owner: "Ann", Due: on("2026-12-01")}, {Title: "Ask the county"}}}
	require.NoError(t, decide(o, a, good))

	_, by = stands(t, o, "P")
	p := by["P"]
	assert.Equal(t, []any{"plan", "Planning"}, []any{p.Stage().Code, p.Project.Stage}, "by its name, as it was written before")
	assert.Len(t, p.Gates, 2, "the refusal stays")
	assert.Equal(t, []any{true, int64(1250), "passed with conditions on 21 Oct 2026 by Board"},
		[]any{p.Last.Releases, int64(p.Last.Released), p.Last.Says()})
	assert.Empty(t, p.Skipped())
	require.Len(t, p.Project.Actions, 2)
	assert.Equal(t, []any{"GATE-idea-1", "Count the fish", "Ann", on("2026-12-01")}, []any{p.Project.Actions[0].Code,
		p.Project.Actions[0].Title, p.Project.Actions[0].Owner, p.Project.Actions[0].Due})

	apptest.Send(t, o, apptest.Sent{Kind: record.Budget, Period: apptest.October,
		Text: "project,cost_code,amount,month\nP,K,31,2027-01\n"})
	a, _ = stands(t, o, "P")
	list, err := o.Gate.Snapshots(apptest.Ctx, a, a.ByCode["P"])
	require.NoError(t, err)
	require.Len(t, list, 1, "a refusal takes none")
	moved := map[string][2]string{}
	for _, m := range gate.Moved(&list[0].Was, gate.FiguresOf(a, a.ByCode["P"]), false) {
		name := m.Priced + " " + m.Column
		if m.Measure != nil {
			name = m.Measure.Key.String()
		}
		moved[name] = [2]string{m.Was.Text(m.Unit, "EUR"), m.Is.Text(m.Unit, "EUR")}
	}
	assert.Equal(t, [2]string{"35.00", "31.00"}, moved["bac"])
	assert.Equal(t, [2]string{"30.00", "31.00"}, moved["K Works budget"])
	assert.Equal(t, [2]string{"5.00", "0.00"}, moved["K1 Steel budget"])
	for name := range moved {
		assert.NotContains(t, []string{"ac", "risk_open"}, name, "nothing of these changed")
	}
	for _, m := range gate.Moved(&list[0].Was, gate.FiguresOf(a, a.ByCode["P"]), true) {
		assert.False(t, m.Measure == nil || m.Measure.IsCost(), "costs")
	}
	verified(t, o, s)
}

// What a snapshot was computed from gives the same figures again, whatever came since; a figure changed by hand is told.
func verified(t *testing.T, o *app.Office, s *store.Store) {
	t.Helper()
	var got []gate.Checked
	require.NoError(t, o.Gate.Verify(apptest.Ctx, func(c gate.Checked) { got = append(got, c) }))
	require.Len(t, got, 1)
	assert.Equal(t, []any{false, 0, 0}, []any{got[0].Wrong(), got[0].Differs, got[0].Since})
	path := filepath.Join(t.TempDir(), "copy.db")
	require.NoError(t, s.Backup(apptest.Ctx, path))
	for was, to := range map[string]string{`"key":"bac","known":true,"n":3500`: `"key":"bac","known":true,"n":3600`} {
		raw, err := sqlx.Open("sqlite", path)
		require.NoError(t, err)
		_, err = raw.Exec(`UPDATE snapshots SET figures = replace(figures, ?, ?)`, was, to)
		require.NoError(t, err)
		require.NoError(t, raw.Close())
	}
	changed, err := store.Open(apptest.Ctx, path)
	require.NoError(t, err)
	defer func() { _ = changed.Close() }()
	again := app.NewOffice(changed, nil, app.Parts{})
	require.NoError(t, again.Gate.Verify(apptest.Ctx, func(c gate.Checked) {
		assert.True(t, c.Changed && c.Wrong())
	}))
}

// A load that is withdrawn after the gate changes what comes out, which is told as such and is no fault.
func TestWithdrawnSinceTheGate(t *testing.T) {
	s, o := works(t)
	a, _ := stands(t, o, "P")
	_, _, err := o.Gate.Ask(apptest.Ctx, a, "P", on("2026-10-05"))
	require.NoError(t, err)
	a, _ = stands(t, o, "P")
	require.NoError(t, decide(o, a, gate.Ruling{Project: "P", Decision: record.Passed, On: on("2026-10-05"), By: "Board", Reason: "Yes"}))
	loads, err := s.Loads(apptest.Ctx)
	require.NoError(t, err)
	for _, l := range loads {
		if l.Kind == record.Budget {
			require.NoError(t, o.Load.Withdraw(apptest.Ctx, l.ID, "wrong"))
		}
	}
	require.NoError(t, o.Gate.Verify(apptest.Ctx, func(c gate.Checked) {
		assert.Positive(t, c.Differs)
		assert.Contains(t, c.Says(), "since 1 load was withdrawn")
		assert.False(t, c.Wrong())
	}))
}

func TestDecisionsAtGatesThatAreRefused(t *testing.T) {
	_, o := works(t)
	a, _ := stands(t, o, "P")
	good := gate.Ruling{Project: "P", Decision: record.Passed, On: on("2026-10-20"), By: "Board", Reason: "Why"}
	require.ErrorIs(t, decide(o, a, good), fault.ErrConflict, "nobody asked")
	_, _, err := o.Gate.Ask(apptest.Ctx, a, "R", on("2026-10-05"))
	require.ErrorContains(t, err, "stands in no stage")
	_, _, err = o.Gate.Ask(apptest.Ctx, a, "P", on("2026-10-05"))
	require.NoError(t, err)
	a, _ = stands(t, o, "P")
	for field, spoil := range map[string]func(*gate.Ruling){
		"decision":   func(r *gate.Ruling) { r.Decision = "maybe" },
		"decided_on": func(r *gate.Ruling) { r.On = on("2026-10-04") },
		"decided_by": func(r *gate.Ruling) { r.By = " " },
		"reason":     func(r *gate.Ruling) { r.Reason = "" },
		"conditions": func(r *gate.Ruling) { r.Decision = record.Conditions },
		"released":   func(r *gate.Ruling) { r.Released = "-1" },
	} {
		r := good
		spoil(&r)
		var f *fault.FieldError
		require.ErrorAs(t, decide(o, a, r), &f, field)
		assert.Equal(t, field, f.Field)
	}
	lead := access.As(context.Background(), &access.Actor{Login: "ann", Name: "Ann", Role: access.Lead})
	_, err = o.Gate.Decide(lead, a, good)
	require.ErrorIs(t, err, access.ErrForbidden)
}

// Nothing passes outright while something is missing.
func TestNothingPassesWithoutWhatIsNeeded(t *testing.T) {
	_, o := works(t, apptest.Sent{Kind: record.Projects, Text: "code,name,parent,lead,stage\nP,Pond,PF,Ann,plan\n"})
	a, _ := stands(t, o, "P")
	_, _, err := o.Gate.Ask(apptest.Ctx, a, "P", on("2026-10-05"))
	require.NoError(t, err)
	a, by := stands(t, o, "P")
	p := by["P"]
	assert.Equal(t, "idea", p.Skipped()[0].Code)
	good := gate.Ruling{Project: "P", Decision: record.Passed, On: on("2026-10-20"), By: "Board", Reason: "Why"}
	require.ErrorContains(t, decide(o, a, good), "passed with conditions or refused: Money as finely")
}

// A stage that a model loses leaves what was decided in it as it is, and what comes later is taken in; one that nobody knows is refused.
func TestAStageThatIsNoMore(t *testing.T) {
	s, o := works(t, apptest.Sent{Kind: record.Gates,
		Text: "project,stage,asked_on,decision,decided_on\nQ,plan,2026-09-01,passed,2026-09-02\n"})
	loads, err := s.Loads(apptest.Ctx)
	require.NoError(t, err)
	for _, l := range loads {
		if l.Kind == record.Stages {
			require.NoError(t, o.Load.Withdraw(apptest.Ctx, l.ID, "another model"))
		}
	}
	apptest.Send(t, o, apptest.Sent{Kind: record.Stages, Period: apptest.October,
		Text: "model,code,name,place\nWORKS,delivery,Delivery,1\nWORKS,after,After,2\n"})
	a, by := stands(t, o, "Q")
	q := by["Q"]
	assert.Empty(t, q.Skipped())
	_, _, err = o.Gate.Ask(apptest.Ctx, a, "Q", on("2026-10-05"))
	require.NoError(t, err)
	_, by = stands(t, o, "Q")
	assert.Len(t, by["Q"].Gates, 2)
	f := apptest.Read(t, record.Gates, "project,stage,asked_on\nP,nowhere,2026-10-05\n")
	_, err = o.Intake.Import(apptest.Ctx, []*kept.File{f}, intake.Origin{Period: apptest.October})
	require.ErrorContains(t, err, "a code in stages or taken in before")
	f = apptest.Read(t, record.GateNeeds, "model,stage,code,need,of\nWORKS,after,x,condition,nonsense >\n")
	_, err = o.Intake.Import(apptest.Ctx, []*kept.File{f}, intake.Origin{Period: apptest.October})
	require.Error(t, err)
}

// P may spend 12.50 up to its next gate: 12 spent and 0.50 ordered are within it, a cent more is beyond. Proposals stand beside what runs.
func TestMoneyBeyondAndTheBalanceOfStages(t *testing.T) {
	send := func(kind record.Kind, text string) apptest.Sent {
		return apptest.Sent{Kind: kind, Period: apptest.October, Text: text}
	}
	_, o := works(t, send(record.Gates, "project,stage,asked_on,decision,released\nP,idea,2026-09-01,passed,12.50\nQ,plan,2026-09-01,,\n"+
		"S,all,2026-08-01,,\n"), send(record.Projects, "code,name,parent,stage,status\nP,Pond,PF,plan,proposed\n"),
		send(record.Actuals, "project,cost_code,date,amount\nP,K,2026-10-05,12\nQ,K,2026-10-05,12\n"),
		send(record.Commitments, "project,cost_code,document,amount\nP,K,D,0.50\n"))
	a, by := stands(t, o, "P", "Q", "R", "S")
	p, q := by["P"], by["Q"]
	n, ok := gate.Beyond(a, &p)
	assert.Equal(t, []any{int64(0), true}, []any{int64(n), ok})
	_, ok = gate.Beyond(a, &q)
	assert.False(t, ok, "nothing was released")
	apptest.Send(t, o, send(record.Commitments, "project,cost_code,document,amount\nP,K,D,0.51\n"))
	a, by = stands(t, o, "P", "Q", "R", "S")
	p = by["P"]
	n, _ = gate.Beyond(a, &p)
	assert.EqualValues(t, 1, n)
	g, err := gate.Read(apptest.Ctx, a)
	require.NoError(t, err)
	all, err := gate.Stands(apptest.Ctx, a, g, []*measure.Project{a.ByCode["P"], a.ByCode["Q"], a.ByCode["R"], a.ByCode["S"]})
	require.NoError(t, err)
	var got [][]int
	for _, b := range gate.BalanceOf(g, all) {
		for _, x := range b.Parts {
			got = append(got, []int{len(x.Running), len(x.Proposed), int(x.Asks), x.Waiting})
		}
	}
	assert.Equal(t, [][]int{{1, 0, 0, 1}, {0, 0, 0, 0}, {0, 1, 3500, 0}, {1, 0, 0, 0}, {1, 0, 0, 0}}, got,
		"LOCKS, then the stages of WORKS and what is in none; Q asked for another gate than that of its stage")
	waits, err := gate.Waiting(apptest.Ctx, a)
	require.NoError(t, err)
	require.Len(t, waits, 1)
	assert.Equal(t, "S", waits[0].Project.Code)
}

func TestConditionsOfLines(t *testing.T) {
	list, err := gate.ParseConditions("Count the fish; Ann; 2026-12-01\n\n Ask ; 2026-12-02; Bob\nWait")
	require.NoError(t, err)
	assert.Equal(t, []gate.Condition{{"Count the fish", "Ann", on("2026-12-01")}, {"Ask", "Bob", on("2026-12-02")}, {Title: "Wait"}}, list)
	for _, text := range []string{"; Ann", "Ask; Ann; Bob"} {
		_, err := gate.ParseConditions(text)
		require.Error(t, err, text)
	}
}
