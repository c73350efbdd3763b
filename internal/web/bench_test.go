package web_test

import (
	"context"
	"io"
	"log/slog"
	"net/http/httptest"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/intake"
	"turret/internal/core/calendar"
	"turret/internal/demo"
	"turret/internal/demotest"
	"turret/internal/ingest"
	"turret/internal/store"
	"turret/internal/web/page"
	"turret/internal/web/webtest"
)

// BenchmarkPages measures the making of one page of a portfolio of 200 projects.
func BenchmarkPages(b *testing.B) {
	slog.SetDefault(slog.New(slog.NewTextHandler(io.Discard, nil)))
	ctx, dir := access.As(context.Background(), access.Operator("a test")), b.TempDir()
	require.NoError(b, demo.Generate(demo.Size{Projects: 200, Activities: 40_000, Ledger: 100_000, Seed: 1}, dir))
	s, err := store.Create(ctx, filepath.Join(dir, "x.db"), "EUR")
	require.NoError(b, err)
	defer s.Close()
	office := app.NewOffice(s, demotest.Now, app.Parts{})
	files, _, err := ingest.Paths([]string{dir}, "")
	require.NoError(b, err)
	_, err = office.Intake.Import(ctx, files, intake.Origin{})
	require.NoError(b, err)
	srv := webtest.Serve(b, office, page.Config{AsOf: func() calendar.Date { return demo.AsOf }})
	_, err = office.Assess.Day(ctx, demo.AsOf)
	require.NoError(b, err)
	for name, path := range map[string]string{"lookout": "/", "project": "/projects/LW-00001", "trace": "/projects/LW-00001?trace=ac"} {
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				r := httptest.NewRequest("GET", path, nil)
				r.Host = "localhost"
				r.Header.Set("Cookie", webtest.Cookies[srv.App])
				resp, err := srv.App.Test(r, webtest.Patient)
				require.NoError(b, err)
				require.Equal(b, 200, resp.StatusCode)
			}
		})
	}
}
