package fault_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/fault"
)

func TestProblemsReadAsSentences(t *testing.T) {
	p := fault.Problem{File: "a.csv", Row: 7, Column: "amount", Value: "1.234,50", Expected: "a number"}
	assert.Equal(t, `a.csv, row 7, column amount: "1.234,50": expected a number`, p.String())
	assert.Equal(t, "a.csv: expected a head line", fault.Problem{File: "a.csv", Expected: "a head line"}.String())
	assert.Contains(t, (&fault.Refusal{Problems: []fault.Problem{p, p}}).Error(),
		"2 problems; the load was refused and nothing was changed")
	assert.Equal(t, "aé…", fault.Clip("aéb", 2))
	assert.Equal(t, "aéb", fault.Clip("aéb", 3))
}
