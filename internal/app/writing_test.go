package app_test

import (
	"context"
	"errors"
	"fmt"
	"go/ast"
	"go/parser"
	"go/token"
	"io"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/draft"
	"turret/internal/ingest"
	"turret/internal/record"
	"turret/internal/store"
)

// rowsOf are a row of each kind, of the project P where it belongs to one. A new kind fails TestWhoMayWriteWhat until it has one here,
// and stands in one of the lists of mayBeWritten.
var rowsOf = map[record.Kind]string{
	record.Structure:   "code,name,level,parent\nN,New,programme,PF\n",
	record.Projects:    "code,name,parent,lead\nP,Renamed,OWN,LEAD\n",
	record.Calendars:   "calendar,date,working\ndefault,2026-12-24,no\n",
	record.Activities:  "project,code,name\nP,X,Dig\nP,Y,Fill\nP,Z,New\n",
	record.Links:       "project,from,to\nP,X,Y\n",
	record.CostCodes:   "code,name\nD,New\n",
	record.Budget:      "project,cost_code,amount,month\nP,C,7,2026-10\n",
	record.Forecast:    "project,cost_code,amount,month\nP,C,7,2026-11\n",
	record.Actuals:     "project,cost_code,date,amount\nP,C,2026-10-05,7\n",
	record.Statuses:    "project,overall\nP,act\n",
	record.Rates:       "currency,month,rate\nSEK,2026-10,0.09\n",
	record.Commitments: "project,cost_code,document,amount\nP,C,D1,7\n",
	record.Changes:     "project,change,title,state,amount\nP,N1,New,requested,7\n",
	record.Funding:     "project,funder,percent\nP,State,100\n",
	record.Revenue:     "project,code,name,month,planned\nP,R,Rent,2026-10,7\n",
	record.People:      "code,name\nQ,Quinn\n",
	record.LabourRates: "role,cost_rate\nwelder,40\n",
	record.Timesheets:  "person,project,date,hours\nK,P,2026-10-05,7\n",
	record.Allocations: "node,year,amount\nA,2027,7\n",
	record.Risks:       "project,code,title\nP,R1,New\n",
	record.Issues:      "project,code,title\nP,I1,New\n",
	record.Actions:     "project,code,title\nP,T1,New\n",
	record.Backlog:     "project,code,title\nP,B1,New\n",
	record.Benefits:    "project,code,name,month,planned\nP,G1,Gain,2026-10,7\n",
	record.Absences:    "person,from,to\nK,2026-12-21,2026-12-31\n",
	record.Assignments: "role,project,from,to,percent\nwelder,P,2026-10-05,2026-10-09,50\n",
}

var (
	// as a new installation asks of leads
	leadsAsk = []record.Kind{record.Activities, record.Links, record.Forecast, record.Statuses, record.Commitments, record.Changes}
	ofNobody = []record.Kind{record.Structure, record.Calendars, record.CostCodes, record.Rates, record.People, record.LabourRates,
		record.Allocations, record.Absences}
	ofCosts = []record.Kind{record.Budget, record.Forecast, record.Actuals, record.Rates, record.Commitments, record.Changes,
		record.Funding, record.Revenue,
		record.People, record.LabourRates,
		record.Allocations, record.Risks, record.Benefits}
	onlyFiles = []record.Kind{record.Actuals, record.Timesheets} // that no table is for
)

// mayBeWritten says by hand who writes a row of a kind that belongs to A1, which is Lea's and in the programme A, or to B1, which is
// Other's and in B.
func mayBeWritten(who string, kind record.Kind, project string) bool {
	own := project == "A1"
	switch who {
	case "lead":
		return own && slices.Contains(leadsAsk, kind)
	case "scoped analyst", "scoped administrator":
		return own && !slices.Contains(ofNobody, kind)
	case "analyst without costs":
		return !slices.Contains(ofCosts, kind)
	case "analyst", "administrator":
		return true
	}
	return false // executive, and a lead of nothing
}

var writers = map[string]*access.Actor{
	"lead":                  {Login: "lea", Name: "Lea", Role: access.Lead},
	"lead of nothing":       {Login: "nil", Name: "Nil", Role: access.Lead},
	"scoped analyst":        {Login: "nar", Name: "Nar", Role: access.Analyst, Scopes: []string{"A"}},
	"scoped administrator":  {Login: "adm", Name: "Adm", Role: access.Administrator, Scopes: []string{"A"}},
	"analyst without costs": {Login: "hid", Name: "Hid", Role: access.Analyst, HideMoney: true},
	"executive":             {Login: "exe", Name: "Exe", Role: access.Executive},
	"analyst":               {Login: "ana", Name: "Ana", Role: access.Analyst},
	"administrator":         {Login: "all", Name: "All", Role: access.Administrator},
}

