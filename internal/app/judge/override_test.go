package judge_test

import (
	"errors"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/check"
	"turret/internal/core/health"
)

// An acceptance or a status cannot be given for the past, without a reason, or to a period that is closed.
func TestJudgementsAreBounded(t *testing.T) {
	a, o := apptest.Seven(t), app.NewOffice(nil, nil, app.Parts{})
	ctx := access.As(t.Context(), access.Operator("a test"))
	var field *fault.FieldError
	for _, f := range []health.Override{
		{Status: health.Watch, Until: apptest.AsOf + 10},
		{Status: health.Watch, Reason: "agreed", Until: apptest.AsOf},
		{Status: health.Watch, Reason: "agreed", Until: apptest.AsOf + 5000},
		{Reason: "agreed", Until: apptest.AsOf + 10},
		{Status: health.Watch, Reason: strings.Repeat("x", 3000), Until: apptest.AsOf + 10},
	} {
		assert.ErrorAs(t, o.Judge.SetStatus(ctx, a, "calm", f), &field, "%+v", f)
	}
	a.Closed = &kept.Period{Span: calendar.Months.Of(apptest.AsOf)}
	ok := health.Override{Status: health.Watch, Reason: "agreed", Until: apptest.AsOf + 10}
	assert.ErrorIs(t, o.Judge.SetStatus(ctx, a, "calm", ok), fault.ErrConflict)
	assert.ErrorIs(t, o.Judge.Accept(ctx, a, "calm", check.Acceptance{Rule: "no_baseline", Reason: "x", Until: apptest.AsOf + 10}),
		fault.ErrConflict)
	reader := access.As(t.Context(), &access.Actor{Role: access.Executive})
	assert.True(t, errors.Is(o.Judge.SetStatus(reader, a, "calm", ok), access.ErrForbidden))
}
