package simulate

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"net"
	"net/textproto"
	"strings"
	"sync"
	"time"
)

// Letter is a message that the simulated mail server took.
type Letter struct {
	From string
	To   []string
	Text string
}

// Mail is a mail server on this machine that takes every message (RFC 5321, as little of it as a client needs) and sends none on. Addresses
// at refuse.example are refused, those at later.example only for the time being.
type Mail struct {
	Took func(Letter) // called for each; may be nil

	mu   sync.Mutex
	list []Letter
}

// Letters are those taken so far.
func (m *Mail) Letters() []Letter {
	m.mu.Lock()
	defer m.mu.Unlock()
	return append([]Letter(nil), m.list...)
}

// Serve takes messages until ctx ends.
func (m *Mail) Serve(ctx context.Context, l net.Listener) error {
	stop := context.AfterFunc(ctx, func() { _ = l.Close() })
	defer stop()
	for {
		conn, err := l.Accept()
		if errors.Is(err, net.ErrClosed) {
			return nil
		}
		if err != nil {
			return err
		}
		go func() {
			defer conn.Close()
			patience, done := context.WithTimeout(ctx, time.Minute)
			defer done()
			defer context.AfterFunc(patience, func() { _ = conn.Close() })()
			m.talk(textproto.NewConn(conn))
		}()
	}
}

// talk answers one client until it quits or goes away.
func (m *Mail) talk(c *textproto.Conn) {
	say := func(text string) bool { return c.PrintfLine("%s", text) == nil }
	var letter Letter
	for ok := say("220 simulated mail server"); ok; {
		line, err := c.ReadLine()
		if err != nil {
			return
		}
		verb, rest, _ := strings.Cut(line, " ")
		switch strings.ToUpper(verb) {
		case "EHLO", "HELO":
			ok = say("250 at your service")
		case "MAIL":
			letter = Letter{From: address(rest)}
			ok = say("250 go on")
		case "RCPT":
			ok = say(letter.addressed(address(rest)))
		case "DATA":
			if len(letter.To) == 0 {
				ok = say("503 nobody to give it to")
				continue
			}
			if ok = say("354 end it with a dot"); ok {
				ok = m.take(c, letter) == nil && say("250 taken")
			}
		case "QUIT":
			say("221 good-bye")
			return
		default:
			ok = say("502 not known here")
		}
	}
}

func (l *Letter) addressed(to string) string {
	switch {
	case strings.HasSuffix(to, "@refuse.example"):
		return "550 nobody of that name"
	case strings.HasSuffix(to, "@later.example"):
		return "451 come again later"
	}
	l.To = append(l.To, to)
	return "250 go on"
}

func (m *Mail) take(c *textproto.Conn, l Letter) error {
	b, err := c.ReadDotBytes()
	if err != nil {
		return err
	}
	l.Text = string(b)
	m.mu.Lock()
	m.list = append(m.list, l)
	m.mu.Unlock()
	if m.Took != nil {
		m.Took(l)
	}
	return nil
}

// address is what stands between the brackets.
func address(text string) string {
	_, text, _ = strings.Cut(text, "<")
	text, _, _ = strings.Cut(text, ">")
	return text
}

// String tells a letter on one line.
func (l Letter) String() string {
	subject := ""
	for s := bufio.NewScanner(strings.NewReader(l.Text)); s.Scan() && s.Text() != ""; {
		if after, ok := strings.CutPrefix(s.Text(), "Subject: "); ok {
			subject = after
		}
	}
	return fmt.Sprintf("from %s to %s: %s", l.From, strings.Join(l.To, ", "), subject)
}
