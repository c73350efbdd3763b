package check_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/core/check"
)

func said(in *check.In, rule string) (tested int, list []string) {
	r := check.Run(in, check.Options{}, nil)
	for _, c := range r.Tested {
		if c.Rule.ID == rule {
			tested = c.Tested
		}
	}
	for _, f := range r.Findings {
		if f.Rule.ID == rule {
			list = append(list, f.Record+": "+f.Says)
		}
	}
	return tested, list
}

// An assignment may begin on the first day of somebody here and end on the last; a day beyond is found.
func TestAssignedWhileNotHere(t *testing.T) {
	in := sound()
	in.Staffing.Assigned = []check.Assigned{
		{Who: "A", From: day(2026, 6, 1), To: day(2026, 7, 31), Here: day(2026, 6, 1), Gone: day(2026, 7, 31)},
		{Who: "B", From: day(2026, 6, 1), To: day(2026, 8, 1), Gone: day(2026, 7, 31)},
		{Who: "C", From: day(2026, 5, 31), To: day(2026, 7, 1), Here: day(2026, 6, 1)},
		{From: day(2026, 6, 1), To: day(2026, 8, 1)},
		{Who: "X", Unknown: true, From: day(2026, 6, 1), To: day(2026, 8, 1)},
	}
	tested, list := said(in, "assigned_gone")
	assert.Equal(t, 3, tested, "neither a role nor a stranger")
	assert.Equal(t, []string{"B 2026-06-01: B is assigned until 1 Aug 2026 and leaves on 31 Jul 2026",
		"C 2026-05-31: C is assigned from 31 May 2026 and comes on 1 Jun 2026"}, list)
	tested, list = said(in, "assigned_nobody")
	assert.Equal(t, 5, tested)
	assert.Equal(t, []string{"X 2026-06-01: X is in no register of people"}, list)
}

func TestOverloadedForWeeks(t *testing.T) {
	in := sound()
	in.Staffing.Named = []check.Loaded{{Who: "A", Weeks: 2, First: day(2026, 7, 6)}, {Who: "B"},
		{Who: "C", Weeks: 3, First: day(2026, 7, 6)}}
	tested, list := said(in, "overload")
	assert.Equal(t, 3, tested)
	assert.Equal(t, []string{"C: C is overloaded for 3 weeks from 6 Jul 2026 on"}, list)
}
