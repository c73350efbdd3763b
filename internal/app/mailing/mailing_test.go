package mailing_test

import (
	"bytes"
	"context"
	"io"
	"net/mail"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/explain"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/app/letter"
	"turret/internal/app/lookout"
	"turret/internal/app/mailing"
	"turret/internal/app/publish"
	appreport "turret/internal/app/report"
	"turret/internal/app/setting"
	"turret/internal/core/calendar"
	"turret/internal/core/health"
	"turret/internal/demo"
	"turret/internal/demotest"
	"turret/internal/outbox"
	"turret/internal/record"
	"turret/internal/report"
	"turret/internal/store"
)

// desk is the demonstration with an outbox and what prints reports, at a moment that can be moved.
func desk(t *testing.T, now *time.Time) (context.Context, *app.Office, outbox.Folder) {
	t.Helper()
	box := outbox.In(t.TempDir(), "turret@localhost")
	return access.As(context.Background(), access.Operator("a test")), sending(demotest.Store(t), box, now), box
}

// sending is an office that prints reports and writes letters.
func sending(s *store.Store, box letter.Outbox, now *time.Time) *app.Office {
	return app.NewOffice(s, func() time.Time { return *now },
		app.Parts{Outbox: box, Print: func(w io.Writer, format string, c *appreport.Content) (string, string, error) {
			ending, err := report.Write(w, format, c)
			return ending, report.Media[format], err
		}})
}

// A list sends once for each closing and each month, to each what they may see; the one it was sent to opens it, and that is kept.
func TestListsSendOnce(t *testing.T) {
	now := time.Date(2026, 11, 10, 9, 0, 0, 0, time.UTC)
	ctx, o, box := desk(t, &now)
	today := setting.DayOf(now)
	sent, err := o.Mailing.SendDue(ctx, today)
	require.NoError(t, err)
	assert.Empty(t, sent, "what was closed before the list was made is not sent")
	require.NoError(t, o.Mailing.Save(ctx, mailing.Mailing{Name: "Costs", Report: "cost", Format: "html",
		Logins: []string{"almeida", "osei"},
		Day:    10}))
	require.NoError(t, o.Mailing.Save(ctx, mailing.Mailing{Name: "Later", Report: "status", Format: "csv", Logins: []string{"osei"},
		Day: 11}))
	sent, err = o.Mailing.SendDue(ctx, today)
	require.NoError(t, err)
	require.Len(t, sent, 2)
	again, err := o.Mailing.SendDue(ctx, today+3)
	require.NoError(t, err)
	require.Len(t, again, 1, "the list of the 11th; that of the 10th was sent already")
	assert.Equal(t, "Later", again[0].List)

	by := map[string]mailing.Sending{}
	for _, s := range sent {
		assert.Empty(t, s.Failed)
		assert.Equal(t, demo.AsOf, s.AsOf, "the month before")
		by[s.Login] = s
	}
	assert.NotEqual(t, by["almeida"].Kept, by["osei"].Kept)
	almeida := access.As(context.Background(), &access.Actor{Login: "almeida", Name: "C. Almeida", Role: access.Executive, HideMoney: true})
	_, b, err := o.Mailing.OpenSent(almeida, by["almeida"].ID)
	require.NoError(t, err)
	assert.False(t, bytes.Contains(b, []byte("€")), "no costs for her")
	assert.True(t, bytes.Contains(b, []byte("Costs are not shown to you.")))
	_, _, err = o.Mailing.OpenSent(almeida, by["osei"].ID)
	assert.ErrorIs(t, err, fault.ErrNotFound, "what was sent to another is as if it were not there")
	_, b, err = o.Mailing.OpenSent(ctx, by["osei"].ID)
	require.NoError(t, err)
	assert.True(t, bytes.Contains(b, []byte("€94.84 M")))
	list, err := o.Mailing.Sent(ctx, 10)
	require.NoError(t, err)
	opened := map[string]bool{}
	for _, s := range list {
		opened[s.Login] = opened[s.Login] || !s.Opened.IsZero()
	}
	assert.Equal(t, map[string]bool{"almeida": true, "osei": false}, opened, "that those who send look at it does not count")

	messages, err := box.List()
	require.NoError(t, err)
	assert.Len(t, messages, 3)
	assert.ErrorIs(t, o.Mailing.Save(almeida, mailing.Mailing{Name: "Mine", Report: "cost", Format: "pdf", Logins: []string{"osei"}}),
		access.ErrForbidden)
	for _, bad := range []mailing.Mailing{{Name: "x", Report: "nothing", Format: "pdf", Logins: []string{"osei"}},
		{Name: "x", Report: "cost", Format: "doc", Logins: []string{"osei"}},
		{Name: "x", Report: "cost", Format: "pdf"}, {Name: "x", Report: "cost", Format: "pdf", Logins: []string{"nobody"}},
		{Name: "x", Report: "cost", Format: "pdf", Roles: []access.Role{"king"}},
		{Name: " ", Report: "cost", Format: "pdf", Logins: []string{"osei"}}, {Name: "x", Report: "cost", Format: "pdf",
			Logins: []string{"osei"}, Day: 32}} {
		var field *fault.FieldError
		assert.ErrorAs(t, o.Mailing.Save(ctx, bad), &field)
	}
}

