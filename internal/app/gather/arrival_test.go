package gather_test

import (
	"turret/internal/app/account"
	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/app/audit"

	"context"
	"errors"
	"io"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	appdraft "turret/internal/app/draft"
	"turret/internal/app/fault"
	"turret/internal/app/gather"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/draft"
	"turret/internal/ingest"
	"turret/internal/outbox"
	"turret/internal/record"
	"turret/internal/store"
)

// gatherer is a file with an office that takes drafts and writes reminders.
func gatherer(t *testing.T) (*store.Store, *app.Office) {
	t.Helper()
	s, _ := apptest.Opened(t)
	dir := t.TempDir()
	return s, app.NewOffice(s, func() time.Time { return apptest.At }, app.Parts{Reader: ingest.Reader{},
		Drafts: draft.In(filepath.Join(dir, "drafts"), time.Time{}), Outbox: outbox.In(filepath.Join(dir, "out"), "turret@localhost")})
}

var (
	september = calendar.Months.Of(calendar.On(2026, 9, 1))
	october   = calendar.Months.Of(calendar.On(2026, 10, 1))
)

func slotsOf(t *testing.T, o *app.Office, today calendar.Date) map[string]gather.Slot {
	t.Helper()
	m, err := o.Gather.Matrix(ctx, october, today)
	require.NoError(t, err)
	by := map[string]gather.Slot{}
	for _, row := range m.Rows {
		for _, s := range row.Slots {
			by[row.Project.Code+" "+string(s.Kind)] = s
		}
	}
	return by
}

// Each way in which an input can stand, and when it is overdue: due dates count working days from 31 October 2026, a Saturday.
func TestMatrix(t *testing.T) {
	_, o := gatherer(t)
	take := func(period calendar.Period, kind record.Kind, text string) error {
		_, err := o.Intake.Import(ctx, []*kept.File{apptest.Read(t, kind, text)}, intake.Origin{Source: "S", Period: period})
		return err
	}
	require.NoError(t, take(0, record.Projects, "code,name,lead,status\nA,First,Ada,open\nB,Second,Ben,open\nZ,Closed,Ada,closed\n"))
	require.NoError(t, take(september, record.Activities, "project,code,name\nA,1,Dig\n"))
	require.NoError(t, take(september, record.Budget, "project,cost_code,amount,month\nA,C,1,2026-09\n"))
	require.NoError(t, take(october, record.Statuses, "project,overall\nA,watch\n"))
	require.NoError(t, take(october, record.Actuals, "project,cost_code,date,amount\nA,C,2026-10-01,5\n"))
	require.ErrorIs(t, take(october, record.Forecast, "project,cost_code,amount,month\nB,NONE,1,2026-11\n"), fault.ErrRefused)
	require.NoError(t, o.Gather.Expect(ctx, "B", record.Statuses, false))
	require.ErrorIs(t, o.Gather.Expect(ctx, "NO", record.Statuses, false), fault.ErrNotFound)
	require.ErrorIs(t, o.Gather.Expect(ctx, "B", "weather", false), fault.ErrNotFound)

	tuesday := calendar.On(2026, 11, 3)
	by := slotsOf(t, o, tuesday)
	for key, want := range map[string]gather.Arrival{"A activities": gather.Stale, "A budget": gather.Standing, "A status": gather.Received,
		"A actuals":  gather.Received,
		"A forecast": gather.Missing, "B forecast": gather.RefusedLast, "B status": gather.NotExpected, "B budget": gather.Missing} {
		assert.Equal(t, want, by[key].Arrival, key)
	}
	_, closed := by["Z status"]
	assert.False(t, closed, "closed projects send nothing")
	assert.Contains(t, by["B forecast"].Refusal.First, "NONE")
	assert.Equal(t, calendar.On(2026, 11, 4), by["A activities"].Due, "the third working day after it, a Wednesday")
	assert.False(t, by["A activities"].Overdue)
	assert.True(t, slotsOf(t, o, calendar.On(2026, 11, 5))["A activities"].Overdue)
	require.NoError(t, take(october, record.Forecast, "project,cost_code,amount,month\nB,C,1,2026-11\n"))
	assert.Equal(t, gather.Received, slotsOf(t, o, tuesday)["B forecast"].Arrival, "what came after the refusal counts")
	came, expected, err := o.Gather.Counts(ctx, october)
	require.NoError(t, err)
	assert.Equal(t, []int{4, 9}, []int{came, expected}, "A: budget, actuals, status; B: forecast; of ten less the one not expected")
	require.NoError(t, take(october, record.Budget, "project,cost_code,amount,month\nB,C,1,2026-10\n"))
	came, expected, err = o.Gather.Counts(assess.Patient(ctx, time.Nanosecond), october)
	require.NoError(t, err, "who is told what came does not wait for figures")
	assert.Equal(t, []int{5, 9}, []int{came, expected})
	require.NoError(t, o.Gather.Expect(ctx, "B", record.Statuses, true))
	assert.Equal(t, gather.Missing, slotsOf(t, o, tuesday)["B status"].Arrival)
}

