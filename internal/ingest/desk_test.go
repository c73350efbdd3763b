package ingest

import (
	"archive/zip"
	"bytes"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"turret/internal/app/intake"
	"turret/internal/app/setting"
	"turret/internal/core/calendar"
	"turret/internal/record"
)

var settings = setting.DefaultSettings()

func onDisk(t testing.TB, name string, b []byte) string {
	t.Helper()
	at := filepath.Join(t.TempDir(), "000")
	require.NoError(t, os.WriteFile(at, b, 0o600))
	return at
}

func recognised(t testing.TB, name string, b []byte) ([]intake.Sheet, string) {
	t.Helper()
	at := onDisk(t, name, b)
	list, err := Reader{}.Sheets(at, name, nil, settings)
	require.NoError(t, err)
	return list, at
}

// How numbers are written is recognised where it is not open to doubt, and asked for where it is.
func TestDecimalSigns(t *testing.T) {
	for _, c := range []struct {
		cells, sign, open string
	}{
		{"1234.50", "point", ""}, {"1,234.50", "point", ""}, {"1234,50", "comma", ""}, {"1.234,50", "comma", ""},
		{"1,234,567", "point", ""},
		{"1.234.567", "comma", ""}, {"1,234", "", "1,234"}, {"1,234 2,5", "comma", ""}, {"1,234 2.5", "point", ""}, {"0,125", "comma", ""},
		{"0.125", "point", ""}, {"12 7", "point", ""}, {"-1.234,5", "comma", ""}, {"1’234.50", "point", ""}, {"", "point", ""},
	} {
		for _, separator := range []string{"semicolon"} {
			sign, open := decimalSign(strings.Fields(c.cells), false, separator)
			assert.Equal(t, []string{c.sign, c.open}, []string{sign, open}, c.cells)
		}
	}
	_, open := decimalSign([]string{"1.234"}, false, "comma")
	assert.Empty(t, open, "in Turret's own form a point is the decimal sign")
	_, open = decimalSign([]string{"1.234"}, false, "semicolon")
	assert.Equal(t, "1.234", open)
}

func TestDateOrders(t *testing.T) {
	for cells, want := range map[string][2]string{
		"2026-11-03": {"ymd", ""}, "13.11.2026 03.11.2026": {"dmy", ""}, "11/13/2026 11/03/2026": {"mdy", ""},
		"03.11.2026":            {"", "03.11.2026"},
		"13.11.2026 11.13.2026": {"", ""}, "11.11.2026": {"ymd", ""}, "": {"ymd", ""},
	} {
		order, open := dateOrder(strings.Fields(cells))
		assert.Equal(t, want, [2]string{order, open}, cells)
	}
	day := calendar.On(2026, 11, 3)
	for text, order := range map[string]string{"03.11.2026": "dmy", "3/11/26": "dmy", "11/03/2026": "mdy", "2026/11/03": "",
		"3 Nov 2026": "", "Nov 3, 2026": "", "2026-11-03T00:00:00": ""} {
		d, ok := dayOf(text, order)
		assert.True(t, ok, text)
		assert.Equal(t, day, d, text)
	}
	for _, text := range []string{"31.11.2026", "03.11.", "soon", "3.11.226", "2026-02-30T00:00:00"} {
		_, ok := dayOf(text, "dmy")
		assert.False(t, ok, text)
	}
	// The serial numbers are those that ISO/IEC 29500 gives as examples of its two date systems.
	d, ok := serialDay("46329", false)
	assert.True(t, ok)
	assert.Equal(t, day, d)
	d, ok = serialDay("44867.75", true)
	assert.True(t, ok)
	assert.Equal(t, day, d)
	_, ok = serialDay("60", false)
	assert.False(t, ok, "29 February 1900 never was")
	for text, want := range map[string]string{"2026-11": "2026-11", "Nov 2026": "2026-11", "11/2026": "2026-11", "11.2026": "2026-11",
		"November 26": "2026-11"} {
		m, ok := monthOf(text)
		assert.True(t, ok, text)
		assert.Equal(t, want, m.String(), text)
	}
}

func workbookOf(t testing.TB, build func(*excelize.File)) []byte {
	t.Helper()
	f := excelize.NewFile()
	defer f.Close()
	build(f)
	b, err := f.WriteToBuffer()
	require.NoError(t, err)
	return b.Bytes()
}

