package webtest

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/ingest"
	"turret/internal/record"
)

// Linked is the house with plans: A1 of Lea waits for B1, of which she sees nothing.
func Linked(t *testing.T) *House {
	t.Helper()
	h := New(t)
	var files []*kept.File
	for kind, text := range map[record.Kind]string{
		record.Activities: "project,code,name,kind,baseline_start,baseline_finish,start,finish\n" +
			"A1,W,Work,activity,2026-11-02,2026-11-06,2026-11-02,2026-11-06\n" +
			"A1,M,Gate,milestone,,2026-11-06,,2026-11-06\nB1,M,Secret of Beta,milestone,,2026-11-20,,2026-11-20\n",
		record.Links: "project,from,to,from_project\nA1,W,M,\nA1,M,W,B1\n",
	} {
		f, problems, err := ingest.CSV(string(kind)+".csv", kind, strings.NewReader(text))
		require.NoError(t, err)
		require.Empty(t, problems)
		files = append(files, f)
	}
	_, err := h.Office.Intake.Import(Ctx(), files, intake.Origin{})
	require.NoError(t, err)
	return h
}
