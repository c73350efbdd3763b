package backlog_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/core/backlog"
	"turret/internal/core/calendar"
	"turret/internal/core/fact"
)

func points(n int64) fact.Int { return fact.Some(n * 10_000) }

func on(m, d int) calendar.Date { return calendar.On(2026, m, d) }

var today = on(10, 31)

// By hand as of 31 October, with a baseline of 1 September. There are 8 accepted in time, 5 that are accepted only on 1 November, 3 of the
// very day of the baseline, 2 accepted without a day, and one without points: 18. That of 1 November is not there yet; 7 went on 31
// October, 9 go on 1 November. Of those there 5 and 9 came after the baseline.
func TestSums(t *testing.T) {
	b := backlog.Backlog{Baseline: on(9, 1), Items: []backlog.Item{
		{Code: "a", Points: points(8), State: "accepted", Accepted: today},
		{Code: "b", Points: points(5), State: "accepted", Added: on(9, 2), Accepted: on(11, 1)},
		{Code: "c", Points: points(3), State: "done", Added: on(9, 1)},
		{Code: "d", Points: points(2), State: "accepted"},
		{Code: "e", Points: points(100), Added: on(11, 1)},
		{Code: "f"},
		{Code: "g", Points: points(7), Added: on(9, 3), Removed: today, State: "accepted", Accepted: on(10, 1)},
		{Code: "h", Points: points(9), Added: on(9, 3), Removed: on(11, 1)},
	}}
	s := b.On(today)
	assert.Equal(t, []int64{27, 10, 17, 14, 7}, []int64{s.Total / 10_000, s.Accepted / 10_000, s.Remaining / 10_000, s.Added / 10_000,
		s.Removed / 10_000})
	b.Baseline = 0
	assert.Zero(t, b.On(today).Added, "without a baseline nothing came after it")
	assert.Equal(t, "no iteration is finished", b.On(today).Mean.Reason)
}

// sprints are five iterations of two weeks, of which the fourth is under way on 31 October.
func sprints() []backlog.Iteration {
	var list []backlog.Iteration
	for i, code := range []string{"S1", "S2", "S3", "S4", "S5"} {
		from := on(9, 7) + calendar.Date(14*i)
		list = append(list, backlog.Iteration{Code: code, From: from, To: from + 13})
	}
	return list
}

func ranked() backlog.Backlog {
	done := func(code, in string, n int64) backlog.Item {
		return backlog.Item{Code: code, Iteration: in, Points: points(n), State: "accepted"}
	}
	return backlog.Backlog{Baseline: on(9, 1), Deadline: on(11, 29), Iterations: sprints(), Items: []backlog.Item{
		done("d1", "S1", 8), done("d2", "S2", 5), done("d3", "S3", 2), done("d4", "S4", 3),
		{Code: "z", Points: points(2)},
		{Code: "y", Points: points(3), Rank: fact.Some(2)},
		{Code: "b", Points: points(6), Rank: fact.Some(2), Iteration: "S4", Added: on(10, 20)},
		{Code: "x", Points: points(4), Rank: fact.Some(1), Iteration: "S4", Added: on(10, 19)},
		{Code: "w", Points: points(0), Rank: fact.Some(9)},
	}}
}

func days(s *backlog.Progress) []string {
	return []string{s.Low.Day.String(), s.Mean.Day.String(), s.High.Day.String()}
}

// By hand: velocities 2, 5 and 8; 15 remain. S4 ends on 1 November and has 3. At 5 it takes 2 more, 13 are left: three iterations, to 13
// December. At 2 it takes none: eight, to 21 February. At 8 it takes 5, 10 are left: two, to 29 November. By then 2 + 2 x 5 = 12 are done:
// x and b are 10, y would be 13, so that y, z and w, which has none, are late: 5 of 15.
func TestFinishAndWhatIsLate(t *testing.T) {
	b := ranked()
	s := b.On(today)
	assert.Equal(t, []int64{20_000, 50_000, 80_000}, []int64{s.Velocity.Low, s.Velocity.Mean(), s.Velocity.High})
	assert.Equal(t, []any{"S4", int64(30_000), 14}, []any{s.Current.Code, s.InWork, s.Length})
	assert.Equal(t, []string{"2027-02-21", "2026-12-13", "2026-11-29"}, days(s))
	var late []string
	for _, i := range s.Late {
		late = append(late, b.Items[i].Code)
	}
	assert.Equal(t, []string{"y", "w", "z"}, late, "what has no rank is last")
	assert.Equal(t, fact.Of(1, 3), s.LateShare())
	assert.EqualValues(t, 60_000, s.Unplanned, "b came on the second day of its iteration, x on the first")
	b.Grace = 1
	assert.Zero(t, b.On(today).Unplanned)

	b.Deadline = on(10, 31)
	assert.Len(t, b.On(today).Late, 5, "S4 ends after the deadline; that without points comes after others")
	b.Deadline = on(11, 1)
	b.Items = append(b.Items, backlog.Item{Code: "v", Points: points(2), Rank: fact.Some(0)})
	assert.Len(t, b.On(today).Late, 5, "S4 ends on the deadline, so that its last 2 points are done: v is")
	b.Items = b.Items[:len(b.Items)-1]
	b.Deadline = on(12, 13)
	assert.Empty(t, b.On(today).Late)
	b.Deadline = on(12, 12)
	assert.Equal(t, fact.Of(1, 3), b.On(today).LateShare(), "the third iteration ends a day too late")
	b.Deadline = 0
	assert.Equal(t, []any{false, "no required or planned finish"}, []any{b.On(today).LateKnown, b.On(today).LateReason})
}