// A workbook as people make them: a title, merged heads, days as numbers and as text, a formula, hidden rows, a total, and
// cells far below.
func TestWorkbooks(t *testing.T) {
	b := workbookOf(t, func(f *excelize.File) {
		require.NoError(t, f.SetSheetRow("Sheet1", "A1", &[]any{"Bookings of the quarter"}))
		require.NoError(t, f.MergeCell("Sheet1", "A1", "F1"))
		require.NoError(t, f.SetSheetRow("Sheet1", "A3", &[]any{"Project", "Account", "Date", "Amount (k€)", "", "Note"}))
		require.NoError(t, f.SetSheetRow("Sheet1", "A4", &[]any{"P", "C", time.Date(2026, 11, 3, 0, 0, 0, 0, time.UTC), 0.1 + 0.2, nil,
			"a day of a workbook"}))
		require.NoError(t, f.SetSheetRow("Sheet1", "A5", &[]any{"P", "C", "2026-11-04", "1.5", nil, "a day as text"}))
		require.NoError(t, f.SetSheetRow("Sheet1", "A6", &[]any{"P", "C", "2026-11-05", nil, nil, "a formula"}))
		require.NoError(t, f.SetCellFormula("Sheet1", "D6", "1+1"))
		require.NoError(t, f.SetRowVisible("Sheet1", 5, false))
		require.NoError(t, f.SetSheetRow("Sheet1", "A8", &[]any{"Total", nil, nil, 99}))
		require.NoError(t, f.SetCellStr("Sheet1", "A5000", " "))
	})
	list, at := recognised(t, "q.xlsx", b)
	require.Len(t, list, 1)
	m := list[0].Mapping
	assert.Equal(t, record.Actuals, m.Kind)
	assert.Equal(t, map[string]string{"project": "project", "account": "cost_code", "date": "date", "amount (k€)": "amount",
		"(column e)": "", "note": "note"}, lowered(m.Columns))
	assert.Equal(t, int64(1000), m.Factors["amount"])
	f, problems, err := Reader{}.Read(at, "q.xlsx", "Sheet1", m)
	require.NoError(t, err)
	require.Len(t, problems, 1, "a formula without a kept result is an empty cell")
	assert.Equal(t, []any{int32(6), "amount", "a value"}, []any{problems[0].Row, problems[0].Column, problems[0].Expected})
	assert.Equal(t, []int64{3_000_000, 15_000_000}, []int64{f.Postings[0].Units, f.Postings[1].Units}, "0.3 and 1.5 thousand")
	assert.Equal(t, calendar.On(2026, 11, 3), f.Postings[0].Date)
	assert.Contains(t, f.Recognised, "1 row of totals left out (row 8)")
	mended, err := Reader{}.Corrected(at, "q.xlsx", "Sheet1", m, problems)
	require.NoError(t, err)
	back, err := excelize.OpenReader(bytes.NewReader(mended))
	require.NoError(t, err)
	cell, err := back.GetCellValue("Sheet1", "G6")
	require.NoError(t, err)
	assert.Equal(t, "amount: a value", cell)
	cell, _ = back.GetCellValue("Sheet1", "F5")
	assert.Equal(t, "a day as text", cell, "nothing of the sender's is lost")
}

func lowered(m map[string]string) map[string]string {
	out := map[string]string{}
	for k, v := range m {
		out[strings.ToLower(k)] = v
	}
	return out
}

func TestColumnsOfMonths(t *testing.T) {
	list, at := recognised(t, "fc.csv", []byte("Project;Account;Dec 2026;Jan 2027;Feb 2027\nP;C;1,5;;2,25\nTotal;;1,5;;2,25\n"))
	m := list[0].Mapping
	assert.Equal(t, record.Forecast, m.Kind)
	assert.Equal(t, []string{"dec 2026", "jan 2027", "feb 2027"}, list[0].Months)
	f, problems, err := Reader{}.Read(at, "fc.csv", "", m)
	require.NoError(t, err)
	require.Empty(t, problems)
	require.Len(t, f.Lines, 2)
	assert.Equal(t, []any{"2026-12", int64(15000), int32(2), "2027-02", int64(22500), int32(2)},
		[]any{f.Lines[0].Month.String(), f.Lines[0].Units, f.Lines[0].Row, f.Lines[1].Month.String(), f.Lines[1].Units, f.Lines[1].Row})
	assert.NotEqual(t, f.Lines[0].Part, f.Lines[1].Part)
}

