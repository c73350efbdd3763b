package report

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/stage"
	"turret/internal/chart"
	"turret/internal/core/calendar"
)

// A roadmap flies a flag where a gate was passed, and none where it was refused, put off or only asked for.
func TestFlagsOfGates(t *testing.T) {
	day := calendar.On(2026, 5, 4)
	flags := gateFlags([]*stage.Gate{{Stage: "idea", Decision: "passed", DecidedOn: day}, {Stage: "plan", Decision: "refused",
		DecidedOn: day + 1}, {Stage: "build", Decision: "put off", DecidedOn: day + 2}, {Stage: "hand over"}})
	assert.Equal(t, []chart.RoadmapFlag{{Date: day, Title: "gate of idea"}}, flags)
}
