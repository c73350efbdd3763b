package people_test

import (
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/record"
	"turret/internal/web/webtest"
)

// peopled is a house in which Kim, a diver, is wanted at 50 % by A1 and at 75 % by B1 in October 2026, and Zoe of her team has time.
func peopled(t *testing.T) *webtest.House {
	t.Helper()
	h := webtest.New(t)
	h.Take(record.People, "code,name,role,team\nK,Kim <b>,diver,North\nZ,Zoe,diver,North\n")
	h.Take(record.Absences, "person,from,to,hours\nK,2026-10-05,2026-10-05,3\n")
	h.Take(record.Assignments, "person,role,project,from,to,percent\nK,,A1,2026-10-01,2026-10-31,50\nK,,B1,2026-10-01,2026-10-31,75\n"+
		",welder,B1,2026-10-01,2026-10-31,100\n")
	return h
}

// The map tells who is over, and a cell what makes it up and who could take it. By hand: 125 % of 22 days of 8 h is 220 h, of 173 h there.
// A lead sees that another project wants the same person, and not which.
func TestTheLoadMap(t *testing.T) {
	h := peopled(t)
	page := h.Page("ana", "/people/load?unit=month&ahead=3")
	assert.Contains(t, page, "2 people from October 2026 to December 2026: 1 is overloaded at some time, and nothing is wanted of 1.")
	assert.Contains(t, page, "Kim &lt;b&gt;")
	assert.Contains(t, page, `class="load-over"`)
	assert.Contains(t, page, ">127.2<", "220 of 173 hours")
	cell := "/people/load?unit=month&ahead=3&cell=K%7C2026-10"
	page = h.Page("ana", cell)
	assert.Contains(t, page, "220 h wanted of 173 h there")
	assert.Contains(t, page, "3 h away")
	assert.Contains(t, page, "B1 Beta")
	assert.Contains(t, page, "176 h free", "Zoe could take it")
	page = h.Page("lea", cell)
	assert.Contains(t, page, "A1 Alpha")
	assert.Contains(t, page, "another project")
	assert.NotContains(t, page, "B1 Beta")
	page = h.Page("ana", "/people/load?unit=month&ahead=3")
	assert.Contains(t, page, "nobody named")
	assert.Contains(t, page, ">176 h<", "of the welder")
	page = h.Page("ana", "/people/load?unit=month&ahead=3&scope=B1")
	assert.Contains(t, page, "Kim &lt;b&gt;", "whom B1 wants")
	assert.NotContains(t, page, "nobody named", "that is of all projects")
	assert.NotContains(t, h.Page("ana", "/people/load?unit=month&scope=A1"), "Zoe")
	assert.NotContains(t, h.Page("ana", "/people/load?team=South"), "Zoe")
	assert.Contains(t, h.Page("ana", "/people/load?by=team"), "North")
	h.Shut("ana", "/people/load?cell=K%7C1999-01", 404)
	h.Shut("ana", "/people/load?from=soon", 400)
	h.Shut("exe", "/people/load", 403)
}

// Roles tell the gap in people at work; who only reads sees roles, and nobody by name.
func TestTheGapOfRoles(t *testing.T) {
	h := peopled(t)
	page := h.Page("exe", "/people/roles?ahead=3")
	assert.Contains(t, page,
		"One role has too few people at some time; most are missing of welder in October 2026, 1.00 wanted where 0.00 are there.")
	assert.Contains(t, page, ">−1.00<")
	assert.Contains(t, page, ">0.73<", "of divers: 2 less 3 hours, less 1.25")
	h.Do("exe", "/lookout/arrange", 303, "panel", "gaps")
	front := h.Page("exe", "/")
	assert.Contains(t, front, "cell=welder%7C2026-10")
	assert.Contains(t, front, "−1.00")
	assert.NotContains(t, front, "diver", "enough of them are there")
	page = h.Page("exe", "/people/roles?cell=diver%7C2026-10")
	assert.Contains(t, page, "somebody named")
	assert.NotContains(t, page, "Kim")
	assert.NotContains(t, page, "Who could take it")
	assert.Contains(t, h.Page("ana", "/people/roles?cell=welder%7C2026-10"), "nobody named")
}

