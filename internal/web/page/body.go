package page

import (
	"bytes"
	"errors"
	"io"

	"github.com/gofiber/fiber/v3"
	"github.com/valyala/fasthttp"
)

// Drained bounds how much of a body that no handler read is read and thrown away, in bytes, so that the connection can go on and a browser
// that is still sending sees the answer. It is more than a form may hold.
const Drained = FormLimit + 1<<20

// Settled wraps the handler of all requests. Bodies are streamed: what a handler leaves unread would stand on the connection and be taken
// as the next request, in which somebody else's may be hidden where connections are shared by a proxy. So the rest is read, and where
// there is more than that, or it does not come, the connection is closed; one that came in chunks is closed in any case. Requests whose
// length may be read in two ways are refused.
func Settled(next fasthttp.RequestHandler) fasthttp.RequestHandler {
	return func(c *fasthttp.RequestCtx) {
		if twoLengths(&c.Request.Header) {
			c.Error("The request can be read in two ways.", fiber.StatusBadRequest)
			c.SetConnectionClose()
			return
		}
		chunked := c.Request.Header.ContentLength() == -1
		next(c)
		body := c.RequestBodyStream()
		switch {
		case chunked:
			c.SetConnectionClose()
		case body != nil:
			if _, err := io.CopyN(io.Discard, body, Drained); !errors.Is(err, io.EOF) {
				c.SetConnectionClose()
			}
		}
	}
}

// twoLengths says whether the length of a body may be read differently by a server in front: told as a number and in chunks, in chunks
// more
// than once, in chunks by a version of the protocol that has none, or on a line that is folded or has room before its colon (RFC 9112,
// sections 5 and 6.1).
func twoLengths(h *fasthttp.RequestHeader) bool {
	encodings, lengths := 0, 0
	for line := range bytes.Lines(h.RawHeaders()) {
		key, _, ok := bytes.Cut(line, []byte(":"))
		name := bytes.TrimSpace(key)
		switch {
		case len(name) < len(key) && len(bytes.TrimSpace(line)) > 0:
			return true
		case ok && bytes.EqualFold(name, []byte(fiber.HeaderTransferEncoding)):
			encodings++
		case ok && bytes.EqualFold(name, []byte(fiber.HeaderContentLength)):
			lengths++
		}
	}
	return encodings > 1 || encodings > 0 && (lengths > 0 || !h.IsHTTP11())
}
