package store_test

import (
	"errors"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/apptest"
	"turret/internal/app/audit"
	"turret/internal/app/desk"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/app/setting"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/demotest"
	"turret/internal/record"
	"turret/internal/store"
)

func loadsOf(t *testing.T, s *store.Store) []kept.Load {
	t.Helper()
	list, err := s.Loads(ctx)
	require.NoError(t, err)
	return list
}

// Withdrawing makes the former revision current again, figures follow, and the load stays listed with who and why.
func TestWithdrawnLoadsNoLongerCount(t *testing.T) {
	s, o := apptest.Opened(t)
	bac := func() string {
		a, err := o.Assess.Day(ctx, calendar.On(2026, 10, 31))
		require.NoError(t, err)
		p, err := a.Project("A")
		require.NoError(t, err)
		return p.Value(measure.BAC).Amount().Text("EUR")
	}
	for _, amount := range []string{"100", "250"} {
		_, err := o.Intake.Import(ctx, []*kept.File{apptest.Read(t, record.Budget,
			"project,cost_code,amount,month\nA,C,"+amount+",2026-09\n")},
			intake.Origin{})
		require.NoError(t, err)
	}
	assert.Equal(t, "250.00", bac())
	newest := loadsOf(t, s)[0]
	require.NoError(t, o.Load.Withdraw(ctx, newest.ID, "the wrong file"))
	assert.Equal(t, "100.00", bac())
	gone := loadsOf(t, s)[0]
	assert.Equal(t, []any{true, "a test", "the wrong file"}, []any{gone.Withdrawn(), gone.WithdrawnBy, gone.Reason})
	assert.ErrorIs(t, o.Load.Withdraw(ctx, newest.ID, "again"), fault.ErrConflict)
	var field *fault.FieldError
	assert.ErrorAs(t, o.Load.Withdraw(ctx, newest.ID-1, "  "), &field)
}

func TestWithdrawingIsRefusedWhereOthersNeedTheLoad(t *testing.T) {
	s, o := apptest.Opened(t)
	_, err := o.Intake.Import(ctx, []*kept.File{apptest.Read(t, record.Actuals, "project,cost_code,date,amount\nA,C,2026-09-01,10\n")},
		intake.Origin{})
	require.NoError(t, err)
	for _, l := range loadsOf(t, s) {
		if l.Kind == record.Actuals {
			continue
		}
		err := o.Load.Withdraw(ctx, l.ID, "to see")
		require.ErrorIs(t, err, fault.ErrNeeded, l.Kind)
		assert.Regexp(t, `load \d+ needs (project|programme|cost code)`, err.Error())
	}
	actuals := loadsOf(t, s)[0]
	_, err = o.Publish.Close(ctx, calendar.Months.Of(calendar.On(2026, 10, 1)))
	require.NoError(t, err)
	err = o.Load.Withdraw(ctx, actuals.ID, "to see")
	assert.ErrorIs(t, err, fault.ErrPinned)
	assert.Contains(t, err.Error(), "October 2026")
	assert.False(t, loadsOf(t, s)[0].Withdrawn())
}

// What a record refers to by its code stays, whatever kind it is of.
func TestCodesThatRecordsNameStay(t *testing.T) {
	for _, c := range []struct {
		kind record.Kind
		text string
	}{
		{record.Timesheets, "person,project,date,hours,cost_code\nP,A,2026-09-01,7,K\n"},
		{record.LabourRates, "person,role,cost_code,cost_rate,billing_rate\nP,,,40,60\n,,K,30,50\n"},
		{record.Assignments, "person,project,from,to,percent\nP,A,2026-09-01,2026-09-30,50\n"},
		{record.Absences, "person,from,to\nP,2026-12-21,2026-12-31\n"},
		{record.Commitments, "project,cost_code,document,amount\nA,K,D,1\n"},
	} {
		s, o := apptest.Opened(t)
		for _, f := range []*kept.File{apptest.Read(t, record.CostCodes, "code,name\nK,More\n"), apptest.Read(t, record.People,
			"code,name\nP,Pat\n"),
			apptest.Read(t, c.kind, c.text)} {
			_, err := o.Intake.Import(ctx, []*kept.File{f}, intake.Origin{})
			require.NoError(t, err)
		}
		needed := map[record.Kind]bool{}
		for _, l := range loadsOf(t, s)[1:3] {
			err := o.Load.Withdraw(ctx, l.ID, "to see")
			needed[l.Kind] = errors.Is(err, fault.ErrNeeded)
			if err != nil {
				require.ErrorIs(t, err, fault.ErrNeeded)
			}
		}
		codes := strings.Contains(c.text, ",K")
		people := strings.Contains(c.text, "\nP,")
		assert.Equal(t, map[record.Kind]bool{record.CostCodes: codes, record.People: people}, needed, c.kind)
	}
}