// By hand: Kim booked 44 h, 11 of them billable, of the 173 h of October; that is 25.4 %, 6.4 % billable, where 80 % were meant. What was
// planned on A1 by then are 88 h.
func TestUtilisationAndWork(t *testing.T) {
	h := peopled(t)
	h.Take(record.People, "code,name,role,team,utilisation_target\nK,Kim <b>,diver,North,80\nZ,Zoe,diver,North,\n")
	h.Take(record.Timesheets, "person,project,date,hours,billable\nK,A1,2026-10-06,24,no\nK,A1,2026-10-07,9,no\nK,A1,2026-10-08,11,yes\n")
	page := h.Page("ana", "/people/utilisation?from=2026-10")
	assert.Contains(t, page, "44 h booked of 173 h, 6.4 % billable, 127.2 % planned, target 80 %")
	assert.Contains(t, page, `class="load-1 below"`)
	assert.Contains(t, page, "1 row is more than 10 points below target")
	assert.Contains(t, h.Page("ana", "/people/utilisation?from=2026-10&cell=K%7C2026-10"),
		"220 h wanted of 173 h there, 44 h booked, 6.4 % billable")
	page = h.Page("exe", "/people/utilisation?from=2026-10")
	assert.Contains(t, page, "diver")
	assert.NotContains(t, page, "Kim")
	h.Shut("exe", "/people/utilisation?by=person", http.StatusForbidden)
	h.Shut("ana", "/people/utilisation?by=dog", http.StatusBadRequest)
	page = h.Page("lea", "/people/work")
	assert.Contains(t, page, "44 h were worked where 88 h were planned; 0 h are to go")
	assert.NotContains(t, page, "B1 Beta")
	h.Shut("exe", "/people/work", http.StatusForbidden)
}

// A plan of people is tried without being kept, is saved with its reason, and keeps what was typed where it is refused. A lead asks for
// somebody; whoever gives people agrees.
func TestPlanningPeople(t *testing.T) {
	h := peopled(t)
	const at = "/people/plan/A1"
	was := "K\x1f\x1fA1\x1f2026-10-01\x1f2026-10-31\x1f50\x1f"
	page := h.Page("ana", at)
	assert.Contains(t, page, "Kim &lt;b&gt;, diver")
	form := func(more ...string) []string {
		return append([]string{"rows", "1", "was-0", was, "who-0", "p:Z", "from-0", "2026-11-02", "to-0", "2026-11-06", "percent-0",
			"120"}, more...)
	}
	code, page, _ := h.Send("ana", at, form()...)
	require.Equal(t, http.StatusOK, code)
	assert.Contains(t, page, "Tried, and not saved.")
	assert.Contains(t, page, "Zoe: 48 h more are wanted; over in 1 week, 0 before; fullest in the week of 2 Nov 2026, 120.0 %.")
	assert.Contains(t, h.Page("ana", at), "0 people are to work on A1", "nothing is kept")
	page = h.Do("ana", at, http.StatusUnprocessableEntity, form("save", "1")...)
	assert.Contains(t, page, "Reason")
	assert.Contains(t, page, `value="120"`)
	page = h.Do("ana", at, http.StatusUnprocessableEntity, form("split-0", "2026-12-01")...)
	assert.Contains(t, page, "a day after 2026-11-02")
	h.Do("ana", at, http.StatusSeeOther, form("save", "1", "reason", "Zoe has time", "split-0", "2026-11-04")...)
	page = h.Page("ana", at)
	assert.Contains(t, page, "1 person is to work on A1 after 31 Oct 2026, 1 is overloaded at some time")
	assert.Contains(t, page, `value="2026-11-03"`)
	assert.Contains(t, page, `value="2026-11-04"`)

	assert.NotContains(t, h.Page("lea", at), `name="save"`, "leads are not asked for assignments here")
	h.Shut("lea", "/people/plan/B1", http.StatusNotFound)
	h.Shut("exe", at, http.StatusForbidden)
	page = h.Do("lea", "/people/asked", http.StatusUnprocessableEntity, "project", "A1", "who", "p:K", "from", "2026-11-02", "to", "dog")
	assert.Contains(t, page, "dog")
	h.Do("lea", "/people/asked", http.StatusSeeOther, "project", "A1", "who", "p:K", "from", "2026-11-09", "to", "2026-11-13", "percent",
		"50")
	assert.Contains(t, h.Page("ana", "/desk"), "A1 asks for somebody from 9 Nov 2026")
	page = h.Page("ana", "/people/asked")
	assert.Contains(t, page, "with it 50.0 % in the week of 9 Nov 2026")
	assert.Contains(t, page, "Zoe, 40 h free")
	assert.NotContains(t, h.Page("lea", "/people/asked"), `value="agreed"`)
	h.Do("ana", "/people/asked", http.StatusSeeOther, "id", "1", "state", "agreed")
	page = h.Page("lea", at)
	assert.Contains(t, page, "2 people are to work on A1")
	h.Do("lea", "/people/asked", http.StatusUnprocessableEntity, "id", "1", "state", "taken back")
}

