// Package outbox writes messages as files (RFC 5322, .eml) into a folder, for a mail system to fetch.
package outbox

import (
	"bytes"
	"crypto/sha256"
	"errors"
	"fmt"
	"mime"
	"net/mail"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"time"

	"turret/internal/app/letter"

	gomail "github.com/wneessen/go-mail"

	"turret/internal/app/fault"
)

// Folder is an outbox. It implements letter.Outbox.
type Folder struct{ dir, from string }

var _ letter.Outbox = Folder{}

// In makes an outbox in a folder, which is made when first needed; from is the sender's address.
func In(dir, from string) Folder { return Folder{dir, from} }

// by is the head that says who had a message written.
const by gomail.Header = "X-Turret-By"

var decoder mime.WordDecoder

var unsafe = regexp.MustCompile(`[^a-zA-Z0-9@._-]+`)

// Put writes a message and returns the name of its file.
func (f Folder) Put(m letter.Message) (string, error) {
	msg := gomail.NewMsg()
	if err := errors.Join(msg.From(f.from), msg.To(m.To)); err != nil {
		return "", err
	}
	msg.Subject(m.Subject)
	msg.SetDateWithValue(m.At)
	msg.SetMessageID()
	if m.By != "" {
		msg.SetGenHeader(by, m.By)
	}
	msg.SetBodyString(gomail.TypeTextPlain, m.Text)
	for _, a := range m.Attached {
		if err := msg.AttachReader(a.Name, bytes.NewReader(a.Bytes), gomail.WithFileContentType(gomail.ContentType(a.Media))); err != nil {
			return "", err
		}
	}
	if err := os.MkdirAll(f.dir, 0o700); err != nil {
		return "", err
	}
	var b bytes.Buffer
	if _, err := msg.WriteTo(&b); err != nil {
		return "", err
	}
	stem := m.At.UTC().Format("20060102T150405") + "-" + unsafe.ReplaceAllString(m.To, "-")
	for n := 0; ; n++ {
		name := fmt.Sprintf("%s-%02d.eml", stem, n)
		err := f.write(name, b.Bytes())
		if errors.Is(err, os.ErrExist) && n < 99 {
			continue
		}
		return name, err
	}
}

// write makes a file whole or not at all, and never over another.
func (f Folder) write(name string, b []byte) error {
	part, err := os.CreateTemp(f.dir, "part-*")
	if err != nil {
		return err
	}
	defer os.Remove(part.Name())
	_, err = part.Write(b)
	if err = errors.Join(err, part.Sync(), part.Close()); err != nil {
		return err
	}
	return os.Link(part.Name(), filepath.Join(f.dir, name))
}

// List reads the heads of all messages, newest first.
func (f Folder) List() ([]letter.Message, error) {
	entries, err := os.ReadDir(f.dir)
	if errors.Is(err, os.ErrNotExist) {
		return nil, nil
	}
	var list []letter.Message
	for _, e := range entries {
		if filepath.Ext(e.Name()) != ".eml" {
			continue
		}
		m, err := f.head(e.Name())
		if err != nil { // of this one: the others can be read
			m = letter.Message{File: e.Name(), Subject: "cannot be read: " + err.Error()}
		}
		list = append(list, m)
	}
	slices.Reverse(list)
	return list, err
}

func (f Folder) head(name string) (letter.Message, error) {
	in, err := os.Open(filepath.Join(f.dir, name))
	if err != nil {
		return letter.Message{}, err
	}
	defer in.Close()
	msg, err := mail.ReadMessage(in)
	if err != nil {
		return letter.Message{}, err
	}
	m := letter.Message{File: name, To: msg.Header.Get("To"), Subject: msg.Header.Get("Subject"), By: msg.Header.Get(string(by))}
	if to, err := msg.Header.AddressList("To"); err == nil && len(to) > 0 {
		m.To = to[0].Address
	}
	if s, err := decoder.DecodeHeader(m.Subject); err == nil {
		m.Subject = s
	}
	at, err := msg.Header.Date()
	if err != nil {
		at = time.Time{}
	}
	m.At = at
	post, err := f.post(name)
	m.Sent, m.Failed = post.Sent, post.Failed
	return m, err
}

// Open reads a message as it was written.
func (f Folder) Open(name string) ([]byte, error) {
	if filepath.Base(name) != name || filepath.Ext(name) != ".eml" {
		return nil, fmt.Errorf("message: %w", fault.ErrNotFound)
	}
	b, err := os.ReadFile(filepath.Join(f.dir, name))
	if errors.Is(err, os.ErrNotExist) {
		err = fmt.Errorf("message: %w", fault.ErrNotFound)
	}
	return b, err
}

// keptName is what Keep names files.
var keptName = regexp.MustCompile(`^[0-9a-f]{64}\.[a-z]{3,4}$`)

// Keep keeps a file under the digest of its content, so that the same is kept once, and returns its name.
func (f Folder) Keep(ending string, b []byte) (string, error) {
	name := fmt.Sprintf("%x%s", sha256.Sum256(b), ending)
	if !keptName.MatchString(name) {
		return "", fmt.Errorf("ending %q of a file to keep", ending)
	}
	dir := filepath.Join(f.dir, "files")
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return "", err
	}
	if _, err := os.Stat(filepath.Join(dir, name)); err == nil {
		return name, nil
	}
	part, err := os.CreateTemp(dir, "part-*")
	if err != nil {
		return "", err
	}
	_, err = part.Write(b)
	if err = errors.Join(err, part.Close()); err == nil {
		err = os.Rename(part.Name(), filepath.Join(dir, name))
	}
	if err != nil {
		return "", errors.Join(err, os.Remove(part.Name()))
	}
	return name, nil
}

// Kept reads a file that was kept.
func (f Folder) Kept(name string) ([]byte, error) {
	if !keptName.MatchString(name) {
		return nil, fmt.Errorf("file: %w", fault.ErrNotFound)
	}
	b, err := os.ReadFile(filepath.Join(f.dir, "files", name))
	if errors.Is(err, os.ErrNotExist) {
		err = fmt.Errorf("file: %w", fault.ErrNotFound)
	}
	return b, err
}
