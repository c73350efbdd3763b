package report_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/report"
)

// Conditions over figures and what projects are; a figure that is not known meets no limit.
func TestConditions(t *testing.T) {
	a := apptest.Seven(t)
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
		s, _, err := report.Table(a, "", report.TableQuery{Where: text})
		require.NoError(t, err, text)
		assert.ElementsMatch(t, strings.Fields(want), apptest.Codes(s.Projects), text)
	}
}
