package app

import (
	"errors"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/core/calendar"
	"turret/internal/core/check"
	"turret/internal/core/health"
	"turret/internal/core/measure"
)

func all(t *testing.T, a *Assessment) *Scope {
	t.Helper()
	s, err := a.Scope("", "open")
	require.NoError(t, err)
	return s
}

// Conditions over figures and what projects are; a figure that is not known meets no limit.
func TestConditions(t *testing.T) {
	a := office(t)
	for text, want := range map[string]string{
		`vac_share < -0.05`:                              "small large dearer",
		`bac >= 1000000 and lead == "Ann"`:               "calm",
		`eac > 0 or programme == "PF"`:                   "calm late small large early dearer blank",
		`overall_health == "act"`:                        "small large",
		`finish_deviation > 0 && lead in ["Bob", "Eve"]`: "late",
		`eac < 1 or eac >= 1`:                            "calm late small large early dearer", // blank has no estimate
		`abs(vac) > 100000 and lower(code) == "large"`:   "large",
		`expected_finish > "2026-10-20"`:                 "late",
		`opinion_steps >= 1`:                             "large late dearer",
	} {
		s, _, err := a.Table("", TableQuery{Where: text})
		require.NoError(t, err, text)
		assert.ElementsMatch(t, strings.Fields(want), codes(s.Projects), text)
	}
}

// What is wrong in a condition is told, and nothing runs long or reaches out.
func TestConditionsThatAreRefused(t *testing.T) {
	for text, says := range map[string]string{
		"":                                  "a condition such as",
		"cpy < 0.9":                         "cpi",
		"cpi <":                             "",
		"cpi + 1":                           "",
		`cpi < "x"`:                         "",
		"risk.code == 'R'":                  "",
		"all(1..1000000000, true)":          "",
		"map([1], {#}) == [1]":              "",
		strings.Repeat("cpi < 1 and ", 500): "at most",
		strings.Repeat("(", 400) + "true":   "",
		"__env == nil":                      "",
		"now() == now()":                    "",
	} {
		_, err := Compile(text, "project")
		var field *fault.FieldError
		require.ErrorAs(t, err, &field, fault.Clip(text, 40))
		assert.Contains(t, field.Expected, says, fault.Clip(text, 40))
	}
	for _, name := range []string{"cpi", "programme", "lead"} {
		ok := false
		for _, n := range Names("project") {
			ok = ok || n.Name == name
		}
		assert.True(t, ok, "%s is completed", name)
	}
}

// A check of one's own is tried before it is kept, counts what it tested and names what failed.
func TestTryingACheckOfOnesOwn(t *testing.T) {
	a, o := office(t), &Office{}
	x := OwnCheck{ID: "over_half", Name: "Far over", Severity: "warning", On: "project", Expression: "vac_share < -0.1"}
	trial, err := o.Try(access.As(t.Context(), access.Operator("a test")), a, all(t, a), x)
	require.NoError(t, err)
	assert.Equal(t, 7, trial.Tested)
	var found []string
	for _, f := range trial.Found {
		found = append(found, f.Project.Code)
	}
	assert.ElementsMatch(t, []string{"small", "large"}, found)

	x.On, x.Expression = "activity", `activity.kind == "activity" and activity.finish > "2026-10-20"`
	trial, err = o.Try(access.As(t.Context(), access.Operator("a test")), a, all(t, a), x)
	require.NoError(t, err)
	require.Len(t, trial.Found, 1)
	assert.Equal(t, "W", trial.Found[0].Record)

	for _, c := range []OwnCheck{{ID: "no_baseline", Name: "x", Severity: "error", On: "project", Expression: "true"},
		{ID: "A b", Name: "x", Severity: "error", On: "project", Expression: "true"},
		{ID: "ok", Name: "", Severity: "error", On: "project", Expression: "true"}, {ID: "ok", Name: "x", Severity: "bad", On: "project",
			Expression: "true"},
		{ID: "ok", Name: "x", Severity: "error", On: "nonsense", Expression: "true"}, {ID: "ok", Name: "x", Severity: "error",
			On: "project", Expression: "nonsense"}} {
		s := DefaultSettings()
		s.OwnChecks = []OwnCheck{c}
		var field *fault.FieldError
		assert.ErrorAs(t, s.checkOwn(), &field, "%+v", c)
	}
	s := DefaultSettings()
	s.OwnChecks = []OwnCheck{{ID: "ok", Name: "x", Severity: "error", On: "project", Expression: "true"},
		{ID: "ok", Name: "y", Severity: "error", On: "project", Expression: "true"}}
	assert.Error(t, s.checkOwn(), "two of one id")
}

