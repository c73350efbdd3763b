package main

import (
	"bytes"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"unicode"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"turret/internal/app/kept"
	"turret/internal/export"
	"turret/internal/ingest"
	"turret/internal/record"
)

// trying are texts that one of the formats could take for something else: formulas and what guards them, numbers, dates, truths,
// separators, quotes, breaks, marks of other scripts, and what XML or JSON would escape.
var trying = []string{"=1+2", "'=1+2", "''=1+2", "+49 30", "-1", "@home", "'", "''quoted''", "1E3", "1e+21", "0.30000000000000004", "007",
	"1.10", "12345678901234567890", "TRUE", "null",
	"2026-02-03", "03/04/2026", "Total", "a,b;c\td|e", "say \"yes\"", "two\nlines", "\u201cq\u201d \u2212 \u00e9\u05d0\u4e2d\U0001F600",
	"<b>&amp;</b>", "_x0041_", "#N/A", "100 %", "=", "'-5", "1,5", "\u00a0inner\u00a0x"}

// backAndForth writes rows of a kind in each format and reads them again.
func backAndForth(t require.TestingT, dir string, kind record.Kind, rows [][]string) {
	typed, problems := ingest.Reader{}.Typed(kind, rows)
	require.Empty(t, problems, kind)
	want := cellsOf(typed)
	for _, format := range []string{"csv", "xlsx", "json"} {
		var b bytes.Buffer
		require.NoError(t, export.Rows(&b, kind.Input(), want, format))
		path := filepath.Join(dir, string(kind)+"."+format)
		require.NoError(t, os.WriteFile(path, b.Bytes(), 0o600))
		files, _, err := ingest.Paths([]string{path}, "")
		require.NoError(t, err, "%s as %s", kind, format)
		require.Len(t, files, 1)
		require.Equal(t, want, cellsOf(files[0]), "%s as %s", kind, format)
	}
}

// What goes out comes back: rows of every kind, with each of the texts in every cell of text or code, in every format.
func TestWhatGoesOutComesBack(t *testing.T) {
	dir := t.TempDir()
	for _, kind := range record.Kinds() {
		var rows [][]string
		for i, text := range trying {
			for _, longer := range []string{text, text + " " + trying[(i+7)%len(trying)]} {
				sample := export.SampleRows(kind.Input())
				cells := sample[i%len(sample)]
				for k, c := range kind.Input().Columns {
					if c.Cell == record.Text || c.Cell == record.Code && len(longer) <= 64 {
						cells[k] = longer
					}
				}
				rows = append(rows, cells)
			}
		}
		backAndForth(t, dir, kind, rows)
	}
}

// And so does any text at all, with spaces around it aside and every break between lines written in one way.
func TestAnyTextComesBack(t *testing.T) {
	dir := t.TempDir()
	rapid.Check(t, func(t *rapid.T) {
		row := append([]string(nil), export.SampleRows(record.Statuses.Input())[0]...)
		for i, c := range record.Statuses.Input().Columns {
			if c.Name == "commentary" {
				row[i] = strings.Map(func(r rune) rune {
					if unicode.IsControl(r) && r != '\n' && r != '\t' && r != '\r' || r == '\uFFFE' || r == '\uFFFF' {
						return ' '
					}
					return r
				}, rapid.String().Draw(t, "text"))
			}
		}
		backAndForth(t, dir, record.Statuses, [][]string{row})
	})
}

func cellsOf(f *kept.File) [][]string {
	list := make([][]string, f.Len())
	for i := range list {
		list[i] = f.Cells(i)
	}
	return list
}
