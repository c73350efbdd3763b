package draft_test

import (
	"io"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/draft"
	"turret/internal/app/intake"
	"turret/internal/record"
)

// Columns that a file lacks keep what stands, and are emptied where one says so; the words of another month are of that month alone.
func TestColumnsThatAFileLacks(t *testing.T) {
	_, o := apptest.Gate(t)
	apptest.Send(t, o, apptest.Sent{Kind: record.Statuses, Period: apptest.October - 1,
		Text: "project,overall,schedule,commentary\nA1,watch,act,The gate is late.\n"})
	sent := false
	d, err := o.Draft.Receive(apptest.Ctx, "", apptest.October, func() (*draft.Upload, error) {
		if sent {
			return nil, io.EOF
		}
		sent = true
		return &draft.Upload{Name: "status.csv", Body: strings.NewReader("project,overall\nA1,on track\n")}, nil
	})
	require.NoError(t, err)
	in := record.Statuses.Input()
	read := func() (cells []string, warning string) {
		_, c, err := o.Draft.Preview(apptest.Ctx, d.ID, apptest.October.Last())
		require.NoError(t, err)
		require.Empty(t, c.Problems)
		require.Len(t, c.Warnings, 1)
		row := c.Files[0].Cells(0)
		return []string{row[in.At("overall")], row[in.At("schedule")], row[in.At("commentary")]}, c.Warnings[0].Expected
	}
	cells, says := read()
	assert.Equal(t, []string{"on track", "act", ""}, cells)
	assert.Contains(t, says, "columns that it lacks keep what stood: schedule (1 row)")

	m := d.Sheets[0].Sheet.Mapping
	m.Clear = true
	_, err = o.Draft.Remap(apptest.Ctx, d.ID, "", apptest.October, []intake.Mapping{m})
	require.NoError(t, err)
	cells, says = read()
	assert.Equal(t, []string{"on track", "", ""}, cells)
	assert.Contains(t, says, "these become empty: schedule (1 row)")
}
