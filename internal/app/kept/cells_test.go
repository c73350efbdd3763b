package kept_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/apptest"
	"turret/internal/record"
)

// Rows with every cell filled are written as they were read: what stands in a column by its name comes back in it.
func TestRowsAreWrittenAsTheyWereRead(t *testing.T) {
	for kind, text := range map[record.Kind]string{
		record.Structure: "code,name,level,parent,owner\nPG,Programme,programme,PF,Ann\n",
		record.Projects: "code,name,parent,lead,sponsor,category,stage,currency,planned_start,planned_finish,required_finish," +
			"schedule_mode,earned_value,business_unit,status,labour\nA,First,PG,Ann,Sue,Dam,build,SEK,2026-01-02,2026-12-03,2027-01-04,driven,yes,South,open,planned\n",
		record.Calendars: "calendar,date,weekday,working,name\ndefault,2026-12-25,,no,Christmas\n",
		record.CostCodes: "code,name,parent,type,closed,contingency,labour\nC1,Stone,C,capital,yes,no,yes\n",
		record.Rates:     "currency,month,rate,kind\nSEK,2026-10,0.0871,plan\n",
		record.Activities: "project,code,name,parent,kind,baseline_start,baseline_finish,start,finish,actual_start,actual_finish," +
			"duration,remaining,percent_complete,weight,ev_method,report_to,owner,party,calendar,not_before,not_after,low,likely,high,priority,state\n" +
			"A,X,Dig,S,activity,2026-01-05,2026-02-06,2026-01-07,2026-02-09,2026-01-08,2026-02-10,24,3,12.5,1.25,percent,programme,Bob," +
			"Acme,night,2026-01-01,2026-03-01,2,3,5,high,on hold\n",
		record.Links:    "project,from,to,type,lag,from_project,to_project\nA,X,Y,SS,-2,B,C\n",
		record.Budget:   "project,cost_code,amount,month,from,to,profile,currency,cost_centre,change,note,activity\nA,C,12.5,2026-10,,,,,K1,CH1,why,X\n",
		record.Forecast: "project,cost_code,amount,month,from,to,profile,currency,cost_centre,change,note,activity\nA,C,12.5,,2026-10-01,2026-12-31,bell,,K1,CH1,why,X\n",
		record.Actuals:  "project,cost_code,date,amount,currency,cost_centre,document,supplier,note,activity\nA,C,2026-10-05,-7.25,,K1,D9,Acme,late,X\n",
		record.Statuses: "project,overall,schedule,cost,scope,risk,benefit,percent_complete,commentary\n" +
			"A,watch,act,on track,watch,act,on track,33.25,all well\n",
	} {
		f := apptest.Read(t, kind, text)
		lines := strings.Split(strings.TrimSpace(text), "\n")
		var names []string
		for _, c := range kind.Input().Columns {
			names = append(names, c.Name)
		}
		assert.Equal(t, strings.Split(lines[0], ","), names, "%s has other columns by now", kind)
		assert.Equal(t, strings.Split(lines[1], ","), f.Cells(0), kind)
		assert.Equal(t, 1, f.Len())
		assert.Equal(t, int32(2), f.Row(0))
		if kind.OfProject() || kind == record.Projects {
			assert.Equal(t, []string{"A"}, f.OwnersOf(), kind)
		} else {
			assert.Empty(t, f.OwnersOf(), kind)
		}
	}
}
