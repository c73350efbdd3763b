package outbox

import (
	"net/mail"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/fault"
	"turret/internal/app/letter"
)

func TestMessagesAreFilesThatMailProgramsRead(t *testing.T) {
	f := In(t.TempDir()+"/not there yet", "turret@localhost")
	list, err := f.List()
	require.NoError(t, err)
	assert.Empty(t, list)
	at := time.Date(2026, 11, 3, 8, 0, 0, 0, time.UTC)
	m := letter.Message{To: "yilmaz@ostrel.example", Subject: "Noch zu früh: 2 inputs", Text: "Dear A. Yılmaz,\n\nplease\n", At: at}
	one, err := f.Put(m)
	require.NoError(t, err)
	two, err := f.Put(m)
	require.NoError(t, err)
	assert.NotEqual(t, one, two, "nothing is written over")
	b, err := f.Open(one)
	require.NoError(t, err)
	msg, err := mail.ReadMessage(strings.NewReader(string(b)))
	require.NoError(t, err)
	to, err := msg.Header.AddressList("To")
	require.NoError(t, err)
	assert.Equal(t, "yilmaz@ostrel.example", to[0].Address)
	list, err = f.List()
	require.NoError(t, err)
	require.Len(t, list, 2)
	assert.Equal(t, m.Subject, list[0].Subject)
	assert.True(t, at.Equal(list[0].At))
	for _, bad := range []string{"../x.eml", "/etc/passwd", "x.txt", ""} {
		_, err := f.Open(bad)
		assert.ErrorIs(t, err, fault.ErrNotFound, bad)
	}
	_, err = f.Put(letter.Message{To: "no address\r\nBcc: x@y.example", At: at})
	assert.Error(t, err)
}
