package edit

import (
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/intake"
	"turret/internal/record"
)

// A form that was opened before a field was made and another closed changes what was typed into it, and nothing else.
func TestAFormOfOtherColumnsIsRead(t *testing.T) {
	side, crew, note := record.Column{Name: "own.side"}, record.Column{Name: "own.crew"}, record.Column{Name: "own.note"}
	then := record.Projects.InputWith([]record.Column{side, crew})
	now := record.Projects.InputWith([]record.Column{crew, note})
	was := "P\x1fGate\x1f\x1f\x1f\x1f\x1f\x1fEUR\x1f\x1f\x1f\x1freported\x1fyes\x1f\x1fopen\x1fledger\x1fleft\x1f4"
	q := url.Values{"was-0": {was}, "c-0-16": {"right"}, "c-0-17": {"7"}}
	form := laid(now, columnNames(then))
	edits := relaid(editsFrom(q, form, "", false), form, now)
	old := []string{"P", "Gate", "", "", "", "", "", "EUR", "", "", "", "reported", "yes", "", "open", "ledger", "4", ""}
	next := []string{"P", "Gate", "", "", "", "", "", "EUR", "", "", "", "reported", "yes", "", "open", "ledger", "7", ""}
	assert.Equal(t, []intake.Edited{{Old: old, New: next}}, edits)
	assert.Same(t, now, laid(now, ""), "a form of a kind whose columns are always the same")
	assert.Same(t, now, laid(now, columnNames(now)))
}
