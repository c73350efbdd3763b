package ingest_test

import (
	"bytes"
	"encoding/csv"
	"encoding/json"
	"errors"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"unicode/utf16"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"turret/internal/app/apptest"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/ingest"
	"turret/internal/record"
)

// forms are the ways in which a table of texts may come, by the ending of the file.
var forms = map[string]func(t *testing.T, cells [][]string) []byte{
	"comma.csv":     func(t *testing.T, cells [][]string) []byte { return separated(t, ',', cells) },
	"semicolon.csv": func(t *testing.T, cells [][]string) []byte { return separated(t, ';', cells) },
	"tab.csv": func(t *testing.T, cells [][]string) []byte {
		return bytes.ReplaceAll(separated(t, '\t', cells), []byte("\n"), []byte("\r\n"))
	},
	"utf16.csv": func(t *testing.T, cells [][]string) []byte {
		b := []byte{0xFF, 0xFE}
		for _, u := range utf16.Encode([]rune(string(separated(t, ';', cells)))) {
			b = append(b, byte(u), byte(u>>8))
		}
		return b
	},
	"book.xlsx": func(t *testing.T, cells [][]string) []byte {
		book := excelize.NewFile()
		for y, row := range cells {
			for x, cell := range row {
				at, err := excelize.CoordinatesToCellName(x+1, y+1)
				require.NoError(t, err)
				require.NoError(t, book.SetCellStr("Sheet1", at, cell))
			}
		}
		var b bytes.Buffer
		require.NoError(t, book.Write(&b))
		return b.Bytes()
	},
	"objects.json": func(t *testing.T, cells [][]string) []byte {
		list := []map[string]string{}
		for _, row := range cells[1:] {
			o := map[string]string{}
			for i, cell := range row {
				o[cells[0][i]] = cell
			}
			list = append(list, o)
		}
		b, err := json.Marshal(list)
		require.NoError(t, err)
		return b
	},
}

func separated(t *testing.T, by rune, cells [][]string) []byte {
	t.Helper()
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	w.Comma = by
	require.NoError(t, w.WriteAll(cells))
	return b.Bytes()
}

// came reads a table in a form.
func came(t *testing.T, form string, kind record.Kind, cells [][]string) (*kept.File, []fault.Problem) {
	t.Helper()
	dir := filepath.Join(t.TempDir(), strings.TrimSuffix(form, filepath.Ext(form)))
	require.NoError(t, os.Mkdir(dir, 0o700))
	path := filepath.Join(dir, string(kind)+filepath.Ext(form))
	require.NoError(t, os.WriteFile(path, forms[form](t, cells), 0o600))
	files, _, err := ingest.Paths([]string{path}, kind)
	var refusal *fault.Refusal
	if errors.As(err, &refusal) {
		problems := slices.Clone(refusal.Problems)
		for i := range problems {
			problems[i].File = ""
		}
		return nil, problems
	}
	require.NoError(t, err, form)
	require.Len(t, files, 1, form)
	f := files[0]
	f.Name, f.Digest, f.Size, f.Recognised = "", "", 0, ""
	return f, nil
}

// Whatever a file is written in, the same cells are the same rows, and what is wrong with them is found at the same place.
func TestReadersConform(t *testing.T) {
	for kind, text := range apptest.RowsOf {
		t.Run(string(kind), func(t *testing.T) {
			cells, err := csv.NewReader(strings.NewReader(text)).ReadAll()
			require.NoError(t, err)
			want, problems := came(t, "comma.csv", kind, cells)
			require.Empty(t, problems)
			require.Equal(t, len(cells)-1, want.Rows)
			bad := append([][]string{}, cells...)
			bad[1] = append([]string{}, cells[1]...)
			for i := range bad[1] {
				bad[1][i] = strings.Repeat("no such thing ", 2000) // too long for anything, and of no type
			}
			_, wrong := came(t, "comma.csv", kind, bad)
			require.NotEmpty(t, wrong)
			for form := range forms {
				got, problems := came(t, form, kind, cells)
				assert.Empty(t, problems, form)
				assert.Equal(t, want, got, form)
				_, problems = came(t, form, kind, bad)
				assert.Equal(t, wrong, problems, form)
			}
		})
	}
}