// Closing a period sends the pack to the board, attached; closing it again sends its next issue where its figures are others, and nothing
// where they are the same. What is held back at closing is not sent later either.
func TestThePackIsSentWhenAPeriodIsClosed(t *testing.T) {
	now := time.Date(2026, 11, 10, 9, 0, 0, 0, time.UTC)
	ctx, o, box := desk(t, &now)
	month, today := calendar.Months.Of(demo.AsOf), setting.DayOf(now)
	closing := func(posting string) {
		now = now.Add(time.Hour)
		if posting != "" {
			_, err := o.Intake.Import(ctx, []*kept.File{apptest.Read(t, record.Actuals, "project,cost_code,date,amount,document\n"+
				"LW-07,21,2026-10-30,"+posting+",X"+posting+"\n")}, intake.Origin{Period: month})
			require.NoError(t, err)
		}
		require.NoError(t, o.Publish.Waive(ctx, month, today, "", "agreed"))
		_, err := o.Publish.Publish(ctx, month, today, true)
		require.NoError(t, err)
	}
	to, err := o.Mailing.OnClosing(ctx)
	require.NoError(t, err)
	assert.Equal(t, []string{"C. Almeida"}, to)
	closing("")
	sent, err := o.Mailing.SendDue(ctx, today)
	require.NoError(t, err)
	require.Len(t, sent, 1)
	assert.Equal(t, "almeida", sent[0].Login)
	assert.Contains(t, sent[0].Occasion, "issue 1")
	raw, err := box.Open(sent[0].File)
	require.NoError(t, err)
	m, err := mail.ReadMessage(bytes.NewReader(raw))
	require.NoError(t, err)
	assert.True(t, strings.HasPrefix(m.Header.Get("Content-Type"), "multipart/mixed"))
	assert.Contains(t, string(raw), "executive-pack-2026-10-31.pdf")

	again := func() { require.NoError(t, o.Publish.Reopen(ctx, month, "once more")) }
	again()
	closing("")
	sent, err = o.Mailing.SendDue(ctx, today)
	require.NoError(t, err)
	assert.Empty(t, sent, "the same figures were sent already")

	again()
	closing("12.34")
	sent, err = o.Mailing.HoldDue(ctx, today)
	require.NoError(t, err)
	require.Len(t, sent, 1)
	assert.Contains(t, sent[0].Failed, "held back")
	assert.Empty(t, sent[0].File)
	sent, err = o.Mailing.SendDue(ctx, today+1)
	require.NoError(t, err)
	assert.Empty(t, sent, "what was held back stays so")

	again()
	closing("56.78")
	sent, err = o.Mailing.SendDue(ctx, today)
	require.NoError(t, err)
	require.Len(t, sent, 1)
	assert.Contains(t, sent[0].Occasion, "issue 4")
}

