package capacity_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/capacity"
	"turret/internal/core/fact"
)

func day(t *testing.T, s string) calendar.Date {
	t.Helper()
	d, err := calendar.ParseDate(s)
	require.NoError(t, err)
	return d
}

// hours are whole hours, in units.
func hours(n float64) int64 { return int64(n * capacity.Unit) }

// fourDays is worked from Monday to Thursday.
func fourDays(t *testing.T) *calendar.Calendar {
	t.Helper()
	c, err := calendar.New([7]bool{true, true, true, true}, nil)
	require.NoError(t, err)
	return c
}

// November 2026 begins on a Sunday and has 21 working days from Monday to Friday, 4 of them in each of the weeks only where cut.
func env(t *testing.T) *capacity.Env {
	t.Helper()
	return &capacity.Env{Standard: 80_000, Calendar: calendar.Standard, AsOf: day(t, "2026-11-13")}
}

// By hand. November 2026 has 21 working days, 17 of them from Monday to Thursday (2-5, 9-12, 16-19, 23-26, and the 30th).
//   - A of 8 h leaves on 20 November: 15 days. The 3rd she is away whole, on the 4th and 5th for 3 h, on the 5th for 6 h more (9 h of 8):
//     14 days and 5 h less 8 = 15 x 8 - 8 - 3 - 8 = 101 h. She is wanted at 50 % all month, also when she has gone: 21 x 4 = 84 h; and at
//     100 % from the 2nd to the 4th, also while she is away: 24 h.
//   - B has 7.5 h on four days: 17 x 7.5 = 127.5 h, is wanted at 120 % from the 30th on into December: 9 h.
//   - A diver is wanted at 25 % for the 7th to the 10th: a weekend and two days, 4 h, of nobody.
func staff(t *testing.T) *capacity.Staff {
	t.Helper()
	d := func(s string) calendar.Date { return day(t, "2026-"+s) }
	return &capacity.Staff{
		People: []capacity.Person{
			{Code: "A", Role: "diver", Team: "North", To: d("11-20"), Target: fact.Some(80_00), Absences: []capacity.Absence{
				{From: d("11-03"), To: d("11-03")}, {From: d("11-04"), To: d("11-05"), Hours: fact.Some(30_000)},
				{From: d("11-05"), To: d("11-05"), Hours: fact.Some(60_000)}, {From: d("11-25"), To: d("12-24")}}},
			{Code: "B", Role: "diver", Team: "South", Hours: fact.Some(75_000), Calendar: fourDays(t), Target: fact.Some(50_00)},
			{Code: "C", From: d("12-01")},
		},
		Assigned: []capacity.Assignment{
			{Person: 0, Project: 0, From: d("11-01"), To: d("11-30"), Percent: 50_00},
			{Person: 0, Project: 1, From: d("11-02"), To: d("11-04"), Percent: 100_00},
			{Person: 1, Project: 1, From: d("11-30"), To: d("12-31"), Percent: 120_00},
			{Person: capacity.Nobody, Role: "diver", Project: 1, From: d("11-07"), To: d("11-10"), Percent: 25_00},
		},
		Booked: []capacity.Booking{
			{Person: 0, Date: d("11-02"), Hours: 80_000, Billable: true}, {Person: 0, Date: d("11-13"), Hours: 40_000},
			{Person: 0, Date: d("11-16"), Hours: 80_000}, {Person: 0, Date: d("11-12"), Hours: -10_000, Billable: true},
		},
	}
}