// What the office types does not make an input come that is otherwise sent; where nobody ever sent it, typing is how it comes. What a lead
// types is sent.
func TestTypingCorrectsAnInput(t *testing.T) {
	_, o := gatherer(t)
	take := func(source string, period calendar.Period, kind record.Kind, text string) {
		_, err := o.Intake.Import(ctx, []*kept.File{apptest.Read(t, kind, text)},
			intake.Origin{Source: source, Author: "Ana", Period: period})
		require.NoError(t, err)
	}
	take("S", 0, record.Projects, "code,name,lead,status\nA,First,Ada,open\n")
	take("S", september, record.Activities, "project,code,name\nA,1,Dig\n")
	take(kept.ByHand, october, record.Activities, "project,code,name\nA,1,Dig deep\n")
	take(kept.ByHand, october, record.Statuses, "project,overall\nA,watch\n")
	by := slotsOf(t, o, 0)
	plan := by["A activities"]
	assert.Equal(t, gather.Stale, plan.Arrival)
	require.NotNil(t, plan.Mended)
	assert.Equal(t, []string{"Ana", "S"}, []string{plan.Mended.Author, plan.Load.Source})
	assert.Equal(t, gather.Received, by["A status"].Arrival)
	assert.Nil(t, by["A status"].Mended)
	take("S", october, record.Activities, "project,code,name\nA,1,Dig\n")
	plan = slotsOf(t, o, 0)["A activities"]
	assert.Equal(t, gather.Received, plan.Arrival)
	assert.Nil(t, plan.Mended, "what was sent since replaced it")
	assert.Equal(t, []string{"Ada", kept.ByHand}, []string{intake.TypedBy(&access.Actor{Name: "Ada", Role: access.Lead}),
		intake.TypedBy(&access.Actor{Name: "Ana", Role: access.Analyst})})
}

// A lead with an address gets one message about all projects led; of others it is said that nothing could be written.
func TestReminders(t *testing.T) {
	_, o := gatherer(t)
	_, err := o.Intake.Import(ctx, []*kept.File{apptest.Read(t, record.Projects,
		"code,name,lead,status\nA,First,Ada,open\nB,Second,Ada,open\nD,Third,,open\nE,Fourth,Eve,open\n")}, intake.Origin{})
	require.NoError(t, err)
	_, err = o.Account.SaveAccount(ctx, account.Account{Login: "ada", Name: "Ada", Email: "ada@example.org", Role: access.Lead,
		Active: true}, "")
	require.NoError(t, err)
	r, err := o.Gather.Remind(ctx, october, calendar.On(2026, 11, 3), nil)
	require.NoError(t, err)
	require.Len(t, r.Sent, 1)
	assert.Equal(t, []string{"D (no lead)", "E (Eve)"}, r.Unwritten)
	m := r.Sent[0]
	assert.Equal(t, "October 2026: 10 inputs are still to come", m.Subject)
	assert.Equal(t, 2, strings.Count(m.Text, "Schedule, due 4 Nov 2026"))
	list, err := o.Letter.Outbox(ctx)
	require.NoError(t, err)
	require.Len(t, list, 1)
	body, err := o.Letter.OpenMessage(ctx, list[0].File)
	require.NoError(t, err)
	assert.Contains(t, string(body), "To: <ada@example.org>")
	r, err = o.Gather.Remind(ctx, october, calendar.On(2026, 11, 3), []string{"B"})
	require.NoError(t, err)
	assert.Equal(t, "October 2026: 5 inputs are still to come", r.Sent[0].Subject)
	trail, err := o.Audit.List(ctx, audit.Query{Act: "remind"})
	require.NoError(t, err)
	assert.Len(t, trail, 2)
}

