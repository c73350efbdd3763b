package pipeline_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/app/pipeline"
	"turret/internal/core/fact"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// board is an office in whose first quarter of 2027 there are 64 days of 8 hours, 512 hours of one at work. P wants 100 % of a diver whom
// nobody named in January, 21 days or 168 hours, and Kim, a diver, for 50 % of February and March, 43 days or 172 hours: 340 hours. Q
// wants
// Kim on 1 April only. R is declined, S is open. P has 30 on capital in 2027 and 5 on operating, Q 20 on capital in 2028.
func board(t *testing.T, requirements string) (*app.Office, *assess.Assessment, *pipeline.Pipeline) {
	t.Helper()
	send := func(kind record.Kind, text string) apptest.Sent {
		return apptest.Sent{Kind: kind, Period: apptest.October, Text: text}
	}
	o := apptest.House(t, send(record.Projects,
		"code,name,parent,status\nP,Pond,PF,proposed\nQ,Quay,PF,proposed\nR,Reed,PF,proposed\nS,Sluice,PF,open\n"),
		send(record.CostCodes, "code,name,type\nK,Works,capital\nW,Running,operating\n"),
		send(record.Budget, "project,cost_code,amount,month\nP,K,30,2027-03\nP,W,5,2027-12\nQ,K,20,2028-01\nR,K,1,2027-01\n"),
		send(record.People, "code,name,role\nK,Kim,diver\n"),
		send(record.Assignments,
			"person,role,project,from,to,percent\n,diver,P,2027-01-01,2027-01-31,100\nK,,P,2027-02-01,2027-03-31,50\n"+
				"K,,Q,2027-04-01,2027-04-01,100\n"),
		send(record.Criteria, "model,code,name,weight,direction\nM,use,Use,3,value\nM,ease,Effort,1,effort\n"),
		send(record.Ratings, "project,model,criterion,rating\nP,M,use,4\nP,M,ease,5\nQ,M,use,2\nQ,M,ease,0\nS,M,ease,1\n"),
		send(record.Proposals,
			"project,asked_by,purpose,decision,decided_on,reason\nR,Ann,Reeds,declined,2026-10-05,Too dear\nQ,Bob,Boats,,,\n"),
		send(record.Goals, "code,name,weight\nSAFE,Safe,3\nBOAT,Boats,1\n"),
		send(record.Contributions, "project,goal,rating,statement\nP,SAFE,3,Fish\nP,BOAT,1,\nQ,BOAT,5,Berths\n"))
	if requirements != "" {
		apptest.Send(t, o, send(record.Requirements, "project,kind,other\n"+requirements))
	}
	a := apptest.Assessed(t, o, apptest.Last)
	p, err := pipeline.Read(apptest.Ctx, a)
	require.NoError(t, err)
	return o, a, p
}

func limit(t *testing.T, s string) *pipeline.Limit {
	t.Helper()
	l, err := pipeline.ParseLimit(s, 1)
	require.NoError(t, err)
	return l
}

func choose(t *testing.T, a *assess.Assessment, p *pipeline.Pipeline, limits ...string) *pipeline.Choice {
	t.Helper()
	q := pipeline.Question{Value: "score:M"}
	for _, s := range limits {
		q.Limits = append(q.Limits, limit(t, s))
	}
	c, err := pipeline.Choose(apptest.Ctx, a, p, q)
	require.NoError(t, err)
	return c
}

// By hand: P has 100 (3 x 4/5 + 0) / 4 = 60, Q 100 (3 x 2/5 + 1) / 4 = 55, S 100 x 4/5 = 80 though it runs; R was rated by nobody.
func TestRankOf(t *testing.T) {
	_, a, p := board(t, "")
	s, err := a.Scope("")
	require.NoError(t, err)
	r, err := pipeline.RankOf(apptest.Ctx, a, p, s, "M")
	require.NoError(t, err)
	var got [][]any
	for _, x := range r.Rows {
		got = append(got, []any{x.Project.Code, x.Score, x.Rank, x.Scored})
	}
	assert.Equal(t, [][]any{{"S", int64(80_000_000), 1, true}, {"P", int64(60_000_000), 2, true}, {"Q", int64(55_000_000), 3, true},
		{"R", int64(0), 0, false}}, got)
	assert.Equal(t, []bool{true, false}, []bool{r.Rows[0].Typed[0], r.Rows[0].Typed[1]}, "S was rated by its effort, the first by code")
	assert.Equal(t, []int{1, 2, 2, 0}, []int{r.Rows[0].Rated(), r.Rows[1].Rated(), r.Rows[2].Rated(), r.Rows[3].Rated()},
		"of two criteria")
	reed := p.Proposals["R"]
	assert.Equal(t, []string{"Ann", "Too dear", "declined"}, []string{reed.AskedBy, reed.Reason, reed.Decision})
	_, err = p.Model("X")
	assert.ErrorContains(t, err, "known: M")
}

