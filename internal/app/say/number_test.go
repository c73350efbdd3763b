package say

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestNumbersAreReadWithTheirThousands(t *testing.T) {
	for cell, want := range map[string]string{"1234567.50": "1,234,567.50", "-380000.00": "−380,000.00", "0": "0", "-0.50": "−0.50",
		"999": "999", "n/a": "n/a", "-": "-", "": "", "-12345": "−12,345"} {
		assert.Equal(t, want, Decimal(cell), cell)
	}
}

func TestNumbersAreOrderedAsNumbers(t *testing.T) {
	for _, x := range []struct {
		less, more string
	}{{"9", "10"}, {"-10", "-9"}, {"-1", "0"}, {"2.5", "2.75"}, {"n/a", "-5"}, {"", "0"}, {"a", "b"}} {
		assert.Negative(t, CompareDecimals(x.less, x.more), "%q %q", x.less, x.more)
		assert.Positive(t, CompareDecimals(x.more, x.less), "%q %q", x.more, x.less)
	}
	assert.Zero(t, CompareDecimals("1.50", "1.5"))
}
