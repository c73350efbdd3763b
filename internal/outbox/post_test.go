package outbox_test

import (
	"context"
	"errors"
	"net"
	"os"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/letter"
	"turret/internal/outbox"
	"turret/internal/simulate"
)

var noon = time.Date(2026, 11, 3, 12, 0, 0, 0, time.UTC)

func put(t *testing.T, box outbox.Folder, to, subject string, at time.Time) {
	t.Helper()
	_, err := box.Put(letter.Message{To: to, Subject: subject, Text: "Dear all\n.\nend", At: at})
	require.NoError(t, err)
}

// posted is the simulated mail server, and a carrier to it.
func posted(t *testing.T) (*simulate.Mail, outbox.Server) {
	t.Helper()
	l, err := (&net.ListenConfig{}).Listen(t.Context(), "tcp", "127.0.0.1:0")
	require.NoError(t, err)
	m := &simulate.Mail{}
	go func() { _ = m.Serve(t.Context(), l) }()
	return m, outbox.Server{Addr: l.Addr().String()}
}

// Every letter is sent once, the oldest first, and a dot alone on a line does not end it.
func TestLettersAreSentOnce(t *testing.T) {
	box := outbox.In(t.TempDir(), "office@turret.example")
	put(t, box, "bob@example.org", "second", noon)
	put(t, box, "ann@example.org", "first", noon.Add(-time.Minute))
	m, by := posted(t)
	for range 2 {
		_, failed, err := box.Send(t.Context(), noon, by.Carry)
		require.NoError(t, err)
		assert.Zero(t, failed)
	}
	list := m.Letters()
	require.Len(t, list, 2)
	assert.Equal(t, []string{"from office@turret.example to ann@example.org: first",
		"from office@turret.example to bob@example.org: second"},
		[]string{list[0].String(), list[1].String()})
	assert.Contains(t, list[0].Text, "Dear all\n.\nend")
	told, err := box.List()
	require.NoError(t, err)
	require.Len(t, told, 2)
	assert.Equal(t, noon, told[0].Sent.UTC())
}

// One that is refused does not hold the others back; it is tried again after a minute, then two, and says why, until it is three days old.
func TestALetterThatCannotBeSentIsTriedAgain(t *testing.T) {
	box := outbox.In(t.TempDir(), "office@turret.example")
	put(t, box, "eve@later.example", "late", noon)
	put(t, box, "ann@example.org", "fine", noon)
	m, by := posted(t)
	try := func(after time.Duration) (sent, failed int) {
		sent, failed, err := box.Send(t.Context(), noon.Add(after), by.Carry)
		require.NoError(t, err)
		return sent, failed
	}
	for _, x := range []struct {
		after        time.Duration
		sent, failed int
	}{{0, 1, 1}, {59 * time.Second, 0, 0}, {time.Minute, 0, 1}, {2*time.Minute + 59*time.Second, 0, 0}, {3 * time.Minute, 0, 1},
		{outbox.MaxAge + time.Second, 0, 0}} {
		sent, failed := try(x.after)
		assert.Equal(t, []int{x.sent, x.failed}, []int{sent, failed}, x.after)
	}
	assert.Len(t, m.Letters(), 1)
	told, err := box.List()
	require.NoError(t, err)
	for _, x := range told {
		assert.Equal(t, x.To == "eve@later.example", x.Failed != "", x.To)
	}
}

// A try that failed while the clock was ahead is not waited for until then.
func TestATryOfAWrongClockIsNotWaitedFor(t *testing.T) {
	box := outbox.In(t.TempDir(), "office@turret.example")
	put(t, box, "eve@later.example", "late", noon)
	_, by := posted(t)
	for _, x := range []struct {
		at     time.Time
		failed int
	}{{noon.Add(24 * time.Hour), 1}, {noon.Add(24*time.Hour - time.Minute), 0}, {noon, 1}} {
		_, failed, err := box.Send(t.Context(), x.at, by.Carry)
		require.NoError(t, err)
		assert.Equal(t, x.failed, failed, x.at)
	}
}

// A letter older than three days was written before anybody sent, and is not sent unasked.
func TestOldLettersStay(t *testing.T) {
	box := outbox.In(t.TempDir(), "office@turret.example")
	put(t, box, "ann@example.org", "old", noon.Add(-outbox.MaxAge-time.Second))
	sent, failed, err := box.Send(t.Context(), noon, func(context.Context, string, []string, []byte) error {
		return errors.New("it was tried")
	})
	require.NoError(t, err)
	assert.Equal(t, []int{0, 0}, []int{sent, failed})
}

// A server that is not there, or does not answer, is an error of the letter; nothing is lost.
func TestAServerThatIsNotThere(t *testing.T) {
	dir := t.TempDir()
	box := outbox.In(dir, "office@turret.example")
	put(t, box, "ann@example.org", "x", noon)
	l, err := (&net.ListenConfig{}).Listen(t.Context(), "tcp", "127.0.0.1:0")
	require.NoError(t, err)
	gone := outbox.Server{Addr: l.Addr().String()}
	require.NoError(t, l.Close())
	sent, failed, err := box.Send(t.Context(), noon, gone.Carry)
	require.NoError(t, err)
	assert.Equal(t, []int{0, 1}, []int{sent, failed})
	require.NoError(t, os.RemoveAll(dir))
	sent, failed, err = box.Send(t.Context(), noon, gone.Carry)
	require.NoError(t, err)
	assert.Equal(t, []int{0, 0}, []int{sent, failed}, "an empty outbox")
}
