package scene

import (
	"encoding/xml"
	"errors"
	"io"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestSVGOfEachPrimitive(t *testing.T) {
	s := New(100, 50.25, "A <drawing>")
	s.Line("grid", 0, 1, 2.04, 3)
	s.Rect("band", 1, 2, 3, 4)
	s.Circle("dot", 5, 6, 1.5)
	s.Polyline("actual", 0, 0, 1, 1, 2, 0)
	s.Polygon("act", 0, 0, 1, 1, 2, 0)
	s.Text("label", 9, 9, End, `a<b & "c"`)
	s.Group("sight", `why "x"`, "/p?a=1&b=2", func() { s.Circle("act", 1, 1, 1) })
	s.Group("milestone", "when", "", func() { s.Circle("dot", 1, 1, 1) })
	got := s.SVG()
	for _, want := range []string{
		`<svg class="scene" viewBox="0 0 100 50.2" width="100" height="50.2" role="group" aria-label="A &lt;drawing&gt;">`,
		`<line class="grid" x1="0" y1="1" x2="2" y2="3"/>`,
		`<rect class="band" x="1" y="2" width="3" height="4"/>`,
		`<circle class="dot" cx="5" cy="6" r="1.5"/>`,
		`<polyline class="actual" points="0,0 1,1 2,0"/>`,
		`<polygon class="act" points="0,0 1,1 2,0"/>`,
		`<text class="label" text-anchor="end" x="9" y="9">a&lt;b &amp; &#34;c&#34;</text>`,
		`<a class="sight" href="/p?a=1&amp;b=2" aria-label="why &#34;x&#34;"><title>why &#34;x&#34;</title><circle`,
		`<g class="milestone"><title>when</title>`,
	} {
		assert.Contains(t, got, want)
	}
	assert.Contains(t, New(1, 1, "").SVG(), `aria-hidden="true"`, "a mark without a name is passed over")
}

func TestNothingIsDrawnOfNoExtent(t *testing.T) {
	s := New(10, 10, "")
	s.Rect("band", 0, 0, 0, 5)
	s.Rect("band", 0, 0, 5, -1)
	s.Polyline("actual", 1, 1)
	s.Polygon("act", 1, 1, 2, 2)
	s.Text("label", 1, 1, Start, "")
	assert.Empty(t, s.Items)
}

// Whatever the texts, what comes out is well-formed XML with the texts in it.
func TestAnyTextStaysText(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		text := rapid.StringMatching(`[a-zA-Z<>&"' /=\-!\[\]éłữ0-9]{1,40}`).Draw(t, "text")
		s := New(10, 10, text)
		s.Group(text, text, text, func() { s.Text(text, 1, 1, Start, text) })
		d := xml.NewDecoder(strings.NewReader(s.SVG()))
		found := false
		for {
			token, err := d.Token()
			if errors.Is(err, io.EOF) {
				break
			}
			if err != nil {
				t.Fatal(err)
			}
			if c, ok := token.(xml.CharData); ok && string(c) == text {
				found = true
			}
			if e, ok := token.(xml.StartElement); ok && !strings.Contains(" svg a g title text ", " "+e.Name.Local+" ") {
				t.Fatalf("a text became the element %s", e.Name.Local)
			}
		}
		if !found {
			t.Fatal("the text is not there")
		}
	})
}

func TestWidthGrowsWithTextAndSize(t *testing.T) {
	assert.Less(t, Width("ill", 10), Width("mmm", 10))
	assert.InDelta(t, 2*Width("Gates hung", 10), Width("Gates hung", 20), 1e-9)
	assert.Zero(t, Width("", 10))
	require.Greater(t, Width("ab", 10), Width("a", 10))
}

// What is outlined stays so in files, whatever its status: its rule stands behind those that fill.
func TestOutlinedComesLastInFiles(t *testing.T) {
	css := PrintCSS()
	for _, filled := range []string{".watch{", ".act{", ".on-track{"} {
		assert.Less(t, strings.Index(css, filled), strings.Index(css, ".outlined{"), filled)
	}
}