func received(t *testing.T, o *app.Office, name, text string) *appdraft.Draft {
	t.Helper()
	sent := false
	d, err := o.Draft.Receive(ctx, "S", october, func() (*appdraft.Upload, error) {
		if sent {
			return nil, io.EOF
		}
		sent = true
		return &appdraft.Upload{Name: name, Body: strings.NewReader(text)}, nil
	})
	require.NoError(t, err)
	return d
}

// What a load would do is said row by row and figure by figure, and nothing is written by asking.
func TestConsequences(t *testing.T) {
	s, o := gatherer(t)
	_, err := o.Intake.Import(ctx, []*kept.File{apptest.Read(t, record.Forecast,
		"project,cost_code,amount,month,note\nA,C,100,2026-11,first\nA,C,200,2026-12,\nA,C,300,2027-01,\n"),
		apptest.Read(t, record.Actuals, "project,cost_code,date,amount,document\nA,C,2026-10-05,50,D1\nA,C,2026-10-06,60,D2\n")},
		intake.Origin{})
	require.NoError(t, err)
	head, err := s.Head(ctx)
	require.NoError(t, err)

	d := received(t, o, "forecast.csv", "project,cost_code,amount,month\nA,C,100,2026-11\nA,C,250,2026-12\nA,C,400,2027-02\n")
	_, c, err := o.Draft.Preview(ctx, d.ID, october.Last())
	require.NoError(t, err)
	require.Empty(t, c.Problems)
	require.Len(t, c.Changes, 1)
	ch := c.Changes[0]
	assert.Equal(t, []int{1, 1, 1, 1}, []int{ch.New, ch.Changed, ch.Gone, ch.Same}, "the first row keeps its note")
	words := map[string]string{}
	for _, r := range ch.Rows {
		switch {
		case r.Old == nil:
			words[r.New[3]] = "new " + r.New[2]
		case r.New == nil:
			words[r.Old[3]] = "gone " + r.Old[2]
		default:
			words[r.New[3]] = r.Old[2] + " to " + r.New[2]
		}
	}
	assert.Equal(t, map[string]string{"2026-12": "200.00 to 250.00", "2027-01": "gone 300.00",
		"2027-02": "new 400.00"}, words)
	require.Len(t, c.Warnings, 1)
	assert.Contains(t, c.Warnings[0].Expected, "note (1 row). Choose to empty them")
	deltas := map[measure.Key]string{}
	for _, x := range c.Totals {
		deltas[x.Key] = x.Delta
	}
	assert.Equal(t, map[measure.Key]string{measure.EAC: "+€150"}, deltas, "100+200+300 became 100+250+400; there is no budget to vary from")
	after, err := s.Head(ctx)
	require.NoError(t, err)
	assert.Equal(t, head, after)

	m := d.Sheets[0].Sheet.Mapping
	m.Clear = true
	_, err = o.Draft.Remap(ctx, d.ID, "S", october, []intake.Mapping{m})
	require.NoError(t, err)
	_, c, err = o.Draft.Preview(ctx, d.ID, october.Last())
	require.NoError(t, err)
	require.Len(t, c.Warnings, 1)
	assert.Contains(t, c.Warnings[0].Expected, "as was chosen, these become empty: currency (2 rows), note (1 row)")
	assert.Equal(t, []int{1, 2, 1, 0}, []int{c.Changes[0].New, c.Changes[0].Changed, c.Changes[0].Gone, c.Changes[0].Same},
		"the first row loses its note")

	d = received(t, o, "actuals.csv", "project,cost_code,date,amount,document\nA,C,2026-10-06,60.00,D2\nA,C,2026-10-07,70,D3\n")
	_, c, err = o.Draft.Preview(ctx, d.ID, october.Last())
	require.NoError(t, err)
	require.Len(t, c.Warnings, 1)
	assert.Contains(t, c.Warnings[0].Expected, "1 of 2 stand in the ledger already")
	assert.Equal(t, int32(2), c.Warnings[0].Row)
}

