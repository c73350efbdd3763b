package report_test

import (
	"bytes"
	"encoding/csv"
	"encoding/xml"
	"io"
	"testing"

	"turret/internal/app/assess"
	"turret/internal/app/kept"
	"turret/internal/app/plan"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"turret/internal/report"
)

const names = `code,name,status,lead
=A,"🚢 ""Quoted""; name",open,L
B,Second,open,M
`

func timelineOf(t *testing.T) (*assess.Assessment, *plan.Timeline) {
	t.Helper()
	a, _ := assessed(t, names)
	tl, err := plan.TimelineOf(a, "", plan.TimelineFilter{})
	require.NoError(t, err)
	return a, tl
}

func written(t *testing.T, name string, a *assess.Assessment, tl *plan.Timeline) []byte {
	t.Helper()
	var b bytes.Buffer
	require.NoError(t, report.Timeline(&b, name, a, tl))
	return b.Bytes()
}

func TestTimelineAsATable(t *testing.T) {
	a, tl := timelineOf(t)
	rows, err := csv.NewReader(bytes.NewReader(written(t, "timeline.csv", a, tl))).ReadAll()
	require.NoError(t, err)
	require.Len(t, rows, 4, "a head, two projects, a milestone")
	at := map[string]int{}
	for i, h := range rows[0] {
		at[h] = i
	}
	m := rows[2]
	assert.Equal(t, []string{"'=A", "M", "milestone", "missed", "2026-10-01", "2026-12-01"},
		[]string{m[at["project"]], m[at["activity"]], m[at["kind"]], m[at["state"]], m[at["baseline_finish"]], m[at["finish"]]},
		"and no formula")
	assert.Equal(t, "43", m[at["days"]], "October 21 + November 21 + 1 December")

	f, err := excelize.OpenReader(bytes.NewReader(written(t, "timeline.xlsx", a, tl)))
	require.NoError(t, err)
	days, err := f.GetCellValue("Timeline", "M3")
	require.NoError(t, err)
	assert.Equal(t, "43", days)
	kind, err := f.GetCellType("Timeline", "M3")
	require.NoError(t, err)
	assert.NotEqual(t, excelize.CellTypeSharedString, kind, "a number")
}

func TestTimelineOnPaperIsTheSameBytes(t *testing.T) {
	a, tl := timelineOf(t)
	for _, name := range []string{"timeline-a3.pdf", "timeline-a4.pdf", "timeline.svg", "timeline.csv"} {
		first := written(t, name, a, tl)
		assert.Equal(t, first, written(t, name, a, tl), name)
		assert.NotEmpty(t, first)
	}
	assert.Greater(t, bytes.Count(written(t, "timeline-a4.pdf", a, tl), []byte("/Type /Page\n")), 0)
	d := xml.NewDecoder(bytes.NewReader(written(t, "timeline.svg", a, tl)))
	for {
		_, err := d.Token()
		if err == io.EOF {
			break
		}
		require.NoError(t, err, "a file that any program opens")
	}
	assert.Contains(t, string(written(t, "timeline.svg", a, tl)), "<style>")
}

func TestFindingsOfARehearsal(t *testing.T) {
	a, _ := timelineOf(t)
	f, err := plan.Rehearse(a, []kept.RehearsedMove{{Project: "=A", Activity: "M", Shift: 5}})
	require.NoError(t, err)
	var b bytes.Buffer
	require.NoError(t, report.Rehearsal(&b, "rehearsal.csv", a, "x", f))
	rows, err := csv.NewReader(&b).ReadAll()
	require.NoError(t, err)
	require.Len(t, rows, 2)
	assert.Equal(t, []string{"'=A", "2026-12-01", "2026-12-08", "5"}, []string{rows[1][0], rows[1][5], rows[1][6], rows[1][7]})
	var one, two bytes.Buffer
	require.NoError(t, report.Rehearsal(&one, "rehearsal.pdf", a, "🚢", f))
	require.NoError(t, report.Rehearsal(&two, "rehearsal.pdf", a, "🚢", f))
	assert.Equal(t, one.Bytes(), two.Bytes())
}
