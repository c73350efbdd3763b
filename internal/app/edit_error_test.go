package app

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/fault"
)

func TestWhatATableIsToldIsCounted(t *testing.T) {
	one, two := make([]fault.Problem, 1), make([]fault.Problem, 2)
	assert.Equal(t, "1 cell cannot be taken; nothing was saved", (&EditError{Problems: one}).Error())
	assert.Equal(t, "2 cells cannot be taken; nothing was saved", (&EditError{Problems: two}).Error())
	assert.Equal(t, "1 cell was changed by somebody else meanwhile; nothing was saved", (&EditError{Clashes: make([]Clash, 1)}).Error())
	assert.Equal(t, "2 cells were changed by somebody else meanwhile; nothing was saved", (&EditError{Clashes: make([]Clash, 2)}).Error())
}