// Velocity is that of the last six of eight finished iterations, whatever their order; the first accepted 100, the second 90.
func TestVelocityOfTheLastSix(t *testing.T) {
	var b backlog.Backlog
	for i, n := range []int64{6, 100, 3, 90, 1, 2, 5, 4} {
		nth := []int{5, 0, 4, 1, 2, 3, 7, 6}[i]
		code := string(rune('A' + i))
		from := on(1, 5) + calendar.Date(7*nth)
		b.Iterations = append(b.Iterations, backlog.Iteration{Code: code, From: from, To: from + 6})
		b.Items = append(b.Items, backlog.Item{Code: code, Iteration: code, Points: points(n), State: "accepted", Accepted: on(2, 1)})
	}
	v := b.On(today).Velocity
	assert.Equal(t, []int64{1, 6, 21, 6}, []int64{v.Low / 10_000, v.High / 10_000, v.Sum / 10_000, v.Count})
	assert.EqualValues(t, 35_000, v.Mean())
	assert.Equal(t, "2026-02-01", b.On(today).Low.Day.String(), "nothing remains: the last acceptance")
	early := b.On(on(1, 18)).Velocity
	assert.Equal(t, []int64{2, 0}, []int64{early.Count, early.High},
		"that which ends on the day is finished; nothing was accepted by then")
}

// A velocity of zero dates nothing; a mean above zero does.
func TestVelocityZero(t *testing.T) {
	b := backlog.Backlog{Deadline: on(12, 31), Iterations: sprints()[:3], Items: []backlog.Item{
		{Code: "d", Iteration: "S1", Points: points(3), State: "accepted"}, {Code: "r", Points: points(2)}}}
	s := b.On(today)
	assert.Equal(t, "velocity is zero", s.Low.Reason)
	assert.Equal(t, "2026-11-28", s.Mean.Day.String(), "two iterations of 1 point from the day, as none is under way")
	b.Items[0].State = "done"
	s = b.On(today)
	assert.Equal(t, []string{"velocity is zero", "velocity is zero"}, []string{s.Mean.Reason, s.High.Reason})
	assert.Equal(t, fact.Of(1, 1), s.LateShare(), "nothing is ever done")
	b.Items = b.Items[:1]
	b.Items[0].State = "accepted"
	s = b.On(today)
	assert.Equal(t, []any{"nothing remains, and no day of acceptance is given", true, fact.Of(0, 1)},
		[]any{s.Mean.Reason, s.LateKnown, s.LateShare()})
}

// Of two lengths that are as frequent the longer is usual.
func TestUsualLength(t *testing.T) {
	length := func(list ...int) int {
		var b backlog.Backlog
		from := on(1, 1)
		for i, n := range list {
			b.Iterations = append(b.Iterations, backlog.Iteration{Code: string(rune('a' + i)), From: from, To: from + calendar.Date(n-1)})
			from += calendar.Date(n)
		}
		return b.On(today).Length
	}
	assert.Equal(t, 21, length(14, 21, 14, 21, 7))
	assert.Equal(t, 14, length(14, 21, 14))
	assert.Equal(t, 1, length(1))
	assert.Zero(t, length())
}

// The finish and what is late agree with working the iterations off one by one, in whole points.
func TestAgainstWorkingItOff(t *testing.T) {
	r := rand.New(rand.NewPCG(21, 1))
	for range 3_000 {
		b, mean := drawn(r)
		s := b.On(today)
		if mean == 0 || s.Remaining == 0 {
			continue
		}
		want, by := workedOff(&b, mean)
		assert.Equal(t, want.String(), s.Mean.Day.String())
		assert.Equal(t, by >= s.Remaining/10_000, len(s.Late) == 0)
		assert.Equal(t, s.Mean.Day <= b.Deadline, s.LatePoints == 0, "nothing is late exactly where the mean finish is in time")
	}
}

