package judge_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/judge"
	"turret/internal/record"
)

// Of Ann's closed projects 60 and 100 came of 100 each that were due. Of hers that goes on 1 000 are planned: at 80 % that is 800, and up
// to 900 forecast
// is within the tenth that is tolerated. Bob has no past, and what is to come of a lead with a better one is believed.
func TestBenefitsAreHeldAgainstTheLeadsPast(t *testing.T) {
	for forecast, want := range map[string][]string{
		"900": nil,
		"900.01": {"N: €900 where €800", "Of 2 projects led by Ann, €160 came of €200 that were due: 80.0 %.",
			"At that, €800 of the planned €1,000 comes; €900 is forecast."},
		"700": nil,
	} {
		o := apptest.House(t,
			apptest.Sent{Kind: record.Projects,
				Text: "code,name,parent,lead,status\nA,Old,PF,Ann,closed\nZ,Older,PF,Ann,closed\nN,New,PF,Ann,open\nB,Other,PF,Bob,open\n" +
					"G,Good,PF,Cat,closed\nH,Next,PF,Cat,open\n"},
			apptest.Sent{Kind: record.Benefits, Period: apptest.October, Text: "project,code,name,month,planned,forecast,achieved\n" +
				"A,V,Fees,2026-08,100,,60\nZ,V,Fees,2026-08,100,,100\nN,V,Fees,2027-08,1000," + forecast + ",\nB,V,Fees,2027-08,1000,1000,\n" +
				"G,V,Fees,2026-08,100,,120\nH,V,Fees,2027-08,1000,1500,\n"})
		a := apptest.Assessed(t, o, apptest.Last)
		sc, err := a.Scope("")
		require.NoError(t, err)
		var got []string
		for _, d := range judge.Disagreements(a, sc) {
			if d.About == "benefit" {
				got = append(got, d.Project.Code+": "+d.Said+" where "+d.Computed, d.Evidence[0], d.Evidence[1])
			}
		}
		assert.Equal(t, want, got, forecast)
	}
}