// gate is an office with desk whose projects A1 and B1 have activities X and Y.
func gate(t *testing.T) (*store.Store, *app.Office) {
	t.Helper()
	dir := t.TempDir()
	s, err := store.Create(ctx, filepath.Join(dir, "g.db"), "EUR")
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	o := app.NewOffice(s, func() time.Time { return at },
		app.Parts{Reader: ingest.Reader{}, Drafts: draft.In(filepath.Join(dir, "drafts"), time.Time{})})
	for _, x := range []sent{{record.Structure, october,
		"code,name,level,parent\nPF,Portfolio,portfolio,\nA,A,programme,PF\nB,B,programme,PF\n"},
		{record.CostCodes, october, "code,name\nC,Cost\n"},
		{record.Projects, october, "code,name,parent,lead\nA1,First,A,Lea\nB1,Second,B,Other\n"},
		{record.People, october, "code,name\nK,Kim\n"},
		{record.Activities, october, "project,code,name\nA1,X,Dig\nA1,Y,Fill\nB1,X,Dig\nB1,Y,Fill\n"}} {
		send(t, o, x)
	}
	return s, o
}

func rowFor(kind record.Kind, project string) string {
	own, lead := "A", "Lea"
	if project == "B1" {
		own, lead = "B", "Other"
	}
	text := strings.NewReplacer("\nP,", "\n"+project+",", ",P,", ","+project+",", "OWN", own, "LEAD", lead).Replace(rowsOf[kind])
	return text
}

// ways of writing rows; each tells how it ended. A way that there is not for a kind tells errNoWay.
var errNoWay = errors.New("no such way")

var ways = map[string]func(context.Context, *testing.T, *app.Office, record.Kind, string) error{
	"file": func(c context.Context, t *testing.T, o *app.Office, k record.Kind, p string) error {
		return importing(c, t, o, k, p, false)
	},
	"trial": func(c context.Context, t *testing.T, o *app.Office, k record.Kind, p string) error {
		return importing(c, t, o, k, p, true)
	},
	"draft": loading,
	"look": func(c context.Context, t *testing.T, o *app.Office, k record.Kind, p string) error {
		d, err := received(c, o, k, p)
		if err != nil {
			return err
		}
		_, _, err = o.Preview(c, d.ID, last)
		return err
	},
	"table": func(c context.Context, t *testing.T, o *app.Office, k record.Kind, p string) error {
		if slices.Contains(onlyFiles, k) {
			return errNoWay
		}
		return typing(c, t, o, k, p, p)
	},
	"table of another": func(c context.Context, t *testing.T, o *app.Office, k record.Kind, p string) error {
		if slices.Contains(onlyFiles, k) || slices.Contains(ofNobody, k) || p == "A1" {
			return errNoWay
		}
		return typing(c, t, o, k, "A1", p)
	},
}

func importing(c context.Context, t *testing.T, o *app.Office, kind record.Kind, project string, dry bool) error {
	t.Helper()
	f, problems, err := ingest.CSV(string(kind)+".csv", kind, strings.NewReader(rowFor(kind, project)))
	require.NoError(t, err)
	require.Empty(t, problems)
	_, err = o.Import(c, []*app.File{f}, app.Origin{Period: october, DryRun: dry})
	return err
}

func received(c context.Context, o *app.Office, kind record.Kind, project string) (*app.Draft, error) {
	sent := false
	return o.Receive(c, "", october, func() (*app.Upload, error) {
		if sent {
			return nil, io.EOF
		}
		sent = true
		return &app.Upload{Name: string(kind) + ".csv", Body: strings.NewReader(rowFor(kind, project))}, nil
	})
}

func loading(c context.Context, t *testing.T, o *app.Office, kind record.Kind, project string) error {
	d, err := received(c, o, kind, project)
	if err != nil {
		return err
	}
	j, err := o.LoadDraft(c, d.ID)
	if err != nil {
		return err
	}
	require.NoError(t, j.Wait(context.Background()))
	return j.Now().Err
}

