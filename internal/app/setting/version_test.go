package setting_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/audit"
	"turret/internal/app/fault"
	"turret/internal/app/setting"
)

func TestSettingsAreCheckedAndVersioned(t *testing.T) {
	_, o := apptest.Opened(t)
	a, err := o.Setting.Get(apptest.Ctx)
	require.NoError(t, err)
	b, err := o.Setting.Get(apptest.Ctx)
	require.NoError(t, err)
	a.LookAhead = 30
	require.NoError(t, o.Setting.Save(apptest.Ctx, a))
	trail, err := o.Audit.List(apptest.Ctx, audit.Query{Act: "change the settings"})
	require.NoError(t, err)
	assert.Equal(t, []string{`{"look_ahead_days":20}`, `{"look_ahead_days":30}`}, []string{trail[0].Before, trail[0].After},
		"only what changed")
	b.LookAhead = 40
	assert.ErrorIs(t, o.Setting.Save(apptest.Ctx, b), fault.ErrConflict)
	for name, spoil := range map[string]func(*setting.Settings){
		"rhythm": func(s *setting.Settings) { s.Inputs[0].Rhythm = "often" }, "due": func(s *setting.Settings) { s.Inputs[0].Due = -1 },
		"act below watch": func(s *setting.Settings) { s.Tolerances[0].Of["vac_share"] = [2]float64{0.2, 0.1} },
		"no tolerances":   func(s *setting.Settings) { s.Tolerances = nil },
		"share":           func(s *setting.Settings) { s.GroupShare = 0 }, "weekday": func(s *setting.Settings) { s.FirstWeekday = 7 },
		"dates": func(s *setting.Settings) { s.DateOrder = "ydm" },
	} {
		now, err := o.Setting.Get(apptest.Ctx)
		require.NoError(t, err)
		spoil(now)
		var field *fault.FieldError
		assert.ErrorAs(t, o.Setting.Save(apptest.Ctx, now), &field, name)
	}
	exported, err := o.Setting.Export(apptest.Ctx)
	require.NoError(t, err)
	_, other := apptest.Opened(t)
	require.NoError(t, other.Setting.Import(apptest.Ctx, exported))
	again, err := other.Setting.Export(apptest.Ctx)
	require.NoError(t, err)
	assert.Equal(t, string(exported), string(again))
	var field *fault.FieldError
	assert.ErrorAs(t, other.Setting.Import(apptest.Ctx, []byte(`{"look_ahead":3}`)), &field, "an unknown name")
	assert.ErrorIs(t, o.Setting.Save(access.As(context.Background(), &access.Actor{Role: access.Analyst}), a), access.ErrForbidden)
}
