package apptest

import (
	"context"
	"io"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	appdraft "turret/internal/app/draft"
	"turret/internal/demotest"
	"turret/internal/draft"
	"turret/internal/ingest"
	"turret/internal/record"
	"turret/internal/store"
)

// RowsOf are a row of each kind, of the project P where it belongs to one. A new kind fails TestWhoMayWriteWhat until it has one here,
// and stands in one of the lists of mayBeWritten.
var RowsOf = map[record.Kind]string{
	record.Structure:     "code,name,level,parent\nN,New,programme,PF\n",
	record.Projects:      "code,name,parent,lead\nP,Renamed,OWN,LEAD\n",
	record.Calendars:     "calendar,date,working\ndefault,2026-12-24,no\n",
	record.Activities:    "project,code,name\nP,X,Dig\nP,Y,Fill\nP,Z,New\n",
	record.Links:         "project,from,to\nP,X,Y\n",
	record.CostCodes:     "code,name\nD,New\n",
	record.Budget:        "project,cost_code,amount,month\nP,C,7,2026-10\n",
	record.Forecast:      "project,cost_code,amount,month\nP,C,7,2026-11\n",
	record.Actuals:       "project,cost_code,date,amount\nP,C,2026-10-05,7\n",
	record.Statuses:      "project,overall\nP,act\n",
	record.Rates:         "currency,month,rate\nSEK,2026-10,0.09\n",
	record.Commitments:   "project,cost_code,document,amount\nP,C,D1,7\n",
	record.Changes:       "project,change,title,state,amount\nP,N1,New,requested,7\n",
	record.Funding:       "project,funder,percent\nP,State,100\n",
	record.Revenue:       "project,code,name,month,planned\nP,R,Rent,2026-10,7\n",
	record.People:        "code,name\nQ,Quinn\n",
	record.LabourRates:   "role,cost_rate\nwelder,40\n",
	record.Timesheets:    "person,project,date,hours\nK,P,2026-10-05,7\n",
	record.Allocations:   "node,year,amount\nA,2027,7\n",
	record.Risks:         "project,code,title\nP,R1,New\n",
	record.Checklist:     "project,action,text\nP,T1,New\n",
	record.Meetings:      "project,code,date,title\nP,M1,2026-10-05,New\n",
	record.Decisions:     "project,code,title\nP,D1,New\n",
	record.ReadyRisks:    "code,title\nG,New\n",
	record.Discussion:    "project,about,code,on,by,text\nP,issues,I1,2026-10-05,Kim,New\n",
	record.Outside:       "project,about,code,number\nP,issues,I1,CH-1\n",
	record.Attachments:   "project,about,code,name,digest,size\nP,issues,I1,a.txt," + strings.Repeat("0a", 32) + ",7\n",
	record.Lessons:       "project,code,title\nP,L1,New\n",
	record.Issues:        "project,code,title\nP,I1,New\n",
	record.Actions:       "project,code,title\nP,T1,New\n",
	record.Backlog:       "project,code,title\nP,B1,New\n",
	record.Benefits:      "project,code,name,month,planned\nP,G1,Gain,2026-10,7\n",
	record.Absences:      "person,from,to\nK,2026-12-21,2026-12-31\n",
	record.OwnFields:     "code,name,type\ncounty,County,text\n",
	record.Contacts:      "project,name\nP,Cole\n",
	record.Goals:         "code,name,weight\nSAFE,Safe,3\n",
	record.Criteria:      "model,code,name,weight\nM,use,Use,3\n",
	record.Proposals:     "project,purpose\nP,New\n",
	record.Contributions: "project,goal,rating\nP,SAFE,4\n",
	record.Ratings:       "project,model,criterion,rating\nP,M,use,4\n",
	record.Requirements:  "project,kind\nP,must\n",
	record.Iterations:    "project,code,from,to\nP,S1,2026-10-05,2026-10-18\n",
	record.Stages:        "model,code,name,place\nW,idea,Idea,1\n",
	record.GateNeeds:     "model,stage,code,need\nW,idea,m,money\n",
	record.Gates:         "project,stage,asked_on\nP,idea,2026-10-05\n",
	record.Documents:     "project,title,address\nP,Case,https://files.example.org/case\n",
	record.Assignments:   "role,project,from,to,percent\nwelder,P,2026-10-05,2026-10-09,50\n",
}

// RowFor is a file of a kind with one row: of A1, which is Lea's in the programme A, or of B1, which is Other's in B.
func RowFor(kind record.Kind, project string) string {
	own, lead := "A", "Lea"
	if project == "B1" {
		own, lead = "B", "Other"
	}
	return strings.NewReplacer("\nP,", "\n"+project+",", ",P,", ","+project+",", "OWN", own, "LEAD", lead).Replace(RowsOf[kind])
}

// Writers are people of every right to write, by what they are.
var Writers = map[string]*access.Actor{
	"lead":                  {Login: "lea", Name: "Lea", Role: access.Lead},
	"lead of nothing":       {Login: "nil", Name: "Nil", Role: access.Lead},
	"scoped analyst":        {Login: "nar", Name: "Nar", Role: access.Analyst, Scopes: []string{"A"}},
	"scoped administrator":  {Login: "adm", Name: "Adm", Role: access.Administrator, Scopes: []string{"A"}},
	"analyst without costs": {Login: "hid", Name: "Hid", Role: access.Analyst, HideMoney: true},
	"executive":             {Login: "exe", Name: "Exe", Role: access.Executive},
	"analyst":               {Login: "ana", Name: "Ana", Role: access.Analyst},
	"administrator":         {Login: "all", Name: "All", Role: access.Administrator},
}

// Gate is an office with desk whose projects A1 and B1 have activities X and Y.
func Gate(t *testing.T) (*store.Store, *app.Office) {
	t.Helper()
	dir := t.TempDir()
	s, err := demotest.Create(Ctx, filepath.Join(dir, "g.db"))
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	o := app.NewOffice(s, func() time.Time { return At },
		app.Parts{Reader: ingest.Reader{}, Drafts: draft.In(filepath.Join(dir, "drafts"), time.Time{})})
	Send(t, o, Sent{record.Structure, October,
		"code,name,level,parent\nPF,Portfolio,portfolio,\nA,A,programme,PF\nB,B,programme,PF\n"},
		Sent{record.CostCodes, October, "code,name\nC,Cost\n"},
		Sent{record.Projects, October, "code,name,parent,lead\nA1,First,A,Lea\nB1,Second,B,Other\n"},
		Sent{record.People, October, "code,name\nK,Kim\n"},
		Sent{record.Goals, October, "code,name\nSAFE,Safe\n"}, Sent{record.Criteria, October, "model,code,name,weight\nM,use,Use,1\n"},
		Sent{record.Stages, October, "model,code,name,place\nW,idea,Idea,1\n"},
		Sent{record.Activities, October, "project,code,name\nA1,X,Dig\nA1,Y,Fill\nB1,X,Dig\nB1,Y,Fill\n"})
	return s, o
}

// Received is a draft of a file with one row of a kind.
func Received(c context.Context, o *app.Office, kind record.Kind, project string) (*appdraft.Draft, error) {
	sent := false
	return o.Draft.Receive(c, "", October, func() (*appdraft.Upload, error) {
		if sent {
			return nil, io.EOF
		}
		sent = true
		return &appdraft.Upload{Name: string(kind) + ".csv", Body: strings.NewReader(RowFor(kind, project))}, nil
	})
}
