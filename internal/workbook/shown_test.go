package workbook

import (
	"bytes"
	"strings"
	"testing"
	"unicode/utf16"

	"turret/internal/export"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"
)

// Figures are read as pages write them; codes, words and what is too long stay texts.
func TestFiguresShown(t *testing.T) {
	for text, want := range map[string]float64{"0": 0, "12": 12, "1,234.50": 1234.5, "−3": -3, "+€16 k": 16_000, "−€1.25 M": -1_250_000,
		"€2 bn": 2e9, "€-4": -4, "12.5 %": 0.125, "−7%": -0.07, "1234": 1234} {
		n, percent, ok := figureShown(text)
		assert.True(t, ok, text)
		assert.InDelta(t, want, n, 1e-9, text)
		assert.Equal(t, text == "12.5 %" || text == "−7%", percent, text)
	}
	for _, text := range []string{"", "–", "007", "LW-07", "12 d", "1,23", "1.2.3", "€", "2 of 3", "12345678901234567"} {
		_, _, ok := figureShown(text)
		assert.False(t, ok, text)
	}
}

// A table is taken as it is shown; nothing in it runs as a formula, and a minus stays a minus.
func TestShownTables(t *testing.T) {
	heads := []string{"Project", "Days", "Finish", "Why"}
	rows := [][]string{{"=1+1", "−3", "31 Oct 2026", "late, “again”"}, {"B", "–", "", "-cmd"}}
	var b bytes.Buffer
	require.NoError(t, Shown(&b, "csv", "milestones", heads, rows))
	assert.Equal(t, "Project,Days,Finish,Why\n'=1+1,−3,31 Oct 2026,\"late, “again”\"\nB,–,,'-cmd\n", b.String())
	b.Reset()
	require.NoError(t, Shown(&b, "xlsx", "milestones", heads, rows))
	book, err := excelize.OpenReader(&b)
	require.NoError(t, err)
	defer book.Close()
	got, err := book.GetRows("milestones", excelize.Options{RawCellValue: true})
	require.NoError(t, err)
	assert.Equal(t, [][]string{heads, {"=1+1", "-3", "46326", "late, “again”"}, {"B", "", "", "-cmd"}}, got,
		"46326 days after the last of 1899 is 31 October 2026")
	formula, err := book.GetCellFormula("milestones", "A2")
	require.NoError(t, err)
	assert.Empty(t, formula)
	require.ErrorIs(t, Shown(&b, "pdf", "milestones", heads, rows), export.ErrFormat)
}

// A cell of a workbook has as much of a text as it holds, and says where the rest is.
func TestACellHoldsWhatItCan(t *testing.T) {
	assert.Equal(t, "short", Text("short"))
	for _, long := range []string{strings.Repeat("x", 200_000), strings.Repeat("🚧", 20_000)} {
		got := Text(long)
		assert.LessOrEqual(t, len(utf16.Encode([]rune(got))), 32_767)
		assert.Contains(t, got, "have the whole text")
	}
}
