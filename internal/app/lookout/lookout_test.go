package lookout_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/fault"
	"turret/internal/app/lookout"
	"turret/internal/core/health"
)

// Act before watch; within it by money at stake: 600,000 before 25,000, then 20,000 before 10,000.
func TestOrderOfAttention(t *testing.T) {
	l, err := lookout.Of(apptest.Seven(t), "", lookout.Filter{})
	require.NoError(t, err)
	assert.Equal(t, []string{"large", "small", "dearer", "late", "blank", "calm", "early"}, apptest.Codes(l.Open))
	assert.Equal(t, map[health.Status]int{health.Act: 2, health.Watch: 2, health.OnTrack: 3}, l.Count)
	assert.Equal(t, 3, l.Disagree)
	assert.Equal(t, []string{"Ann", "Bob", "Cyd", "Eve"}, l.Leads)
}

// Six of seven have an estimate: 16.25 M against 1 + 1 + 0.1 + 10 + 1 + 2 = 15.1 M of budget, that is 1.15 M or 7.6 %.
func TestHeadlineSaysWhatTheFiguresSay(t *testing.T) {
	a := apptest.Seven(t)
	l, err := lookout.Of(a, "", lookout.Filter{})
	require.NoError(t, err)
	assert.Equal(t, "7 open projects are forecast to cost €16.25 M, €1.15 M (7.6 %) over budget (6 of 7 projects have an estimate). "+
		"2 need action; 2 to watch; 3 are declared better than computed.", l.Headline.String())
	l, err = lookout.Of(a, "early", lookout.Filter{})
	require.NoError(t, err)
	assert.Equal(t, "1 open project is forecast to cost €900 k, €100 k (10.0 %) under budget. None needs action or watching.",
		l.Headline.String())
	l, err = lookout.Of(a, "blank", lookout.Filter{})
	require.NoError(t, err)
	assert.Equal(t, "1 open project without any estimate at completion. None needs action or watching.", l.Headline.String())
	a.Projects = nil
	l, err = lookout.Of(a, "", lookout.Filter{})
	require.NoError(t, err)
	assert.Equal(t, "No open project here.", l.Headline.String())
}

func TestFilters(t *testing.T) {
	a := apptest.Seven(t)
	for _, c := range []struct {
		scope string
		f     lookout.Filter
		want  []string
	}{
		{"X", lookout.Filter{}, []string{"dearer", "late", "calm", "early"}},
		{"", lookout.Filter{Lead: "Bob"}, []string{"large", "late"}},
		{"", lookout.Filter{Programme: "Y", Status: "act"}, []string{"large", "small"}},
		{"", lookout.Filter{Status: "disagree"}, []string{"large", "dearer", "late"}},
		{"X", lookout.Filter{Sort: "vac_share"}, []string{"dearer", "late", "calm", "early"}},
		{"X", lookout.Filter{Sort: "finish_deviation", Reverse: true}, []string{"late", "dearer", "calm", "early"}},
		{"", lookout.Filter{Sort: "vac", Lead: "Eve"}, []string{"early", "blank"}},
		{"", lookout.Filter{Sort: "vac", Lead: "Eve", Reverse: true}, []string{"early", "blank"}},
		{"Y", lookout.Filter{Sort: "project", Reverse: true}, []string{"small", "large"}},
	} {
		l, err := lookout.Of(a, c.scope, c.f)
		require.NoError(t, err)
		assert.Equal(t, c.want, apptest.Codes(l.Shown), "%s %+v", c.scope, c.f)
	}
	for _, f := range []lookout.Filter{{Status: "nonsense"}, {Sort: "nonsense"}} {
		_, err := lookout.Of(a, "", f)
		assert.ErrorIs(t, err, fault.ErrNotFound)
	}
	_, err := lookout.Of(a, "NONE", lookout.Filter{})
	assert.ErrorIs(t, err, fault.ErrNotFound)
}