// A question stands in the way of closing until its lead answers it; others do not see it, and a closed period keeps what was said.
func TestAQuestionWaitsForItsLead(t *testing.T) {
	now := time.Date(2026, 11, 10, 9, 0, 0, 0, time.UTC)
	ctx, o, box := desk(t, &now)
	a, err := o.Assess.Day(ctx, demo.AsOf)
	require.NoError(t, err)
	asked, _, err := o.Explain.Asked(ctx, a)
	require.NoError(t, err)
	require.Len(t, asked, 1)
	require.NoError(t, o.Explain.Say(ctx, a, "LW-11", explain.Remark{Part: health.Schedule.String(), Text: "When does the ring arrive?",
		Asks: true},
		0))
	messages, err := box.List()
	require.NoError(t, err)
	require.Len(t, messages, 1, "the lead is written to")
	assert.Equal(t, "moreau@ostrel.example", messages[0].To)

	lead := access.As(context.Background(), &access.Actor{Login: "okafor", Name: "M. Okafor", Role: access.Lead})
	mine, err := o.Assess.Day(lead, demo.AsOf)
	require.NoError(t, err)
	waits, err := o.Publish.Waits(lead, mine)
	require.NoError(t, err)
	var answers []string
	for _, w := range waits {
		if w.What == publish.WaitAnswer {
			answers = append(answers, w.Of)
		}
	}
	assert.Equal(t, []string{"LW-07"}, answers, "that of another lead is not hers to answer")
	assert.ErrorIs(t, o.Explain.Say(lead, mine, "LW-07", explain.Remark{Part: "cost", Text: "Why?", Asks: true}, 0), access.ErrForbidden,
		"leads answer")
	assert.ErrorIs(t, o.Explain.Say(lead, mine, "LW-11", explain.Remark{Part: "cost", Text: "Because."}, 0), fault.ErrNotFound)
	require.NoError(t, o.Explain.Say(lead, mine, "LW-07", explain.Remark{Part: "cost", Text: "Divers, and it does not hold."}, asked[0].ID))
	assert.ErrorIs(t, o.Explain.Say(lead, mine, "LW-07", explain.Remark{Part: "cost", Text: "Again."}, asked[0].ID), fault.ErrConflict)
	var field *fault.FieldError
	assert.ErrorAs(t, o.Explain.Say(lead, mine, "LW-07", explain.Remark{Part: "weather", Text: "x"}, 0), &field)
	assert.ErrorAs(t, o.Explain.Say(lead, mine, "LW-07", explain.Remark{Part: "cost", Text: strings.Repeat("x", 2001)}, 0), &field)
	require.NoError(t, o.Explain.Say(lead, mine, "LW-07", explain.Remark{Part: explain.DonePart}, 0))

	asked, _, err = o.Explain.Asked(ctx, a)
	require.NoError(t, err)
	require.Len(t, asked, 1)
	r, err := o.Publish.Ready(ctx, calendar.Months.Of(demo.AsOf), setting.DayOf(now))
	require.NoError(t, err)
	stands := 0
	for _, x := range r.Obstacles {
		if x.Remark != nil {
			stands++
			assert.Contains(t, x.Says, "When does the ring arrive?")
		}
	}
	assert.Equal(t, 1, stands)

	state, _, err := o.Publish.State(ctx, a)
	require.NoError(t, err)
	assert.Equal(t, publish.PeriodInWork, state)
	require.NoError(t, o.Publish.SetReview(ctx, calendar.Months.Of(demo.AsOf), true))
	state, _, err = o.Publish.State(ctx, a)
	require.NoError(t, err)
	assert.Equal(t, publish.PeriodInReview, state)
	assert.ErrorIs(t, o.Publish.SetReview(lead, calendar.Months.Of(demo.AsOf), false), access.ErrForbidden)
	require.NoError(t, o.Publish.Waive(ctx, calendar.Months.Of(demo.AsOf), setting.DayOf(now), "", "agreed"))
	_, err = o.Publish.Publish(ctx, calendar.Months.Of(demo.AsOf), setting.DayOf(now), true)
	require.NoError(t, err)
	closed, err := o.Assess.Day(ctx, demo.AsOf)
	require.NoError(t, err)
	state, _, err = o.Publish.State(ctx, closed)
	require.NoError(t, err)
	assert.Equal(t, publish.PeriodPublished, state)
	assert.ErrorIs(t, o.Explain.Say(ctx, closed, "LW-11", explain.Remark{Part: "cost", Text: "Late."}, 0), fault.ErrConflict)
	said, err := o.Explain.Remarks(ctx, closed, "LW-07")
	require.NoError(t, err)
	assert.Len(t, said, 3)
	next, err := o.Assess.Day(ctx, (demo.AsOf.Month() + 1).Last())
	require.NoError(t, err)
	state, _, err = o.Publish.State(ctx, next)
	require.NoError(t, err)
	assert.Equal(t, publish.PeriodOpen, state)
}

// Steps are due on working days after the as-of date: 31 October 2026 is a Saturday, so the fifth is Friday, 6 November.
func TestStepsAreDueOnWorkingDays(t *testing.T) {
	now := time.Date(2026, 11, 10, 9, 0, 0, 0, time.UTC)
	ctx, o, _ := desk(t, &now)
	a, err := o.Assess.Day(ctx, demo.AsOf)
	require.NoError(t, err)
	assert.Equal(t, calendar.On(2026, 11, 6), a.DueOn(setting.GatherStep))
	assert.Equal(t, calendar.On(2026, 11, 13), a.DueOn(setting.PublishStep))
	s, err := o.Setting.Get(ctx)
	require.NoError(t, err)
	s.StepsDue = map[setting.Step]int{setting.PublishStep: 7}
	var field *fault.FieldError
	assert.ErrorAs(t, o.Setting.Save(ctx, s), &field, "it is not due before the texts that it publishes")
	s.StepsDue = map[setting.Step]int{setting.PublishStep: 12}
	require.NoError(t, o.Setting.Save(ctx, s))
	a, err = o.Assess.Day(ctx, demo.AsOf)
	require.NoError(t, err)
	assert.Equal(t, calendar.On(2026, 11, 17), a.DueOn(setting.PublishStep))
}