// typing types the row into the table of a project, whose project the row need not name.
func typing(c context.Context, t *testing.T, o *app.Office, kind record.Kind, table, project string) error {
	t.Helper()
	f, _, err := ingest.CSV(string(kind)+".csv", kind, strings.NewReader(rowFor(kind, project)))
	require.NoError(t, err)
	if slices.Contains(ofNobody, kind) {
		table = ""
	}
	edit := app.Edited{New: f.Cells(f.Len() - 1)}
	if kind == record.Projects || kind == record.Statuses {
		if g, err := o.Grid(ctx, kind, table); err == nil {
			edit.Old = g.Rows[0]
		}
	}
	_, err = o.SaveGrid(c, kind, table, []app.Edited{edit})
	return err
}

// Each role, each kind, each way of writing, each owner: what is refused writes nothing.
func TestWhoMayWriteWhat(t *testing.T) {
	for _, kind := range record.Kinds() {
		require.Contains(t, rowsOf, kind, "a kind that this test does not know")
	}
	for way, write := range ways {
		for who, actor := range writers {
			t.Run(way+" by "+who, func(t *testing.T) {
				t.Parallel()
				s, o := gate(t)
				for _, kind := range record.Kinds() {
					for _, project := range []string{"A1", "B1"} {
						if project == "B1" && slices.Contains(ofNobody, kind) {
							continue
						}
						before := len(loadsIn(t, s))
						err := write(access.As(context.Background(), actor), t, o, kind, project)
						if errors.Is(err, errNoWay) {
							continue
						}
						what := fmt.Sprintf("%s of %s", kind, project)
						after := len(loadsIn(t, s))
						if mayBeWritten(who, kind, project) && way != "table of another" {
							assert.NoError(t, err, what)
							if way != "trial" && way != "look" {
								assert.Equal(t, before+1, after, what)
							}
							continue
						}
						var edit *app.EditError
						assert.True(t, errors.Is(err, access.ErrForbidden) || way == "table of another" && errors.As(err, &edit), "%s: %v",
							what, err)
						assert.Equal(t, before, after, what)
					}
				}
			})
		}
	}
}

func loadsIn(t *testing.T, s *store.Store) []app.Load {
	t.Helper()
	list, err := s.Loads(ctx)
	require.NoError(t, err)
	return list
}

// sending is what comes of rows that an actor sends as a file.
func sending(t *testing.T, o *app.Office, who string, kind record.Kind, text string) error {
	t.Helper()
	f, problems, err := ingest.CSV(string(kind)+".csv", kind, strings.NewReader(text))
	require.NoError(t, err)
	require.Empty(t, problems)
	_, err = o.Import(access.As(context.Background(), writers[who]), []*app.File{f}, app.Origin{Period: october})
	return err
}

// A project is neither taken into one's scope, nor moved out of it, nor made there; not by code, not by its lead.
func TestAProjectIsNotMovedIntoOrOutOfAScope(t *testing.T) {
	_, o := gate(t)
	for text, ok := range map[string]bool{
		"code,name,parent,lead\nA1,Renamed,A,Lea\n":    true,
		"code,name,parent,lead\nA1,Out,B,Lea\n":        false,
		"code,name,parent,lead\nA1,Out,,Lea\n":         false,
		"code,name,parent,lead\nA1,Out,PF,Lea\n":       false,
		"code,name,parent,lead\nB1,In,A,Other\n":       false,
		"code,name,parent,lead\nNEW,New,A,Nar\n":       false,
		"code,name,parent,lead\nA1,A,A,Lea\nB1,B,A,\n": false,
	} {
		for _, who := range []string{"scoped analyst", "scoped administrator"} {
			err := sending(t, o, who, record.Projects, text)
			assert.Equal(t, ok, err == nil, "%s: %q: %v", who, text, err)
			assert.True(t, ok || errors.Is(err, access.ErrForbidden), "%s: %q: %v", who, text, err)
		}
	}
	g, err := o.Grid(ctx, record.Projects, "A1")
	require.NoError(t, err)
	row := slices.Clone(g.Rows[0])
	row[0] = "B1"
	var edit *app.EditError
	_, err = o.SaveGrid(access.As(context.Background(), writers["scoped analyst"]), record.Projects, "A1",
		[]app.Edited{{Old: g.Rows[0], New: row}})
	require.ErrorAs(t, err, &edit)
	assert.Equal(t, "A1, whose table this is", edit.Problems[0].Expected)
}

