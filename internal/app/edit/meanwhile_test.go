package edit_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/edit"
	"turret/internal/app/fault"
)

// Every way in which what was shown, what stands and what is typed can agree or differ, by hand.
func TestMeanwhile(t *testing.T) {
	for _, x := range []struct {
		name, was, now, typed string
		set                   map[string]string
	}{
		{"nobody changed it", "a", "a", "a", map[string]string{}},
		{"only they did", "a", "b", "a", map[string]string{}},
		{"only you did", "a", "a", "b", map[string]string{"f": "b"}},
		{"both did the same", "a", "b", "b", map[string]string{"f": "b"}},
		{"you emptied it", "a", "a", "", map[string]string{"f": ""}},
		{"blanks around it are nothing", "a\nb", " a\r\nb ", "c", map[string]string{"f": "c"}},
	} {
		set, err := edit.Meanwhile(map[string]string{"f": x.was}, map[string]string{"f": x.now}, map[string]string{"f": x.typed})
		require.NoError(t, err, x.name)
		assert.Equal(t, x.set, set, x.name)
	}
	set, err := edit.Meanwhile(nil, map[string]string{"f": "b"}, map[string]string{"f": "c"})
	require.NoError(t, err, "what it was made from is not told")
	assert.Equal(t, map[string]string{"f": "c"}, set)

	_, err = edit.Meanwhile(map[string]string{"f": "a", "g": "x"}, map[string]string{"f": "b", "g": "x"},
		map[string]string{"f": "c", "g": "y"})
	require.ErrorIs(t, err, fault.ErrConflict)
	var e *edit.Error
	require.ErrorAs(t, err, &e)
	assert.Equal(t, []edit.Clash{{Column: "f", Yours: "c", Theirs: "b"}}, e.Clashes)
}
