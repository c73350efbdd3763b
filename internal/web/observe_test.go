package web_test

import (
	"net/http"
	"testing"

	"github.com/prometheus/client_golang/prometheus"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/intake"
	"turret/internal/core/calendar"
	"turret/internal/web/page"
	"turret/internal/web/webtest"
)

// While the file cannot be read the server is alive and not ready, and whoever asks learns nothing of it.
func TestReadyAsLongAsTheFileCanBeRead(t *testing.T) {
	h := webtest.New(t)
	status, body, _ := h.Ask("", http.MethodGet, "/readyz", nil)
	assert.Equal(t, 200, status)
	assert.Equal(t, "ready", body)
	require.NoError(t, h.Store.Close())
	status, body, _ = h.Ask("", http.MethodGet, "/readyz", nil)
	assert.Equal(t, 503, status)
	assert.Equal(t, "the file cannot be read", body)
	status, _, _ = h.Ask("", http.MethodGet, "/healthz", nil)
	assert.Equal(t, 200, status)
}

// Requests are counted by the pattern of their address and by what came of them, also of what was refused.
func TestRequestsAreCounted(t *testing.T) {
	_, office := webtest.Filled(t, webtest.Files, intake.Origin{Source: "the house"})
	registry := prometheus.NewRegistry()
	h := &webtest.House{T: t, Office: office}
	h.Server = webtest.Serve(t, office, page.Config{AsOf: func() calendar.Date { return calendar.On(2026, 10, 31) }, Metrics: registry})
	for _, path := range []string{"/projects/A1", "/projects/B1", "/no/such/thing", "/healthz"} {
		h.Ask("nobody", http.MethodGet, path, nil)
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