// Lookout is as one's own, else as for the role, else as shipped.
func TestLookoutIsArrangedByItsReader(t *testing.T) {
	now := time.Date(2026, 11, 10, 9, 0, 0, 0, time.UTC)
	ctx, o, _ := desk(t, &now)
	almeida := access.As(context.Background(), &access.Actor{Login: "almeida", Name: "C. Almeida", Role: access.Executive})
	keys := func(ctx context.Context) (list []string, own bool) {
		panels, own, err := o.Lookout.Panels(ctx)
		require.NoError(t, err)
		for _, p := range panels {
			list = append(list, p.Key()+" "+p.Wide)
		}
		return list, own
	}
	shipped, own := keys(almeida)
	assert.Contains(t, shipped, "decisions whole")
	assert.False(t, own)
	role := []lookout.Panel{{Kind: "trend", Of: "1", Wide: "half", Say: "cpi"}, {Kind: "waits", Wide: "whole"}}
	assert.ErrorIs(t, o.Lookout.SaveRolePanels(almeida, access.Executive, role), access.ErrForbidden)
	require.NoError(t, o.Lookout.SaveRolePanels(ctx, access.Executive, role))
	list, _ := keys(almeida)
	assert.Equal(t, []string{"trend.1 half", "waits whole"}, list)
	require.NoError(t, o.Lookout.SavePanels(almeida, []lookout.Panel{{Kind: "note", Wide: "third"}}))
	require.NoError(t, o.Lookout.SaveRolePanels(ctx, access.Executive, role[:1]), "a usual one of another analyst takes its place")
	list, own = keys(almeida)
	assert.Equal(t, []string{"note third"}, list)
	assert.True(t, own)
	require.NoError(t, o.Lookout.EndPanels(almeida))
	list, _ = keys(almeida)
	assert.Equal(t, []string{"trend.1 half"}, list)

	require.NoError(t, o.Setting.SaveNotice(ctx, "Numbers are in *euro*.", demo.AsOf+20, demo.AsOf))
	n, err := o.Setting.Notice(almeida, demo.AsOf+20)
	require.NoError(t, err)
	require.NotNil(t, n)
	n, err = o.Setting.Notice(almeida, demo.AsOf+21)
	require.NoError(t, err)
	assert.Nil(t, n, "it has lapsed")
	assert.Error(t, o.Setting.SaveNotice(ctx, "Yesterday's", demo.AsOf-1, demo.AsOf))
}

// An office that ends in the middle of sending sends what is left when it starts again: the one that was begun once, whether its letter
// was written or not, and nothing twice. What may still be under way is left alone.
func TestSendingGoesOnAfterAStop(t *testing.T) {
	for _, written := range []bool{false, true} {
		now := time.Date(2026, 11, 10, 9, 0, 0, 0, time.UTC)
		ctx := access.As(context.Background(), access.Operator("a test"))
		kept, box := demotest.Store(t), outbox.In(t.TempDir(), "turret@localhost")
		o := sending(kept, box, &now)
		require.NoError(t, o.Mailing.Save(ctx, mailing.Mailing{Name: "Costs", Report: "cost", Format: "csv",
			Logins: []string{"almeida", "okafor", "osei"}, Day: 10}))
		stopping, stop := context.WithCancel(ctx)
		broken := sending(kept, &stopped{Folder: box, stop: stop, write: written, left: 1}, &now)
		_, err := broken.Mailing.SendDue(stopping, setting.DayOf(now))
		require.Error(t, err, "the office ended while it wrote the second letter")

		now = now.Add(5 * time.Minute)
		sent, err := o.Mailing.SendDue(ctx, setting.DayOf(now))
		require.NoError(t, err)
		require.Len(t, sent, 1, "the third; the second may still be on its way")
		now = now.Add(10 * time.Minute)
		sent, err = o.Mailing.SendDue(ctx, setting.DayOf(now))
		require.NoError(t, err)
		require.Len(t, sent, 1)
		assert.Empty(t, sent[0].Failed)
		letters, err := box.List()
		require.NoError(t, err)
		to := map[string]int{}
		for _, m := range letters {
			to[m.To]++
		}
		assert.Equal(t, 3, len(to), "%v", to)
		assert.Len(t, letters, 3, "nobody gets it twice")
		list, err := o.Mailing.Sent(ctx, 10)
		require.NoError(t, err)
		require.Len(t, list, 3)
		for _, s := range list {
			assert.Empty(t, s.Failed)
			assert.NotEmpty(t, s.File)
		}
	}
}

// stopped is an outbox that ends the office while it writes a letter, after so many whole ones.
type stopped struct {
	outbox.Folder
	stop  func()
	write bool
	left  int
}

func (s *stopped) Put(m letter.Message) (file string, err error) {
	if s.left--; s.left >= 0 {
		return s.Folder.Put(m)
	}
	s.stop()
	if s.write {
		return s.Folder.Put(m)
	}
	return "", context.Canceled
}
