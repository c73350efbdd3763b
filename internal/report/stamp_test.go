package report

import (
	"bytes"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"turret/internal/app/fault"
	"turret/internal/app/report"
)

func madeBook(t *testing.T, keywords string, cells map[string]any) []byte {
	t.Helper()
	f := excelize.NewFile()
	for at, v := range cells {
		require.NoError(t, f.SetCellValue("Sheet1", at, v))
	}
	require.NoError(t, f.SetDocProps(&excelize.DocProperties{Keywords: keywords}))
	var b bytes.Buffer
	require.NoError(t, f.Write(&b))
	return b.Bytes()
}

// A stamp is found again in each form of a document; a document without one, and a file of another kind, are told apart.
func TestStampIsFoundInEachForm(t *testing.T) {
	s := &report.Stamp{Digest: "abc", Period: "2026-03", Issue: 2, Scopes: []string{"A&B", `"<ü>"`}, NoCosts: true}
	for format, document := range map[string][]byte{"pdf": []byte("%PDF-1.7 (" + s.Text() + ")"),
		"html": []byte(`<!doctype html><meta content="` + s.Text() + `">`),
		"xlsx": madeBook(t, s.Text(), nil)} {
		got, form, err := StampOf(document)
		require.NoError(t, err, format)
		assert.Equal(t, format, form)
		assert.Equal(t, s, got)
	}
	for _, none := range [][]byte{[]byte("%PDF-1.7"), []byte("<!doctype html>"), madeBook(t, "", nil)} {
		_, _, err := StampOf(none)
		assert.ErrorIs(t, err, fault.ErrNotFound)
	}
	for _, other := range []string{"", "BR-1", "PK nothing", s.Text()} {
		_, _, err := StampOf([]byte(other))
		assert.ErrorIs(t, err, ErrDocument, other)
	}
}

// Cells that hold the same number are the same, however it is written; another number, a cell more or one less is told by its place.
func TestBooksDifferByTheirCells(t *testing.T) {
	was := madeBook(t, "", map[string]any{"A1": "BR-1", "B1": 0.1, "A2": "BR-2"})
	for _, c := range []struct {
		cells map[string]any
		where string
	}{
		{map[string]any{"A1": "BR-1", "B1": 0.1, "A2": "BR-2"}, ""},
		{map[string]any{"A1": "BR-1", "B1": 0.10000000000000001, "A2": "BR-2"}, ""},
		{map[string]any{"A1": "BR-1", "B1": 0.1001, "A2": "BR-2"}, "in sheet Sheet1, cell B1"},
		{map[string]any{"A1": "BR-9", "B1": 0.1, "A2": "BR-2"}, "in sheet Sheet1, cell A1"},
		{map[string]any{"A1": "BR-1", "B1": 0.1}, "in sheet Sheet1, cell A2"},
		{map[string]any{"A1": "BR-1", "B1": 0.1, "A2": "BR-2", "C2": 1}, "in sheet Sheet1, cell C2"},
	} {
		where, err := differingBooks(madeBook(t, "", c.cells), was)
		require.NoError(t, err)
		assert.Equal(t, c.where, where)
	}
	_, err := differingBooks([]byte("PK"), was)
	assert.ErrorIs(t, err, ErrDocument)
}
