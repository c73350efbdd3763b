package project

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestAmountsAreReadWithTheirThousands(t *testing.T) {
	for cell, want := range map[string]string{"1234567.50": "1,234,567.50", "-380000.00": "−380,000.00", "0": "0", "-0.50": "−0.50",
		"999": "999", "n/a": "n/a"} {
		assert.Equal(t, want, grouped(cell), cell)
	}
}
