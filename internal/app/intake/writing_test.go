package intake_test

import (
	"context"
	"errors"
	"fmt"
	"go/ast"
	"go/parser"
	"go/token"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/account"
	"turret/internal/app/apptest"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/ingest"
	"turret/internal/record"
	"turret/internal/store"
)

var (
	// as a new installation asks of leads
	leadsAsk = []record.Kind{record.Activities, record.Links, record.Forecast, record.Statuses, record.Commitments, record.Changes,
		record.Risks, record.Issues, record.Meetings, record.Decisions, record.Actions, record.Checklist, record.Lessons,
		record.Iterations, record.Backlog, record.Contacts, record.Documents, record.Discussion, record.Outside, record.Attachments}
	ofNobody = []record.Kind{record.Structure, record.Calendars, record.CostCodes, record.Rates, record.People, record.LabourRates,
		record.Allocations, record.Absences, record.OwnFields, record.ReadyRisks, record.Goals, record.Criteria,
		record.Stages, record.GateNeeds}
	ofCosts = []record.Kind{record.Budget, record.Forecast, record.Actuals, record.Rates, record.Commitments, record.Changes,
		record.Funding, record.Revenue,
		record.People, record.LabourRates,
		record.Allocations, record.Risks, record.Benefits, record.Gates}
	onlyFiles = []record.Kind{} // that no table is for
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
		d, err := apptest.Received(c, o, k, p)
		if err != nil {
			return err
		}
		_, _, err = o.Draft.Preview(c, d.ID, apptest.Last)
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
	f, problems, err := ingest.CSV(string(kind)+".csv", kind, strings.NewReader(apptest.RowFor(kind, project)))
	require.NoError(t, err)
	require.Empty(t, problems)
	_, err = o.Intake.Import(c, []*kept.File{f}, intake.Origin{Period: apptest.October, DryRun: dry})
	return err
}

func loading(c context.Context, t *testing.T, o *app.Office, kind record.Kind, project string) error {
	d, err := apptest.Received(c, o, kind, project)
	if err != nil {
		return err
	}
	j, err := o.Load.Start(c, d.ID)
	if err != nil {
		return err
	}
	require.NoError(t, j.Wait(context.Background()))
	return j.Now().Err
}

// typing types the row into the table of a project, whose project the row need not name.
func typing(c context.Context, t *testing.T, o *app.Office, kind record.Kind, table, project string) error {
	t.Helper()
	f, _, err := ingest.CSV(string(kind)+".csv", kind, strings.NewReader(apptest.RowFor(kind, project)))
	require.NoError(t, err)
	if slices.Contains(ofNobody, kind) {
		table = ""
	}
	edit := intake.Edited{New: f.Cells(f.Len() - 1)}
	if kind == record.Projects || kind == record.Statuses {
		if g, err := o.Edit.Grid(apptest.Ctx, kind, table); err == nil {
			edit.Old = g.Rows[0]
		}
	}
	_, err = o.Edit.SaveGrid(c, kind, table, []intake.Edited{edit})
	return err
}

// Each role, each kind, each way of writing, each owner: what is refused writes nothing.
func TestWhoMayWriteWhat(t *testing.T) {
	for _, kind := range record.Kinds() {
		require.Contains(t, apptest.RowsOf, kind, "a kind that this test does not know")
	}
	for way, write := range ways {
		for who, actor := range apptest.Writers {
			t.Run(way+" by "+who, func(t *testing.T) {
				t.Parallel()
				s, o := apptest.Gate(t)
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
						var edit *edit.Error
						assert.True(t, errors.Is(err, access.ErrForbidden) || way == "table of another" && errors.As(err, &edit), "%s: %v",
							what, err)
						assert.Equal(t, before, after, what)
					}
				}
			})
		}
	}
}

func loadsIn(t *testing.T, s *store.Store) []kept.Load {
	t.Helper()
	list, err := s.Loads(apptest.Ctx)
	require.NoError(t, err)
	return list
}

// sending is what comes of rows that an actor sends as a file.
func sending(t *testing.T, o *app.Office, who string, kind record.Kind, text string) error {
	t.Helper()
	f, problems, err := ingest.CSV(string(kind)+".csv", kind, strings.NewReader(text))
	require.NoError(t, err)
	require.Empty(t, problems)
	_, err = o.Intake.Import(access.As(context.Background(), apptest.Writers[who]), []*kept.File{f},
		intake.Origin{Period: apptest.October})
	return err
}

