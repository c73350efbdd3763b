package measure

import (
	"slices"
	"strings"
)

// State is how far a project is: proposed, open, or over.
type State uint8

// The states. A project of which nothing is said is open.
const (
	Open State = iota
	Proposed
	Closed
	Cancelled
)

var states = []string{"open", "proposed", "closed", "cancelled"}

// States are all of them, in the order in which lists of projects go by them.
func States() []State { return []State{Open, Proposed, Closed, Cancelled} }

// String is the state as files write it.
func (s State) String() string { return states[s] }

// StateOf reads a state as files write it; false where there is none of the kind.
func StateOf(text string) (State, bool) {
	i := slices.Index(states, text)
	return State(max(i, 0)), i >= 0
}

// StatesOf reads states with commas or spaces between them. The second result is the first word that is none, empty where all are.
func StatesOf(text string) (list []State, wrong string) {
	for _, word := range strings.FieldsFunc(text, func(r rune) bool { return r == ',' || r == ' ' }) {
		s, ok := StateOf(word)
		if !ok {
			return nil, word
		}
		list = append(list, s)
	}
	return list, ""
}
