package judge_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/account"
	"turret/internal/app/apptest"
	"turret/internal/app/condition"
	"turret/internal/app/setting"
	"turret/internal/record"
)

// What holds for the whole office is not for those who have a part of it, or not its costs.
func TestTheOfficeIsNotSetFromWithinAScope(t *testing.T) {
	_, o := apptest.Gate(t)
	set, err := o.Setting.Get(apptest.Ctx)
	require.NoError(t, err)
	acts := map[string]func(context.Context) error{
		"settings":      func(c context.Context) error { return o.Setting.Save(c, set) },
		"settings file": func(c context.Context) error { return o.Setting.Import(c, []byte(`{"look_ahead_days": 30}`)) },
		"a check": func(c context.Context) error {
			return o.Judge.SaveCheck(c, condition.OwnCheck{ID: "own", Name: "n", Severity: "error", On: "project", Expression: "true"})
		},
		"a check's limit": func(c context.Context) error { return o.Judge.SetCheck(c, "no_baseline", false, nil) },
		"a feed": func(c context.Context) error {
			return o.Feed.Save(c, setting.FeedSetting{Name: "x", Kind: "ledger", Address: "http://127.0.0.1:9/"}, false)
		},
		"feeds":  func(c context.Context) error { _, err := o.Feed.List(c); return err },
		"people": func(c context.Context) error { _, err := o.Account.People(c); return err },
		"a person": func(c context.Context) error {
			_, err := o.Account.SaveAccount(c, account.Account{Login: "new", Name: "New", Role: access.Administrator, Active: true}, "")
			return err
		},
		"one's own costs": func(c context.Context) error {
			_, err := o.Account.SaveAccount(c, account.Account{ID: 1, Login: "adm", Name: "Adm", Role: access.Administrator,
				Active: true}, "")
			return err
		},
		"what is expected of another": func(c context.Context) error { return o.Gather.Expect(c, "B1", record.Activities, false) },
	}
	blind := &access.Actor{Account: 1, Login: "bli", Name: "Bli", Role: access.Administrator, HideMoney: true}
	for what, act := range acts {
		for _, actor := range []*access.Actor{apptest.Writers["scoped administrator"], apptest.Writers["scoped analyst"],
			apptest.Writers["lead"],
			apptest.Writers["executive"], blind} {
			if actor == blind && what == "what is expected of another" {
				continue
			}
			assert.ErrorIs(t, act(access.As(context.Background(), actor)), access.ErrForbidden, "%s by %s", what, actor.Login)
		}
		assert.NotErrorIs(t, act(access.As(context.Background(), apptest.Writers["administrator"])), access.ErrForbidden, what)
	}
	assert.NoError(t, o.Gather.Expect(access.As(context.Background(), apptest.Writers["scoped analyst"]), "A1", record.Activities, false))
	assert.ErrorIs(t, o.Gather.Expect(access.As(context.Background(), blind), "A1", record.Budget, false), access.ErrForbidden)
}
