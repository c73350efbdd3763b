package page

import (
	"net"
	"net/netip"
	"testing"

	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/valyala/fasthttp"
)

// The address of the connection counts, unless that is a proxy we trust: then the last one told that is none of those.
func TestWhereARequestComesFrom(t *testing.T) {
	s := &Server{Config: Config{Proxies: []netip.Prefix{netip.MustParsePrefix("10.0.0.0/8"), netip.MustParsePrefix("::1/128")}}}
	server := fiber.New()
	for _, x := range []struct{ connection, told, want string }{
		{"203.0.113.7", "", "203.0.113.7"},
		{"203.0.113.7", "198.51.100.1", "203.0.113.7"}, // nobody we know tells it
		{"10.1.1.1", "198.51.100.1", "198.51.100.1"},
		{"10.1.1.1", "1.2.3.4, 198.51.100.1", "198.51.100.1"}, // the first is what the sender wrote
		{"10.1.1.1", "1.2.3.4, 198.51.100.1, 10.2.2.2", "198.51.100.1"},
		{"10.1.1.1", "10.9.9.9", "10.9.9.9"},
		{"10.1.1.1", "", "10.1.1.1"},
		{"10.1.1.1", "unknown", "10.1.1.1"},
		{"10.1.1.1", "198.51.100.1, _hidden", "10.1.1.1"},
		{"::1", "2001:db8::9", "2001:db8::9"},
		{"10.1.1.1", "::ffff:198.51.100.1", "198.51.100.1"},
	} {
		f := &fasthttp.RequestCtx{}
		addr, err := netip.ParseAddr(x.connection)
		require.NoError(t, err)
		f.Init(&fasthttp.Request{}, netAddr(addr), nil)
		if x.told != "" {
			f.Request.Header.Set(fiber.HeaderXForwardedFor, x.told)
		}
		c := server.AcquireCtx(f)
		assert.Equal(t, x.want, s.From(c), "%s telling %q", x.connection, x.told)
		server.ReleaseCtx(c)
	}
}

func netAddr(a netip.Addr) net.Addr { return net.TCPAddrFromAddrPort(netip.AddrPortFrom(a, 1234)) }
