package outbox

import (
	"context"
	"crypto/tls"
	"errors"
	"net"
	"net/smtp"
	"time"
)

// Server is a mail server that takes messages by SMTP (RFC 5321).
type Server struct {
	Addr           string // host:port
	User, Password string // empty where it asks for none
}

// patience is how long one message may take.
const patience = time.Minute

// Carry gives a message to the server, encrypted where the server offers that. A password is never sent in the clear but to this machine.
func (s Server) Carry(ctx context.Context, from string, to []string, message []byte) error {
	host, _, err := net.SplitHostPort(s.Addr)
	if err != nil {
		return err
	}
	dialer := &net.Dialer{Timeout: 20 * time.Second}
	conn, err := dialer.DialContext(ctx, "tcp", s.Addr)
	if err != nil {
		return err
	}
	defer conn.Close()
	ctx, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	defer context.AfterFunc(ctx, func() { _ = conn.Close() })()
	c, err := smtp.NewClient(conn, host)
	if err != nil {
		return err
	}
	defer c.Close()
	if ok, _ := c.Extension("STARTTLS"); ok {
		if err := c.StartTLS(&tls.Config{ServerName: host, MinVersion: tls.VersionTLS12}); err != nil {
			return err
		}
	}
	if s.User != "" {
		if err := c.Auth(smtp.PlainAuth("", s.User, s.Password, host)); err != nil {
			return err
		}
	}
	return errors.Join(give(c, from, to, message), c.Quit())
}

func give(c *smtp.Client, from string, to []string, message []byte) error {
	if err := c.Mail(from); err != nil {
		return err
	}
	for _, a := range to {
		if err := c.Rcpt(a); err != nil {
			return err
		}
	}
	w, err := c.Data()
	if err != nil {
		return err
	}
	_, err = w.Write(message)
	return errors.Join(err, w.Close())
}
