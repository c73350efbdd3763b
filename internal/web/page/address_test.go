package page

import (
	"testing"

	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/assert"
	"github.com/valyala/fasthttp"
)

// What an address asks for itself counts before the place, and an empty value leaves a name out.
func TestAddressesWithinAPlace(t *testing.T) {
	p := Place{Scope: "LW", Day: "2026-09-30"}
	for _, c := range []struct {
		path  string
		pairs []string
		want  string
	}{
		{"/money", nil, "/money?asof=2026-09-30&scope=LW"},
		{"/money?kind=budget", nil, "/money?asof=2026-09-30&kind=budget&scope=LW"},
		{"/money?asof=2026-08-31", nil, "/money?asof=2026-08-31&scope=LW"},
		{"/money#said", []string{"saved", "1"}, "/money?asof=2026-09-30&saved=1&scope=LW#said"},
		{"/money", []string{"scope", "", "trace", "eac"}, "/money?asof=2026-09-30&trace=eac"},
		{"/projects/A%2FB", nil, "/projects/A%2FB?asof=2026-09-30&scope=LW"},
	} {
		assert.Equal(t, c.want, p.To(c.path, c.pairs...))
		assert.Equal(t, c.want, p.To(p.To(c.path, c.pairs...), c.pairs...), "once is enough")
	}
	assert.Equal(t, "/money", Place{}.To("/money"))
	x := Page{Place: p}
	assert.Equal(t, "/edit/risks?asof=2026-09-30&project=A%2FB&scope=LW", x.To("/edit/%s?project=%s", "risks", "A/B"))
	assert.Equal(t, []Pair{{"asof", "2026-09-30"}, {"scope", "LW"}}, x.Held())
	assert.Empty(t, Page{}.Held())
}

// A day or a currency that is none is no place; who answers a form leads on within it.
func TestThePlaceOfARequest(t *testing.T) {
	server := fiber.New()
	at := func(query string) (Place, string) {
		f := &fasthttp.RequestCtx{}
		f.Request.SetRequestURI("/x?" + query)
		c := server.AcquireCtx(f)
		defer server.ReleaseCtx(c)
		assert.NoError(t, Go(c, "/y", "saved", "1"))
		return PlaceOf(c), c.GetRespHeader(fiber.HeaderLocation)
	}
	p, to := at("asof=2026-09-30&scope=LW&currency=SEK&sort=x")
	assert.Equal(t, Place{Scope: "LW", Day: "2026-09-30", Currency: "SEK"}, p)
	assert.Equal(t, "/y?asof=2026-09-30&currency=SEK&saved=1&scope=LW", to)
	p, to = at("asof=2026-02-30&currency=money")
	assert.Equal(t, Place{}, p)
	assert.Equal(t, "/y?saved=1", to)
}
