package web

import (
	"net/http"
	"testing"

	"github.com/prometheus/client_golang/prometheus"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/intake"
	"turret/internal/core/calendar"
	"turret/internal/web/page"
)

// While the file cannot be read the server is alive and not ready, and whoever asks learns nothing of it.
func TestReadyAsLongAsTheFileCanBeRead(t *testing.T) {
	h := newHouse(t)
	status, body, _ := h.ask("", http.MethodGet, "/readyz", nil)
	assert.Equal(t, 200, status)
	assert.Equal(t, "ready", body)
	require.NoError(t, h.store.Close())
	status, body, _ = h.ask("", http.MethodGet, "/readyz", nil)
	assert.Equal(t, 503, status)
	assert.Equal(t, "the file cannot be read", body)
	status, _, _ = h.ask("", http.MethodGet, "/healthz", nil)
	assert.Equal(t, 200, status)
}

// Requests are counted by the pattern of their address and by what came of them, also of what was refused.
func TestRequestsAreCounted(t *testing.T) {
	_, office := filled(t, houseFiles, intake.Origin{Source: "the house"})
	registry := prometheus.NewRegistry()
	h := &house{t: t, office: office}
	h.srv = serve(t, office, page.Config{AsOf: func() calendar.Date { return calendar.On(2026, 10, 31) }, Metrics: registry})
	for _, path := range []string{"/projects/A1", "/projects/B1", "/no/such/thing", "/healthz"} {
		h.ask("nobody", http.MethodGet, path, nil)
	}
	families, err := registry.Gather()
	require.NoError(t, err)
	counts := map[string]uint64{}
	for _, f := range families {
		for _, m := range f.GetMetric() {
			key := ""
			for _, l := range m.GetLabel() {
				key += l.GetValue() + " "
			}
			counts[f.GetName()+" "+key] += m.GetHistogram().GetSampleCount()
		}
	}
	for _, one := range []string{"turret_request_seconds GET /projects/:code 303 ", "turret_request_seconds GET /healthz 200 "} {
		assert.NotZero(t, counts[one], "%s of %v", one, counts)
	}
	for key := range counts {
		assert.NotContains(t, key, "A1")
		assert.NotContains(t, key, "such")
	}
}
