package outbox

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/mail"
	"os"
	"path/filepath"
	"time"
)

// Carrier takes a message from an address to others: it was delivered, or the error says why not.
type Carrier func(ctx context.Context, from string, to []string, message []byte) error

// Post is what became of sending a message.
type Post struct {
	Sent   time.Time `json:"sent"`
	Tries  int       `json:"tries,omitempty"`
	Failed string    `json:"failed,omitempty"` // why the last try was in vain
	Next   time.Time `json:"next"`             // when it is tried again
}

// Bounds of sending. What is older was written before anybody sent, or could not be sent for days: it stays as a file.
const (
	MaxAge   = 3 * 24 * time.Hour
	maxDelay = 6 * time.Hour
)

// Send gives every message that was not sent yet to a carrier, the oldest first, and keeps what became of each beside it, so that none is
// sent twice. One that fails is tried again later, first after a minute, then after twice as long each time. It returns how many were sent
// and how many failed; the error is that of the folder.
func (f Folder) Send(ctx context.Context, now time.Time, carry Carrier) (sent, failed int, err error) {
	list, err := f.List()
	if err != nil {
		return 0, 0, err
	}
	for i := len(list) - 1; i >= 0 && ctx.Err() == nil; i-- {
		name := list[i].File
		post, err := f.post(name)
		if err != nil {
			return sent, failed, err
		}
		if !post.Sent.IsZero() || post.waits(now) || now.Sub(list[i].At) > MaxAge {
			continue
		}
		if post.try(f.carry(ctx, name, carry), now); post.Failed == "" {
			sent++
		} else {
			failed++
		}
		if err := f.keepPost(name, post); err != nil {
			return sent, failed, err
		}
	}
	return sent, failed, ctx.Err()
}

// waits reports whether the next try is still to come. One further away than a try can be was set while the clock was ahead.
func (p *Post) waits(now time.Time) bool { return now.Before(p.Next) && p.Next.Sub(now) <= maxDelay }

func (p *Post) try(err error, now time.Time) {
	p.Tries++
	if err == nil {
		p.Sent, p.Failed, p.Next = now, "", time.Time{}
		return
	}
	p.Failed, p.Next = err.Error(), now.Add(min(maxDelay, time.Minute<<min(p.Tries-1, 12)))
}

// carry gives one message to a carrier, with the addresses that its head names.
func (f Folder) carry(ctx context.Context, name string, carry Carrier) error {
	b, err := f.Open(name)
	if err != nil {
		return err
	}
	msg, err := mail.ReadMessage(bytes.NewReader(b))
	if err != nil {
		return err
	}
	from, err := mail.ParseAddress(msg.Header.Get("From"))
	if err != nil {
		return fmt.Errorf("from %q: %w", msg.Header.Get("From"), err)
	}
	list, err := msg.Header.AddressList("To")
	if err != nil {
		return fmt.Errorf("to %q: %w", msg.Header.Get("To"), err)
	}
	to := make([]string, len(list))
	for i, a := range list {
		to[i] = a.Address
	}
	return carry(ctx, from.Address, to, b)
}

func (f Folder) postPath(name string) string { return filepath.Join(f.dir, name+".post") }

// post is what became of a message so far.
func (f Folder) post(name string) (Post, error) {
	var p Post
	b, err := os.ReadFile(f.postPath(name))
	if errors.Is(err, os.ErrNotExist) {
		return p, nil
	}
	if err == nil {
		err = json.Unmarshal(b, &p)
	}
	return p, err
}

func (f Folder) keepPost(name string, p Post) error {
	b, err := json.Marshal(p)
	if err != nil {
		return err
	}
	part := f.postPath(name) + ".new"
	return errors.Join(os.WriteFile(part, b, 0o600), os.Rename(part, f.postPath(name)))
}
