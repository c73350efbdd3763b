package record

import (
	"cmp"
	"errors"
	"slices"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/money"
)

// Row is a row of a kind, its cells as files of Turret's own hold them, by the names of their columns.
type Row struct {
	In    *Input
	N     int32 // in its file
	Cells []string
}

// Get is the cell of a column; empty where the kind has none of that name.
func (r Row) Get(column string) string {
	if i := r.In.At(column); i >= 0 {
		return r.Cells[i]
	}
	return ""
}

// Fail takes what is wrong with a row: the column, what stands there, and what was expected.
type Fail func(column, value, expected string)

// atLeastNothing refuses negative numbers.
func (r Row) atLeastNothing(fail Fail, columns ...string) {
	for _, c := range columns {
		if s := r.Get(c); strings.HasPrefix(s, "-") {
			fail(c, s, "0 or more")
		}
	}
}

func checkChange(r Row, fail Fail) {
	from, to := r.Get("from"), r.Get("to")
	if (from == "") != (to == "") || to < from {
		fail("to", to, "from and to both, the later last")
	}
}

func checkHours(r Row, fail Fail) {
	if n, err := money.ParseDecimal(r.Get("hours"), 4); err == nil && (n > 24*cost.HourUnits || n < -24*cost.HourUnits) {
		fail("hours", r.Get("hours"), "at most 24 hours a day")
	}
}

func checkAllocation(r Row, fail Fail) {
	if y := r.Get("year"); len(y) != 4 || y < "1900" {
		fail("year", y, "a year such as 2027")
	}
}

func checkPerson(r Row, fail Fail) {
	r.atLeastNothing(fail, "cost_rate", "billing_rate", "hours_per_day")
	if n, err := money.ParseDecimal(r.Get("hours_per_day"), 4); err == nil && n > 24*cost.HourUnits {
		fail("hours_per_day", r.Get("hours_per_day"), "at most 24 hours")
	}
	if from, to := r.Get("from"), r.Get("to"); to != "" && to < from {
		fail("to", to, "a day on or after "+from)
	}
}

func checkLabourRate(r Row, fail Fail) {
	n := 0
	for _, c := range []string{"person", "role", "cost_code"} {
		if r.Get(c) != "" {
			n++
		}
	}
	if n != 1 {
		fail("person", r.Get("person"), "one of person, role and cost_code")
	}
	r.atLeastNothing(fail, "cost_rate", "billing_rate")
}

func checkRisk(r Row, fail Fail) {
	checkOwned(r, fail)
	for _, c := range []string{"likelihood", "consequence", "residual_likelihood", "residual_consequence"} {
		if s := r.Get(c); s != "" && (len(s) != 1 || s < "1" || s > "5") {
			fail(c, s, "a whole number from 1 to 5")
		}
	}
	r.ends("closed", fail)
}

func checkIssue(r Row, fail Fail) {
	checkOwned(r, fail)
	r.ends("closed", fail)
}

func checkAction(r Row, fail Fail) {
	checkOwned(r, fail)
	r.ends("done_on", fail)
}

// ends refuses a record that was over before it was raised.
func (r Row) ends(column string, fail Fail) {
	if from, to := r.Get("raised"), r.Get(column); from != "" && to != "" && to < from {
		fail(column, to, "a day on or after "+from+", when it was raised")
	}
}

func checkItem(r Row, fail Fail) {
	r.atLeastNothing(fail, "points")
	for _, x := range [][2]string{{"added", "accepted"}, {"added", "removed"}, {"started", "done_on"}} {
		if from, to := r.Get(x[0]), r.Get(x[1]); from != "" && to != "" && to < from {
			fail(x[1], to, "a day on or after "+from+", when it was "+x[0])
			return
		}
	}
}

func checkIteration(r Row, fail Fail) {
	if from, to := r.Get("from"), r.Get("to"); from != "" && to != "" && to < from {
		fail("to", to, "a day on or after "+from)
	}
}

// checkIterations refuses iterations of a project that share a day.
func checkIterations(rows []Row, fail func(row int32, column, value, expected string)) {
	sorted := slices.SortedFunc(slices.Values(rows), func(x, y Row) int {
		return cmp.Or(cmp.Compare(x.Get("project"), y.Get("project")), cmp.Compare(x.Get("from"), y.Get("from")), cmp.Compare(x.N, y.N))
	})
	for i := 1; i < len(sorted); i++ {
		x, y := sorted[i-1], sorted[i]
		if x.Get("project") == y.Get("project") && x.Get("code") != y.Get("code") && y.Get("from") <= x.Get("to") {
			fail(y.N, "from", y.Get("from"), "a day after "+x.Get("to")+", the last of "+x.Get("code"))
		}
	}
}

func checkAssignment(r Row, fail Fail) {
	if (r.Get("person") == "") == (r.Get("role") == "") {
		fail("person", r.Get("person"), "a person or a role, not both")
	}
	if from, to := r.Get("from"), r.Get("to"); to < from {
		fail("to", to, "a day on or after "+from)
	}
}

// checkFunding refuses shares that do not add up to a whole, and says by how much they miss it.
func checkFunding(rows []Row, fail func(row int32, column, value, expected string)) {
	by, last := map[string][]cost.Share{}, map[string]int32{}
	var order []string
	for _, r := range rows {
		p := r.Get("project")
		if _, ok := by[p]; !ok {
			order = append(order, p)
		}
		percent, _ := money.ParseDecimal(r.Get("percent"), 2)
		from, _ := calendar.ParseMonth(r.Get("from"))
		by[p] = append(by[p], cost.Share{Funder: r.Get("funder"), Percent: percent, From: from, Centre: r.Get("cost_centre"),
			Ref: fact.Ref{Row: r.N}})
		last[p] = r.N
	}
	for _, p := range order {
		if _, err := cost.NewSharing(by[p]); err != nil {
			row, value := last[p], ""
			if sum := (*cost.SharesError)(nil); errors.As(err, &sum) {
				row, value = sum.Last.Row, money.Decimal(sum.Sum, 2)
			}
			fail(row, "percent", value, "percentages that add up to 100 in "+p+"; "+err.Error())
		}
	}
}
