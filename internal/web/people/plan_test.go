package people

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/people"
	"turret/internal/core/capacity"
	"turret/internal/core/fact"
	"turret/internal/record"
)

// The form of a plan knows the cells of an assignment by their places.
func TestCellsOfAnAssignmentStandWhereTheFormKnowsThem(t *testing.T) {
	names := map[int]string{colPerson: "person", colRole: "role", colProject: "project", colFrom: "from", colTo: "to",
		colPercent:  "percent",
		colActivity: "activity"}
	in := record.Assignments.Input()
	assert.Len(t, in.Columns, columns)
	for at, name := range names {
		assert.Equal(t, name, in.Columns[at].Name)
	}
}

// By hand: 30 of 40 h are 75 % of what was there; a target of 86 % is more than ten points above, one of 85 % is not.
func TestACellOfUtilisation(t *testing.T) {
	x := &capacity.Cell{Available: 40 * capacity.Unit, AvailablePast: 40 * capacity.Unit, Booked: 30 * capacity.Unit,
		Billable: 10 * capacity.Unit,
		Demand:   50 * capacity.Unit, DemandPast: 50 * capacity.Unit}
	c := useCell(x, false, fact.Of(85, 100))
	assert.Equal(t, cell{Text: "75", Class: "load-3", Title: "30 h booked of 40 h, 25 % billable, 125 % planned"}, c)
	assert.Equal(t, "load-3 below", useCell(x, false, fact.Of(86, 100)).Class)
	assert.Equal(t, cell{Text: "125", Class: "load-plan", Title: "50 h planned of 40 h"}, useCell(x, true, fact.Ratio{}))
	x.Booked = 41 * capacity.Unit
	assert.Equal(t, "load-over", useCell(x, false, fact.Of(86, 100)).Class)
	assert.Equal(t, "load-away", useCell(&capacity.Cell{}, false, fact.Ratio{}).Class)
	assert.Equal(t, "load-away", useCell(&capacity.Cell{}, true, fact.Ratio{}).Class)
	assert.Equal(t, "5 h", useCell(&capacity.Cell{Booked: 5 * capacity.Unit}, false, fact.Ratio{}).Text, "where nobody was there")
}

func TestWhatATrialChangesIsSaid(t *testing.T) {
	c := people.Change{Person: &capacity.Person{Name: "Kim"}, Hours: -8 * capacity.Unit, Over: 1, OverBefore: 2}
	assert.Equal(t, "Kim: 8 h fewer are wanted; over in 1 week, 2 before.", changeText(&c))
	c.Hours = 0
	assert.Equal(t, "Kim: the same hours at other times; over in 1 week, 2 before.", changeText(&c))
}
