package web

import (
	"context"
	"log/slog"
	"strconv"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/promauto"
)

// observed counts requests and how long they took, by route, method and status: addresses are no labels, since there are as many as there
// are
// projects. Without a registry nothing is counted.
func observed(to prometheus.Registerer) fiber.Handler {
	if to == nil {
		return func(c fiber.Ctx) error { return c.Next() }
	}
	with := promauto.With(to)
	under := with.NewGauge(prometheus.GaugeOpts{Name: "turret_requests_under_way", Help: "Requests that are being answered."})
	took := with.NewHistogramVec(prometheus.HistogramOpts{Name: "turret_request_seconds", Help: "Time from a request to its answer.",
		Buckets: []float64{0.01, 0.03, 0.1, 0.3, 1, 3, 10, 30, 100}}, []string{"route", "method", "status"})
	return func(c fiber.Ctx) error {
		start := time.Now()
		under.Inc()
		defer under.Dec()
		err := c.Next()
		status := c.Response().StatusCode()
		took.WithLabelValues(routeOf(c, status), c.Method(), strconv.Itoa(status)).Observe(time.Since(start).Seconds())
		return err
	}
}

// routeOf is the pattern of the address that was asked for; what leads nowhere is told as one.
func routeOf(c fiber.Ctx, status int) string {
	if path := c.Route().Path; path != "/" || c.Path() == "/" && status != fiber.StatusNotFound {
		return path
	}
	return "none"
}

// mostReady is how long the file may take to answer.
const mostReady = 2 * time.Second

// ready tells whether the file can be read, so that something in front sends nobody here while it cannot.
func (s *Server) ready(c fiber.Ctx) error {
	ctx, cancel := context.WithTimeout(c.Context(), mostReady)
	defer cancel()
	if _, err := s.Office.Account.Empty(ctx); err != nil {
		slog.Error("not ready", "error", err)
		return c.Status(fiber.StatusServiceUnavailable).SendString("the file cannot be read")
	}
	return c.SendString("ready")
}