// A lead may say what the own project waits for, not that another waits for it.
func TestALeadMakesNoOtherProjectWait(t *testing.T) {
	_, o := gate(t)
	assert.NoError(t, sending(t, o, "lead", record.Links, "project,from_project,from,to_project,to\nA1,B1,X,A1,Y\n"))
	assert.NoError(t, sending(t, o, "lead", record.Links, "project,from_project,from,to_project,to\nA1,B1,X,,Y\n"))
	for _, bad := range []string{"A1,A1,X,B1,Y", "A1,,X,B1,Y", "A1,B1,X,B1,Y"} {
		assert.ErrorIs(t, sending(t, o, "lead", record.Links, "project,from_project,from,to_project,to\n"+bad+"\n"), access.ErrForbidden,
			bad)
	}
	require.NoError(t, sending(t, o, "analyst", record.Links, "project,from_project,from,to_project,to\nA1,,X,B1,Y\n"))
	assert.NoError(t, sending(t, o, "lead", record.Links, "project,from_project,from,to_project,to\nA1,,X,B1,Y\nA1,,X,,Y\n"),
		"what the office said may stay")
}

// Changes of A1: N1 is asked for, N2 was approved by the office. A lead neither decides one, nor changes or leaves out what was decided.
func TestALeadDecidesNoChange(t *testing.T) {
	const head = "project,change,title,state,amount,decided_by,decided_on,answer\n"
	const asked, decided = "A1,N1,Wider,requested,7,,,\n", "A1,N2,Longer,approved,100,Ana,2026-10-02,agreed\n"
	for _, who := range []string{"lead", "scoped analyst"} {
		_, o := gate(t)
		require.NoError(t, sending(t, o, "analyst", record.Changes, head+asked+decided))
		for _, fine := range []string{asked + decided, decided, "A1,N1,Wider,requested,9,,,\n" + decided, asked + decided +
			"A1,N3,New,requested,1,,,\n"} {
			assert.NoError(t, sending(t, o, who, record.Changes, head+fine), "%s: %s", who, fine)
		}
		for _, bad := range []string{
			"A1,N1,Wider,approved,7,,,\n" + decided, "A1,N1,Wider,refused,7,,,\n" + decided,
			"A1,N1,Wider,approved,7,Ana,2026-10-03,yes\n" + decided, "A1,N1,Wider,requested,7,Ana,,\n" + decided,
			asked + "A1,N2,Longer,approved,100000,Ana,2026-10-02,agreed\n", asked + "A1,N2,Longer,requested,100,,,\n", asked +
				"A1,N2,Longer,approved,100,Bea,2026-10-02,agreed\n", asked,
			asked + decided + "A1,N3,New,approved,5,Ana,2026-10-02,ok\n",
		} {
			assert.ErrorIs(t, sending(t, o, who, record.Changes, head+bad), access.ErrForbidden, "%s: %s", who, bad)
		}
	}
}

// In the table nobody types a decision, nor the name of another who asks: there are acts for that, which say who did it.
func TestDecisionsAreNotTyped(t *testing.T) {
	_, o := gate(t)
	require.NoError(t, sending(t, o, "analyst", record.Changes,
		"project,change,title,state,amount,requested_by\nA1,N1,Wider,requested,7,Lea\n"))
	for _, who := range []string{"lead", "analyst", "administrator"} {
		c := access.As(context.Background(), writers[who])
		g, err := o.Grid(c, record.Changes, "A1")
		require.NoError(t, err)
		at := func(name string) int {
			return slices.IndexFunc(g.Input.Columns, func(x record.Column) bool { return x.Name == name })
		}
		for column, value := range map[string]string{"state": "approved", "decided_by": "Ana", "decided_on": "2026-10-09",
			"answer": "yes", "requested_by": "Somebody"} {
			row := slices.Clone(g.Rows[0])
			row[at(column)] = value
			_, err := o.SaveGrid(c, record.Changes, "A1", []app.Edited{{Old: g.Rows[0], New: row}})
			var edit *app.EditError
			require.ErrorAs(t, err, &edit, "%s: %s", who, column)
			assert.Equal(t, []any{column, value}, []any{edit.Problems[0].Column, edit.Problems[0].Value})
		}
		row := slices.Clone(g.Rows[0])
		row[at("title")] = "Wider by " + who
		_, err = o.SaveGrid(c, record.Changes, "A1", []app.Edited{{Old: g.Rows[0], New: row}})
		assert.NoError(t, err, who)
		fresh := make([]string, len(row))
		fresh[at("project")], fresh[at("change")], fresh[at("title")] = "A1", "N-"+who, "New"
		_, err = o.SaveGrid(c, record.Changes, "A1", []app.Edited{{New: fresh}})
		require.NoError(t, err, who)
		g, err = o.Grid(c, record.Changes, "A1")
		require.NoError(t, err)
		i := slices.IndexFunc(g.Rows, func(r []string) bool { return r[at("change")] == fresh[at("change")] })
		assert.Equal(t, []string{"requested", writers[who].Name}, []string{g.Rows[i][at("state")], g.Rows[i][at("requested_by")]},
			"a new one is asked for, by whoever types it")
	}
}

