// Package calctest gives tests what another program computes from a workbook.
package calctest

import (
	"bytes"
	"context"
	"encoding/csv"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// Sheets has LibreOffice compute a workbook and returns its sheets by name; a test is skipped where it is not there.
func Sheets(t *testing.T, book []byte) map[string][][]string {
	t.Helper()
	office, err := exec.LookPath("soffice")
	if err != nil {
		t.Skip("LibreOffice is not here; make test installs it")
	}
	dir := t.TempDir()
	path := filepath.Join(dir, "book.xlsx")
	require.NoError(t, os.WriteFile(path, book, 0o600))
	limit, cancel := context.WithTimeout(context.Background(), 3*time.Minute)
	defer cancel()
	run := exec.CommandContext(limit, office, "-env:UserInstallation=file://"+dir+"/profile", "--headless", "--convert-to",
		`csv:Text - txt - csv (StarCalc):44,34,76,1,,0,false,false,false,false,false,-1`, "--outdir", dir, path)
	run.Env = append(os.Environ(), "HOME="+dir)
	out, err := run.CombinedOutput()
	require.NoError(t, err, string(out))
	found, err := filepath.Glob(filepath.Join(dir, "book-*.csv"))
	require.NoError(t, err)
	sheets := map[string][][]string{}
	for _, f := range found {
		b, err := os.ReadFile(f)
		require.NoError(t, err)
		r := csv.NewReader(bytes.NewReader(b))
		r.FieldsPerRecord = -1
		rows, err := r.ReadAll()
		require.NoError(t, err)
		sheets[strings.TrimSuffix(strings.TrimPrefix(filepath.Base(f), "book-"), ".csv")] = rows
	}
	return sheets
}

// Cents reads an amount as whole cents.
func Cents(t *testing.T, text string) int64 {
	t.Helper()
	f, err := strconv.ParseFloat(text, 64)
	require.NoError(t, err, "%q", text)
	return int64(math.Round(f * 100))
}
