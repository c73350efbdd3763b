package page

import (
	"errors"
	"path"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/assess"
)

// isPage reports whether an address is a page, and not a file or the API: a page may show the last complete figures while newer are
// computed, and says so.
func isPage(address string) bool {
	return path.Ext(address) == "" && !strings.HasPrefix(address, "/api/")
}

// newerView is the line over a page whose figures are not the newest.
type newerView struct {
	Check  string // asks whether newer ones are there; empty once that is known
	Show   string // the page with them
	Failed bool   // they could not be computed
}

// Newer answers a page that waits for newer figures than those of a head.
func (s *Server) Newer(c fiber.Ctx) error {
	r, err := s.Parse(c)
	if err != nil {
		return err
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	than, _ := strconv.ParseInt(r.Asked.Get("than"), 10, 64) // of no number anything is newer
	there, err := s.Office.Assess.Newer(c.Context(), r.AsOf, than)
	switch {
	case errors.Is(err, assess.ErrNotComputed):
		return c.Render("error:newer", newerView{Failed: true})
	case err != nil:
		return err
	case !there:
		return c.SendStatus(fiber.StatusNoContent)
	}
	return c.Render("error:newer", newerView{})
}

// newerOf is the line for a page of figures that are not the newest; nil where they are.
func newerOf(r *Request) *newerView {
	if r.Figures == nil || !r.Figures.Older {
		return nil
	}
	than := strconv.FormatInt(r.Figures.Head(), 10)
	return &newerView{Check: r.To("/newer", "asof", r.AsOf.String(), "than", than), Show: r.Here()}
}
