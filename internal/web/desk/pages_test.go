package desk_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/apptest"
	"turret/internal/record"
	"turret/internal/web/webtest"
)

// An action stands on the desk of its owner alone, is ticked off there, and ticking it twice changes nothing and says so.
func TestWhatWaitsIsTickedOff(t *testing.T) {
	h := webtest.New(t)
	assert.Contains(t, h.Page("lea", "/desk"), "Nothing waits for you.")
	apptest.Send(t, h.Office, apptest.Sent{Kind: record.Actions, Period: apptest.October,
		Text: "project,code,title,owner,due,state\nA1,T1,Call <i>the town,Lea,2026-10-20,open\nA1,T2,Long done,Lea,2026-10-20,Done\n" +
			"B1,T3,Beta's own,Other,2026-10-20,open\n"})
	page := h.Page("lea", "/desk")
	assert.Contains(t, page, "Call &lt;i&gt;the town")
	assert.NotContains(t, page, "Long done", "over")
	assert.NotContains(t, page, "Beta", "of somebody else, in a project that is not hers")
	assert.NotContains(t, h.Page("ana", "/desk"), "the town")

	tick := []string{"kind", "actions", "holder", "A1", "code", "T1"}
	h.Do("lea", "/desk/tick?asof=2026-10-31", 303, tick...)
	assert.Contains(t, h.Page("lea", "/desk"), "Nothing waits for you.")
	assert.Contains(t, h.Page("ana", "/registers/actions?closed=1"), "the town", "it stays in the register")
	_, _, head := h.Send("lea", "/desk/tick?asof=2026-10-31", "kind", "actions", "holder", "A1", "code", "T9")
	assert.NotContains(t, webtest.ToldBy(t, head), "is done", "there is no such action")
}
