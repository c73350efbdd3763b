package page_test

import (
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/web/page"
)

// What a form was made from comes back as it went out, and leaves what was not touched out of what was typed.
func TestWhatAFormWasMadeFrom(t *testing.T) {
	was := page.Was{"title": "A <b>\n“line”", "owner": ""}
	text, err := was.Text()
	require.NoError(t, err)
	back, err := page.WasOf(url.Values{"was": {text}})
	require.NoError(t, err)
	assert.Equal(t, was, back)
	assert.Equal(t, map[string]string{"owner": "Lea", "due": ""},
		back.Typed(map[string]string{"title": "A <b>\n“line”", "owner": "Lea", "due": ""}))
	for _, none := range []url.Values{{}, {"was": {""}}} {
		back, err = page.WasOf(none)
		require.NoError(t, err)
		assert.Nil(t, back)
		assert.Equal(t, map[string]string{"a": "b"}, back.Typed(map[string]string{"a": "b"}), "nothing is known to be untouched")
	}
	for _, bad := range []string{"{", `["a"]`, `{"a": 1}`} {
		_, err = page.WasOf(url.Values{"was": {bad}})
		assert.ErrorContains(t, err, "Reload the page", bad)
	}
}
