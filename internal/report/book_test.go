package report_test

import (
	"bytes"
	"context"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/money"

	appreport "turret/internal/app/report"
	"turret/internal/calctest"
	"turret/internal/core/measure"
	"turret/internal/demo"
	"turret/internal/demotest"
	"turret/internal/report"
)

// LibreOffice computes the totals of a report's workbook again, by programme and together, and comes to the cents of the catalogue.
func TestLibreOfficeComesToTheSameReport(t *testing.T) {
	ctx := access.As(context.Background(), access.Operator("a test"))
	s := demotest.Store(t)
	o := app.NewOffice(s, demotest.Now, app.Parts{})
	keys := []measure.Key{measure.BAC, measure.AC, measure.EAC, measure.VAC}
	c, err := o.Report.Content(ctx, &appreport.Report{Name: "Money", Parts: []appreport.Part{{Key: "money",
		Columns: measure.Texts(keys...)}}}, demo.AsOf)
	require.NoError(t, err)
	var b bytes.Buffer
	require.NoError(t, report.Book(&b, c))
	rows := calctest.Sheets(t, b.Bytes())["Money table"]
	sums := map[string]*measure.Group{"Together": measure.Roll(c.Projects, c.Env)}
	groups, _, err := money.Groups(c.Assessment, &assess.Scope{Projects: c.Projects}, "programme")
	require.NoError(t, err)
	for i := range groups {
		sums["Total "+groups[i].Name] = groups[i].Group
	}
	found := 0
	for _, row := range rows {
		g, ok := sums[row[0]]
		if !ok {
			continue
		}
		found++
		for i, k := range keys[:3] { // a variance is computed from the sums, and stands as a figure
			assert.Equal(t, int64(g.Value(k).Amount()), calctest.Cents(t, row[1+i]), "%s of %s", k, row[0])
		}
		assert.Equal(t, int64(g.Value(measure.VAC).Amount()), calctest.Cents(t, row[4]), row[0])
	}
	assert.Equal(t, len(sums), found)
	assert.True(t, strings.Contains(rows[0][0], "Ostrel Waterways Board"))
}
