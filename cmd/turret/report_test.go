package main

import (
	"archive/zip"
	"bytes"
	"encoding/csv"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The status table of examples/three-jobs holds the figures of its calculation by hand, and the same command writes the same bytes.
func TestAReportHoldsWhatWasCalculatedByHand(t *testing.T) {
	db := loaded(t)
	write := func(args ...string) string {
		t.Helper()
		out, errs, code := run(t, append([]string{"report", "--db", db, "--as-of", "2026-03-18"}, args...)...)
		require.Zero(t, code, errs)
		return out
	}
	archive := write("status", "--format", "csv")
	z, err := zip.NewReader(bytes.NewReader([]byte(archive)), int64(len(archive)))
	require.NoError(t, err)
	require.Len(t, z.File, 2)
	f, err := z.File[1].Open()
	require.NoError(t, err)
	rows, err := csv.NewReader(f).ReadAll()
	require.NoError(t, err)
	at := map[string]int{}
	for i, h := range rows[0] {
		at[h] = i
	}
	seen := 0
	for _, row := range rows[1:] {
		text, ok := byHand[row[0]]
		if !ok {
			continue
		}
		seen++
		want := map[string]string{}
		words := strings.Fields(text)
		for i := 0; i+1 < len(words); i += 2 {
			want[words[i]] = strings.Replace(words[i+1], "-", "", map[bool]int{true: 1}[words[i+1] == "-"])
		}
		for head, key := range map[string]string{"budget_at_completion": "bac", "estimate_at_completion": "eac",
			"variance_at_completion": "vac", "expected_finish": "expected_finish",
			"finish_deviation": "finish_deviation", "percent_complete": "percent_complete"} {
			require.Contains(t, at, head)
			assert.Equal(t, want[key], row[at[head]], "%s of %s", key, row[0])
		}
	}
	assert.Equal(t, 4, seen, "three projects and the whole")
	for _, format := range []string{"pdf", "html", "csv"} {
		first := write("cost", "--format", format)
		assert.True(t, first == write("cost", "--format", format), "%s differs from one time to the next", format)
	}
	assert.True(t, strings.HasPrefix(write("Executive pack", "--scope", "BR-1"), "%PDF-"), "by its name, of one project")
}

func TestReportsThatCannotBeWritten(t *testing.T) {
	db := loaded(t)
	for _, args := range [][]string{{"nothing"}, {"cost", "--scope", "NOWHERE"}} {
		_, errs, code := run(t, append([]string{"report", "--db", db, "--as-of", "2026-03-18"}, args...)...)
		assert.Equal(t, 1, code, args)
		assert.Contains(t, errs, args[len(args)-1])
	}
	for _, args := range [][]string{{"cost", "--format", "doc"}, {}, {"cost", "--as-of", "yesterday"}} {
		_, _, code := run(t, append([]string{"report", "--db", db, "--as-of", "2026-03-18"}, args...)...)
		assert.Equal(t, 2, code, args)
	}
	file := filepath.Join(t.TempDir(), "out.pdf")
	_, _, code := run(t, "report", "cost", "--db", db, "--as-of", "2026-03-18", "--scope", "NOWHERE", "--out", file)
	assert.NotZero(t, code)
	assert.NoFileExists(t, file, "nothing half done is left")
}