// drawn is a backlog whose mean velocity is a whole number of points.
func drawn(r *rand.Rand) (backlog.Backlog, int64) {
	b := backlog.Backlog{Deadline: today + calendar.Date(r.IntN(200)-20), Iterations: sprints()[:2+r.IntN(4)]}
	mean := r.Int64N(6)
	add := func(in, state string, n int64) {
		b.Items = append(b.Items, backlog.Item{Code: string(rune('A' + len(b.Items))), Iteration: in, State: state, Points: points(n),
			Rank: fact.Some(r.Int64N(4))})
	}
	finished := min(3, len(b.Iterations))
	for i := range finished {
		n := mean
		if finished == 3 && i < 2 {
			n += int64(1 - 2*i)
		}
		add(b.Iterations[i].Code, "accepted", max(n, 0))
		if n < 0 {
			mean = 0
		}
	}
	if len(b.Iterations) > 3 {
		add("S4", "accepted", r.Int64N(8))
	}
	for range 1 + r.IntN(6) {
		add("", "todo", 1+r.Int64N(9))
	}
	return b, mean
}

// workedOff takes mean points off each iteration, the current one first, and says when nothing is left and what was done by the deadline.
func workedOff(b *backlog.Backlog, mean int64) (calendar.Date, int64) {
	left, by, day := int64(0), int64(0), today
	inWork := int64(0)
	for i := range b.Items {
		if b.Items[i].State == "todo" {
			left += b.Items[i].Points.N / 10_000
		} else if b.Items[i].Iteration == "S4" {
			inWork = b.Items[i].Points.N / 10_000
		}
	}
	all := left
	if len(b.Iterations) > 3 {
		day = b.Iterations[3].To
		left -= min(left, max(0, mean-inWork))
		if day <= b.Deadline {
			by = max(0, mean-inWork)
		}
	}
	finish := day
	for left > 0 {
		finish += 14
		left -= min(left, mean)
	}
	for end := day + 14; end <= b.Deadline; end += 14 {
		by += mean
	}
	return finish, min(by, all)
}

// By hand: 8 from the start, 5 from 3 September, 2 from 5 to before 7 September; 8 accepted on 4 September, 5 never.
func TestBurns(t *testing.T) {
	b := backlog.Backlog{Items: []backlog.Item{
		{Code: "a", Points: points(8), State: "accepted", Accepted: on(9, 4)}, {Code: "b", Points: points(5), Added: on(9, 3)},
		{Code: "c", Points: points(2), Added: on(9, 5), Removed: on(9, 7)}}}
	var got [][]int64
	for _, d := range b.Burns(on(9, 2), on(9, 30), on(9, 7), "points") {
		got = append(got, []int64{d.Total / 10_000, d.Accepted / 10_000, d.Remaining() / 10_000})
	}
	assert.Equal(t, [][]int64{{8, 0, 8}, {13, 0, 13}, {13, 8, 5}, {15, 8, 7}, {15, 8, 7}, {13, 8, 5}}, got)
	items := b.Burns(on(9, 6), on(9, 6), on(9, 7), "items")
	assert.Equal(t, []backlog.Burn{{Day: on(9, 6), Total: 3, Accepted: 1}}, items)
	assert.Empty(t, b.Burns(on(9, 8), on(9, 30), on(9, 7), "points"), "nothing is told of days to come")
}

// Friday 30 October is the last working day. Ann accepted one then and one the Wednesday before; seven working days go back to Thursday 22
// October. Bob has one in work that he last moved on Tuesday: three working days; Cid is blocked.
func TestWorkers(t *testing.T) {
	b := backlog.Backlog{Items: []backlog.Item{
		{Code: "a", Owner: "Ann", State: "accepted", Accepted: on(10, 30)}, {Code: "b", Owner: "Ann", State: "accepted", Accepted: on(10,
			28)},
		{Code: "c", Owner: "Ann", State: "accepted", Accepted: on(10, 21)}, {Code: "d", Owner: "Ann", State: "accepted", Accepted: on(10,
			22)},
		{Code: "e", Owner: "Bob", State: "doing", Added: on(9, 1), Started: on(10, 27)},
		{Code: "f", Owner: "Cid", State: "todo", Blocked: "rain"}, {Code: "g", State: "doing"}}}
	list := b.Workers(today, calendar.Standard, 3)
	assert.Equal(t, [7]int{1, 0, 0, 0, 1, 0, 1}, list[0].Accepted)
	assert.Equal(t, []any{"Bob", 1, true}, []any{list[1].Name, list[1].InWork, list[1].Silent})
	assert.Equal(t, []any{"Cid", 0, 1, false}, []any{list[2].Name, list[2].InWork, list[2].Blocked, list[2].Silent})
	assert.False(t, b.Workers(today, calendar.Standard, 4)[1].Silent)
	assert.Len(t, list, 3)
}
