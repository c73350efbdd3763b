package ingest

import (
	"archive/zip"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/setting"
	"turret/internal/record"
)

func written(t *testing.T, name string, write func(io.Writer)) string {
	t.Helper()
	path := filepath.Join(t.TempDir(), name)
	f, err := os.Create(path)
	require.NoError(t, err)
	write(f)
	require.NoError(t, f.Close())
	return path
}

// told is what is said of a file as a whole, or of its only sheet.
func told(t *testing.T, path, name string) string {
	t.Helper()
	list, err := Reader{}.Sheets(path, name, nil, setting.DefaultSettings())
	require.NoError(t, err)
	require.NotEmpty(t, list)
	if list[0].Problem == nil {
		return ""
	}
	return list[0].Problem.Expected
}

func text(s string) func(io.Writer) { return func(w io.Writer) { _, _ = io.WriteString(w, s) } }

// At each limit a file is read, and one beyond it is refused with the limit.
func TestWidthOfSheets(t *testing.T) {
	heads := func(n int) string { return strings.Repeat("h,", n-1) + "h\n" + strings.Repeat("1,", n-1) + "1\n" }
	assert.Empty(t, told(t, written(t, "a.csv", text(heads(MaxColumns))), "a.csv"))
	for _, bad := range []string{heads(MaxColumns + 1), heads(250_000)} {
		f, problems, err := CSV("a.csv", record.Structure, strings.NewReader(bad))
		require.NoError(t, err)
		assert.Zero(t, f.Rows)
		require.NotEmpty(t, problems)
	}
	_, problems, err := CSV("structure.csv", record.Structure, strings.NewReader("code,name,level"+strings.Repeat(",", 250_000)+
		"\nA,B,portfolio"+strings.Repeat(",", 250_000)+"\n"))
	require.NoError(t, err)
	assert.Empty(t, problems, "empty cells at the end are none")

	member := func(n int) string {
		var b strings.Builder
		for i := range n {
			fmt.Fprintf(&b, `%s"m%d":1`, map[bool]string{true: ",", false: ""}[i > 0], i)
		}
		return `[{` + b.String() + `}]`
	}
	assert.Empty(t, told(t, written(t, "a.json", text(member(MaxColumns))), "a.json"))
	assert.Contains(t, told(t, written(t, "a.json", text(member(MaxColumns+1))), "a.json"), "at most 1000 names")
}

func TestNumberOfSheets(t *testing.T) {
	arrays := func(n int) string {
		var b strings.Builder
		for i := range n {
			fmt.Fprintf(&b, `%s"a%d": [{"code":"A%d","name":"x"}]`, map[bool]string{true: ",", false: ""}[i > 0], i, i)
		}
		return `{` + b.String() + `}`
	}
	path := written(t, "a.json", text(arrays(MaxSheets)))
	assert.Empty(t, told(t, path, "a.json"))
	f, problems, err := Reader{}.Read(path, "a.json", "a77", intake.Mapping{Kind: record.Structure, Dialect: intake.Dialect{HeadRow: 1},
		Columns: map[string]string{"code": "code", "name": "name"}, Fixed: map[string]string{"level": "portfolio"}})
	require.NoError(t, err)
	require.Empty(t, problems)
	require.Len(t, f.Nodes, 1)
	assert.Equal(t, "A77", f.Nodes[0].Code, "each array is found where it begins")
	assert.Contains(t, told(t, written(t, "a.json", text(arrays(MaxSheets+1))), "a.json"), "at most 100 arrays")

	zipped := func(n int) func(io.Writer) {
		return func(w io.Writer) {
			z := zip.NewWriter(w)
			for i := range n {
				m, err := z.Create(fmt.Sprintf("f%d.csv", i))
				require.NoError(t, err)
				_, _ = io.WriteString(m, "code,name\nA,B\n")
			}
			require.NoError(t, z.Close())
		}
	}
	assert.Empty(t, told(t, written(t, "a.zip", zipped(MaxSheets)), "a.zip"))
	assert.Contains(t, told(t, written(t, "a.zip", zipped(MaxSheets+1)), "a.zip"), "at most 100 files")

	book := func(n int) func(io.Writer) {
		return func(w io.Writer) {
			b := excelize.NewFile()
			for i := range n - 1 {
				_, err := b.NewSheet(fmt.Sprintf("S%d", i))
				require.NoError(t, err)
			}
			require.NoError(t, b.Write(w))
			require.NoError(t, b.Close())
		}
	}
	assert.Contains(t, told(t, written(t, "a.xlsx", book(MaxSheets+1)), "a.xlsx"), "at most 100 sheets")
}

// A workbook says in its directory what it unpacks to, before any of it is unpacked.
func TestTextsOfWorkbooksAreBounded(t *testing.T) {
	path := written(t, "a.xlsx", func(w io.Writer) {
		z := zip.NewWriter(w)
		for name, n := range map[string]int{"[Content_Types].xml": 10, "xl/workbook.xml": 10, "xl/sharedStrings.xml": maxTexts + 1} {
			m, err := z.Create(name)
			require.NoError(t, err)
			_, err = io.CopyN(m, endless('a'), int64(n))
			require.NoError(t, err)
		}
		require.NoError(t, z.Close())
	})
	assert.Contains(t, told(t, path, "a.xlsx"), "at most 48 MB of texts")
}

// endless is an endless text of one letter.
type endless byte

func (l endless) Read(p []byte) (int, error) {
	for i := range p {
		p[i] = byte(l)
	}
	return len(p), nil
}

// What is unpacked leaves nothing behind, whether it was read or refused.
func TestNothingUnpackedIsLeft(t *testing.T) {
	dir := t.TempDir()
	t.Setenv("TMPDIR", dir)
	good := written(t, "a.zip", func(w io.Writer) {
		z := zip.NewWriter(w)
		m, err := z.Create("structure.csv")
		require.NoError(t, err)
		_, _ = io.WriteString(m, "code,name,level\nA,B,portfolio\n")
		require.NoError(t, z.Close())
	})
	bomb := written(t, "b.zip", func(w io.Writer) {
		z := zip.NewWriter(w)
		for i := range 5 {
			m, err := z.Create(fmt.Sprintf("f%d.csv", i))
			require.NoError(t, err)
			_, err = io.CopyN(m, endless('x'), MaxBytes)
			require.NoError(t, err)
		}
		require.NoError(t, z.Close())
	})
	assert.Empty(t, told(t, good, "a.zip"))
	assert.Contains(t, told(t, bomb, "b.zip"), "unpack to at most")
	left, err := filepath.Glob(filepath.Join(dir, "turret-unpacked-*"))
	require.NoError(t, err)
	assert.Empty(t, left)
}

// A workbook ends somewhere, which a file to correct may not.
func TestACorrectedWorkbookHasALastRow(t *testing.T) {
	book := excelize.NewFile()
	defer book.Close()
	w, err := newMarked(book, intake.Mapping{Dialect: intake.Dialect{HeadRow: 1}}, nil)
	require.NoError(t, err)
	require.NoError(t, w.write(1, []string{"code"}))
	require.NoError(t, w.write(excelize.TotalRows, []string{"A"}))
	assert.ErrorIs(t, w.write(excelize.TotalRows+1, []string{"B"}), fault.ErrTooLarge)
}
