package main

import (
	"regexp"
	"strings"
)

// sort of a token of a template's source.
type sort int

const (
	text    sort = iota
	open         // of an element, or of an action that ends with {{end}}
	closing      // of either
	middle       // {{else}}
	single       // an element without content, a value, a comment
)

// token is a piece of source. Space tells of white space before it that shows.
type token struct {
	sort  sort
	text  string
	name  string // of an element, or the word that an action begins with
	act   bool   // an action, not an element
	space bool
}

var (
	pieces = regexp.MustCompile(`(?s)\{\{.*?\}\}|<!--.*?-->|<[!/]?[a-zA-Z](?:\{\{.*?\}\}|"(?:\{\{.*?\}\}|[^"])*"|[^">])*>`)
	word   = regexp.MustCompile(`^(?:\{\{-?\s*|</?)([a-zA-Z!][\w-]*)`)
	breaks = regexp.MustCompile(`\s*\n\s*`)
	spaces = regexp.MustCompile(`\s+`)
	voids  = set("area base br col embed hr img input link meta source track wbr !doctype")
	blocks = set("!doctype html head body title link meta div section table thead tbody tfoot colgroup col tr th td caption ul ol li " +
		"h1 h2 h3 h4 form details summary nav header main footer dl dt dd fieldset legend figure figcaption option select optgroup " +
		"datalist p dialog article aside hr script template")
	openers = set("if range with define block")
)

func set(words string) map[string]bool {
	m := map[string]bool{}
	for _, w := range strings.Fields(words) {
		m[w] = true
	}
	return m
}

// tokens cuts a source into pieces. White space is kept as a space where it shows; lines tells whether line breaks beside tags and
// actions show too, as they did before they were for the eye only.
func tokens(src string, lines bool) []token {
	var list []token
	at, space := 0, false
	plain := func(s string) {
		lead, body, trail := cut(s)
		if body != "" {
			list = append(list, token{sort: text, text: spaces.ReplaceAllString(body, " "), space: space || shows(lead, lines)})
			space = shows(trail, lines)
			return
		}
		space = space || shows(s, lines)
	}
	for _, m := range pieces.FindAllStringIndex(src, -1) {
		plain(strings.ReplaceAll(src[at:m[0]], "&#32;", " \x00"))
		t := tokenOf(src[m[0]:m[1]])
		t.space, space = space, false
		list = append(list, t)
		at = m[1]
	}
	plain(strings.ReplaceAll(src[at:], "&#32;", " \x00"))
	return list
}

// cut takes white space off both ends; a space that was written out is marked by a zero behind it.
func cut(s string) (lead, body, trail string) {
	const white = " \t\r\n\x00"
	body = strings.Trim(s, white)
	if body == "" {
		return s, "", ""
	}
	i := strings.Index(s, body)
	return s[:i], strings.ReplaceAll(body, "\x00", ""), s[i+len(body):]
}

// shows tells whether white space between two pieces is a space on the page.
func shows(s string, lines bool) bool {
	if s == "" {
		return false
	}
	return lines || strings.Contains(s, "\x00") || !strings.Contains(s, "\n")
}

func tokenOf(s string) token {
	s = breaks.ReplaceAllString(strings.TrimSpace(s), " ")
	t := token{text: s, act: strings.HasPrefix(s, "{{")}
	if m := word.FindStringSubmatch(s); m != nil {
		t.name = strings.ToLower(m[1])
	}
	switch {
	case t.act && openers[t.name]:
		t.sort = open
	case t.act && t.name == "end":
		t.sort = closing
	case t.act && t.name == "else":
		t.sort = middle
	case t.act, strings.HasPrefix(s, "<!--"), voids[t.name]:
		t.sort = single
	case strings.HasPrefix(s, "</"):
		t.sort = closing
	default:
		t.sort = open
	}
	if t.act {
		t.text = strings.ReplaceAll(spaces.ReplaceAllString(t.text, " "), "\x00", "")
	}
	return t
}

// quiet drops spaces that do not show: beside the tags of blocks, with or without actions between.
func quiet(list []token) {
	block := func(t token) bool { return !t.act && t.sort != text && blocks[t.name] }
	for i := range list {
		if !list[i].space {
			continue
		}
		before, after := true, true // the ends of a template are beside blocks
		for k := i - 1; k >= 0; k-- {
			if hidden(list[k]) {
				continue
			}
			before = block(list[k])
			break
		}
		for k := i; k < len(list); k++ {
			if hidden(list[k]) {
				continue
			}
			after = block(list[k])
			break
		}
		list[i].space = !before && !after
	}
}

// hidden tells of actions that put nothing on the page themselves.
func hidden(t token) bool {
	return t.act && t.sort != single || t.act && strings.HasPrefix(t.text, "{{/*")
}

// node is a token with what stands between it and its end.
type node struct {
	token
	kids []*node
	end  *token // nil for a leaf
}

// tree puts tokens into one another. An element that ends in another branch than it begins in is a leaf at both ends.
func tree(list []token) []*node {
	end := match(list)
	var build func(from, to int) []*node
	build = func(from, to int) []*node {
		var kids []*node
		for i := from; i < to; i++ {
			n := &node{token: list[i]}
			if e, ok := end[i]; ok {
				n.kids, n.end = build(i+1, e), &list[e]
				i = e
			}
			kids = append(kids, n)
		}
		return kids
	}
	return build(0, len(list))
}

func match(list []token) map[int]int {
	end := map[int]int{}
	var stack []int
	for i, t := range list {
		switch t.sort {
		case open:
			stack = append(stack, i)
		case middle: // what is open within the branch ends nowhere in it
			for len(stack) > 0 && !list[stack[len(stack)-1]].act {
				stack = stack[:len(stack)-1]
			}
		case closing:
			for k := len(stack) - 1; k >= 0; k-- {
				o := list[stack[k]]
				if t.act && o.act || !t.act && !o.act && o.name == t.name {
					end[stack[k]] = i
					stack = stack[:k]
					break
				}
				if !t.act && o.act {
					break
				}
			}
		}
	}
	return end
}
