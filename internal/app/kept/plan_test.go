package kept_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/kept"
	"turret/internal/core/calendar"
)

func TestMovesInWords(t *testing.T) {
	for text, m := range map[string]kept.RehearsedMove{"later by 1 working day": {Shift: 1},
		"earlier by 3 working days, longer by 2 working days": {Shift: -3, Stretch: 2},
		"shorter by 1 working day":                            {Stretch: -1}, "finishing on 5 Jan 2027": {By: calendar.On(2027, 1, 5)}} {
		assert.Equal(t, text, m.Text())
	}
}