func TestJSON(t *testing.T) {
	list, at := recognised(t, "x.json",
		[]byte(
			`{"projects":[{"code":"P","name":"Ä","earned_value":true}],"budget":[{"project":"P","cost_code":"C","amount":1234.5,"month":"2026-01"},{"project":"P","cost_code":"C","amount":"7","month":"2026-02","note":null}]}`))
	require.Len(t, list, 2)
	f, problems, err := Reader{}.Read(at, "x.json", "budget", list[1].Mapping)
	require.NoError(t, err)
	assert.Empty(t, problems)
	assert.Equal(t, []int64{12345000, 70000}, []int64{f.Lines[0].Units, f.Lines[1].Units})
	for _, bad := range []string{"[", "[1]", `{"a":1}`, "[{]", `[{"a":}]`, `{"a":[}`} {
		list, _ := recognised(t, "bad.json", []byte(bad))
		assert.NotNil(t, list[0].Problem, bad)
	}
}

func zipOf(t testing.TB, files map[string][]byte) []byte {
	t.Helper()
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for name, body := range files {
		w, err := z.Create(name)
		require.NoError(t, err)
		_, err = w.Write(body)
		require.NoError(t, err)
	}
	require.NoError(t, z.Close())
	return b.Bytes()
}

func TestZIPs(t *testing.T) {
	list, at := recognised(t, "m.zip", zipOf(t, map[string][]byte{"../../etc/status.csv": []byte("project,overall\nP,act\n"),
		"__MACOSX/x": nil, ".hidden": nil}))
	require.Len(t, list, 1)
	assert.Equal(t, "m.zip › status.csv", list[0].Title(), "no path of the sender's")
	f, problems, err := Reader{}.Read(at, "m.zip", list[0].Name, list[0].Mapping)
	require.NoError(t, err)
	assert.Empty(t, problems)
	assert.Len(t, f.Statuses, 1)

	list, _ = recognised(t, "nested.zip", zipOf(t, map[string][]byte{"inner.zip": zipOf(t, map[string][]byte{"a.csv": []byte("x")})}))
	assert.Contains(t, list[0].Problem.Expected, "no ZIP within a ZIP")
	list, _ = recognised(t, "empty.zip", zipOf(t, nil))
	require.NotNil(t, list[0].Problem)
	list, _ = recognised(t, "cut.zip", zipOf(t, map[string][]byte{"a.csv": []byte("x")})[:40])
	require.NotNil(t, list[0].Problem)
}

// A file that unpacks to far more than it is: refused while reading, with little memory taken.
func TestBombs(t *testing.T) {
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	w, err := z.Create("actuals.csv")
	require.NoError(t, err)
	line := []byte(strings.Repeat("P,C,2026-01-02,1\n", 1<<16))
	for range 200 { // 220 MB
		_, err = w.Write(line)
		require.NoError(t, err)
	}
	require.NoError(t, z.Close())
	assert.Less(t, b.Len(), 2<<20)
	list, _ := recognised(t, "bomb.zip", b.Bytes())
	require.NotNil(t, list[0].Problem)
	assert.Contains(t, list[0].Problem.Expected, "unpack to at most 100 MB each")

	b.Reset()
	z = zip.NewWriter(&b)
	for _, name := range []string{"[Content_Types].xml", "xl/workbook.xml"} {
		w, err = z.Create(name)
		require.NoError(t, err)
		_, _ = io.WriteString(w, "<x/>")
	}
	w, err = z.Create("xl/worksheets/sheet1.xml")
	require.NoError(t, err)
	blank := bytes.Repeat([]byte(" "), 1<<20)
	for range MaxUnpacked>>20 + 10 {
		_, err = w.Write(blank)
		require.NoError(t, err)
	}
	require.NoError(t, z.Close())
	list, _ = recognised(t, "bomb.xlsx", b.Bytes())
	require.NotNil(t, list[0].Problem)
	assert.Contains(t, list[0].Problem.Expected, "at most 400 MB")
}