func TestMonthOfThreePeopleByHand(t *testing.T) {
	m := day(t, "2026-11-01").Month()
	rows := capacity.Table(env(t), staff(t), capacity.ByPerson, capacity.Months(m, m))
	require.Len(t, rows, 3, "C is not here yet, and nothing is wanted of her")
	a, b, nobody := rows[0], rows[1], rows[2]
	assert.Equal(t, []string{"A", "B", ""}, []string{a.Name, b.Name, nobody.Name})
	assert.Equal(t, []int64{hours(101), hours(108), 0}, []int64{a.Available, a.Demand, a.Unstaffed})
	assert.Equal(t, []int64{hours(127.5), hours(9), 0}, []int64{b.Available, b.Demand, b.Unstaffed})
	assert.Equal(t, []int64{0, hours(4), hours(4)}, []int64{nobody.Available, nobody.Demand, nobody.Unstaffed})
	assert.Equal(t, hours(168), a.Full, "21 days of 8 h")

	// By the 13th: 10 days of 8 h less 19 h; wanted 10 x 4 + 24; booked 8 + 4 - 1, of which 7 can be billed.
	assert.Equal(t, []int64{hours(61), hours(64), hours(11), hours(7)}, []int64{a.AvailablePast, a.DemandPast, a.Booked, a.Billable})
	assert.Equal(t, fact.Of(11, 61), a.Utilisation())
	assert.Equal(t, fact.Of(7, 61), a.BillableUtilisation())
	assert.Equal(t, fact.Of(64, 61), a.PlannedUtilisation())
	assert.Equal(t, fact.Of(108, 101), a.Load())
	assert.False(t, nobody.Load().Given(), "nothing is available")
	assert.Equal(t, []capacity.State{capacity.Over, capacity.Free, capacity.Over}, []capacity.State{
		capacity.StandardLimits.Of(&a.Cell), capacity.StandardLimits.Of(&b.Cell), capacity.StandardLimits.Of(&nobody.Cell)})
	assert.Equal(t, fact.Some(60), a.FTE(a.Available), "101 of 168 is 0.601")
	assert.Equal(t, fact.Some(-4), a.Gap(), "101 less 108 of 168 is -0.0417")
}

// All who count together, and what is wanted of a role, stand in one row; the three views add up to the same.
func TestThreeViewsAddUp(t *testing.T) {
	m := day(t, "2026-11-01").Month()
	var sums [3]capacity.Cell
	for _, by := range []capacity.By{capacity.ByPerson, capacity.ByRole, capacity.ByTeam} {
		for _, r := range capacity.Table(env(t), staff(t), by, capacity.Months(m, m+1)) {
			sums[by].Add(&r.Cell)
		}
	}
	assert.Equal(t, sums[0], sums[1])
	assert.Equal(t, sums[0], sums[2])
	rows := capacity.Table(env(t), staff(t), capacity.ByRole, capacity.Months(m, m))
	require.Len(t, rows, 1)
	assert.Equal(t, []int64{hours(228.5), hours(121), hours(4)}, []int64{rows[0].Available, rows[0].Demand, rows[0].Unstaffed})
	// Weighted by hours: (101 x 80 + 127.5 x 50) / 228.5 %.
	assert.Equal(t, fact.Of(101*80+1275*5, 22_850), rows[0].Target())
	rows = capacity.Table(env(t), staff(t), capacity.ByTeam, capacity.Months(m, m))
	names := []string{}
	for _, r := range rows {
		names = append(names, r.Name)
	}
	assert.Equal(t, []string{"North", "South", ""}, names, "what names nobody has no team")
}

// 2026 has 53 weeks: the last begins on 28 December and ends in 2027. A week that the range cuts counts its days within it.
func TestWeeksOfTheYear(t *testing.T) {
	var said []string
	for _, x := range capacity.Weeks(day(t, "2026-12-30"), day(t, "2027-01-12")) {
		said = append(said, x.Name+" "+x.First.String()+" "+x.Last.String())
	}
	assert.Equal(t, []string{"2026-W53 2026-12-30 2027-01-03", "2027-W01 2027-01-04 2027-01-10", "2027-W02 2027-01-11 2027-01-12"}, said)
	assert.Equal(t, "2024-W01", capacity.Weeks(day(t, "2024-01-01"), day(t, "2024-01-01"))[0].Name)
	assert.Equal(t, "2020-W53", capacity.Weeks(day(t, "2021-01-01"), day(t, "2021-01-01"))[0].Name)
	assert.Empty(t, capacity.Weeks(day(t, "2021-01-02"), day(t, "2021-01-01")))
	assert.Empty(t, capacity.Table(env(t), staff(t), capacity.ByPerson, nil))
	rows := capacity.Table(env(t), staff(t), capacity.ByPerson, capacity.Weeks(day(t, "2026-11-30"), day(t, "2026-11-30")))
	require.Len(t, rows, 2)
	assert.Equal(t, []int64{0, hours(4), hours(8)}, []int64{rows[0].Available, rows[0].Demand, rows[0].Full}, "A has gone, and is wanted")
	assert.Equal(t, hours(7.5), rows[1].Available)
}

