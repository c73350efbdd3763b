package draft

import (
	"bytes"
	"errors"
	"io"
	"mime/multipart"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/draft"
	"turret/internal/app/fault"
	"turret/internal/core/calendar"
	"turret/internal/web/page"
)

type dropView struct {
	Page    page.Page
	Period  page.PeriodField
	Source  string
	Sources []string
	Kinds   []string
	Drafts  []draftRow
	Problem string
}

type draftRow struct {
	Href, Files, Source, Author, Made string
	Refused                           bool
}

func (s *pages) drop(c fiber.Ctx) error { return s.showDrop(c, "") }

func (s *pages) showDrop(c fiber.Ctx, problem string) error {
	r, err := s.Parse(c)
	if err != nil {
		return err
	}
	v := dropView{Page: r.Page("Load", "Gather"), Period: page.PeriodFieldOf(r.Period()), Problem: problem}
	v.Page.Tabs = page.GatherTabs(r, "Load files")
	v.Page.PackHref, v.Page.Track = "", nil
	if v.Sources, err = s.Office.Draft.Sources(c.Context()); err != nil {
		return err
	}
	settings, err := s.Office.Setting.Get(c.Context())
	if err != nil {
		return err
	}
	actor := access.ActorOf(c.Context())
	if actor.Role == access.Lead {
		v.Sources, v.Source = nil, actor.Name
	}
	for _, k := range actor.Asked(settings.AskedOfLeads) {
		v.Kinds = append(v.Kinds, k.Title())
	}
	list, err := s.Office.Draft.List(c.Context())
	if err != nil {
		return err
	}
	for _, d := range list {
		v.Drafts = append(v.Drafts, draftRow{"/gather/drafts/" + d.ID, fileNames(d), d.Source, d.Author, page.When(d.MadeAt), d.Refused})
	}
	if problem != "" {
		c.Status(fiber.StatusUnprocessableEntity)
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	return c.Render("drop", v)
}

func fileNames(d *draft.Draft) string {
	var names []string
	for _, f := range d.Files {
		names = append(names, f.Name)
	}
	return fault.Clip(strings.Join(names, ", "), 200)
}

// receive takes files while they are read: fields first (_csrf, source, period), then files, or pasted cells.
func (s *pages) receive(c fiber.Ctx) error {
	if page.VisitOf(c) == nil {
		return access.ErrSignedOut
	}
	form, err := page.MultipartOf(c)
	if err != nil {
		return err
	}
	up := &upload{s: s.Server, c: c, form: form, ok: s.TokenFits(c, "")}
	first, err := up.fields()
	if err != nil {
		return s.dropFailed(c, err)
	}
	if !up.ok {
		return page.Stale()
	}
	up.first = first
	d, err := s.Office.Draft.Receive(c.Context(), up.source, up.period, up.next)
	if err != nil {
		return s.dropFailed(c, err)
	}
	return s.goTo(c, "/gather/drafts/"+d.ID)
}

// goTo leads a page or a script on.
func (s *pages) goTo(c fiber.Ctx, to string) error {
	if c.Get("X-Requested-By") == "turret" {
		return c.JSON(fiber.Map{"to": page.PlaceOf(c).To(to)})
	}
	return page.Go(c, to)
}

func (s *pages) dropFailed(c fiber.Ctx, err error) error {
	var field *fault.FieldError
	if !errors.As(err, &field) && !errors.Is(err, fault.ErrTooLarge) {
		return err
	}
	c.Response().Header.SetConnectionClose() // what is left of the form is not read
	if c.Get("X-Requested-By") == "turret" {
		return c.Status(fiber.StatusUnprocessableEntity).JSON(fiber.Map{"error": page.Sentence(err.Error())})
	}
	return s.showDrop(c, page.Sentence(err.Error()))
}

// upload walks through the parts of a form as they come.
type upload struct {
	s      *page.Server
	c      fiber.Ctx
	form   *multipart.Reader
	first  *draft.Upload
	ok     bool // the token fits
	source string
	period calendar.Period
}

// fields reads the parts before the first file, which comes back; nil where there is none.
func (u *upload) fields() (*draft.Upload, error) {
	u.period = u.s.PeriodOf(u.c.Context(), u.s.AsOf())
	for {
		p, err := u.form.NextPart()
		if errors.Is(err, io.EOF) {
			return nil, nil
		}
		if err != nil {
			return nil, &fault.FieldError{Field: "files", Value: fault.Clip(err.Error(), 80), Expected: "a form that arrives whole"}
		}
		if p.FormName() == "files" && p.FileName() != "" {
			return &draft.Upload{Name: p.FileName(), Body: p}, nil
		}
		if p.FormName() == "pasted" {
			if up := pasted(p); up != nil {
				return up, nil
			}
			continue
		}
		b, err := io.ReadAll(io.LimitReader(p, 4096))
		if err != nil {
			return nil, err
		}
		switch value := string(b); p.FormName() {
		case "_csrf":
			u.ok = u.ok || u.s.TokenFits(u.c, value)
		case "source":
			u.source = value
		case "period":
			if u.period, err = calendar.ParsePeriod(value); err != nil {
				return nil, &fault.FieldError{Field: "period", Value: value, Expected: calendar.PeriodForm}
			}
		}
	}
}

// pasted are cells copied from a spreadsheet; nil where there are none.
func pasted(r io.Reader) *draft.Upload {
	head := make([]byte, 512)
	n, _ := io.ReadFull(r, head)
	if len(bytes.TrimSpace(head[:n])) == 0 && n < len(head) {
		return nil
	}
	return &draft.Upload{Name: "pasted.txt", Body: io.MultiReader(bytes.NewReader(head[:n]), r)}
}

func (u *upload) next() (*draft.Upload, error) {
	if up := u.first; up != nil {
		u.first = nil
		return up, nil
	}
	for {
		p, err := u.form.NextPart()
		if errors.Is(err, io.EOF) {
			return nil, io.EOF
		}
		if err != nil {
			return nil, &fault.FieldError{Field: "files", Value: fault.Clip(err.Error(), 80), Expected: "files that arrive whole"}
		}
		switch {
		case p.FormName() == "files" && p.FileName() != "":
			return &draft.Upload{Name: p.FileName(), Body: p}, nil
		case p.FormName() == "pasted":
			if up := pasted(p); up != nil {
				return up, nil
			}
		}
	}
}
