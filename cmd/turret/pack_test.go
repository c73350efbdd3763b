package main

import (
	"os"
	"path/filepath"
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"
)

// A pack in each form is the one that was published until a digit of it is changed, also after the period got a further issue; one made
// before the closing, or by another file, is not.
func TestAPackIsTheOneThatWasPublished(t *testing.T) {
	march := func(file string) string {
		t.Helper()
		for _, args := range [][]string{{"init", "--db", file}, {"import", "--db", file, "--period", "2026-03", example}} {
			_, errs, code := run(t, args...)
			require.Zero(t, code, errs)
		}
		return file
	}
	dir := t.TempDir()
	db := march(filepath.Join(dir, "three.db"))
	at := func(name string) string { return filepath.Join(dir, name) }
	verify := func(name string) (string, string, int) { return run(t, "verify", "--db", db, "--pack", at(name)) }
	report := func(name, format string) {
		t.Helper()
		_, errs, code := run(t, "report", "executive", "--db", db, "--as-of", "2026-03-31", "--format", format, "--out", at(name))
		require.Zero(t, code, errs)
	}
	report("early.pdf", "pdf")
	_, errs, code := run(t, "publish", "--db", db, "--period", "2026-03", "--waive", "known", "--out", dir)
	require.Zero(t, code, errs)
	require.NoError(t, os.Rename(at("pack-2026-03-1.pdf"), at("pack.pdf")))
	report("pack.html", "html")
	report("pack.xlsx", "xlsx")
	for _, name := range []string{"pack.pdf", "pack.html", "pack.xlsx"} {
		out, errs, code := verify(name)
		require.Zero(t, code, errs)
		assert.Contains(t, out, name+" is the Executive pack of March 2026 as it was published", name)
	}
	refused := func(name, says string) {
		t.Helper()
		_, errs, code := verify(name)
		assert.Equal(t, 1, code, name)
		assert.Contains(t, errs, says)
	}
	refused("early.pdf", "carries no digest")
	refused("none.pdf", "no such file")
	require.NoError(t, os.WriteFile(at("text.txt"), []byte("BR-1"), 0o600))
	refused("text.txt", "text.txt: it is not a PDF, an HTML file or a workbook; expected one that Turret made")

	html, err := os.ReadFile(at("pack.html"))
	require.NoError(t, err)
	percent := regexp.MustCompile(`[0-9] %`)
	require.Regexp(t, percent, string(html))
	figure := percent.FindIndex(html)[0]
	html[figure] = '0' + (html[figure]-'0'+1)%10
	require.NoError(t, os.WriteFile(at("changed.html"), html, 0o600))
	refused("changed.html", "it is not what March 2026 is published with")

	book, err := excelize.OpenFile(at("pack.xlsx"))
	require.NoError(t, err)
	require.NoError(t, book.SaveAs(at("saved.xlsx")))
	_, errs, code = verify("saved.xlsx")
	assert.Zero(t, code, errs, "saved again by another program")
	sheet := book.GetSheetList()[0]
	require.NoError(t, book.SetCellValue(sheet, "B4", 1))
	require.NoError(t, book.SaveAs(at("changed.xlsx")))
	refused("changed.xlsx", "in sheet "+sheet+", cell B4")

	_, errs, code = run(t, "publish", "--db", db, "--period", "2026-03", "--reopen", "once more", "--waive", "known")
	require.Zero(t, code, errs)
	_, errs, code = verify("pack.html")
	assert.Zero(t, code, errs, "of the issue before")

	other := march(at("other.db"))
	_, errs, code = run(t, "verify", "--db", other, "--pack", at("pack.pdf"))
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, "it comes of another file")
}
