package page

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/assess"
)

func TestHowFarFiguresAre(t *testing.T) {
	assert.Equal(t, computingView{Text: "running the network"}, computingOf(assess.Progress{Step: "running the network"}))
	assert.Equal(t, computingView{Text: "computing measures: 50 of 200 projects", Done: 25},
		computingOf(assess.Progress{Step: "computing measures", Done: 50, All: 200}))
	assert.Equal(t, 99, computingOf(assess.Progress{Done: 999, All: 1000}).Done)
}
