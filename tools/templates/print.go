package main

import "strings"

const (
	width = 140 // of a line at most, where it can be broken
	short = 100 // of a line with blocks in it
)

// Format writes a source one element a line where it helps reading.
func Format(src string, lines bool) string {
	list := tokens(src, lines)
	quiet(list)
	p := &printer{}
	for _, n := range tree(list) {
		p.node(n, 0, false)
	}
	p.flush(0)
	return p.out.String()
}

type printer struct {
	out strings.Builder
	run string // of what stands in line, not written yet
}

func (p *printer) flush(depth int) {
	if p.run != "" {
		p.line(depth, p.run)
		p.run = ""
	}
}

func (p *printer) line(depth int, s string) {
	indent := strings.Repeat("  ", depth)
	for i, part := range wrap(s, width-len(indent)) {
		if i > 0 {
			p.out.WriteString("  ")
		}
		p.out.WriteString(indent + part + "\n")
	}
}

// node writes an element or an action. Spaced tells that a space before it was written already.
func (p *printer) node(n *node, depth int, spaced bool) {
	s := flat(n)
	room := width - 2*depth
	if !broken(n, len(s) <= short-2*depth) {
		if p.run != "" && len(p.run)+len(s)+6 > room && !spaced {
			if n.space {
				p.run += "&#32;"
			}
			p.flush(depth)
		} else if p.run != "" && n.space {
			p.run += " "
		} else if p.run == "" && n.space {
			p.lead(depth)
		}
		if own := !n.act && blocks[n.name] && n.sort != closing; len(s) <= room || n.end == nil {
			if own {
				p.flush(depth)
			}
			if p.run += s; own {
				p.flush(depth)
			}
			return
		}
	} else {
		if n.space && p.run != "" {
			p.run += "&#32;"
		} else if n.space {
			p.lead(depth)
		}
	}
	p.flush(depth)
	p.line(depth, n.text)
	for _, k := range n.kids {
		if k.sort == middle {
			if k.space {
				p.run += "&#32;"
			}
			p.flush(depth + 1)
			p.line(depth, k.text)
			continue
		}
		p.node(k, depth+1, false)
	}
	if n.end.space {
		p.run += "&#32;"
	}
	p.flush(depth + 1)
	p.line(depth, n.end.text)
}

// lead writes a space at the head of a line.
func (p *printer) lead(int) { p.run += "&#32;" }

// flat is a node in one line.
func flat(n *node) string {
	if n.end == nil {
		return n.text
	}
	var b strings.Builder
	b.WriteString(n.text)
	for _, k := range n.kids {
		if k.space {
			b.WriteString(" ")
		}
		b.WriteString(flat(k))
	}
	if n.end.space {
		b.WriteString(" ")
	}
	b.WriteString(n.end.text)
	return b.String()
}

// broken tells whether a node is written over several lines whatever its length: with more than one block in it, unless it is short, and
// a template of its own.
func broken(n *node, fits bool) bool {
	if n.act && n.name == "define" {
		return true
	}
	in := inside(n)
	return in > 1 && !fits || in > 3
}

// inside counts the blocks within a node.
func inside(n *node) int {
	c := 0
	for _, k := range n.kids {
		if k.end != nil && !k.act && blocks[k.name] {
			c++
		}
		c += inside(k)
	}
	return c
}

// wrap breaks a long line where a line break counts for a space: between words, and between the attributes of a tag.
func wrap(s string, room int) []string {
	var list []string
	for len(s) > room {
		at := -1
		quoted, action := false, 0
		for i := 0; i < len(s); i++ {
			switch {
			case strings.HasPrefix(s[i:], "{{"):
				action++
			case strings.HasPrefix(s[i:], "}}"):
				action--
			case s[i] == '"' && action == 0:
				quoted = !quoted && within(s[:i])
			}
			if s[i] == ' ' && !quoted && action == 0 && i > 0 && !strings.ContainsRune(">}", rune(s[i-1])) && i+1 < len(s) &&
				!strings.ContainsRune("<{", rune(s[i+1])) && (i < room || at < 0) {
				at = i
			}
		}
		if at < 0 {
			break
		}
		list = append(list, s[:at])
		s, room = s[at+1:], room-2
		if len(list) == 1 {
			room = max(room, 40)
		}
	}
	return append(list, s)
}

// within tells whether the end of a text is inside a tag.
func within(s string) bool { return strings.LastIndexByte(s, '<') > strings.LastIndexByte(s, '>') }