// Rows come back as they were sent: in the order, with the row numbers and cells of the file.
func TestRowsComeBackAsTheyWere(t *testing.T) {
	s, o := apptest.Opened(t)
	texts := map[record.Kind]string{
		record.Calendars:  "calendar,date,weekday,working,name\nnight,,mon,no,\nnight,2026-12-24,,yes,Eve\n",
		record.Rates:      "currency,month,rate,kind\nSEK,2026-09,0.0871,month\nSEK,2026-01,0.09,plan\n",
		record.Activities: "project,code,name,parent,kind,baseline_start,baseline_finish,start,finish,actual_start,actual_finish,duration,remaining,percent_complete,weight,ev_method,report_to,owner,party,calendar,not_before,not_after,low,likely,high,priority,state\nA,S,Sum,,summary,,,,,,,,,,,,project,,,,,,,,,,\nA,1,Dig,S,activity,2026-01-05,2026-02-27,2026-01-06,2026-03-02,2026-01-06,,40,3,62.5,0.25,50/50,programme,Ö,Firm,night,2026-01-01,2026-12-31,1,2,9,low,cancelled\n",
		record.Links:      "project,from,to,type,lag,from_project,to_project\nA,1,S,SS,-3,,B\n",
		record.Budget:     "project,cost_code,amount,month,from,to,profile,currency,cost_centre,change,note,activity\nA,C,-12.30,2026-09,,,,EUR,CC,,n,1\nA,C,99.00,,2026-01-01,2026-03-31,bell,EUR,,CR1,,\n",
		record.Actuals:    "project,cost_code,date,amount,currency,cost_centre,document,supplier,note,activity\nB,C,2026-09-01,7.00,SEK,,D1,S,\"a, b\",gone\nB,C,2026-09-02,-7.00,SEK,,D2,,,\n",
		record.Statuses: "project,overall,schedule,cost,scope,risk,benefit,percent_complete,commentary\nA,act,watch,on " +
			"track,,,,12.5,\"two\nlines\"\n",
	}
	for _, kind := range record.Kinds() {
		text, ok := texts[kind]
		if !ok {
			continue
		}
		f := apptest.Read(t, kind, text)
		r, err := o.Intake.Import(ctx, []*kept.File{f}, intake.Origin{})
		require.NoError(t, err, kind)
		for _, which := range []kept.Selection{{Load: r.Loads[0].ID}, {}} {
			back, err := s.Rows(ctx, kind, which)
			require.NoError(t, err)
			got := map[string]bool{}
			for i := range back.Len() {
				got[strings.Join(back.Cells(i), ",")] = true
			}
			lines := strings.Split(strings.NewReplacer("\"", "").Replace(strings.TrimSpace(text)), "\n")
			if kind == record.Statuses {
				lines = []string{lines[0], lines[1] + "\n" + lines[2]}
			}
			want := map[string]bool{}
			for _, l := range lines[1:] {
				want[l] = true
			}
			assert.Equal(t, want, got, "%s %+v", kind, which)
		}
	}
}

// The chain shows an entry that was changed, taken out or put in behind Turret's back; and Turret itself can do none of it.
func TestAuditTrail(t *testing.T) {
	dir := t.TempDir()
	path := filepath.Join(dir, "a.db")
	s, err := store.Create(ctx, path, "EUR")
	require.NoError(t, err)
	o := app.NewOffice(s, func() time.Time { return at }, app.Parts{})
	for _, code := range []string{"P1", "P2", "P3"} {
		_, err := o.Intake.Import(ctx, []*kept.File{apptest.Read(t, record.Structure, "code,name,level\n"+code+",N,portfolio\n")},
			intake.Origin{Source: "S"})
		require.NoError(t, err)
	}
	v, err := o.Audit.Verify(ctx)
	require.NoError(t, err)
	assert.Equal(t, audit.Verified{Entries: 3}, v)
	found, err := o.Audit.List(ctx, audit.Query{Text: "structure", Who: "a test", Act: "load"})
	require.NoError(t, err)
	require.Len(t, found, 3)
	assert.Contains(t, found[0].After, "1 row of structure from S, SHA-256")
	require.NoError(t, s.Close())

	raw, err := sqlx.Open("sqlite", path)
	require.NoError(t, err)
	_, err = raw.Exec(`UPDATE audit SET who = 'somebody else' WHERE id = 2`)
	assert.ErrorContains(t, err, "only added to")
	_, err = raw.Exec(`DELETE FROM audit WHERE id = 2`)
	assert.ErrorContains(t, err, "only added to")
	_, err = raw.Exec(`DROP TRIGGER audit_is_kept; DROP TRIGGER audit_is_fixed`)
	require.NoError(t, err)
	for _, tamper := range []string{`UPDATE audit SET who = 'somebody else' WHERE id = 2`, `DELETE FROM audit WHERE id = 2`,
		`INSERT INTO audit SELECT id + 1, at, who, act, subject, before, after, former, digest, made FROM audit WHERE id = 3`} {
		copied := filepath.Join(dir, "tampered.db")
		_ = os.Remove(copied)
		_, err = raw.Exec(`VACUUM INTO ?`, copied)
		require.NoError(t, err)
		other, err := sqlx.Open("sqlite", copied)
		require.NoError(t, err)
		_, err = other.Exec(tamper)
		require.NoError(t, err)
		require.NoError(t, other.Close())
		bad, err := store.Open(ctx, copied)
		require.NoError(t, err)
		v, err := app.NewOffice(bad, demotest.Now, app.Parts{}).Audit.Verify(ctx)
		require.NoError(t, err)
		assert.NotZero(t, v.Broken, tamper)
		require.NoError(t, bad.Close())
	}
	require.NoError(t, raw.Close())
}