// Rows come into the store by one function, which holds every one of them against the rights of whoever writes.
func TestRowsComeInByOneDoor(t *testing.T) {
	files, err := filepath.Glob("*.go")
	require.NoError(t, err)
	n := 0
	for _, name := range files {
		if strings.HasSuffix(name, "_test.go") {
			continue
		}
		text, err := os.ReadFile(name)
		require.NoError(t, err)
		file, err := parser.ParseFile(token.NewFileSet(), name, text, 0)
		require.NoError(t, err)
		ast.Inspect(file, func(x ast.Node) bool {
			call, ok := x.(*ast.SelectorExpr)
			if !ok || call.Sel.Name != "Save" {
				return true
			}
			if in, ok := call.X.(*ast.SelectorExpr); ok && in.Sel.Name == "store" {
				n++
			}
			return true
		})
	}
	assert.Equal(t, 1, n)
}

// What holds for the whole office is not for those who have a part of it, or not its costs.
func TestTheOfficeIsNotSetFromWithinAScope(t *testing.T) {
	_, o := gate(t)
	set, err := o.Settings(ctx)
	require.NoError(t, err)
	acts := map[string]func(context.Context) error{
		"settings":      func(c context.Context) error { return o.SaveSettings(c, set) },
		"settings file": func(c context.Context) error { return o.ImportSettings(c, []byte(`{"look_ahead_days": 30}`)) },
		"a check": func(c context.Context) error {
			return o.SaveCheck(c, app.OwnCheck{ID: "own", Name: "n", Severity: "error", On: "project", Expression: "true"})
		},
		"a check's limit": func(c context.Context) error { return o.SetCheck(c, "no_baseline", false, nil) },
		"a feed": func(c context.Context) error {
			return o.SaveFeed(c, app.FeedSetting{Name: "x", Kind: "ledger", Address: "http://127.0.0.1:9/"}, false)
		},
		"feeds":  func(c context.Context) error { _, err := o.Feeds(c); return err },
		"people": func(c context.Context) error { _, err := o.People(c); return err },
		"a person": func(c context.Context) error {
			_, err := o.SaveAccount(c, app.Account{Login: "new", Name: "New", Role: access.Administrator, Active: true}, "")
			return err
		},
		"one's own costs": func(c context.Context) error {
			_, err := o.SaveAccount(c, app.Account{ID: 1, Login: "adm", Name: "Adm", Role: access.Administrator, Active: true}, "")
			return err
		},
		"what is expected of another": func(c context.Context) error { return o.Expect(c, "B1", record.Activities, false) },
	}
	blind := &access.Actor{Account: 1, Login: "bli", Name: "Bli", Role: access.Administrator, HideMoney: true}
	for what, act := range acts {
		for _, actor := range []*access.Actor{writers["scoped administrator"], writers["scoped analyst"], writers["lead"],
			writers["executive"], blind} {
			if actor == blind && what == "what is expected of another" {
				continue
			}
			assert.ErrorIs(t, act(access.As(context.Background(), actor)), access.ErrForbidden, "%s by %s", what, actor.Login)
		}
		assert.NotErrorIs(t, act(access.As(context.Background(), writers["administrator"])), access.ErrForbidden, what)
	}
	assert.NoError(t, o.Expect(access.As(context.Background(), writers["scoped analyst"]), "A1", record.Activities, false))
	assert.ErrorIs(t, o.Expect(access.As(context.Background(), blind), "A1", record.Budget, false), access.ErrForbidden)
}

// Nobody shuts out themselves: there may be nobody else to let them in.
func TestAnAdministratorStaysOne(t *testing.T) {
	_, o := gate(t)
	first, err := o.SaveAccount(ctx, app.Account{Login: "adm", Name: "Adm", Role: access.Administrator, Active: true}, "")
	require.NoError(t, err)
	self := access.As(context.Background(), first.Actor())
	for _, worse := range []func(*app.Account){func(a *app.Account) { a.Active = false }, func(a *app.Account) { a.Role = access.Analyst },
		func(a *app.Account) { a.HideMoney = true },
		func(a *app.Account) { a.Scopes = []string{"A"} }} {
		a := *first
		worse(&a)
		var field *fault.FieldError
		_, err := o.SaveAccount(self, a, "")
		assert.ErrorAs(t, err, &field)
	}
}
