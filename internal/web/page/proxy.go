package page

import (
	"net/netip"
	"strings"

	"github.com/gofiber/fiber/v3"
)

// From is the address that a request comes from: that of the connection, or where that is a proxy we trust, the last one in
// X-Forwarded-For
// that is none. What stands before it in that header is whatever the sender wrote.
func (s *Server) From(c fiber.Ctx) string {
	at, err := netip.ParseAddr(c.RequestCtx().RemoteIP().String())
	if err != nil {
		return c.RequestCtx().RemoteIP().String()
	}
	at = at.Unmap()
	var told []string
	for _, line := range c.Request().Header.PeekAll(fiber.HeaderXForwardedFor) {
		told = append(told, strings.Split(string(line), ",")...)
	}
	for i := len(told) - 1; i >= 0 && s.trusted(at); i-- {
		next, err := netip.ParseAddr(strings.TrimSpace(told[i]))
		if err != nil {
			break
		}
		at = next.Unmap()
	}
	return at.String()
}

func (s *Server) trusted(a netip.Addr) bool {
	for _, p := range s.Proxies {
		if p.Contains(a) {
			return true
		}
	}
	return false
}
