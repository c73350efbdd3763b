package edit

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestWhatSavingATableIsToldAs(t *testing.T) {
	assert.Equal(t, "Nothing was changed, so nothing was saved.", savedSays(nothing, ""))
	assert.Equal(t, "Saved as load 12, for November 2026.", savedSays("12", "2026-11"))
	assert.Equal(t, "Saved as load 12.", savedSays("12", "whenever"))
}
