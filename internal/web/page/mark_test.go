package page

import (
	"encoding/xml"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/core/health"
)

// The shapes of look.md by hand, 100 high and 95 wide from the foot of the staff: a swallow-tail, a triangle, a level bar, and an outline.
func TestSymbols(t *testing.T) {
	want := map[string]string{
		"pennant-act":      `<line class="flown" x1="0" y1="0" x2="0" y2="-100"/><polygon class="flown" points="0,-100 95,-100 66.5,-66 95,-32 0,-32"/>`,
		"pennant-watch":    `<line class="flown" x1="0" y1="0" x2="0" y2="-100"/><polygon class="flown" points="0,-100 95,-66 0,-32"/>`,
		"pennant-on-track": `<rect class="flown" x="0" y="-68" width="95" height="38"/>`,
		"pennant-none":     `<rect class="flown" x="0" y="-75" width="95" height="50"/>`,
	}
	held := map[string]string{}
	for _, s := range symbols() {
		held[s.Name] = string(s.Shapes)
	}
	for name, shapes := range want {
		assert.Equal(t, shapes, held[name], name)
		hatched := held["hatched"+strings.TrimPrefix(name, "pennant")]
		assert.True(t, strings.HasPrefix(hatched, shapes), "%s is the same mark, hatched", name)
		assert.Equal(t, 3, strings.Count(strings.TrimPrefix(hatched, shapes), "<line"), name)
	}
}

// A mark calls a symbol that the page holds, is as high as asked for, and wears the colours of its status.
func TestMarksCallSymbols(t *testing.T) {
	held := map[string]bool{}
	for _, s := range symbols() {
		held["#"+s.Name] = true
	}
	var mark struct {
		Width string `xml:"width,attr"`
		Box   string `xml:"viewBox,attr"`
		Use   struct {
			Class     string `xml:"class,attr"`
			Href      string `xml:"href,attr"`
			Transform string `xml:"transform,attr"`
		} `xml:"use"`
	}
	for _, s := range []health.Status{health.NotAssessed, health.OnTrack, health.Watch, health.Act} {
		require.NoError(t, xml.Unmarshal([]byte(Pennant(s, 14, false)), &mark))
		assert.True(t, held[mark.Use.Href], mark.Use.Href)
		require.NoError(t, xml.Unmarshal([]byte(Hatched(s, 14)), &mark))
		assert.True(t, held[mark.Use.Href], mark.Use.Href)
	}
	require.NoError(t, xml.Unmarshal([]byte(Pennant(health.Act, 14, false)), &mark))
	assert.Equal(t, []string{"16.3", "0 0 16.3 16", "act", "translate(1.5 15) scale(0.14)"},
		[]string{mark.Width, mark.Box, mark.Use.Class, mark.Use.Transform}, "14 high, with a margin of a pixel")
	require.NoError(t, xml.Unmarshal([]byte(Pennant(health.Watch, 20, true)), &mark))
	assert.Equal(t, "watch outlined", mark.Use.Class, "what was declared is an outline")
}
