package report

import (
	"context"
	"fmt"
	"io"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/intake"
	"turret/internal/app/report"
	"turret/internal/demo"
	"turret/internal/demotest"
	"turret/internal/ingest"
	"turret/internal/store"
)

// BenchmarkReports measures how long writing takes of what was assessed: a page for each of 200 and 1,000 projects, the executive pack, and
// the first pages of a preview.
func BenchmarkReports(b *testing.B) {
	for _, projects := range []int{200, 1000} {
		ctx, dir := access.As(context.Background(), access.Operator("a test")), b.TempDir()
		require.NoError(b, demo.Generate(demo.Size{Projects: projects, Activities: projects * 40, Ledger: projects * 100, Seed: 1}, dir))
		s, err := store.Create(ctx, filepath.Join(dir, "x.db"), "EUR")
		require.NoError(b, err)
		office := app.NewOffice(s, demotest.Now, app.Parts{})
		files, _, err := ingest.Paths([]string{dir}, "")
		require.NoError(b, err)
		_, err = office.Intake.Import(ctx, files, intake.Origin{})
		require.NoError(b, err)
		for name, r := range map[string]*report.Report{"pages": {Name: "Pages", Cover: true, Parts: []report.Part{{Key: "projects"}}},
			"all": {Name: "All", Cover: true, Parts: everySection()}} {
			c, err := office.Report.Content(ctx, r, demo.AsOf)
			require.NoError(b, err)
			for _, format := range []string{"pdf", "html", "xlsx", "csv", "preview"} {
				b.Run(fmt.Sprintf("%s/%d/%s", name, projects, format), func(b *testing.B) {
					for b.Loop() {
						if format == "preview" {
							_, all, err := Preview(c, 1, 4)
							require.NoError(b, err)
							b.ReportMetric(float64(all), "pages")
							continue
						}
						_, err := Write(io.Discard, format, c)
						require.NoError(b, err)
					}
				})
			}
		}
		require.NoError(b, s.Close())
	}
}