// What candidates use, by hand: 340 of 512 hours are 0.6640625 of one at work, which two decimals would let through a limit of 0.66.
func TestUsesByHand(t *testing.T) {
	_, a, p := board(t, "")
	c := choose(t, a, p, "2027=100", "capital:2027=100", "operating:2027=100", "2028=100", "fte:diver:2027Q1=0.6641", "fte:diver:2027Q2=9")
	require.Len(t, c.Rows, 2, "what is declined is no candidate")
	assert.Equal(t, []int64{3_500, 3_000, 500, 0}, c.Rows[0].Use[:4])
	assert.Equal(t, int64(340*100_000_000), c.Rows[0].Use[4])
	assert.Equal(t, []int64{0, 0, 0, 2_000, 0, 8 * 100_000_000}, c.Rows[1].Use)
	assert.Equal(t, []string{"35.00", "100.00", "0.66", "0.6641"}, []string{c.Used(0), c.Allowed(0), c.Used(4), c.Allowed(4)})
	assert.Equal(t, []bool{true, true}, c.Result.Chosen)
	assert.False(t, choose(t, a, p, "fte:diver:2027Q1=0.664").Rows[0].In, "0.664 is less than 0.6640625")
	assert.True(t, choose(t, a, p, "2027=35").Rows[0].In)
	assert.False(t, choose(t, a, p, "2027=34.99").Rows[0].In)
	assert.Equal(t, []fact.Int{fact.Some(60_000_000), fact.Some(55_000_000)}, []fact.Int{c.Rows[0].Price, c.Rows[1].Price})
}

func TestRequirementsOfAChoice(t *testing.T) {
	for requirements, want := range map[string][]bool{
		"P,needs,S\n":              {true, true},  // it runs
		"P,needs,R\n":              {false, true}, // it is declined
		"P,not with,S\n":           {false, true}, // it runs
		"S,not with,P\n":           {false, true},
		"S,must,\nS,needs,P\n":     {true, true}, // nothing is asked of what is no candidate
		"P,not with,Q\n":           {true, false},
		"P,not with,Q\nQ,must,\n":  {false, true},
		"P,never,\nQ,needs,P\n":    {false, false},
		"P,needs,Q\nQ,needs,P\n":   {true, true},
		"P,not with,R\nR,must,\n":  {true, true},
		"Q,not with,P\nP,never,\n": {false, true},
	} {
		_, a, p := board(t, requirements)
		c := choose(t, a, p)
		require.Nil(t, c.Unmet, requirements)
		assert.Equal(t, want, c.Result.Chosen, requirements)
	}
	_, a, p := board(t, "P,must,\nQ,must,\nP,not with,Q\n")
	c := choose(t, a, p)
	assert.Equal(t, []string{"P must be chosen, and P does not go with Q, which must be chosen too."}, c.Why())
	require.Error(t, c.Refusal())
	_, a, p = board(t, "P,must,\n")
	assert.Equal(t, []string{"What must be chosen uses 0.66 of fte:diver:2027Q1, which allows 0.5; it would have to be 0.6641 at least."},
		choose(t, a, p, "fte:diver:2027Q1=0.5").Why())
}

// A budget year that begins in April 2027 has that name, and ends in March 2028.
func TestBudgetYearsHaveTheNameTheyBeginIn(t *testing.T) {
	l, err := pipeline.ParseLimit("capital:2027=1.5", 4)
	require.NoError(t, err)
	assert.Equal(t, []string{"2027-04", "2028-03"}, []string{l.First.String(), l.Last.String()})
	l, err = pipeline.ParseLimit("2027=+1.500", 1)
	require.NoError(t, err)
	assert.Equal(t, "1.5", l.Most, "a number as files hold it, whatever was typed")
	l, err = pipeline.ParseLimit("fte:lock: keeper=x:2027Q4=-2", 4)
	require.NoError(t, err)
	assert.Equal(t, []string{"lock: keeper=x", "2027-10", "2027-12"}, []string{l.Role, l.First.String(), l.Last.String()})
}

// By hand: of the 35 of P three quarters go to SAFE, 26.25, and 8.75 to BOAT, which has the 20 of Q besides. R, which is declined, counts
// nowhere;
// A, B and S run and serve nothing.
func TestGoalsOfAScope(t *testing.T) {
	_, a, p := board(t, "")
	s, err := a.Scope("")
	require.NoError(t, err)
	x := pipeline.Serve(a, p, s)
	require.Len(t, x.Goals, 2)
	safe, boat := x.Goals[0], x.Goals[1]
	assert.Equal(t, []any{"SAFE", int64(2_625), 1}, []any{safe.Code, int64(safe.Money), len(safe.By)}, "the heaviest first")
	assert.Equal(t, []any{"BOAT", int64(2_875), 2, "Q"}, []any{boat.Code, int64(boat.Money), len(boat.By), boat.By[0].Project.Code})
	assert.InDelta(t, 0.75, safe.Weighs.Float(), 1e-12)
	assert.Equal(t, []string{"A", "B", "S"}, apptest.Codes(x.Idle))
	assert.Equal(t, 2, x.Serving)
	x = pipeline.Serve(a, p, s, measure.Proposed)
	assert.Empty(t, x.Idle, "what is declined is not proposed any more")
}

func TestWhatWaitsForADecision(t *testing.T) {
	day := on("2026-10-31")
	for _, x := range []struct {
		p    pipeline.Proposal
		want bool
	}{{pipeline.Proposal{}, true}, {pipeline.Proposal{Decision: record.Accepted}, false}, {pipeline.Proposal{Decision: record.Declined},
		false},
		{pipeline.Proposal{Decision: record.PutOff}, false}, {pipeline.Proposal{Decision: record.PutOff, LookAgain: day}, true},
		{pipeline.Proposal{Decision: record.PutOff, LookAgain: day + 1}, false}} {
		assert.Equal(t, x.want, x.p.Waits(day), x.p)
	}
}
