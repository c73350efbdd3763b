package web

import (
	"path"
	"strings"

	"github.com/gofiber/fiber/v3"
)

// isPage reports whether an address is a page, and not a file or the API: a page may show the last complete figures while newer are
// computed, and says so.
func isPage(address string) bool {
	return path.Ext(address) == "" && !strings.HasPrefix(address, "/api/")
}

// newerView is the line over a page whose figures are not the newest.
type newerView struct {
	Check string // asks whether the newest are there; empty once they are
	Show  string // the page with them
}

// newer answers a page that waits for newer figures.
func (s *Server) newer(c fiber.Ctx) error {
	r, err := s.parse(c)
	if err != nil {
		return err
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	there, err := s.Office.UpToDate(c.Context(), r.asOf)
	if err != nil {
		return err
	}
	if !there {
		return c.SendStatus(fiber.StatusNoContent)
	}
	return c.Render("lookout:newer", newerView{})
}

// older is the line for a page of figures that are not the newest; nil where they are.
func (r *request) older() *newerView {
	if r.a == nil || !r.a.Older {
		return nil
	}
	return &newerView{Check: r.to("/newer", "asof", r.asOf.String()), Show: r.here()}
}
