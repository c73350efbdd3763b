package risk

import (
	"slices"
	"strings"
)

// State is the state of a record in the office's own word, told by words that are known, whatever their case and the space around them.
// The zero value and any other word say that the record is still there.
type State string

// Priority is how urgent a record is, in the office's own word. The zero value is none.
type Priority string

var (
	over    = []string{"closed", "done", "resolved", "occurred", "cancelled", "dropped", "expired", "complete", "completed"}
	settled = []string{"taken", "refused", "withdrawn"}
	high    = []string{"high", "highest", "very high", "urgent", "critical", "1"}
)

// plain is a word in small letters without space around it.
func plain(word string) string { return strings.ToLower(strings.TrimSpace(word)) }

// Over reports whether a record of that state asks for nothing more.
func (s State) Over() bool { return slices.Contains(over, plain(string(s))) }

// Settled reports whether a decision of that state was taken, refused or withdrawn. One that is put off is asked for still.
func (s State) Settled() bool { return slices.Contains(settled, plain(string(s))) }

// High reports whether the priority counts as high.
func (p Priority) High() bool { return slices.Contains(high, plain(string(p))) }

// Weight orders priorities: 0 for high, 1 for medium, 2 for low, 3 for none and for words that are not known.
func (p Priority) Weight() int {
	switch {
	case p.High():
		return 0
	case plain(string(p)) == "medium":
		return 1
	case plain(string(p)) == "low":
		return 2
	}
	return 3
}