// A project is neither taken into one's scope, nor moved out of it, nor made there; not by code, not by its lead.
func TestAProjectIsNotMovedIntoOrOutOfAScope(t *testing.T) {
	_, o := apptest.Gate(t)
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
	g, err := o.Edit.Grid(apptest.Ctx, record.Projects, "A1")
	require.NoError(t, err)
	row := slices.Clone(g.Rows[0])
	row[0] = "B1"
	var edit *edit.Error
	_, err = o.Edit.SaveGrid(access.As(context.Background(), apptest.Writers["scoped analyst"]), record.Projects, "A1",
		[]intake.Edited{{Old: g.Rows[0], New: row}})
	require.ErrorAs(t, err, &edit)
	assert.Equal(t, "A1, whose table this is", edit.Problems[0].Expected)
}

// A lead may say what the own project waits for, not that another waits for it.
func TestALeadMakesNoOtherProjectWait(t *testing.T) {
	_, o := apptest.Gate(t)
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
		_, o := apptest.Gate(t)
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
	_, o := apptest.Gate(t)
	require.NoError(t, sending(t, o, "analyst", record.Changes,
		"project,change,title,state,amount,requested_by\nA1,N1,Wider,requested,7,Lea\n"))
	for _, who := range []string{"lead", "analyst", "administrator"} {
		c := access.As(context.Background(), apptest.Writers[who])
		g, err := o.Edit.Grid(c, record.Changes, "A1")
		require.NoError(t, err)
		at := func(name string) int {
			return slices.IndexFunc(g.Input.Columns, func(x record.Column) bool { return x.Name == name })
		}
		for column, value := range map[string]string{"state": "approved", "decided_by": "Ana", "decided_on": "2026-10-09",
			"answer": "yes", "requested_by": "Somebody"} {
			row := slices.Clone(g.Rows[0])
			row[at(column)] = value
			_, err := o.Edit.SaveGrid(c, record.Changes, "A1", []intake.Edited{{Old: g.Rows[0], New: row}})
			var edit *edit.Error
			require.ErrorAs(t, err, &edit, "%s: %s", who, column)
			assert.Equal(t, []any{column, value}, []any{edit.Problems[0].Column, edit.Problems[0].Value})
		}
		row := slices.Clone(g.Rows[0])
		row[at("title")] = "Wider by " + who
		_, err = o.Edit.SaveGrid(c, record.Changes, "A1", []intake.Edited{{Old: g.Rows[0], New: row}})
		assert.NoError(t, err, who)
		fresh := make([]string, len(row))
		fresh[at("project")], fresh[at("change")], fresh[at("title")] = "A1", "N-"+who, "New"
		_, err = o.Edit.SaveGrid(c, record.Changes, "A1", []intake.Edited{{New: fresh}})
		require.NoError(t, err, who)
		g, err = o.Edit.Grid(c, record.Changes, "A1")
		require.NoError(t, err)
		i := slices.IndexFunc(g.Rows, func(r []string) bool { return r[at("change")] == fresh[at("change")] })
		assert.Equal(t, []string{"requested", apptest.Writers[who].Name}, []string{g.Rows[i][at("state")], g.Rows[i][at("requested_by")]},
			"a new one is asked for, by whoever types it")
	}
}

// Rows come into the store by one function, which holds every one of them against the rights of whoever writes.
func TestRowsComeInByOneDoor(t *testing.T) {
	files, err := filepath.Glob("../*/*.go")
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

// Nobody shuts out themselves: there may be nobody else to let them in.
func TestAnAdministratorStaysOne(t *testing.T) {
	_, o := apptest.Gate(t)
	first, err := o.Account.SaveAccount(apptest.Ctx, account.Account{Login: "adm", Name: "Adm", Role: access.Administrator, Active: true},
		"")
	require.NoError(t, err)
	self := access.As(context.Background(), first.Actor())
	for _, worse := range []func(*account.Account){func(a *account.Account) { a.Active = false },
		func(a *account.Account) { a.Role = access.Analyst },
		func(a *account.Account) { a.HideMoney = true },
		func(a *account.Account) { a.Scopes = []string{"A"} }} {
		a := *first
		worse(&a)
		var field *fault.FieldError
		_, err := o.Account.SaveAccount(self, a, "")
		assert.ErrorAs(t, err, &field)
	}
}
