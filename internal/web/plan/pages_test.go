package plan_test

import (
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/web/webtest"
)

// The first activity of a project without a schedule is added on its plan's page, before it has any date.
func TestTheFirstActivityIsAddedByTyping(t *testing.T) {
	h := webtest.New(t)
	_, body, _ := h.Ask("ana", http.MethodGet, "/projects/A2/plan", nil)
	require.Contains(t, body, "has no schedule yet")
	status, out := h.SendJSON("ana", "/projects/A2/plan/answer", `{"ops":[{"op":"add","code":"A1","field":"activity","value":"Design"}]}`)
	require.Equal(t, 200, status, out)
	assert.Len(t, out["table"], 1)
}
