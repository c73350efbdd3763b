package pipeline

import (
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestRanksAsTheyAreSaid(t *testing.T) {
	for n, want := range map[int]string{1: "1st", 2: "2nd", 3: "3rd", 4: "4th", 11: "11th", 12: "12th", 13: "13th", 21: "21st",
		111: "111th", 122: "122nd"} {
		assert.Equal(t, want, ordinal(n))
	}
	assert.Equal(t, []string{"0.0", "66.7", "100.0", "0.1"}, []string{points(0), points(66_666_667), points(100_000_000), points(50_000)})
}

// Limits come in an order of their own; empty fields are none, and a number may be typed as people do.
func TestLimitsOfAnAddress(t *testing.T) {
	asked := url.Values{"limit.2028": {" 1 000,50 "}, "limit.2027": {"2,500,000"}, "limit.2029": {" "}, "scope": {"PF"},
		"limit.fte:diver:2027Q1": {"3,5"}}
	list, err := limitsOf(asked, 1)
	require.NoError(t, err)
	var got []string
	for _, l := range list {
		got = append(got, l.Name+" "+l.Most)
	}
	assert.Equal(t, []string{"2027 2500000", "2028 1000.5", "fte:diver:2027Q1 3.5"}, got)
	_, err = limitsOf(url.Values{"limit.2027": {"1,23,4"}}, 1)
	require.Error(t, err)
}
