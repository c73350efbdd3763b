package page

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// What is read as one word stays on one line, and what people typed does no more than that.
func TestUnbroken(t *testing.T) {
	kept := func(s string) string { return `<span class="unbroken">` + s + `</span>` }
	for sentence, want := range map[string]string{
		"":                                   "",
		"LW-07 is late":                      kept("LW-07") + " is late",
		"Lock Walls (LW-P1), OWB-12":         "Lock Walls (" + kept("LW-P1") + "), " + kept("OWB-12"),
		"13.1 % over, €1.23 M of €950 k":     kept("13.1 %") + " over, " + kept("€1.23 M") + " of " + kept("€950 k"),
		"−€12,345 is −0.4 %":                 "−€12,345 is " + kept("−0.4 %"),
		"12 Men, 3 kinds, 2026-10, north-up": "12 Men, 3 kinds, 2026-10, north-up",
		`<b>LW-07</b> & "5 %"`:               "&lt;b&gt;" + kept("LW-07") + "&lt;/b&gt; &amp; &#34;" + kept("5 %") + "&#34;",
	} {
		assert.Equal(t, want, string(unbroken(sentence)), sentence)
	}
}
