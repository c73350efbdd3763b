package measure

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestStatesOfProjectsAreReadAsFilesWriteThem(t *testing.T) {
	for text, want := range map[string]State{"open": Open, "proposed": Proposed, "closed": Closed, "cancelled": Cancelled} {
		s, ok := StateOf(text)
		assert.True(t, ok, text)
		assert.Equal(t, want, s, text)
		assert.Equal(t, text, want.String())
	}
	for _, text := range []string{"", "Open", "done"} {
		_, ok := StateOf(text)
		assert.False(t, ok, text)
	}
	list, wrong := StatesOf("closed,open")
	assert.Equal(t, []State{Closed, Open}, list)
	assert.Empty(t, wrong)
	_, wrong = StatesOf("open, shut, gone")
	assert.Equal(t, "shut", wrong)
	list, wrong = StatesOf("")
	assert.Empty(t, list)
	assert.Empty(t, wrong)
}
