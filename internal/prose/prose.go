// Package prose reads what people write in light Markdown: paragraphs, lists, emphasis, links, quotes and code.
package prose

import (
	"bytes"
	"html/template"
	"strconv"
	"strings"

	"github.com/yuin/goldmark"
	"github.com/yuin/goldmark/ast"
	"github.com/yuin/goldmark/renderer"
	gtext "github.com/yuin/goldmark/text"
	"github.com/yuin/goldmark/util"
)

var light = goldmark.New(goldmark.WithRendererOptions(renderer.WithNodeRenderers(util.Prioritized(plainly{}, 100))))

type plainly struct{}

// RegisterFuncs implements renderer.NodeRenderer.
func (plainly) RegisterFuncs(r renderer.NodeRendererFuncRegisterer) {
	r.Register(ast.KindRawHTML, func(w util.BufWriter, source []byte, n ast.Node, entering bool) (ast.WalkStatus, error) {
		if entering {
			segments := n.(*ast.RawHTML).Segments
			for i := range segments.Len() {
				s := segments.At(i)
				_, _ = w.Write(util.EscapeHTML(s.Value(source)))
			}
		}
		return ast.WalkSkipChildren, nil
	})
	r.Register(ast.KindHTMLBlock, func(w util.BufWriter, source []byte, n ast.Node, entering bool) (ast.WalkStatus, error) {
		if !entering {
			return ast.WalkContinue, nil
		}
		_, _ = w.WriteString("<p>")
		lines := n.Lines()
		for i := range lines.Len() {
			s := lines.At(i)
			_, _ = w.Write(util.EscapeHTML(s.Value(source)))
		}
		if b := n.(*ast.HTMLBlock); b.HasClosure() {
			_, _ = w.Write(util.EscapeHTML(b.ClosureLine.Value(source)))
		}
		_, _ = w.WriteString("</p>\n")
		return ast.WalkSkipChildren, nil
	})
	r.Register(ast.KindImage, func(util.BufWriter, []byte, ast.Node, bool) (ast.WalkStatus, error) {
		return ast.WalkContinue, nil
	})
	r.Register(ast.KindHeading, func(w util.BufWriter, _ []byte, _ ast.Node, entering bool) (ast.WalkStatus, error) {
		tag := "</b></p>\n" // the outline of the page is not the writer's
		if entering {
			tag = "<p><b>"
		}
		_, _ = w.WriteString(tag)
		return ast.WalkContinue, nil
	})
}

// HTML is a text as it reads. What looks like HTML is shown as it was typed, and pictures as their texts, so that nothing is fetched
// and nothing runs.
func HTML(source string) template.HTML {
	var b bytes.Buffer
	if err := light.Convert([]byte(source), &b); err != nil {
		return template.HTML(template.HTMLEscapeString(source))
	}
	return template.HTML(b.String()) // goldmark escapes text, drops dangerous links, and HTML is written as text above
}

// Plain is a text without its marks: one string for each paragraph or item of a list, which begins with a dash or its number.
func Plain(source string) []string {
	text := []byte(source)
	var list []string
	root := light.Parser().Parse(gtext.NewReader(text))
	_ = ast.Walk(root, func(n ast.Node, entering bool) (ast.WalkStatus, error) { // it returns no error of its own
		if !entering || n.Type() != ast.TypeBlock {
			return ast.WalkContinue, nil
		}
		switch n.Kind() {
		case ast.KindParagraph, ast.KindTextBlock, ast.KindHeading, ast.KindCodeBlock, ast.KindFencedCodeBlock, ast.KindHTMLBlock:
			line := strings.TrimSpace(content(n, text))
			if p := n.Parent(); p != nil && p.Kind() == ast.KindListItem && p.FirstChild() == n {
				line = bullet(p) + line
			}
			if line != "" {
				list = append(list, line)
			}
			return ast.WalkSkipChildren, nil
		}
		return ast.WalkContinue, nil
	})
	return list
}

// bullet stands before an item of a list: its number, or a dash.
func bullet(item ast.Node) string {
	list, ok := item.Parent().(*ast.List)
	if !ok || !list.IsOrdered() {
		return "– "
	}
	n := list.Start
	for x := item.PreviousSibling(); x != nil; x = x.PreviousSibling() {
		n++
	}
	return strconv.Itoa(n) + ". "
}

// content is the text within a block.
func content(n ast.Node, source []byte) string {
	var b strings.Builder
	if !n.HasChildren() && n.Type() == ast.TypeBlock {
		for i := range n.Lines().Len() {
			s := n.Lines().At(i)
			b.Write(s.Value(source))
		}
		return b.String()
	}
	for c := n.FirstChild(); c != nil; c = c.NextSibling() {
		switch x := c.(type) {
		case *ast.Text:
			b.Write(x.Segment.Value(source))
			if x.SoftLineBreak() || x.HardLineBreak() {
				b.WriteByte(' ')
			}
		case *ast.String:
			b.Write(x.Value)
		case *ast.RawHTML:
			for i := range x.Segments.Len() {
				s := x.Segments.At(i)
				b.Write(s.Value(source))
			}
		case *ast.AutoLink:
			b.Write(x.Label(source))
		default:
			b.WriteString(content(c, source))
		}
	}
	return b.String()
}
