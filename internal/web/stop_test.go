package web_test

import (
	"context"
	"net"
	"net/http"
	"testing"

	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/web/webtest"
)

// A server that is asked to end does not wait for an answer that takes long, and has ended well nevertheless.
func TestAStopBreaksOffWhatTakesLong(t *testing.T) {
	h := webtest.New(t)
	begun, held := make(chan struct{}), make(chan struct{})
	h.Server.App.Get("/healthz/slow", func(fiber.Ctx) error {
		close(begun)
		<-held
		return nil
	})
	ctx, stop := context.WithCancel(t.Context())
	l, err := (&net.ListenConfig{}).Listen(ctx, "tcp", "127.0.0.1:0")
	require.NoError(t, err)
	ended := make(chan error, 1)
	go func() { ended <- h.Server.Listen(ctx, l) }()
	go func() {
		r, err := http.NewRequestWithContext(context.WithoutCancel(ctx), http.MethodGet, "http://"+l.Addr().String()+"/healthz/slow", nil)
		if err != nil {
			return
		}
		r.Header.Set("Cookie", h.Cookie["ana"])
		if resp, err := http.DefaultClient.Do(r); err == nil {
			_ = resp.Body.Close()
		}
	}()
	<-begun
	stop()
	assert.NoError(t, <-ended)
	close(held)
}
