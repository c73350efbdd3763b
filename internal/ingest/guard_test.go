package ingest

import (
	"bytes"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"turret/internal/record"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"
)

// An apostrophe that guards a formula is taken off once; one that belongs to the text stays. A code is guarded like a text.
func TestGuardedTextsOfCSV(t *testing.T) {
	for cell, want := range map[string]string{"'=1+2": "=1+2", "''=1+2": "'=1+2", "'-5 degrees": "-5 degrees", "'+49": "+49",
		"'@home": "@home", "'quoted'": "'quoted'", "'": "'", "=1+2": "=1+2", "it's": "it's"} {
		f, problems, err := CSV("structure.csv", record.Structure, strings.NewReader("code,name,level\n"+cell+","+cell+",portfolio\n"))
		require.NoError(t, err)
		require.Empty(t, problems, cell)
		assert.Equal(t, []string{want, want}, []string{f.Nodes[0].Code, f.Nodes[0].Name}, cell)
	}
}

// Texts of a workbook that look like numbers stay as they are typed; numbers typed where a text is wanted are written without an exponent.
func TestNumbersAndTextsOfAWorkbook(t *testing.T) {
	book := excelize.NewFile()
	defer book.Close()
	require.NoError(t, book.SetSheetName("Sheet1", "structure"))
	for i, row := range [][]any{{"code", "name", "level"}, {"1E3", "0.30000000000000004", "portfolio"}, {1e21, 0.1 + 0.2, "portfolio"},
		{"007", "1e+21", "portfolio"}} {
		for k, v := range row {
			at, _ := excelize.CoordinatesToCellName(k+1, i+1)
			require.NoError(t, book.SetCellValue("structure", at, v))
		}
	}
	var b bytes.Buffer
	require.NoError(t, book.Write(&b))
	path := filepath.Join(t.TempDir(), "structure.xlsx")
	require.NoError(t, os.WriteFile(path, b.Bytes(), 0o600))
	files, _, err := Paths([]string{path}, "")
	require.NoError(t, err)
	f := files[0]
	var got [][2]string
	for _, n := range f.Nodes {
		got = append(got, [2]string{n.Code, n.Name})
	}
	assert.Equal(t, [][2]string{{"1E3", "0.30000000000000004"}, {"1000000000000000000000", "0.3"}, {"007", "1e+21"}}, got)
}
