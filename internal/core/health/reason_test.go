package health

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// A reason does not say the same twice: of two triggers that tell only what they are about, one is enough, and another one is told instead.
func TestAReasonSaysNothingTwice(t *testing.T) {
	r := Result{Triggers: []Trigger{{Key: "vac_share", Level: Act, Sentence: "Costs: act"},
		{Key: "cpi", Level: Watch, Sentence: "Costs: watch"}, {Key: "finish", Level: Watch, Sentence: "Finish 20 days late"}}}
	assert.Equal(t, "Costs: act; finish 20 days late", r.Reason())
}
