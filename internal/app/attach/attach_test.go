package attach_test

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"io"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/app/attach"
	"turret/internal/app/fault"
	keeper "turret/internal/attach"
	"turret/internal/ingest"
	"turret/internal/record"
)

// zeros reads as many bytes of nothing.
type zeros struct{ left int64 }

func (z *zeros) Read(b []byte) (int, error) {
	if z.left <= 0 {
		return 0, io.EOF
	}
	n := min(int64(len(b)), z.left)
	clear(b[:n])
	z.left -= n
	return int(n), nil
}

// A file comes back as it was sent, to who sees its record; pages, drawings with scripts, and what is too large are refused and leave
// nothing.
func TestAttachingFiles(t *testing.T) {
	s, _ := apptest.Gate(t)
	dir := filepath.Join(t.TempDir(), "files")
	o := app.NewOffice(s, func() time.Time { return apptest.At }, app.Parts{Reader: ingest.Reader{}, Files: keeper.In(dir)})
	apptest.Send(t, o, apptest.Sent{Kind: record.Issues, Period: apptest.October, Text: "project,code,title\nA1,I1,Road\nB1,I1,Lane\n"})
	day := apptest.October.Last()
	as := func(who string) (context.Context, *assess.Assessment) {
		c := access.As(context.Background(), apptest.Writers[who])
		a, err := o.Assess.Day(c, day)
		require.NoError(t, err)
		return c, a
	}
	c, _ := as("lead")
	keep := func(name, body string) error {
		_, err := o.Attach.Keep(c, record.Issues, "A1", "I1", name, strings.NewReader(body), day)
		return err
	}
	text := "levels of the lane, 7.25 m"
	require.NoError(t, keep(`C:\papers\..\lane "1".txt`, text))
	for name, body := range map[string]string{"page.html": "x", "a.svg": "<svg/>", "none.txt": "", "noend": "x", "x.exe": "MZ",
		"page.txt": "<!doctype html><p>hi", "draw.png": `<svg onload="x()">`, "s.csv": "a,<SCRIPT>x</SCRIPT>\n"} {
		require.Error(t, keep(name, body), name)
	}
	_, err := o.Attach.Keep(c, record.Issues, "A1", "I1", "big.zip", &zeros{attach.MaxSize + 1}, day)
	require.Error(t, err)
	_, err = o.Attach.Keep(c, record.Issues, "A1", "I1", "full.zip", &zeros{attach.MaxSize}, day)
	require.NoError(t, err, "as large as may be")
	for _, x := range [][2]string{{"A1", "I9"}, {"NONE", "I1"}} {
		_, err = o.Attach.Keep(c, record.Issues, x[0], x[1], "a.txt", strings.NewReader("x"), day)
		require.Error(t, err)
	}
	_, err = o.Attach.Keep(c, record.Issues, "B1", "I1", "a.txt", strings.NewReader("x"), day)
	require.ErrorIs(t, err, access.ErrForbidden)

	c, a := as("lead")
	list, err := o.Attach.List(c, a, record.Issues, "A1", "I1")
	require.NoError(t, err)
	require.Len(t, list, 2)
	sum := sha256.Sum256([]byte(text))
	assert.Equal(t, attach.File{Kind: record.Issues, Code: "I1",
		Name: "lane 1.txt", Digest: hex.EncodeToString(sum[:]), Size: "26", Added: "2026-10-31", By: "Lea"},
		list[0])
	_, r, err := o.Attach.Open(c, a, record.Issues, "A1", "I1", list[0].Digest)
	require.NoError(t, err)
	var b bytes.Buffer
	_, err = b.ReadFrom(r)
	require.NoError(t, err)
	require.NoError(t, r.Close())
	assert.Equal(t, text, b.String())
	for _, digest := range []string{"", "../../x", strings.Repeat("0", 64)} {
		_, _, err = o.Attach.Open(c, a, record.Issues, "A1", "I1", digest)
		require.ErrorIs(t, err, fault.ErrNotFound, digest)
	}
	own, now := as("analyst")
	_, err = o.Attach.Keep(own, record.Issues, "B1", "I1", "b.txt", strings.NewReader("of B1"), day)
	require.NoError(t, err)
	other := sha256.Sum256([]byte("of B1"))
	_, _, err = o.Attach.Open(own, now, record.Issues, "A1", "I1", hex.EncodeToString(other[:]))
	require.ErrorIs(t, err, fault.ErrNotFound, "a file of another record")
	_, err = keeper.In(dir).Open("../../etc/passwd")
	require.ErrorIs(t, err, fault.ErrNotFound)
	kept := 0
	require.NoError(t, filepath.WalkDir(dir, func(_ string, e os.DirEntry, err error) error {
		if !e.IsDir() {
			kept++
		}
		return err
	}))
	assert.Equal(t, 3, kept, "what was refused leaves nothing")
}
