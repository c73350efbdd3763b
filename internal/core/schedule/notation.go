package schedule

import (
	"fmt"
	"regexp"
	"sort"
	"strconv"
	"strings"
)

// Predecessor is a link as it is typed beside the activity that waits.
//
// The notation: the code of the activity before, for one of another project behind the project's code and a stroke; then, after a space,
// the type of the link, FS where none is written, and the lag in working days with its sign. Several stand apart by commas: "P2.1, P2.2 SS
// +3, X-01/M4 FS -2". The lag has at most four digits. Codes may hold spaces and strokes.
type Predecessor struct {
	Project string // empty for the same project
	Code    string
	Type    LinkType
	Lag     int32 // working days of the successor's calendar
}

// String writes the notation that ParsePredecessors reads.
func (p Predecessor) String() string {
	s := p.Code
	if p.Project != "" {
		s = p.Project + "/" + s
	}
	// a code that ends as if a type or lag stood behind it
	if m := behind.FindStringSubmatch(s); p.Type != FinishStart || m != nil && m[1] != s {
		s += " " + p.Type.String()
	}
	if p.Lag != 0 {
		s += fmt.Sprintf(" %+d", p.Lag)
	}
	return s
}

// Predecessors writes a list in the notation, in the order of project and code.
func Predecessors(list []Predecessor) string {
	sorted := append([]Predecessor(nil), list...)
	sort.SliceStable(sorted, func(i, j int) bool {
		a, b := sorted[i], sorted[j]
		if a.Project != b.Project {
			return a.Project < b.Project
		}
		return a.Code < b.Code
	})
	texts := make([]string, len(sorted))
	for i, p := range sorted {
		texts[i] = p.String()
	}
	return strings.Join(texts, ", ")
}

var behind = regexp.MustCompile(`^(.*?)(?:\s+(FS|SS|FF|SF|fs|ss|ff|sf)\s*([+-]\s*\d{1,4})?|\s+([+-]\s*\d{1,4}))?$`)

// NotationError is a piece that cannot be read as a predecessor.
type NotationError struct{ Piece, Why string }

// Error names the piece and what was expected.
func (e *NotationError) Error() string { return fmt.Sprintf("%q: %s", e.Piece, e.Why) }

// ParsePredecessors reads a list in the notation. Project says whether a text is the code of a project, so that a stroke within
// the code of an activity is not taken for one behind a project. What cannot be read is a *NotationError.
func ParsePredecessors(text string, project func(code string) bool) ([]Predecessor, error) {
	var list []Predecessor
	seen := map[Predecessor]bool{}
	text = strings.ReplaceAll(text, "\u2212", "-") // the true minus, as pages write it
	for _, piece := range strings.Split(text, ",") {
		piece = strings.TrimSpace(piece)
		if piece == "" {
			continue
		}
		m := behind.FindStringSubmatch(piece)
		if m == nil || m[1] == "" {
			return nil, &NotationError{piece, "expected the code of an activity, then FS, SS, FF or SF, then a lag such as +3"}
		}
		p := Predecessor{Code: m[1]}
		p.Type, _ = ParseLinkType(strings.ToUpper(orText(m[2], "FS")))
		lag, _ := strconv.Atoi(strings.ReplaceAll(orText(m[3]+m[4], "0"), " ", ""))
		p.Lag = int32(lag)
		if before, after, ok := strings.Cut(m[1], "/"); ok && project(before) {
			p.Project, p.Code = before, after
		}
		key := p
		key.Lag = 0
		if seen[key] {
			return nil, &NotationError{piece, "expected each link once"}
		}
		seen[key] = true
		list = append(list, p)
	}
	return list, nil
}

// orText is s, or the other text where s is empty.
func orText(s, other string) string {
	if s == "" {
		return other
	}
	return s
}
