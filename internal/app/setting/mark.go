package setting

import (
	"bytes"
	"context"
	"fmt"
	"image"

	_ "image/jpeg"

	_ "image/png"
	"io"
	"time"

	"turret/internal/app/access"
	"turret/internal/app/fault"
)

// Mark is the organisation's picture on covers.
type Mark struct {
	Type          string // png or jpeg
	Bytes         []byte `json:"-"`
	Width, Height int
	Who           string
	At            time.Time
}

// Bounds of a mark.
const (
	MaxMark     = 512 << 10
	maxMarkSide = 4000
)

// Mark is the organisation's picture; nil where it has none.
func (o *Office) Mark(ctx context.Context) (*Mark, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	return o.store.Mark(ctx)
}

// SaveMark takes a picture as the organisation's mark. What is no picture, or too large a one, is a FieldError that says so.
func (o *Office) SaveMark(ctx context.Context, name string, body io.Reader) error {
	actor, err := access.PermitWhole(ctx, access.Publish)
	if err != nil {
		return err
	}
	b, err := io.ReadAll(io.LimitReader(body, MaxMark+1))
	if err != nil {
		return err
	}
	m, err := ParseMark(name, b)
	if err != nil {
		return err
	}
	m.Who, m.At = actor.Name, o.now()
	return o.store.SaveMark(ctx, m, o.audit.Entry(ctx, "mark", "organisation", "", fmt.Sprintf("%s, %d × %d", fault.Clip(name, 80), m.Width,
		m.Height)))
}

// EndMark takes the mark off the covers.
func (o *Office) EndMark(ctx context.Context) error {
	actor, err := access.PermitWhole(ctx, access.Publish)
	if err != nil {
		return err
	}
	return o.store.SaveMark(ctx, &Mark{Who: actor.Name, At: o.now()}, o.audit.Entry(ctx, "mark", "organisation", "", "none"))
}

// ParseMark reads a picture in full, so that one which is cut off is refused here and not when a report is printed.
func ParseMark(name string, b []byte) (*Mark, error) {
	bad := func(expected string) error { return fault.Field("mark", fault.Clip(name, 80), expected) }
	if len(b) > MaxMark {
		return nil, bad("a picture of at most 512 kB")
	}
	c, kind, err := image.DecodeConfig(bytes.NewReader(b))
	if err != nil {
		return nil, bad("a picture as PNG or JPEG; this file is neither")
	}
	if c.Width > maxMarkSide || c.Height > maxMarkSide || c.Width < 1 || c.Height < 1 {
		return nil, bad(fmt.Sprintf("a picture of at most %d × %d; this one is %d × %d", maxMarkSide, maxMarkSide, c.Width, c.Height))
	}
	if _, _, err := image.Decode(bytes.NewReader(b)); err != nil {
		return nil, bad("a whole picture; this one cannot be read to its end (" + err.Error() + ")")
	}
	return &Mark{Type: kind, Bytes: b, Width: c.Width, Height: c.Height}, nil
}
