package edit_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/edit"
	"turret/internal/app/fault"
)

func TestWhatATableIsToldIsCounted(t *testing.T) {
	one, two := make([]fault.Problem, 1), make([]fault.Problem, 2)
	assert.Equal(t, "1 cell cannot be taken; nothing was saved", (&edit.Error{Problems: one}).Error())
	assert.Equal(t, "2 cells cannot be taken; nothing was saved", (&edit.Error{Problems: two}).Error())
	assert.Equal(t, "1 cell was changed by somebody else meanwhile; nothing was saved",
		(&edit.Error{Clashes: make([]edit.Clash, 1)}).Error())
	assert.Equal(t, "2 cells were changed by somebody else meanwhile; nothing was saved",
		(&edit.Error{Clashes: make([]edit.Clash, 2)}).Error())
}
