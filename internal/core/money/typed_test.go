package money

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// A comma groups thousands only where three digits follow each; before one or two it is that of decimals, and elsewhere nothing is
// guessed.
func TestNumbersAsTheyAreTyped(t *testing.T) {
	for typed, want := range map[string]string{"1234.50": "1234.50", "1 234.50": "1234.50", "1,234,567.5": "1234567.5", "3,5": "3.5",
		"250,50": "250.50", "−7": "-7", "1'000": "1000", "1\u00a0000": "1000", "2,500": "2500", "": "", "1,23,456": "1,23,456",
		"1.234,50": "1.234,50", "lots": "lots", "12,3456": "12,3456"} {
		assert.Equal(t, want, Typed(typed), typed)
	}
}