// A copy made while others write holds a moment: every load in it is whole.
func TestBackupWhileLoading(t *testing.T) {
	s, o := apptest.Opened(t)
	done := make(chan error, 1)
	go func() {
		var err error
		for range 20 {
			_, e := o.Intake.Import(ctx, []*kept.File{apptest.Read(t, record.Statuses, "project,overall\nA,watch\nB,act\n")},
				intake.Origin{})
			if e != nil {
				err = e
			}
		}
		done <- err
	}()
	dir := t.TempDir()
	for i := range 5 {
		path := filepath.Join(dir, string(rune('a'+i))+".db")
		require.NoError(t, s.Backup(ctx, path))
		assert.ErrorIs(t, s.Backup(ctx, path), os.ErrExist)
		c, err := store.Open(ctx, path)
		require.NoError(t, err)
		require.NoError(t, c.Whole(ctx))
		loads := loadsOf(t, c)
		deliveries, err := c.Deliveries(ctx)
		require.NoError(t, err)
		status := 0
		for _, l := range loads {
			if l.Kind == record.Statuses {
				status++
			}
		}
		assert.Len(t, deliveries, 2*status)
		require.NoError(t, c.Close())
	}
	require.NoError(t, <-done)
}

// Two people who take in the same ledger at once: one is taken in, the other is refused, and no posting counts twice.
func TestTheSameLedgerTwiceAtOnce(t *testing.T) {
	s, o := apptest.Opened(t)
	errs := make(chan error, 8)
	for range cap(errs) {
		go func() {
			_, err := o.Intake.Import(ctx, []*kept.File{apptest.Read(t, record.Actuals,
				"project,cost_code,date,amount\nA,C,2026-09-01,10\n")},
				intake.Origin{})
			errs <- err
		}()
	}
	taken := 0
	for range cap(errs) {
		if err := <-errs; err == nil {
			taken++
		} else {
			assert.ErrorIs(t, err, fault.ErrRefused)
		}
	}
	assert.Equal(t, 1, taken)
	f, err := s.Rows(ctx, record.Actuals, kept.Selection{})
	require.NoError(t, err)
	assert.Equal(t, 1, f.Len())
	refused, err := s.Refusals(ctx, calendar.Months.Of(setting.DayOf(at))-1)
	require.NoError(t, err)
	assert.Len(t, refused, 7)
	assert.Equal(t, []string{"A"}, refused[0].Projects)
}

// What somebody saw on their desk is kept for them alone, the last look and the one before.
func TestLooksAtDesks(t *testing.T) {
	s, _ := apptest.Stored(t)
	none, err := s.Looked(ctx, "lea")
	require.NoError(t, err)
	assert.True(t, none.Now.At.IsZero())
	at := time.Date(2026, 11, 2, 9, 0, 0, 0, time.UTC)
	want := desk.Looks{Now: desk.Look{At: at, Items: map[string]string{"a": "b"}}}
	require.NoError(t, s.Look(ctx, "lea", want))
	got, err := s.Looked(ctx, "lea")
	require.NoError(t, err)
	assert.Equal(t, want, got)
	want.Former, want.Now = want.Now, desk.Look{At: at.Add(time.Hour), Items: map[string]string{}}
	require.NoError(t, s.Look(ctx, "lea", want))
	got, err = s.Looked(ctx, "lea")
	require.NoError(t, err)
	assert.Equal(t, want, got)
	other, err := s.Looked(ctx, "kim")
	require.NoError(t, err)
	assert.Empty(t, other.Now.Items)
}
