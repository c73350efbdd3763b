package web_test

import (
	"html"
	"net/http"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/ingest"
	"turret/internal/record"
	"turret/internal/web/webtest"
)

// Whoever reads while all figures are computed again sees the last complete ones, is told so, and is told when newer are there.
func TestAPageSaysThatNewerFiguresAreComputed(t *testing.T) {
	h := webtest.New(t)
	const told = "Newer figures are being computed"
	assert.NotContains(t, h.Page("ana", "/"), told)
	assert.NotContains(t, h.Page("lea", "/"), told)
	f, problems, err := ingest.CSV("cost_codes.csv", record.CostCodes, strings.NewReader("code,name\nNEW,Code\n"))
	require.NoError(t, err)
	require.Empty(t, problems)
	_, err = h.Office.Intake.Import(access.As(t.Context(), access.Operator("a test")), []*kept.File{f}, intake.Origin{})
	require.NoError(t, err)

	shown := h.Page("ana", "/")
	assert.Contains(t, shown, told)
	check := regexp.MustCompile(`hx-get="(/newer\?asof=2026-10-31&amp;than=\d+)"`).FindStringSubmatch(shown)
	require.Len(t, check, 2)
	require.Eventually(t, func() bool {
		status, body, _ := h.Ask("ana", http.MethodGet, html.UnescapeString(check[1]), nil)
		return status == http.StatusOK && strings.Contains(body, "Newer figures are there")
	}, time.Minute, 5*time.Millisecond)
	assert.NotContains(t, h.Page("ana", "/"), told)
	assert.NotContains(t, h.Page("lea", "/"), told, "of the same figures")
	status, _, _ := h.Ask("", http.MethodGet, "/newer?asof=2026-10-31", nil)
	assert.Equal(t, http.StatusSeeOther, status, "nobody signed in")
}

// Whoever changed something waits for what came of it.
func TestWhoChangedSomethingSeesItAtOnce(t *testing.T) {
	h := webtest.New(t)
	h.Page("admin", "/")
	q := webtest.Fields(t, h.Page("admin", "/setup/settings"), "/setup/settings")
	q.Set("lookahead", "7")
	status, body, _ := h.Ask("admin", http.MethodPost, "/setup/settings", q)
	require.Less(t, status, 400, body)
	assert.NotContains(t, h.Page("admin", "/"), "Newer figures")
}