// A sheet of which a million rows are empty but there is read to its end, in little time and without a row.
func TestAMillionEmptyRows(t *testing.T) {
	var sheet bytes.Buffer
	sheet.WriteString(
		`<?xml version="1.0" encoding="UTF-8"?><worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><sheetData>`)
	sheet.WriteString(
		`<row r="1"><c r="A1" t="inlineStr"><is><t>project</t></is></c><c r="B1" t="inlineStr"><is><t>overall</t></is></c></row>`)
	for i := 2; i < 1_000_000; i++ {
		fmt.Fprintf(&sheet, `<row r="%d"/>`, i)
	}
	sheet.WriteString(`<row r="1000000"><c r="A1000000" t="inlineStr"><is><t>P</t></is></c></row></sheetData></worksheet>`)
	plain := workbookOf(t, func(*excelize.File) {})
	z, err := zip.NewReader(bytes.NewReader(plain), int64(len(plain)))
	require.NoError(t, err)
	files := map[string][]byte{}
	for _, m := range z.File {
		in, err := m.Open()
		require.NoError(t, err)
		files[m.Name], err = io.ReadAll(in)
		require.NoError(t, err)
	}
	files["xl/worksheets/sheet1.xml"] = sheet.Bytes()
	list, at := recognised(t, "status.xlsx", zipOf(t, files))
	require.Nil(t, list[0].Problem)
	f, problems, err := Reader{}.Read(at, "status.xlsx", "Sheet1", list[0].Mapping)
	require.NoError(t, err)
	assert.Empty(t, problems)
	require.Len(t, f.Statuses, 1)
	assert.Equal(t, int32(1_000_000), f.Statuses[0].Row)
}

func TestAFileTooLargeIsNotEvenOpened(t *testing.T) {
	at := onDisk(t, "big.csv", nil)
	require.NoError(t, os.Truncate(at, 200<<20))
	list, err := Reader{}.Sheets(at, "big.csv", nil, settings)
	require.NoError(t, err)
	assert.Contains(t, list[0].Problem.Expected, "at most 100 MB; split it: a ledger or timesheets by month")
}

func TestMeaningsFactorsAndFixedCells(t *testing.T) {
	at := onDisk(t, "a.csv", []byte("Task;What;State;Done\n1;Dig;In Progress;half\n2;Fill;not begun;0\n"))
	m := intake.Mapping{Kind: record.Activities, Dialect: intake.Dialect{Encoding: "utf-8", Separator: "semicolon", Decimal: "point",
		HeadRow: 1},
		Columns: map[string]string{"task": "code", "what": "name", "state": "ev_method", "done": "percent_complete"},
		Heads:   []string{"task", "what", "state", "done"},
		Values: map[string]map[string]string{"ev_method": {"in progress": "50/50", "not begun": "0/100"},
			"percent_complete": {"half": "50"}},
		Fixed: map[string]string{"project": "P-7"}}
	f, problems, err := Reader{}.Read(at, "a.csv", "", m)
	require.NoError(t, err)
	require.Empty(t, problems)
	assert.Equal(t, []any{"P-7", "50/50", int64(5000)}, []any{f.Activities[0].Project, f.Activities[0].EVMethod,
		f.Activities[0].Activity.Percent.N})
	assert.Equal(t, "0/100", f.Activities[1].EVMethod)
}

// Whatever the bytes are, reading ends in rows or in problems and never in a panic, and no row is made up.
func FuzzSheets(f *testing.F) {
	f.Add([]byte("Project;Account;Dec 2026;Jan 2027\nP;C;1,5;2\n"), "a.csv")
	f.Add([]byte(`[{"project":"P","overall":"act"}]`), "a.json")
	f.Add(zipOf(f, map[string][]byte{"status.csv": []byte("project,overall\nP,act\n")}), "a.zip")
	f.Add(workbookOf(f, func(x *excelize.File) { _ = x.SetSheetRow("Sheet1", "A1", &[]any{"project", "overall"}) }), "a.xlsx")
	f.Add([]byte("\xff\xfea\x00;\x00b\x00"), "a.txt")
	dir := f.TempDir()
	f.Fuzz(func(t *testing.T, data []byte, name string) {
		at := filepath.Join(dir, "000")
		if err := os.WriteFile(at, data, 0o600); err != nil {
			t.Skip()
		}
		list, err := Reader{}.Sheets(at, name, nil, settings)
		if err != nil {
			t.Fatal(err)
		}
		for _, s := range list {
			if s.Problem != nil || s.Mapping.Kind == "" {
				continue
			}
			file, problems, err := Reader{}.Read(at, name, s.Name, s.Mapping)
			if err != nil {
				t.Fatal(err)
			}
			if len(problems) == 0 && file.Rows != file.Len() {
				t.Fatalf("%d rows said, %d there", file.Rows, file.Len())
			}
		}
	})
}