// A load is begun once, however often it is asked for, and is refused where the world has moved on since it was looked at.
func TestLoadingADraft(t *testing.T) {
	s, o := gatherer(t)
	d := received(t, o, "actuals.csv", "project,cost_code,date,amount\nA,C,2026-10-06,60\n")
	for range 5 {
		_, err := o.Load.Start(ctx, d.ID)
		require.NoError(t, err)
	}
	j, err := o.Load.Job(ctx, d.ID)
	require.NoError(t, err)
	require.NoError(t, j.Wait(context.Background()))
	require.NoError(t, j.Now().Err)
	f, err := s.Rows(ctx, record.Actuals, kept.Selection{})
	require.NoError(t, err)
	assert.Equal(t, 1, f.Len())

	again := received(t, o, "actuals.csv", "project,cost_code,date,amount\nA,C,2026-10-06,60\n")
	j, err = o.Load.Start(ctx, again.ID)
	require.NoError(t, err)
	require.NoError(t, j.Wait(context.Background()))
	assert.ErrorIs(t, j.Now().Err, fault.ErrRefused)
	held, err := o.Draft.Get(ctx, again.ID)
	require.NoError(t, err, "what was refused is still there")
	assert.True(t, held.Refused)
	_, err = o.Load.Start(ctx, "0123456789abcdef01234567")
	assert.ErrorIs(t, err, fault.ErrNotFound)
	_, err = o.Draft.Get(ctx, "../../etc")
	assert.ErrorIs(t, err, fault.ErrNotFound)
}

// endless gives bytes for ever.
type endless struct{ given int64 }

func (e *endless) Read(p []byte) (int, error) {
	e.given += int64(len(p))
	return len(p), nil
}

func TestReceivingStopsAtTheLimit(t *testing.T) {
	_, o := gatherer(t)
	e := &endless{}
	sent := false
	_, err := o.Draft.Receive(ctx, "S", october, func() (*appdraft.Upload, error) {
		if sent {
			return nil, io.EOF
		}
		sent = true
		return &appdraft.Upload{Name: "big.csv", Body: e}, nil
	})
	assert.ErrorIs(t, err, fault.ErrTooLarge)
	assert.Less(t, e.given, int64(draft.MaxFile+1<<20))
	list, err := o.Draft.List(ctx)
	require.NoError(t, err)
	assert.Empty(t, list, "nothing of it is kept")
	_, err = o.Draft.Receive(ctx, "S", october, func() (*appdraft.Upload, error) { return nil, errors.New("the line broke") })
	assert.ErrorContains(t, err, "the line broke")
	_, err = o.Draft.Receive(ctx, "S", october, func() (*appdraft.Upload, error) { return nil, io.EOF })
	var field *fault.FieldError
	assert.ErrorAs(t, err, &field)
}

// What a scope narrows the matrix to has its own counts: of A three have come of five, of B none of five.
func TestAMatrixNarrowedCountsItsOwn(t *testing.T) {
	_, o := gatherer(t)
	_, err := o.Intake.Import(apptest.Ctx, []*kept.File{apptest.Read(t, record.Statuses, "project,overall\nA,watch\n")},
		intake.Origin{Period: october})
	require.NoError(t, err)
	m, err := o.Gather.Matrix(apptest.Ctx, october, calendar.On(2026, 11, 30))
	require.NoError(t, err)
	for code, came := range map[string]int{"A": 1, "B": 0} {
		part := m.Within(func(p *measure.Info) bool { return p.Code == code })
		require.Len(t, part.Rows, 1, code)
		assert.Equal(t, []int{5, came, 5 - came}, []int{part.Expected, part.Came, part.Overdue}, code)
		assert.Equal(t, m.LastDue, part.LastDue, code)
	}
	none := m.Within(func(*measure.Info) bool { return false })
	assert.Zero(t, none.Expected)
	assert.Empty(t, none.Rows)
}
