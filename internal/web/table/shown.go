package table

import (
	"encoding/json"
	"fmt"
	"regexp"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/saved"
	"turret/internal/web/page"
)

// tableName is what a table is known by, wherever it stands.
var tableName = regexp.MustCompile(`^[a-z][a-z_-]{0,39}$`)

// Bounds of what is kept and taken of a table that a page shows.
const (
	maxShownRows    = 20_000
	maxShownColumns = 200
	maxShownViews   = 40
)

// shownTable is a table as a page shows it.
type shownTable struct {
	Heads []string   `json:"heads"`
	Rows  [][]string `json:"rows"`
}

// take writes a table as it is shown.
func (s *pages) take(format string) fiber.Handler {
	return func(c fiber.Ctx) error {
		name := strings.Clone(c.Params("name"))
		if !tableName.MatchString(name) {
			return fiber.ErrNotFound
		}
		var t shownTable
		if err := json.Unmarshal(c.Body(), &t); err != nil {
			return fiber.NewError(fiber.StatusBadRequest, "The table cannot be read.")
		}
		if len(t.Rows) > maxShownRows || len(t.Heads) > maxShownColumns {
			return fault.Field("rows", fmt.Sprint(len(t.Rows)), fmt.Sprintf("at most %d rows of %d columns", maxShownRows, maxShownColumns))
		}
		for i, row := range t.Rows {
			if len(row) != len(t.Heads) {
				return fault.Field("rows", fmt.Sprint(len(row)), fmt.Sprintf("%d cells in row %d, as in the head", len(t.Heads), i+1))
			}
		}
		var b strings.Builder
		if err := s.Reports.Shown(&b, format, name, t.Heads, t.Rows); err != nil {
			return err
		}
		return s.Deliver(c, name+"."+format, page.FileKinds["money."+format], []byte(b.String()))
	}
}

// sortOf is what the views of a table are kept as.
func sortOf(c fiber.Ctx) (saved.Kind, error) {
	name := strings.Clone(c.Params("name"))
	if !tableName.MatchString(name) {
		return "", fiber.ErrNotFound
	}
	return saved.Kind("shown:" + name), nil
}

type shownView struct {
	ID    int64  `json:"id"`
	Name  string `json:"name"`
	Query string `json:"query"`
	Says  string `json:"says"`
	Own   bool   `json:"own"`
}

// shownViews lists the views of a table that the one who asks may use.
func (s *pages) shownViews(c fiber.Ctx) error {
	sort, err := sortOf(c)
	if err != nil {
		return err
	}
	list, err := s.Office.Saved.List(c.Context(), sort)
	if err != nil {
		return err
	}
	me := access.ActorOf(c.Context())
	views := make([]shownView, len(list))
	for i := range list {
		x := &list[i]
		views[i] = shownView{x.ID, x.Name, x.Query, ownership(x, me), x.Login == me.Login}
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	return c.JSON(views)
}

// ownership says whose a view is.
func ownership(v *saved.View, me *access.Actor) string {
	switch {
	case v.Login != me.Login:
		return "shared by " + v.Who
	case v.Shared:
		return "your own, shared"
	}
	return "your own"
}

func (s *pages) saveShown(c fiber.Ctx) error {
	sort, err := sortOf(c)
	if err != nil {
		return err
	}
	var asked struct {
		Name   string `json:"name"`
		Query  string `json:"query"`
		Shared bool   `json:"shared"`
	}
	if err := json.Unmarshal(c.Body(), &asked); err != nil {
		return fiber.NewError(fiber.StatusBadRequest, "The view cannot be read.")
	}
	id, err := s.Office.Saved.Keep(c.Context(), saved.View{Kind: sort, Name: asked.Name, Query: asked.Query, Shared: asked.Shared},
		maxShownViews)
	if err != nil {
		return err
	}
	return c.JSON(fiber.Map{"id": id})
}

func (s *pages) endShown(c fiber.Ctx) error {
	sort, err := sortOf(c)
	if err != nil {
		return err
	}
	var asked struct {
		ID int64 `json:"id"`
	}
	if err := json.Unmarshal(c.Body(), &asked); err != nil {
		return fiber.NewError(fiber.StatusBadRequest, "The view cannot be read.")
	}
	if err := s.Office.Saved.End(c.Context(), sort, asked.ID); err != nil {
		return err
	}
	return c.JSON(fiber.Map{})
}
