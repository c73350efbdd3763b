package page

import (
	"bytes"
	"errors"
	"fmt"
	"io"
	"mime"
	"mime/multipart"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/publish"
)

// MultipartOf reads the parts of a form with files as they come.
func MultipartOf(c fiber.Ctx) (*multipart.Reader, error) {
	kind, params, err := mime.ParseMediaType(c.Get(fiber.HeaderContentType))
	if err != nil || kind != fiber.MIMEMultipartForm || params["boundary"] == "" {
		return nil, fiber.NewError(fiber.StatusUnsupportedMediaType, "A form with files was expected.")
	}
	if body := c.Request().BodyStream(); body != nil {
		return multipart.NewReader(body, params["boundary"]), nil
	}
	return multipart.NewReader(bytes.NewReader(c.Request().Body()), params["boundary"]), nil
}

// OneFile walks through a form that brings a token and then one file, and passes that on.
func (s *Server) OneFile(c fiber.Ctx, take func(name string, body io.Reader) error) error {
	if VisitOf(c) == nil {
		return access.ErrSignedOut
	}
	form, err := MultipartOf(c)
	if err != nil {
		return err
	}
	ok := s.TokenFits(c, "")
	for {
		p, err := form.NextPart()
		if errors.Is(err, io.EOF) {
			return nil
		}
		if err != nil {
			return fiber.NewError(fiber.StatusBadRequest, "The form did not arrive whole.")
		}
		switch {
		case p.FormName() == "_csrf":
			b, err := io.ReadAll(io.LimitReader(p, 1<<10))
			if err != nil {
				return err
			}
			ok = ok || s.TokenFits(c, string(b))
		case p.FormName() == "file" && p.FileName() != "":
			if !ok {
				return Stale()
			}
			return take(p.FileName(), p)
		}
	}
}

// Answered answers a form: where it was taken with the address to go on to, and where it was refused for what it holds with the page
// again,
// which tells why and keeps what was typed.
func Answered(c fiber.Ctx, err error, to string, again func(refused error) error) error {
	if err == nil {
		return Go(c, to)
	}
	if refused := Refused(err); refused != nil {
		return again(refused)
	}
	return err
}

// Refused is the part of an error that tells what is wrong with a form, or why what it asks for cannot be now; nil where it is of another
// kind.
func Refused(err error) error {
	var edit *edit.Error
	var field *fault.FieldError
	var state *fault.StateError
	var stands *publish.ObstacleError
	switch {
	case errors.As(err, &edit):
		return edit
	case errors.As(err, &field):
		return field
	case errors.As(err, &state):
		return state
	case errors.As(err, &stands):
		return stands
	case errors.Is(err, fault.ErrRefused), errors.Is(err, fault.ErrPinned), errors.Is(err, fault.ErrNeeded):
		return err
	}
	return nil
}

// Choose is a choice among pairs of a value and its words.
func Choose(label, name, now string, pairs ...string) Picker {
	p := Picker{Label: label, Name: name}
	for i := 0; i+1 < len(pairs); i += 2 {
		p.Options = append(p.Options, Option{pairs[i], pairs[i+1], pairs[i] == now})
	}
	return p
}

// EditText says what an edit met: what others changed meanwhile, and what cannot be taken.
func EditText(e *edit.Error) string {
	text := Sentence(e.Error())
	for _, k := range e.Clashes {
		text += fmt.Sprintf(" %s: yours “%s”, theirs “%s”.", k.Column, fault.Clip(k.Yours, 200), fault.Clip(k.Theirs, 200))
	}
	for _, p := range e.Problems {
		text += fmt.Sprintf(" %s “%s”: expected %s.", p.Column, fault.Clip(p.Value, 60), p.Expected)
	}
	return text
}

// RefusedText says what is wrong with a form, each cell by its column.
func RefusedText(err error) string {
	var e *edit.Error
	if errors.As(err, &e) {
		return EditText(e)
	}
	return Sentence(err.Error())
}