// At the limits themselves: 90 % is full, 100 % is full and not over, a hair more is over; what is wanted of nobody's hours is over.
func TestLimitsOfLoad(t *testing.T) {
	for _, x := range []struct {
		available, demand int64
		want              capacity.State
	}{{100, 0, capacity.Free}, {1_000_000, 899_999, capacity.Free}, {100, 90, capacity.Full}, {100, 100, capacity.Full},
		{1_000_000, 1_000_001, capacity.Over}, {0, 1, capacity.Over}, {0, 0, capacity.Free}} {
		c := capacity.Cell{Available: x.available, Demand: x.demand}
		assert.Equal(t, x.want, capacity.StandardLimits.Of(&c), "%d of %d", x.demand, x.available)
	}
	c := capacity.Cell{Available: 604, Demand: 15, Full: 1000} // 0.60 less 0.02 would be 0.58
	assert.Equal(t, fact.Some(59), c.Gap())
	c = capacity.Cell{Available: 3}
	assert.Equal(t, fact.Int{}, c.FTE(3), "the organisation works on no day")
}

// What makes up a cell adds up to it, the largest part first.
func TestWhatMakesUpACell(t *testing.T) {
	first, last := day(t, "2026-11-01"), day(t, "2026-11-30")
	d := capacity.Explain(env(t), staff(t), capacity.ByPerson, "A", first, last)
	assert.Equal(t, []capacity.Has{{Person: 0, Days: 15, Available: hours(101), Away: hours(19)}}, d.Has)
	assert.Equal(t, []capacity.Wants{{0, 21, hours(84)}, {1, 3, hours(24)}}, d.Wants)
	d = capacity.Explain(env(t), staff(t), capacity.ByRole, "diver", first, last)
	assert.Equal(t, []int64{hours(228.5), hours(121), hours(4)}, []int64{d.Total.Available, d.Total.Demand, d.Total.Unstaffed})
	assert.Len(t, d.Has, 2)
	d = capacity.Explain(env(t), staff(t), capacity.ByPerson, "", first, last)
	assert.Equal(t, []capacity.Wants{{3, 2, hours(4)}}, d.Wants)
}

// Who is of the role comes before who is only of the team; then by free hours, then by code. C has no role, and takes nothing of a role
// without a name.
func TestWhoCouldTakeIt(t *testing.T) {
	s := staff(t)
	s.People = append(s.People, capacity.Person{Code: "D", Role: "surveyor", Team: "North"},
		capacity.Person{Code: "E", Role: "surveyor", Team: "North"}, capacity.Person{Code: "F", Role: "diver"})
	var said []string
	for _, x := range capacity.WhoCould(env(t), s, "diver", "North", day(t, "2026-11-09"), day(t, "2026-11-13")) {
		said = append(said, s.People[x.Person].Code)
		if s.People[x.Person].Code == "A" {
			assert.Equal(t, hours(20), x.Units)
		}
	}
	assert.Equal(t, []string{"F", "B", "A", "D", "E"}, said, "40 h, 30 h, 20 h; then the team")
	assert.Empty(t, capacity.WhoCould(env(t), s, "", "", day(t, "2026-11-09"), day(t, "2026-11-13")))
	for _, x := range capacity.WhoCould(env(t), s, "diver", "", day(t, "2026-11-21"), day(t, "2026-11-30")) {
		assert.Equal(t, s.People[x.Person].Code == "A", x.Out, "A has left")
	}
}

// By the 13th: 40 + 24 of A, and 4 of the diver; after it 44 of A, and what B is wanted for: 19 days from Monday to Thursday in December
// and the 30th of November, 20 x 9 h.
func TestHoursOfAProjectBeforeAndAfter(t *testing.T) {
	var planned, ahead []int64
	var who []string
	for _, x := range capacity.Shares(env(t), staff(t)) {
		planned, ahead, who = append(planned, x.Past), append(ahead, x.Ahead), append(who, x.Who)
	}
	assert.Equal(t, []string{"A", "A", "B", "diver"}, who)
	assert.Equal(t, []int64{hours(40), hours(24), 0, hours(4)}, planned)
	assert.Equal(t, []int64{hours(44), 0, hours(20 * 9), 0}, ahead)
}

// By hand: 30 of 40 h are 75 %: ten points below 85 % is not more than ten, 85.01 % is. Nothing is below what is undefined.
func TestBelowTarget(t *testing.T) {
	c := capacity.Cell{AvailablePast: 40, Booked: 30}
	assert.False(t, c.Below(fact.Of(85, 100)))
	assert.True(t, c.Below(fact.Of(8501, 10_000)))
	assert.False(t, c.Below(fact.Ratio{}))
	assert.False(t, (&capacity.Cell{}).Below(fact.Of(1, 1)))
	c.Booked = -1
	assert.True(t, c.Below(fact.Of(8, 100)), "more taken back than booked")
}
