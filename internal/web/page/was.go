package page

import (
	"encoding/json"
	"net/url"

	"github.com/gofiber/fiber/v3"
)

// Was is what the fields of a form showed when it was made, by their names. A form that edits what exists carries it by the template "was",
// so that what somebody else changed meanwhile is told instead of overwritten (edit.Meanwhile).
type Was map[string]string

// Text is how a form carries it.
func (w Was) Text() (string, error) {
	b, err := json.Marshal(w)
	return string(b), err
}

// Typed are the fields that somebody changed, which is what a form keeps that is shown again: the others show what stands by now.
func (w Was) Typed(sent map[string]string) map[string]string {
	typed := map[string]string{}
	for name, value := range sent {
		if from, known := w[name]; !known || value != from {
			typed[name] = value
		}
	}
	return typed
}

// WasOf is what a form that was sent carries; nil where it carries nothing.
func WasOf(q url.Values) (Was, error) {
	text := q.Get("was")
	if text == "" {
		return nil, nil
	}
	var w Was
	if err := json.Unmarshal([]byte(text), &w); err != nil {
		return nil, fiber.NewError(fiber.StatusBadRequest, "The form cannot be read: what it was made from is damaged. Reload the page.")
	}
	return w, nil
}
