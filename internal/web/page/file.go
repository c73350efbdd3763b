package page

import (
	"net/url"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/core/calendar"
)

// PeriodField is a control for a period: the browser's own for months, else a choice of those around one.
type PeriodField struct {
	Value   string
	Options []Option
}

// PeriodFieldOf is the control for a period, with that one chosen.
func PeriodFieldOf(p calendar.Period) PeriodField {
	f := PeriodField{Value: p.String()}
	if p.Cycle() == calendar.Months {
		return f
	}
	for x := p + 4; x > p-53; x-- {
		f.Options = append(f.Options, Option{x.String(), x.Name() + ", to " + x.Last().Human(), x == p})
	}
	return f
}

// Deliver sends a file to be kept, under a name that no header stumbles over.
func (s *Server) Deliver(c fiber.Ctx, name, mime string, b []byte) error {
	c.Set(fiber.HeaderContentType, mime)
	c.Set(fiber.HeaderContentDisposition, `attachment; filename="`+plainName(name)+`"; filename*=UTF-8''`+url.PathEscape(name))
	c.Set(fiber.HeaderCacheControl, "no-store")
	return c.Send(b)
}

func plainName(name string) string {
	return strings.Map(func(r rune) rune {
		if r < ' ' || r > '~' || strings.ContainsRune(`"\/;`, r) {
			return '_'
		}
		return r
	}, name)
}

// SendJSON answers with data that is asked for anew each time.
func SendJSON(r *Request, v any) error {
	r.Set(fiber.HeaderCacheControl, NotShared)
	return r.JSON(v)
}
