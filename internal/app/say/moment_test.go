package say

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

func TestMoments(t *testing.T) {
	was := time.Local
	time.Local = time.FixedZone("an hour ahead", 3600) // where the test runs may have no offset
	t.Cleanup(func() { time.Local = was })
	at := time.Date(2026, 9, 5, 14, 5, 59, 0, time.Local)
	assert.Equal(t, "5 Sep 2026", Day(at))
	assert.Equal(t, "5 Sep 2026 14:05", Moment(at))
	assert.Equal(t, Moment(at), Moment(at.UTC()), "as the clock on the wall has it")
}
