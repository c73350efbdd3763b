package pipeline

import (
	"testing"

	"turret/internal/app/pipeline"

	"github.com/stretchr/testify/assert"
)

func TestRanksAsTheyAreSaid(t *testing.T) {
	for n, want := range map[int]string{1: "1st", 2: "2nd", 3: "3rd", 4: "4th", 11: "11th", 12: "12th", 13: "13th", 21: "21st",
		111: "111th", 122: "122nd"} {
		assert.Equal(t, want, ordinal(n))
	}
	assert.Equal(t, []string{"0.0", "66.7", "100.0", "0.1"}, []string{pipeline.Points(0), pipeline.Points(66_666_667),
		pipeline.Points(100_000_000), pipeline.Points(50_000)})
}
