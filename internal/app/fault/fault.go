// Package fault holds what goes wrong in words that every capability shares: what is wrong with an input, a form or a request.
package fault

import (
	"errors"
	"fmt"
	"strings"
)

// Errors that callers tell apart.
var (
	ErrRefused  = errors.New("the load was refused and nothing was changed")
	ErrNotFound = errors.New("not found")
	ErrConflict = errors.New("somebody else changed it meanwhile")
	ErrPinned   = errors.New("a published period was computed from it")
	ErrNeeded   = errors.New("other loads refer to it")
)

// Problem is one thing wrong with an input: where, what stands there, and what was expected.
type Problem struct {
	File     string `json:"file"`
	Row      int32  `json:"row"` // as a spreadsheet counts, the head being 1; 0 for the file as a whole
	Column   string `json:"column"`
	Value    string `json:"value"`
	Expected string `json:"expected"`
}

func (p Problem) String() string {
	var b strings.Builder
	b.WriteString(p.File)
	if p.Row > 0 {
		fmt.Fprintf(&b, ", row %d", p.Row)
	}
	if p.Column != "" {
		fmt.Fprintf(&b, ", column %s", p.Column)
	}
	if p.Value != "" {
		fmt.Fprintf(&b, ": %q", Clip(p.Value, 80))
	}
	return b.String() + ": expected " + p.Expected
}

// Refusal lists everything wrong with a load. It wraps ErrRefused.
type Refusal struct{ Problems []Problem }

func (r *Refusal) Error() string {
	lines := make([]string, 0, len(r.Problems)+1)
	for _, p := range r.Problems {
		lines = append(lines, p.String())
	}
	word := "problems"
	if len(lines) == 1 {
		word = "problem"
	}
	lines = append(lines, fmt.Sprintf("%d %s; %s", len(lines), word, ErrRefused))
	return strings.Join(lines, "\n")
}

// Unwrap returns ErrRefused.
func (r *Refusal) Unwrap() error { return ErrRefused }

// Clip shortens s to at most n runes, with an ellipsis where something was cut.
func Clip(s string, n int) string {
	for i := range s {
		if n--; n < 0 {
			return s[:i] + "…"
		}
	}
	return s
}

// Plain is what an error says, without what the error says that it wraps at its end.
func Plain(err, wrapped error) string { return strings.TrimSuffix(err.Error(), ": "+wrapped.Error()) }

// ErrBusy is wrapped by errors about what cannot begin while so much of it is under way.
var ErrBusy = errors.New("busy")

// ErrTooLarge is wrapped by errors about files beyond the limits.
var ErrTooLarge = errors.New("too large")

// FieldError is a setting or a form's field that cannot be taken. It is found with errors.As.
type FieldError struct{ Field, Value, Expected string }

func (e *FieldError) Error() string {
	return fmt.Sprintf("%s: “%s”; expected %s", e.Field, Clip(e.Value, 80), e.Expected)
}

// ProblemsIn lists those of a refusal, nil for other errors.
func ProblemsIn(err error) []Problem {
	var refusal *Refusal
	if errors.As(err, &refusal) {
		return refusal.Problems
	}
	return nil
}

// Field is what is wrong with one field: its name, what stands there, and what was expected.
func Field(name, value, expected string) *FieldError { return &FieldError{name, value, expected} }
