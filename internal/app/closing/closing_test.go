package closing_test

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/app/closing"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/demotest"
	"turret/internal/ingest"
	"turret/internal/record"
)

var ctx = access.As(context.Background(), access.Operator("a test"))

// office keeps a project A that is not done with, by texts of kinds, and B, of which nothing is known.
func office(t *testing.T, texts ...string) *app.Office {
	t.Helper()
	s, err := demotest.Create(ctx, t.TempDir()+"/c.db")
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	o := app.NewOffice(s, func() time.Time { return apptest.At }, app.Parts{Reader: ingest.Reader{}})
	send := func(kind record.Kind, text string) {
		_, err := o.Intake.Import(ctx, []*kept.File{apptest.Read(t, kind, text)}, intake.Origin{Period: apptest.October})
		require.NoError(t, err, kind)
	}
	send(record.Projects, "code,name,stage,status\nA,Alder,closing,open\nB,Birch,,open\nC,Cedar,,proposed\n")
	send(record.CostCodes, "code,name\n1,Works\n")
	send(record.People, "code,name\nP,Ann\n")
	for i := 0; i < len(texts); i += 2 {
		send(record.Kind(texts[i]), texts[i+1])
	}
	return o
}

func day(t *testing.T, o *app.Office) *assess.Assessment {
	t.Helper()
	a, err := o.Assess.Day(ctx, calendar.On(2026, 10, 31))
	require.NoError(t, err)
	return a
}

// Everything that is left, item by item; what is over on the day, was taken out, or comes later does not count.
func TestWhatIsLeftBeforeAProjectIsClosed(t *testing.T) {
	o := office(t, "activities", "project,code,name,kind,start,finish,actual_start,actual_finish,state\n"+
		"A,S,All,summary,,,,,\nA,W1,Dig,,,,2026-09-01,2026-10-31,\nA,W2,Paint,,,,2026-09-01,,\nA,W3,Gild,,2026-09-01,2026-09-02,,,cancelled\n",
		"actions", "project,code,title,state,raised,done_on\nA,T1,Tidy,open,2026-09-01,\nA,T2,Send,done,2026-09-01,2026-10-01\n",
		"issues", "project,code,title,state,raised\nA,I1,Leak,open,2026-09-01\n",
		"risks", "project,code,title,state,raised\nA,R1,Frost,open,2026-09-01\nA,R2,Flood,closed,2026-09-01\n",
		"decisions", "project,code,title,state\nA,D1,Gate,asked for\nA,D2,Key,withdrawn\n",
		"commitments",
		"project,cost_code,document,amount,due,supplier\nA,1,PO1,100,2026-10-31,Firm\nA,1,PO2,20.50,2026-11-01,\nA,1,PO3,7,,\nA,1,PO4,0,,\n",
		"forecast", "project,cost_code,amount,month\nA,1,300,2026-11\n",
		"benefits",
		"project,code,name,month,planned,owner\nA,B1,Fees,2026-11,10,\nA,B1,Fees,2026-12,10,\nA,B2,Fish,2026-11,10,Bo\nA,B3,Past,2026-10,10,\n",
		"assignments", "person,project,from,to,percent\nP,A,2026-10-01,2026-11-30,50\nP,A,2026-01-01,2026-10-31,50\n")
	a := day(t, o)
	l, err := closing.Of(ctx, a, a.ByCode["A"])
	require.NoError(t, err)
	got := map[closing.Part][]string{}
	for _, x := range l.Items {
		got[x.Part] = x.Left
	}
	assert.Equal(t, map[closing.Part][]string{closing.Work: {"W2 Paint"}, closing.Actions: {"T1 Tidy"}, closing.Issues: {"I1 Leak"},
		closing.Risks: {"R1 Frost"}, closing.Decisions: {"D1 Gate"}, closing.Accruals: {"PO1, €100.00, Firm, due 31 Oct 2026"},
		closing.Commitments: {"PO2, €20.50", "PO3, €7.00"}, closing.Forecast: {"€300.00 to go"}, closing.Benefits: {"B1 Fees"},
		closing.People: {"P until 30 Nov 2026"}, closing.Lessons: {"none is written down"}}, got)
	assert.Equal(t, 11, l.Left())

	l, err = closing.Of(ctx, a, a.ByCode["B"])
	require.NoError(t, err)
	assert.Equal(t, 2, l.Left(), "no forecast was sent, and no lesson")

	blind := access.As(ctx, &access.Actor{Login: "x", Name: "X", Role: access.Analyst, HideMoney: true})
	a, err = o.Assess.Day(blind, calendar.On(2026, 10, 31))
	require.NoError(t, err)
	l, err = closing.Of(blind, a, a.ByCode["A"])
	require.NoError(t, err)
	assert.True(t, l.Hidden)
	assert.Len(t, l.Items, 8, "orders and forecast are costs")
}

// A project is closed with a reason, once, by whoever may change its row; all that was sent for it stays, and so does its stage.
func TestAProjectIsClosed(t *testing.T) {
	o := office(t, "lessons", "project,code,title\nA,L1,Ask twice\n", "budget", "project,cost_code,amount,month\nA,1,50,2026-10\n")
	_, err := o.Closing.Close(ctx, day(t, o), "A", " ")
	var field *fault.FieldError
	require.ErrorAs(t, err, &field, "a reason is asked for")
	r, err := o.Closing.Close(ctx, day(t, o), "A", "handed over")
	require.NoError(t, err)
	require.Len(t, r.Loads, 1)
	assert.Equal(t, "handed over", r.Loads[0].Note)
	a := day(t, o)
	p := a.ByCode["A"]
	assert.Equal(t, []string{"closed", "closing", "Alder"}, []string{p.Status.String(), p.Stage, p.Name})
	assert.Equal(t, int64(50_00), p.Value(measure.BAC).N)
	assert.Equal(t, measure.Open, a.ByCode["B"].Status)
	_, err = o.Closing.Close(ctx, a, "A", "again")
	assert.ErrorIs(t, err, fault.ErrConflict)
	_, err = o.Closing.Close(ctx, a, "C", "a proposal")
	assert.ErrorIs(t, err, fault.ErrConflict)
	_, err = o.Closing.Close(ctx, a, "nowhere", "x")
	assert.ErrorIs(t, err, fault.ErrNotFound)
	reader := access.As(ctx, &access.Actor{Login: "e", Name: "E", Role: access.Executive})
	_, err = o.Closing.Close(reader, a, "B", "x")
	assert.ErrorIs(t, err, access.ErrForbidden)
	assert.False(t, o.Closing.MayClose(reader, "B"))
}
