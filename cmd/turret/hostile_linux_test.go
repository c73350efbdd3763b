package main

import (
	"turret/internal/app/condition"
	appdraft "turret/internal/app/draft"
	"turret/internal/demotest"

	"archive/zip"
	"bytes"
	"context"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/fault"
	appfeed "turret/internal/app/feed"
	"turret/internal/app/setting"
	"turret/internal/core/calendar"
	"turret/internal/draft"
	"turret/internal/feed"
	"turret/internal/ingest"
	"turret/internal/store"
)

const inChild = "TURRET_TEST_CHILD"

// What others send, write and answer is taken or refused in four gigabytes of address space, one after another in one process: running
// out of it would end the process.
func TestHostileInputInFourGigabytes(t *testing.T) {
	if os.Getenv(inChild) == "" {
		c := exec.CommandContext(t.Context(), os.Args[0], "-test.run=^TestHostileInputInFourGigabytes$", "-test.timeout=5m")
		c.Env = append(os.Environ(), inChild+"=1")
		out, err := c.CombinedOutput()
		require.NoError(t, err, string(out[max(0, len(out)-3000):]))
		return
	}
	limit := uint64(4 << 30)
	require.NoError(t, syscall.Setrlimit(syscall.RLIMIT_AS, &syscall.Rlimit{Cur: limit, Max: limit}))
	h := newHostile(t)
	for name, file := range hostileFiles(t) {
		h.send(name, file)
	}
	for _, text := range hostileConditions() {
		_, err := h.office.Assess.Day(h.ctx, h.day)
		require.NoError(t, err)
		err = h.office.Judge.SaveCheck(h.ctx, condition.OwnCheck{ID: "own", Name: "Own", Severity: "warning", On: "project",
			Expression: text})
		var field *fault.FieldError
		assert.ErrorAs(t, err, &field, fault.Clip(text, 40))
	}
	h.feeds()
}

type hostile struct {
	t      *testing.T
	ctx    context.Context
	office *app.Office
	day    calendar.Date
}

func newHostile(t *testing.T) *hostile {
	t.Helper()
	dir := t.TempDir()
	s, err := store.Create(t.Context(), filepath.Join(dir, "x.db"), "EUR")
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	h := &hostile{t: t, day: calendar.On(2026, 10, 31),
		ctx: access.As(context.Background(), &access.Actor{Account: 1, Login: "ana", Name: "Ana", Role: access.Administrator}),
		office: app.NewOffice(s, demotest.Now, app.Parts{Reader: ingest.Reader{},
			Drafts: draft.In(filepath.Join(dir, "drafts"), time.Time{})})}
	h.send("structure.csv", []byte("code,name,level\nPF,Portfolio,portfolio\n"))
	return h
}

// send has a file looked at, as far as it can be, and its consequences told.
func (h *hostile) send(name string, content []byte) {
	h.t.Helper()
	sent := false
	d, err := h.office.Draft.Receive(h.ctx, "", calendar.Months.Of(h.day), func() (*appdraft.Upload, error) {
		if sent {
			return nil, io.EOF
		}
		sent = true
		return &appdraft.Upload{Name: name, Body: bytes.NewReader(content)}, nil
	})
	require.NoError(h.t, err, name)
	_, c, err := h.office.Draft.Preview(h.ctx, d.ID, h.day)
	require.NoError(h.t, err, name)
	if name != "structure.csv" {
		told := len(c.Problems) > 0
		for _, s := range d.Sheets {
			told = told || s.Sheet.Problem != nil || s.Sheet.Mapping.Kind == "" || s.Sheet.Mapping.Skip
		}
		assert.True(h.t, told, "%s: what is wrong with it is told", name)
	}
	require.NoError(h.t, h.office.Draft.Discard(h.ctx, d.ID))
}

func zipped(t *testing.T, members map[string]io.Reader) []byte {
	t.Helper()
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for name, content := range members {
		m, err := z.Create(name)
		require.NoError(t, err)
		_, err = io.Copy(m, content)
		require.NoError(t, err)
	}
	require.NoError(t, z.Close())
	return b.Bytes()
}

// again is a text n times, without holding it.
func again(text string, n int) io.Reader {
	list := make([]io.Reader, n)
	for i := range list {
		list[i] = strings.NewReader(text)
	}
	return io.MultiReader(list...)
}

func hostileFiles(t *testing.T) map[string][]byte {
	t.Helper()
	var arrays strings.Builder
	for i := range 1000 {
		fmt.Fprintf(&arrays, `%s"a%d":[{"code":"A"}]`, map[bool]string{true: ",", false: ""}[i > 0], i)
	}
	const types = `<?xml version="1.0"?><Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"></Types>`
	mega := strings.Repeat("x", 1<<20)
	bomb := map[string]io.Reader{}
	for i := range 10 {
		bomb[fmt.Sprintf("f%d.csv", i)] = again(mega, 90)
	}
	return map[string][]byte{
		"arrays.json":  []byte("{" + arrays.String() + "}"),
		"heads.csv":    []byte(strings.Repeat(",", 250_000) + "x\n1\n"),
		"named.csv":    []byte(strings.Repeat("head,", 250_000) + "x\n1\n"),
		"deep.json":    []byte(strings.Repeat(`[`, 1_000_000)),
		"members.json": []byte(`[{` + strings.Repeat(`"a":1,`, 1_000_000) + `"b":2}]`),
		"bomb.zip":     zipped(t, bomb),
		"line.zip":     zipped(t, map[string]io.Reader{"status.csv": again(mega, 90)}),
		"texts.xlsx": zipped(t, map[string]io.Reader{"[Content_Types].xml": strings.NewReader(types),
			"xl/workbook.xml": strings.NewReader(types), "xl/sharedStrings.xml": again("<si><t>text</t></si>", 6<<20)}),
		"quote.csv":      append([]byte("code,name\n\""), bytes.Repeat([]byte("a\n"), 20<<20)...),
		"separators.csv": bytes.Repeat([]byte(","), 50<<20),
	}
}

func hostileConditions() []string {
	var grow strings.Builder
	grow.WriteString("let v0=code; ")
	for i := range 25 {
		fmt.Fprintf(&grow, "let v%d=v%d+v%d; ", i+1, i, i)
	}
	return []string{grow.String() + "v25 == code", "1 in 1..1000000000", "len(1..1000000000) > 0", `name matches "` +
		strings.Repeat("(x{99}", 30) + strings.Repeat(")", 30) + `"`,
		"[" + strings.Repeat("code,", 300) + "code] == [code]"}
}

// feeds asks systems that answer without an end.
func (h *hostile) feeds() {
	h.t.Helper()
	n := 0
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		n++
		_, _ = fmt.Fprintf(w, `{"postings": [], "items": [], "projects": [], "next": %d, "more": true, "filler": "`, n)
		_, _ = io.Copy(w, again(strings.Repeat("x", 1<<20), 40))
	}))
	defer server.Close()
	client := &feed.Client{Typed: ingest.Reader{}.Typed, HTTP: server.Client(), Wait: time.Millisecond}
	for _, kind := range appfeed.Kinds() {
		_, err := client.Pull(h.ctx, setting.FeedSetting{Name: kind, Kind: kind, Address: server.URL}, "")
		assert.Error(h.t, err, kind)
	}
}
