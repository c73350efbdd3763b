package capacity_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"turret/internal/core/calendar"
	"turret/internal/core/capacity"
)

// One diver, of 8 h a day, in the week of Monday 2 November 2026. A wants all of Monday and Tuesday and may wait three days, B all of
// Tuesday and may not, C half of every day. By hand: as it stands 4 h are too many on Monday, 12 on Tuesday and none after; 16. With A put
// off by two days, to Wednesday and Thursday, 4 are too many on Tuesday, Wednesday and Thursday: 12; no way is better, and one day less
// leaves 4 + 4 + 8.
func TestLevelByHand(t *testing.T) {
	env := &capacity.Env{Standard: 80_000, Calendar: calendar.Standard, AsOf: day(t, "2026-10-31")}
	monday := day(t, "2026-11-02")
	staff := &capacity.Staff{People: []capacity.Person{{Code: "D", Role: "diver"}}, Assigned: []capacity.Assignment{
		{Person: capacity.Nobody, Role: "diver", From: monday, To: monday + 1, Percent: 10_000},
		{Person: 0, From: monday + 1, To: monday + 1, Percent: 10_000},
		{Person: 0, From: monday, To: monday + 4, Percent: 5_000},
	}}
	tasks := []capacity.Task{{Float: 3, Wants: []int32{0}}, {Float: 0, Wants: []int32{1}}}
	l := capacity.Level(env, staff, tasks, monday, monday+6)
	assert.Equal(t, capacity.Levelled{Shifts: []int32{2, 0}, Before: 16 * capacity.Unit, After: 12 * capacity.Unit, Exact: true}, l)

	tasks[0].Float = 0
	l = capacity.Level(env, staff, tasks, monday, monday+6)
	assert.Equal(t, []int32{0, 0}, l.Shifts, "within its float alone")
	assert.Equal(t, l.Before, l.After)
	l = capacity.Level(env, staff, nil, monday, monday+6)
	assert.Zero(t, l.Before+l.After, "nothing can move, and no role is looked at")

	staff.Assigned[1].Person, staff.Assigned[1].Role = capacity.Nobody, "welder"
	tasks[0].Float = 3
	l = capacity.Level(env, staff, tasks, monday, monday+6)
	assert.False(t, l.Exact, "two roles are put off task by task")
	assert.Equal(t, []int32{0, 0}, l.Shifts, "4 h are too many on two days wherever it stands, but for Friday")
}

// For one role the way is as good as the best of all, tried plainly; task by task it is never worse than as it stood.
func TestLevelIsTheBestWay(t *testing.T) {
	env := &capacity.Env{Standard: 80_000, Calendar: calendar.Standard, AsOf: day(t, "2026-10-31")}
	first := day(t, "2026-11-02")
	rapid.Check(t, func(r *rapid.T) {
		roles := []string{"a", "b"}[:rapid.IntRange(1, 2).Draw(r, "roles")]
		staff := &capacity.Staff{}
		for i := range rapid.IntRange(0, 2).Draw(r, "people") {
			staff.People = append(staff.People, capacity.Person{Code: string(rune('A' + i)), Role: roles[i%len(roles)]})
		}
		var tasks []capacity.Task
		for i := range rapid.IntRange(1, 4).Draw(r, "tasks") {
			from := first + calendar.Date(rapid.IntRange(0, 8).Draw(r, "from"))
			a := capacity.Assignment{Person: capacity.Nobody, Role: roles[i%len(roles)], From: from,
				To: from + calendar.Date(rapid.IntRange(0, 5).Draw(r, "days")), Percent: int64(rapid.IntRange(0, 3).Draw(r,
					"percent")) * 5_000}
			staff.Assigned = append(staff.Assigned, a)
			tasks = append(tasks, capacity.Task{Float: int32(rapid.IntRange(0, 4).Draw(r, "float")), Wants: []int32{int32(i)}})
		}
		last := first + 27
		l := capacity.Level(env, staff, tasks, first, last)
		plain := func(shifts []int32) (over int64) {
			for _, role := range roles {
				for d := first; d <= last; d++ {
					there, wanted := int64(0), int64(0)
					if !calendar.Standard.Working(d) {
						continue
					}
					for i := range staff.People {
						if staff.People[i].Role == role {
							there += 8 * capacity.Unit
						}
					}
					for i := range staff.Assigned {
						a := &staff.Assigned[i]
						n := int(shifts[i])
						from, to := a.From, a.To
						if n > 0 {
							from, to = calendar.Standard.Add(from, n), calendar.Standard.Add(to, n)
						}
						if a.Role == role && from <= d && d <= to {
							wanted += a.Percent * 80_000
						}
					}
					over += max(wanted-there, 0)
				}
			}
			return over
		}
		none := make([]int32, len(tasks))
		if got := plain(none); got != l.Before {
			r.Fatalf("before %d, want %d", l.Before, got)
		}
		if got := plain(l.Shifts); got != l.After {
			r.Fatalf("after %d, want %d", l.After, got)
		}
		if l.After > l.Before {
			r.Fatalf("worse: %d, was %d", l.After, l.Before)
		}
		if len(roles) > 1 {
			return
		}
		best := l.Before
		var all func(i int, shifts []int32)
		all = func(i int, shifts []int32) {
			if i == len(tasks) {
				best = min(best, plain(shifts))
				return
			}
			for k := range tasks[i].Float + 1 {
				shifts[i] = k
				all(i+1, shifts)
			}
			shifts[i] = 0
		}
		all(0, make([]int32, len(tasks)))
		if !l.Exact || l.After != best {
			r.Fatalf("%d, best is %d", l.After, best)
		}
	})
}
