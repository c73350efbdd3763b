package scene

import (
	"encoding/json"
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
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

// brightness is the relative luminance of a colour told as style sheets do (WCAG 2.2, 1.4.3).
func brightness(t *testing.T, hex string) float64 {
	t.Helper()
	var part [3]int
	_, err := fmt.Sscanf(hex, "#%02x%02x%02x", &part[0], &part[1], &part[2])
	require.NoError(t, err, hex)
	sum := 0.0
	for i, weight := range []float64{0.2126, 0.7152, 0.0722} {
		c := float64(part[i]) / 255
		if c <= 0.04045 {
			sum += weight * c / 12.92
		} else {
			sum += weight * math.Pow((c+0.055)/1.055, 2.4)
		}
	}
	return sum
}

// What is written in ink stands out 4.5 to 1 from every ground, in both themes and in print; what is written in another colour from the
// grounds that it stands on.
func TestWhatIsWrittenStandsOut(t *testing.T) {
	var roles map[string]map[string]string
	require.NoError(t, json.Unmarshal(table, &roles))
	grounds := []string{"paper", "raised", "wash"}
	pairs := map[string][]string{
		"ink":  {"paper", "raised", "wash", "moss-wash", "ochre-wash", "band", "pale", "risk-1", "risk-2", "risk-3", "risk-4", "risk-5"},
		"soft": grounds, "accent": grounds, "vermilion": grounds, "slate": grounds,
		"moss": {"paper", "raised", "wash", "moss-wash"}, "ochre": {"paper", "raised", "wash", "ochre-wash"},
	}
	for text, on := range pairs {
		for _, ground := range on {
			for _, theme := range []string{"light", "dark", "print"} {
				of := func(role string) float64 {
					if c := roles[role][theme]; c != "" {
						return brightness(t, c)
					}
					return brightness(t, roles[role]["light"])
				}
				a, b := of(text), of(ground)
				assert.GreaterOrEqual(t, (max(a, b)+0.05)/(min(a, b)+0.05), 4.5, "%s on %s, %s", text, ground, theme)
			}
		}
	}
	assert.InDelta(t, 0.216, brightness(t, "#808080"), 0.0005) // as published
}
