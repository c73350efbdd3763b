package judge_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/condition"
	"turret/internal/app/fault"
	"turret/internal/app/setting"
)

// A check of one's own is tried before it is kept, counts what it tested and names what failed.
func TestTryingACheckOfOnesOwn(t *testing.T) {
	a, o := apptest.Seven(t), app.NewOffice(nil, nil, app.Parts{})
	x := condition.OwnCheck{ID: "over_half", Name: "Far over", Severity: "warning", On: "project", Expression: "vac_share < -0.1"}
	trial, err := o.Judge.Try(access.As(t.Context(), access.Operator("a test")), a, apptest.Open(t, a), x)
	require.NoError(t, err)
	assert.Equal(t, 7, trial.Tested)
	var found []string
	for _, f := range trial.Found {
		found = append(found, f.Project.Code)
	}
	assert.ElementsMatch(t, []string{"small", "large"}, found)

	x.On, x.Expression = "activity", `activity.kind == "activity" and activity.finish > "2026-10-20"`
	trial, err = o.Judge.Try(access.As(t.Context(), access.Operator("a test")), a, apptest.Open(t, a), x)
	require.NoError(t, err)
	require.Len(t, trial.Found, 1)
	assert.Equal(t, "W", trial.Found[0].Record)

	for _, c := range []condition.OwnCheck{{ID: "no_baseline", Name: "x", Severity: "error", On: "project", Expression: "true"},
		{ID: "A b", Name: "x", Severity: "error", On: "project", Expression: "true"},
		{ID: "ok", Name: "", Severity: "error", On: "project", Expression: "true"}, {ID: "ok", Name: "x", Severity: "bad", On: "project",
			Expression: "true"},
		{ID: "ok", Name: "x", Severity: "error", On: "nonsense", Expression: "true"}, {ID: "ok", Name: "x", Severity: "error",
			On: "project", Expression: "nonsense"}} {
		s := setting.DefaultSettings()
		s.OwnChecks = []condition.OwnCheck{c}
		var field *fault.FieldError
		assert.ErrorAs(t, s.Check(), &field, "%+v", c)
	}
	s := setting.DefaultSettings()
	s.OwnChecks = []condition.OwnCheck{{ID: "ok", Name: "x", Severity: "error", On: "project", Expression: "true"},
		{ID: "ok", Name: "y", Severity: "error", On: "project", Expression: "true"}}
	assert.Error(t, s.Check(), "two of one id")
}
