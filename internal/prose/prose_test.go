package prose_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/prose"
)

func TestWhatIsWrittenReads(t *testing.T) {
	html := string(prose.HTML("**Late**, by *ten* days.\n\n- ring\n- trial\n\n> said [here](https://example.org/a?b=c)"))
	for _, part := range []string{"<strong>Late</strong>", "<em>ten</em>", "<li>ring</li>", "<blockquote>",
		`<a href="https://example.org/a?b=c">here</a>`} {
		assert.Contains(t, html, part)
	}
	assert.Equal(t, []string{"Late, by ten days.", "– ring", "– trial", "said here"},
		prose.Plain("**Late**, by *ten* days.\n\n- ring\n- trial\n\n> said [here](https://example.org/a?b=c)"))
	assert.Equal(t, []string{"First:", "3. ring", "4. trial"}, prose.Plain("First:\n\n3. ring\n4. trial"))
}

// Nothing that is typed runs, is fetched or is lost.
func TestHTMLStaysText(t *testing.T) {
	for _, text := range []string{"<script>alert(1)</script>", "a <b onclick=x>bold</b> word", "<img src=x onerror=alert(1)>",
		"<!-- remark -->", "[go](javascript:alert(1))",
		"![seen](https://example.org/pixel.png)", "<a href=\"javascript:x\">y</a>", "[x](data:text/html,<b>)", "`<i>`",
		"<div>\n\n# Head\n</div>"} {
		html := strings.ToLower(string(prose.HTML(text)))
		for _, bad := range []string{"<script", "<img", "onclick=x>", "<b ", "<a href=\"javascript", "<a href=\"data", "<i>", "<div",
			"<h1", "<!--"} {
			assert.NotContains(t, html, bad, text)
		}
	}
	assert.Contains(t, string(prose.HTML("a <b>bold</b> word")), "&lt;b&gt;bold&lt;/b&gt;")
	assert.Equal(t, []string{"a <b>bold</b> word"}, prose.Plain("a <b>bold</b> word"))
	assert.Equal(t, []string{"<div>x</div>"}, prose.Plain("<div>x</div>"))
	assert.Equal(t, []string{"مرحبا 🚧 done"}, prose.Plain("مرحبا 🚧 **done**"))
	assert.Empty(t, prose.Plain(" \n\n"))
}
