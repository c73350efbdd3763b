package pipeline_test

import (
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/pipeline"
	"turret/internal/app/saved"
)

// Limits come in an order of their own; empty fields are none, and a number may be typed as people do.
func TestLimitsOfAnAddress(t *testing.T) {
	asked := url.Values{"limit.2028": {" 1 000,50 "}, "limit.2027": {"2,500,000"}, "limit.2029": {" "}, "scope": {"PF"},
		"limit.fte:diver:2027Q1": {"3,5"}}
	list, err := pipeline.LimitsOf(asked, 1)
	require.NoError(t, err)
	var got []string
	for _, l := range list {
		got = append(got, l.Name+" "+l.Most)
	}
	assert.Equal(t, []string{"2027 2500000", "2028 1000.5", "fte:diver:2027Q1 3.5"}, got)
	_, err = pipeline.LimitsOf(url.Values{"limit.2027": {"1,23,4"}}, 1)
	require.Error(t, err)
}

// A choice that was kept is computed anew; one whose limits cannot be read any more says so.
func TestAChoiceThatWasKept(t *testing.T) {
	_, a, p := board(t, "")
	n := pipeline.NamedOf(apptest.Ctx, a, p, &saved.View{Name: "Small", Who: "Ana", Query: "limit.2027=35"}, "")
	require.NoError(t, n.Problem)
	assert.Equal(t, []string{"Small", "Ana", p.Usual()}, []string{n.Name, n.Who, n.Value})
	require.NotNil(t, n.Result)
	assert.Equal(t, "35.00", n.Allowed(0))
	for _, query := range []string{"limit.2027=much", "limit.dog=1", "value=dog", "a=%zz"} {
		n = pipeline.NamedOf(apptest.Ctx, a, p, &saved.View{Query: query}, "")
		require.Error(t, n.Problem, query)
	}
}
