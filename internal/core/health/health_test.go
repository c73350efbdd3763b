package health

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/core/fact"
	"turret/internal/core/schedule"
)

func known(a int64) fact.Int { return fact.Some(a) }

// The limits of the default tolerances, each at, just above and well above.
func TestLimitsAreExclusive(t *testing.T) {
	for _, c := range []struct {
		vac  int64
		want Status
	}{{0, OnTrack}, {-50000, OnTrack}, {-50001, Watch}, {-100000, Watch}, {-100001, Act}, {200000, OnTrack}} {
		r := Assess(Input{BAC: known(1000000), VAC: known(c.vac), EarnedValue: true}, Defaults())
		assert.Equal(t, c.want, r.By[Cost], "vac %d of a million", c.vac)
		assert.Equal(t, NotAssessed, r.By[Schedule])
		assert.Equal(t, c.want, r.Overall, "cost alone decides where the schedule is not assessed")
	}
	for days, want := range map[int64]Status{-3: OnTrack, 10: OnTrack, 11: Watch, 20: Watch, 21: Act} {
		r := Assess(Input{Deviation: fact.Some(days), PlannedDays: 200}, Defaults())
		assert.Equal(t, want, r.By[Schedule], "%d days of 200", days)
	}
}

func TestMissedMilestonesCountFromProgrammeLevel(t *testing.T) {
	missed := func(level schedule.Level, late int) Status {
		in := Input{Milestones: 1, Missed: []MissedMilestone{{Name: "Gate", Level: level, Late: late}}}
		r := Assess(in, Defaults())
		return r.By[Schedule]
	}
	assert.Equal(t, OnTrack, missed(schedule.ProjectLevel, 90))
	assert.Equal(t, Watch, missed(schedule.ProgrammeLevel, 1))
	assert.Equal(t, Watch, missed(schedule.PortfolioLevel, 20))
	assert.Equal(t, Act, missed(schedule.PortfolioLevel, 21))
}

func TestActualAgainstBudgetToDateOnlyWithoutEarnedValue(t *testing.T) {
	in := Input{Actual: known(1110), BudgetToDate: known(1000)}
	without := Assess(in, Defaults())
	assert.Equal(t, Act, without.By[Cost])
	assert.Equal(t, "Actual cost 11.0 % over budget to date", without.Reason())
	in.EarnedValue = true
	with := Assess(in, Defaults())
	assert.Equal(t, NotAssessed, with.Overall)
}

// Budget 2,000,000.00; overrun 8 % is 3 points beyond 5 %, finish 18 % is 13 points beyond: 13 % of the budget at stake.
func TestReasonAndStake(t *testing.T) {
	r := Assess(Input{
		BAC: known(200000000), VAC: known(-16000000), EarnedValue: true,
		Deviation: fact.Some(36), PlannedDays: 200,
	}, Defaults())
	assert.Equal(t, Act, r.Overall)
	assert.Equal(t, "Finish 36 working days late, 18.0 % of the planned duration; estimate at completion 8.0 % over budget", r.Reason())
	assert.InDelta(t, 26000000, float64(r.Stake), 1)
	assert.Equal(t, int64(36), r.DaysLate)

	quiet := Assess(Input{Deviation: fact.Some(-2), PlannedDays: 200, BAC: known(100), VAC: known(0)}, Defaults())
	assert.Empty(t, quiet.Reason())
	assert.Zero(t, quiet.Stake)
}

func TestGroup(t *testing.T) {
	list := []Member{{Act, 25}, {OnTrack, 75}}
	assert.Equal(t, Act, Group(list, 0.25))
	list = []Member{{Act, 24}, {Watch, 1}, {OnTrack, 75}, {NotAssessed, 900}}
	assert.Equal(t, Watch, Group(list, 0.25), "together a quarter of what is assessed")
	assert.Equal(t, OnTrack, Group([]Member{{Act, 20}, {OnTrack, 80}}, 0.25))
	assert.Equal(t, Watch, Group([]Member{{Watch, 0}, {OnTrack, 0}}, 0.25))
	assert.Equal(t, NotAssessed, Group(nil, 0.25))
}