// With watch at 10 % and act at 31 % over budget, small (30 %) and large (11.1 %) come from act to watch, and dearer (6 %) to on track.
func TestWhatIfTolerancesWereOthers(t *testing.T) {
	a := office(t)
	a.Settings = DefaultSettings()
	x, err := a.WhatIf(all(t, a), Limits{Of: map[string][2]float64{"vac_share": {0.10, 0.31}}})
	require.NoError(t, err)
	assert.Equal(t, 2, x.Now[health.Overall][health.Act])
	assert.Equal(t, 0, x.Then[health.Overall][health.Act])
	assert.Equal(t, 3, x.Then[health.Overall][health.Watch], "late stays there by its finish")
	var changed []string
	for _, c := range x.Changed {
		changed = append(changed, c.Project.Code)
	}
	assert.ElementsMatch(t, []string{"small", "large", "dearer"}, changed)
	assert.Equal(t, health.Act, a.byCode["small"].Health.Overall, "trying changes nothing")

	_, err = a.WhatIf(all(t, a), Limits{Of: map[string][2]float64{"vac_share": {0.3, 0.1}}})
	assert.Error(t, err, "watch stricter than act")
	_, err = a.WhatIf(all(t, a), Limits{Of: map[string][2]float64{"nonsense": {}}})
	assert.Error(t, err)
}

// The largest stake first: large 600,000, dearer 20,000 and late 10,000; what is declared worse than computed is no disagreement here.
func TestDisagreementsByStake(t *testing.T) {
	a := office(t)
	var got []string
	for _, d := range a.Disagreements(all(t, a)) {
		if d.About == "status" {
			got = append(got, d.Project.Code+": "+d.Said+", "+d.Computed)
			assert.Len(t, d.Evidence, 2)
			assert.NotEmpty(t, d.Evidence[0])
		}
	}
	assert.Equal(t, []string{"large: watch, act", "dearer: on track, watch", "late: on track, watch"}, got)
}

// A forecast of €900,000 that ended at €1,000,000 was a tenth too low; one of two sums has no cost then.
func TestHowForecastsTurnedOut(t *testing.T) {
	a := office(t)
	month := calendar.Months.Of(calendar.On(2026, 7, 31))
	keys := measure.PastKeys()
	was := func(code string, values map[string]measure.Value) {
		p := a.byCode[code]
		past := measure.Past{Period: month, Values: make([]measure.Value, len(keys))}
		for i, k := range keys {
			past.Values[i] = values[k]
		}
		p.Past = []measure.Past{past}
	}
	was("calm", map[string]measure.Value{"eac": {Known: true, N: 90_000_000},
		"expected_finish": {Known: true, N: int64(calendar.On(2026, 10, 7))}})
	was("late", map[string]measure.Value{"eac": {Known: true, N: 110_000_000}})
	was("blank", nil)
	x := measure.AccuracyOf(a.byCode["calm"], month)
	assert.InDelta(t, 0.1, x.Error().Ratio, 1e-12)
	assert.Equal(t, 2, x.Days, "from Wednesday 7 to Friday 9 October")
	assert.False(t, measure.AccuracyOf(a.byCode["calm"], month-1).HasCost)
	s := measure.SumAccuracy([]*measure.Project{a.byCode["calm"], a.byCode["late"], a.byCode["blank"]}, month)
	assert.Equal(t, []int{2, 1}, []int{s.Projects, s.Dated})
	assert.InDelta(t, 0, s.Error().Ratio, 1e-12, "100,000 too low and 100,000 too high")
}

// An acceptance or a status cannot be given for the past, without a reason, or to a period that is closed.
func TestJudgementsAreBounded(t *testing.T) {
	a, o := office(t), &Office{}
	ctx := access.As(t.Context(), access.Operator("a test"))
	var field *fault.FieldError
	for _, f := range []health.Override{
		{Status: health.Watch, Until: asOf + 10},
		{Status: health.Watch, Reason: "agreed", Until: asOf},
		{Status: health.Watch, Reason: "agreed", Until: asOf + 5000},
		{Reason: "agreed", Until: asOf + 10},
		{Status: health.Watch, Reason: strings.Repeat("x", 3000), Until: asOf + 10},
	} {
		assert.ErrorAs(t, o.SetStatus(ctx, a, "calm", f), &field, "%+v", f)
	}
	a.Closed = &Period{Span: calendar.Months.Of(asOf)}
	ok := health.Override{Status: health.Watch, Reason: "agreed", Until: asOf + 10}
	assert.ErrorIs(t, o.SetStatus(ctx, a, "calm", ok), fault.ErrConflict)
	assert.ErrorIs(t, o.Accept(ctx, a, "calm", check.Acceptance{Rule: "no_baseline", Reason: "x", Until: asOf + 10}), fault.ErrConflict)
	reader := access.As(t.Context(), &access.Actor{Role: access.Executive})
	assert.True(t, errors.Is(o.SetStatus(reader, a, "calm", ok), access.ErrForbidden))
}