// What somebody is wanted for stands on one axis, over all projects; those whom a reader does not see are told without their names.
func TestOnePersonOverTime(t *testing.T) {
	h := peopled(t)
	page := h.Page("ana", "/people/of/K")
	assert.Contains(t, page, "Kim &lt;b&gt;, diver, is wanted by 2 assignments and overloaded in no week to come.")
	assert.Contains(t, page, "B1 Beta")
	assert.Contains(t, page, "week of 26 Oct 2026: 50 h of 40 h")
	page = h.Page("lea", "/people/of/K")
	assert.Contains(t, page, "A1 Alpha")
	assert.Contains(t, page, "another project")
	assert.NotContains(t, page, "B1")
	assert.Contains(t, h.Page("ana", "/people/of/Z"), "Nothing is wanted of Zoe.")
	h.Shut("ana", "/people/of/NO", http.StatusNotFound)
	h.Shut("exe", "/people/of/K", http.StatusForbidden)
	assert.Contains(t, h.Page("ana", "/people/load"), `href="/people/of/K"`)

	row := func(project string, more ...string) []string {
		return append([]string{"rows", "1", "project-0", project, "who-0", "p:K", "from-0", "2026-11-02", "to-0", "2026-11-06", "percent-0",
			"110"}, more...)
	}
	page = h.Do("lea", "/people/of/K", http.StatusUnprocessableEntity, row("B1")...)
	assert.Contains(t, page, "an open project that you see")
	page = h.Do("lea", "/people/of/K", http.StatusOK, row("A1")...)
	assert.Contains(t, page, "over in 1 week, 4 before", "without the row of October; tried, and told to whoever may not save it")
	h.Do("lea", "/people/of/K", http.StatusForbidden, row("A1", "save", "1", "reason", "why")...)
	h.Do("exe", "/people/of/K", http.StatusForbidden, row("A1")...)
	h.Do("ana", "/people/of/K", http.StatusSeeOther, row("A1", "save", "1", "reason", "why")...)
	assert.Contains(t, h.Page("ana", "/people/of/K"), "is wanted by 3 assignments and overloaded in 1 week to come.")
}

func TestLevellingAndHelpByPages(t *testing.T) {
	h := peopled(t)
	assert.Contains(t, h.Page("ana", "/people/level"), "No work with people can wait without anything else moving.")
	h.Shut("exe", "/people/level", http.StatusForbidden)
	h.Take(record.Actions, "project,code,title,owner,raised,due,state\nA1,1,Pump <b>,Zoe,2026-10-01,2026-10-20,in work\n")
	page := h.Page("lea", "/people/help")
	assert.Contains(t, page, "1 person of 1 might need help.")
	assert.Contains(t, page, "A1 Pump &lt;b&gt;, overdue")
	assert.NotContains(t, h.Page("exe", "/people/help"), "Zoe", "who only reads sees nobody else")
	assert.Contains(t, h.Page("exe", "/people/help"), "How your own work stands.")
}
