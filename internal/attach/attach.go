// Package attach keeps the content of attached files, each once under its digest, below a folder beside the file of the office.
package attach

import (
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"regexp"

	"turret/internal/app/attach"
	"turret/internal/app/fault"
)

// Folder keeps files below a folder, which is made when first needed. It implements Files of app/attach.
type Folder string

var _ attach.Files = Folder("")

// In is the keeper of files below a folder.
func In(dir string) Folder { return Folder(dir) }

// Put keeps what is read, up to a size in bytes, and returns its SHA-256 and size. What is larger is refused while it is read, and leaves
// nothing behind.
func (f Folder) Put(r io.Reader, most int64) (digest string, size int64, err error) {
	if err := os.MkdirAll(string(f), 0o700); err != nil {
		return "", 0, err
	}
	t, err := os.CreateTemp(string(f), "coming-*")
	if err != nil {
		return "", 0, err
	}
	defer func() { _ = os.Remove(t.Name()) }() // gone where it was put in its place
	h := sha256.New()
	size, err = io.Copy(io.MultiWriter(t, h), io.LimitReader(r, most+1))
	if err = errors.Join(err, t.Close()); err != nil {
		return "", 0, err
	}
	if size > most {
		return "", 0, fmt.Errorf("more than %d bytes: %w", most, fault.ErrTooLarge)
	}
	digest = hex.EncodeToString(h.Sum(nil))
	to := f.path(digest)
	if err := os.MkdirAll(filepath.Dir(to), 0o700); err != nil {
		return "", 0, err
	}
	return digest, size, os.Rename(t.Name(), to)
}

var digests = regexp.MustCompile(`^[0-9a-f]{64}$`)

func (f Folder) path(digest string) string { return filepath.Join(string(f), digest[:2], digest) }

// Open reads what is kept under a digest; what is not there is an error wrapping ErrNotFound.
func (f Folder) Open(digest string) (io.ReadCloser, error) {
	if !digests.MatchString(digest) {
		return nil, fmt.Errorf("file %q: %w", fault.Clip(digest, 70), fault.ErrNotFound)
	}
	r, err := os.Open(f.path(digest))
	if errors.Is(err, fs.ErrNotExist) {
		return nil, fmt.Errorf("file %s…: %w", digest[:12], fault.ErrNotFound)
	}
	return r, err
}

// CopyTo puts what is kept into another folder, where that lacks it. What is not what its digest says is an error that names it, after the
// rest was copied.
func (f Folder) CopyTo(to Folder) (copied int, err error) {
	var wrong error
	err = filepath.WalkDir(string(f), func(path string, e fs.DirEntry, err error) error {
		if errors.Is(err, fs.ErrNotExist) && path == string(f) {
			return fs.SkipAll // nothing was ever attached
		}
		digest := filepath.Base(path)
		if err != nil || e.IsDir() || !digests.MatchString(digest) {
			return err
		}
		if _, err := os.Stat(to.path(digest)); err == nil {
			return nil
		}
		if is, err := sum(path); err != nil || is != digest {
			wrong = errors.Join(wrong, err, fmt.Errorf("attached file %s… is not what its digest says, and was left out", digest[:12]))
			return nil
		}
		in, err := os.Open(path)
		if err != nil {
			return err
		}
		_, _, err = to.Put(in, 1<<62)
		copied++
		return errors.Join(err, in.Close())
	})
	return copied, errors.Join(err, wrong)
}

// sum is the SHA-256 of a file.
func sum(path string) (string, error) {
	f, err := os.Open(path)
	if err != nil {
		return "", err
	}
	h := sha256.New()
	_, err = io.Copy(h, f)
	return hex.EncodeToString(h.Sum(nil)), errors.Join(err, f.Close())
}
