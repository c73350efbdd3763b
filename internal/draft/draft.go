// Package draft keeps files that were received but not loaded yet, each draft in a folder of its own.
//
// Files lie there under numbers, so that no name that came from outside is ever part of a path.
package draft

import (
	"crypto/rand"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"sync"
	"time"

	"turret/internal/app/draft"
	"turret/internal/app/fault"
)

// Limits of a draft.
const (
	MaxFile  = 100 << 20
	MaxDraft = 400 << 20
	MaxFiles = 100
)

// Folder keeps drafts below a folder. It implements Drafts of app/draft.
type Folder struct {
	dir string
	mu  sync.Mutex
}

var _ draft.Drafts = (*Folder)(nil)

// In makes a keeper of drafts below a folder and throws away those untouched for long. The folder is made when first needed.
func In(dir string, olderThan time.Time) *Folder {
	f := &Folder{dir: dir}
	entries, err := os.ReadDir(dir)
	if err != nil {
		return f
	}
	for _, e := range entries {
		if info, err := e.Info(); err == nil && info.ModTime().Before(olderThan) && id.MatchString(e.Name()) {
			_ = os.RemoveAll(filepath.Join(dir, e.Name()))
		}
	}
	return f
}

var id = regexp.MustCompile(`^[0-9a-f]{24}$`)

// New makes an empty draft.
func (f *Folder) New() (*draft.Draft, error) {
	b := make([]byte, 12)
	_, _ = rand.Read(b) // never fails
	d := &draft.Draft{ID: hex.EncodeToString(b)}
	return d, os.MkdirAll(filepath.Join(f.dir, d.ID), 0o700)
}

// Path is where a file of a draft lies.
func (f *Folder) Path(d *draft.Draft, file int) string {
	return filepath.Join(f.dir, d.ID, fmt.Sprintf("%03d", file))
}

// Add keeps a file while it is read and stops where it grows too large.
func (f *Folder) Add(d *draft.Draft, name string, r io.Reader) error {
	if len(d.Files) >= MaxFiles {
		return fmt.Errorf("%s: more than %d files at a time: %w", name, MaxFiles, fault.ErrTooLarge)
	}
	left := int64(MaxDraft)
	for _, had := range d.Files {
		left -= had.Size
	}
	out, err := os.OpenFile(f.Path(d, len(d.Files)), os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	most := min(MaxFile, left)
	n, err := io.Copy(out, io.LimitReader(r, most+1))
	if err = errors.Join(err, out.Close()); err != nil {
		return err
	}
	name = clean(name)
	if n > most {
		return fmt.Errorf("the file %s is more than %d MB, or all together more than %d MB: %w", name, MaxFile>>20, MaxDraft>>20,
			fault.ErrTooLarge)
	}
	for taken(d, name) {
		name = "again " + name
	}
	d.Files = append(d.Files, draft.File{Name: name, Size: n})
	return nil
}

func taken(d *draft.Draft, name string) bool {
	for _, f := range d.Files {
		if f.Name == name {
			return true
		}
	}
	return false
}

// clean is the last part of a name as sent, fit to be shown.
func clean(name string) string {
	name = filepath.Base(strings.ReplaceAll(strings.ToValidUTF8(name, ""), `\`, "/"))
	name = strings.Map(func(r rune) rune {
		if r < ' ' || r == 0x7f {
			return -1
		}
		return r
	}, name)
	if name == "" || name == "." || name == ".." || name == "/" {
		return "file"
	}
	return fault.Clip(name, 150)
}

// Save writes a draft down, whole or not at all.
func (f *Folder) Save(d *draft.Draft) error {
	b, err := json.Marshal(d)
	if err != nil {
		return err
	}
	f.mu.Lock()
	defer f.mu.Unlock()
	at := filepath.Join(f.dir, d.ID, "draft.json")
	if err := os.WriteFile(at+".new", b, 0o600); err != nil {
		return err
	}
	return os.Rename(at+".new", at)
}

// Get reads a draft.
func (f *Folder) Get(name string) (*draft.Draft, error) {
	if !id.MatchString(name) {
		return nil, fmt.Errorf("draft: %w", fault.ErrNotFound)
	}
	b, err := os.ReadFile(filepath.Join(f.dir, name, "draft.json"))
	if errors.Is(err, os.ErrNotExist) {
		return nil, fmt.Errorf("draft: %w", fault.ErrNotFound)
	}
	if err != nil {
		return nil, err
	}
	d := &draft.Draft{}
	return d, json.Unmarshal(b, d)
}

// List reads all drafts.
func (f *Folder) List() ([]*draft.Draft, error) {
	entries, err := os.ReadDir(f.dir)
	if errors.Is(err, os.ErrNotExist) {
		return nil, nil
	}
	var list []*draft.Draft
	for _, e := range entries {
		d, err := f.Get(e.Name())
		if errors.Is(err, fault.ErrNotFound) {
			continue
		}
		if err != nil {
			return nil, err
		}
		list = append(list, d)
	}
	return list, err
}

// Discard throws a draft away.
func (f *Folder) Discard(name string) error {
	if !id.MatchString(name) {
		return fmt.Errorf("draft: %w", fault.ErrNotFound)
	}
	return os.RemoveAll(filepath.Join(f.dir, name))
}
