package scene

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// Print has the colours of the light theme, on white.
func TestColoursOfPrint(t *testing.T) {
	assert.Equal(t, RGB{0x1d, 0x27, 0x33}, Colour("ink"))
	assert.Equal(t, "#ffffff", Colour("paper").Hex())
	assert.Equal(t, RGB{1, 2, 3}, read([]byte(`{"a":{"light":"#010203","dark":"#040506"}}`))["a"])
	assert.Equal(t, RGB{7, 8, 9}, read([]byte(`{"a":{"light":"#010203","print":"#070809"}}`))["a"])
	for _, bad := range []string{`{"a":{"light":"#0102"}}`, `{"a":{}}`, `[`} {
		assert.Panics(t, func() { read([]byte(bad)) }, bad)
	}
	assert.Panics(t, func() { Colour("mauve") })
}
