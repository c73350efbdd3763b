package register

import (
	"errors"
	"io"
	"net/url"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/attach"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/core/calendar"
	"turret/internal/core/write"
	"turret/internal/record"
	"turret/internal/web/page"
)

// fileLine is a file attached to a record.
type fileLine struct{ Name, Href, Says string }

// files are the pages of attached files.
type files struct{ *pages }

// attached shows the files of a record.
func (x *recordView) attached(s *pages, r *page.Request, holder string, kind record.Kind, code string) error {
	list, err := s.Office.Attach.List(r.Context(), r.Figures, kind, holder, code)
	for _, f := range list {
		n, _ := strconv.Atoi(f.Size)
		line := fileLine{Name: f.Name, Says: write.Whole((n+1023)/1024) + " kB, " + f.By,
			Href: r.To(kindPath(kind)+"/file", "holder", holder, "code", code, "digest", f.Digest)}
		if d, err := calendar.ParseDate(f.Added); err == nil {
			line.Says += ", " + d.Human()
		}
		x.Files = append(x.Files, line)
	}
	x.Attach = r.To(kindPath(kind)+"/attach", "holder", holder, "code", code)
	x.Accept = strings.Join(attach.Kinds, ",")
	return err
}

// attach takes a file for a record.
func (s *files) attach(c fiber.Ctx) error {
	kind, err := kindOf(c)
	if err != nil {
		return err
	}
	day, err := s.Parse(c)
	if err != nil {
		return err
	}
	holder, code := strings.Clone(c.Query("holder")), strings.Clone(c.Query("code"))
	back := page.PlaceOf(c).To(page.RecordPath(kind, holder, code))
	var took *intake.Receipt
	name := ""
	err = s.OneFile(c, func(n string, body io.Reader) (err error) {
		name = strings.Clone(n)
		took, err = s.Office.Attach.Keep(c.Context(), kind, holder, code, name, body, day.AsOf)
		return err
	})
	if err == nil && took == nil {
		page.Tell(c, "Choose a file first.")
		return page.Go(c, back)
	}
	if errors.Is(err, fault.ErrTooLarge) {
		err = fault.Field("file", fault.Clip(name, 60), "a smaller file")
	}
	return s.answer(c, took, err, kind, "“"+fault.Clip(name,
		60)+"” is attached to "+kind.Noun(1)+" "+code+" of "+holder+day.InPeriod()+".",
		back, nil)
}

// file sends an attached file to be kept, never to be shown as a page.
func (s *files) file(c fiber.Ctx) error {
	kind, err := kindOf(c)
	if err != nil {
		return err
	}
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	f, body, err := s.Office.Attach.Open(c.Context(), r.Figures, kind, r.Asked.Get("holder"), r.Asked.Get("code"), r.Asked.Get("digest"))
	if err != nil {
		return err
	}
	c.Set(fiber.HeaderContentType, "application/octet-stream")
	c.Set(fiber.HeaderContentDisposition, "attachment; filename*=UTF-8''"+url.PathEscape(f.Name))
	c.Set(fiber.HeaderXContentTypeOptions, "nosniff")
	c.Set(fiber.HeaderContentSecurityPolicy, "sandbox; default-src 'none'")
	c.Set(fiber.HeaderCacheControl, "no-store")
	return c.SendStream(body)
}
