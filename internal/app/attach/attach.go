// Package attach is the door to files attached to records.
package attach

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"path"
	"slices"
	"strconv"
	"strings"
	"unicode"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/records"
	"turret/internal/app/register"
	"turret/internal/core/calendar"
	"turret/internal/record"
)

// Files keep the content of files under its digest.
type Files interface {
	// Put keeps what is read up to a size in bytes; what is larger is an error wrapping ErrTooLarge.
	Put(r io.Reader, most int64) (digest string, size int64, err error)
	Open(digest string) (io.ReadCloser, error)
}

// Office is the door to attached files. It is safe for concurrent use.
type Office struct {
	files    Files
	register *register.Office
	records  *records.Office
}

// NewOffice makes the door to attached files; without files none can be attached.
func NewOffice(files Files, register *register.Office, records *records.Office) *Office {
	return &Office{files: files, register: register, records: records}
}

// MaxSize bounds an attached file, in bytes.
const MaxSize = 20 << 20

// Kinds are the endings of files that may be attached, which a browser only keeps.
var Kinds = []string{".pdf", ".png", ".jpg", ".jpeg", ".txt", ".csv", ".xlsx", ".docx", ".pptx", ".odt", ".ods", ".zip", ".eml", ".ics",
	".dwg", ".json"}

// Keep attaches a file to a record. A file that is too large, of another kind, or that holds a page in spite of its name is refused.
func (o *Office) Keep(ctx context.Context, kind record.Kind, holder, code, name string, body io.Reader,
	asOf calendar.Date) (*intake.Receipt, error) {
	actor, err := access.Permit(ctx, access.Send)
	if err != nil {
		return nil, err
	}
	if o.files == nil {
		return nil, fault.Conflict("files cannot be attached here: the office has no folder for them")
	}
	if !slices.Contains(record.Abouts, kind) {
		return nil, fmt.Errorf("attaching to %s: %w", fault.Clip(string(kind), 40), fault.ErrNotFound)
	}
	if err := o.register.Known(ctx, kind, holder, code); err != nil {
		return nil, err
	}
	name, ending := plainName(name)
	if !slices.Contains(Kinds, ending) {
		return nil, fault.Field("file", fault.Clip(name, 60), "a file that ends in one of "+strings.Join(Kinds, ", "))
	}
	head := make([]byte, 512)
	n, err := io.ReadFull(body, head)
	if err != nil && !errors.Is(err, io.ErrUnexpectedEOF) && !errors.Is(err, io.EOF) {
		return nil, err
	}
	if n == 0 {
		return nil, fault.Field("file", fault.Clip(name, 60), "a file that is not empty")
	}
	if holdsPage(head[:n]) {
		return nil, fault.Field("file", fault.Clip(name, 60), "no page or drawing that a browser would run, whatever its name")
	}
	digest, size, err := o.files.Put(io.MultiReader(bytes.NewReader(head[:n]), body), MaxSize)
	if errors.Is(err, fault.ErrTooLarge) {
		return nil, fault.Field("file", fault.Clip(name, 60), fmt.Sprintf("at most %d MB", MaxSize>>20))
	}
	if err != nil {
		return nil, err
	}
	_, r, err := o.register.Add(ctx, record.Attachments, holder, o.register.Attached(kind, code, map[string]string{"name": name,
		"digest": digest, "size": strconv.FormatInt(size, 10), "type": http.DetectContentType(head[:n]), "by": actor.Name}, asOf))
	return r, err
}

// plainName is the last part of a name without what no name should hold, and its ending in small letters.
func plainName(name string) (plain, ending string) {
	name = path.Base(strings.ReplaceAll(name, `\`, "/"))
	name = strings.Map(func(r rune) rune {
		if unicode.IsControl(r) || strings.ContainsRune(`"<>|:*?`, r) {
			return -1
		}
		return r
	}, name)
	if r := []rune(name); len(r) > 120 {
		name = string(r[len(r)-120:])
	}
	return name, strings.ToLower(path.Ext(name))
}

// holdsPage reports whether a file begins as a page or a drawing does that a browser would run.
func holdsPage(head []byte) bool {
	text := strings.ToLower(string(head))
	return strings.HasPrefix(http.DetectContentType(head), "text/html") || strings.Contains(text, "<svg") || strings.Contains(text,
		"<script") ||
		strings.Contains(text, "<html")
}

// File is what is attached to a record, which is told by its kind and code.
type File struct {
	Kind                                record.Kind
	Code, Name, Digest, Size, Added, By string
}

// List are the files attached to a record, as of the day of an assessment.
func (o *Office) List(ctx context.Context, a *assess.Assessment, kind record.Kind, holder, code string) ([]File, error) {
	list, err := o.All(ctx, a, holder)
	return slices.DeleteFunc(list, func(f File) bool { return f.Kind != kind || f.Code != code }), err
}

// All are the files attached to the records of a project or node, as of the day of an assessment.
func (o *Office) All(ctx context.Context, a *assess.Assessment, holder string) ([]File, error) {
	s, err := o.records.Of(ctx, a, holder, record.Attachments)
	if err != nil {
		return nil, err
	}
	var list []File
	for _, row := range s.Rows {
		of := func(name string) string { return row.Cells[s.Input.At(name)] }
		list = append(list, File{record.Kind(of("about")), of("code"), of("name"), of("digest"), of("size"), of("added"), of("by")})
	}
	return list, nil
}

// Open reads a file that is attached to a record of a project or node; one that is not, as of the day, is an error wrapping ErrNotFound.
func (o *Office) Open(ctx context.Context, a *assess.Assessment, kind record.Kind, holder, code, digest string) (File, io.ReadCloser,
	error) {
	list, err := o.List(ctx, a, kind, holder, code)
	if err != nil {
		return File{}, nil, err
	}
	i := slices.IndexFunc(list, func(f File) bool { return f.Digest == digest })
	if i < 0 || o.files == nil {
		return File{}, nil, fmt.Errorf("file of %s %s: %w", kind.Noun(1), fault.Clip(code, 40), fault.ErrNotFound)
	}
	r, err := o.files.Open(digest)
	return list[i], r, err
}
