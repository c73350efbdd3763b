// Package load holds the pages of loads and their rows.
package load

import (
	"cmp"
	"embed"
	"errors"
	"fmt"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/kept"
	"turret/internal/core/write"
	"turret/internal/record"
	"turret/internal/web/account"
	"turret/internal/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// pages are those of one server.
type pages struct{ *page.Server }

// Routes adds the addresses of loads and their rows.
func Routes(base *page.Server) {
	s := &pages{base}
	s.Show(templates)
	s.App.Get("/gather/samples", s.samples)
	s.App.Get("/gather/samples/:file", s.sample)
	s.App.Get("/loads", s.loads)
	s.App.Get("/loads/:id", s.load)
	s.App.Post("/loads/:id/withdraw", s.withdraw)
}

type loadsView struct {
	Page     page.Page
	Headline string
	Rows     []loadRow
	Filter   []page.Picker
	More     string
	Empty    string
}

type loadRow struct {
	ID                                     int64
	Href, Kind, File, Source, Author, When string
	Period, Digest, Rows                   string
	Withdrawn, Because                     string
}

const loadsPage = 200

func (s *pages) loads(c fiber.Ctx) error {
	r, err := s.Parse(c)
	if err != nil {
		return err
	}
	list, err := s.Office.Load.List(c.Context())
	if err != nil {
		return err
	}
	v := loadsView{Page: r.Page("Loads", "Gather")}
	v.Page.Tabs = page.GatherTabs(r, "Loads")
	kind, source, from := r.Asked.Get("kind"), r.Asked.Get("source"), 0
	from, _ = strconv.Atoi(r.Asked.Get("from"))
	standing := 0
	kinds, sources := page.Picker{Label: "Kind", Name: "kind", Options: []page.Option{{Value: "", Text: "all", Selected: kind == ""}}},
		page.Picker{Label: "Source", Name: "source", Options: []page.Option{{Value: "", Text: "all", Selected: source == ""}}}
	seen := map[string]bool{}
	for _, k := range record.Kinds() {
		kinds.Options = append(kinds.Options, page.Option{Value: string(k), Text: k.Title(), Selected: kind == string(k)})
	}
	at := 0
	for i := range list {
		l := &list[i]
		if !l.Withdrawn() {
			standing++
		}
		if l.Source != "" && !seen[l.Source] {
			seen[l.Source] = true
			sources.Options = append(sources.Options, page.Option{Value: l.Source, Text: l.Source, Selected: source == l.Source})
		}
		if kind != "" && string(l.Kind) != kind || source != "" && l.Source != source {
			continue
		}
		if at++; at > from && len(v.Rows) < loadsPage {
			v.Rows = append(v.Rows, loadRowOf(l))
		}
	}
	v.Headline = fmt.Sprintf("%s stand", write.Count(standing, "load", "loads"))
	if n := len(list) - standing; n > 0 {
		v.Headline += fmt.Sprintf(", %d withdrawn", n)
	}
	v.Headline += "."
	v.Filter = []page.Picker{kinds, sources}
	if at > from+loadsPage {
		v.More = r.Here("from", strconv.Itoa(from+loadsPage))
	}
	switch {
	case len(list) == 0:
		v.Empty = "Nothing was loaded yet. Files are loaded on the Gather screen."
	case len(v.Rows) == 0:
		v.Empty = "No load answers these filters."
	}
	c.Set(fiber.HeaderCacheControl, page.NotShared)
	return c.Render("loads", v)
}

func loadRowOf(l *kept.Load) loadRow {
	x := loadRow{ID: l.ID, Href: fmt.Sprintf("/loads/%d", l.ID), Kind: l.Kind.Title(), File: l.File, Source: l.Source, Author: l.Author,
		When: page.When(l.ReceivedAt), Digest: l.Digest[:min(12, len(l.Digest))], Rows: write.Whole(l.Rows), Because: l.Note}
	if l.Period != 0 {
		x.Period = l.Period.Name()
	}
	if l.Withdrawn() {
		x.Withdrawn = fmt.Sprintf("withdrawn %s by %s: %s", page.When(l.WithdrawnAt), l.WithdrawnBy, l.Reason)
	}
	return x
}

type loadView struct {
	Page            page.Page
	Load            loadRow
	Digest          string
	Recognised      string
	Because         string // why it was made, where somebody said so
	Size            string
	Heads           []string
	Rows            [][]string
	Kept            string // why the rows are not shown
	From, To        int
	Before, After   string
	May             bool
	Reason, Problem string
}

const rowsPage = 200

func (s *pages) load(c fiber.Ctx) error {
	id, err := page.Number(c, "id")
	if err != nil {
		return err
	}
	return s.showLoad(c, id, loadView{})
}

func (s *pages) showLoad(c fiber.Ctx, id int64, v loadView) error {
	r, err := s.Parse(c)
	if err != nil {
		return err
	}
	l, err := s.Office.Load.Get(c.Context(), id)
	if err != nil {
		return err
	}
	v.Page, v.Load, v.Digest, v.Recognised = r.Page(fmt.Sprintf("Load %d", id), "Gather"), loadRowOf(l), l.Digest, l.Recognised
	v.Page.Tabs = page.GatherTabs(r, "Loads")
	v.Because = l.Note
	v.Size = write.Float(float64(l.Size)/1000, 1) + " kB"
	actor := access.ActorOf(c.Context())
	v.May = actor.MayWhole(access.Withdraw) && !l.Withdrawn()
	from, _ := strconv.Atoi(r.Asked.Get("from"))
	from = max(0, from)
	f, err := s.Office.Load.Rows(c.Context(), l, from, rowsPage)
	switch {
	case errors.Is(err, access.ErrForbidden):
		v.Kept = "These rows are not yours to see."
	case err != nil:
		return err
	default:
		v.rows(f, from, l.Rows, r)
	}
	if v.Problem != "" {
		c.Status(fiber.StatusUnprocessableEntity)
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	return c.Render("load", v)
}

func (v *loadView) rows(f *kept.File, from, all int, r *page.Request) {
	v.Heads = []string{"row"}
	for _, col := range f.Input().Columns {
		v.Heads = append(v.Heads, col.Name)
	}
	for i := range f.Len() {
		v.Rows = append(v.Rows, append([]string{fmt.Sprint(f.Row(i))}, f.Cells(i)...))
	}
	v.From, v.To = from+1, from+f.Len()
	if from > 0 {
		v.Before = r.Here("from", strconv.Itoa(max(0, from-rowsPage)))
	}
	if v.To < all {
		v.After = r.Here("from", strconv.Itoa(from+rowsPage))
	}
}

// backOf is where a form asks to go on to, within Turret; empty where it does not ask.
func backOf(c fiber.Ctx) string {
	if to := strings.Clone(c.FormValue("back")); to != "" {
		return account.Back(to)
	}
	return ""
}

func (s *pages) withdraw(c fiber.Ctx) error {
	id, err := page.Number(c, "id")
	if err != nil {
		return err
	}
	reason := strings.Clone(c.FormValue("reason"))
	err = s.Office.Load.Withdraw(c.Context(), id, reason)
	return page.AnsweredWith(c, err, fmt.Sprintf("Load %d is withdrawn; what stood before it counts again.", id),
		cmp.Or(backOf(c), fmt.Sprintf("/loads/%d", id)),
		func(refused error) error {
			return s.showLoad(c, id, loadView{Reason: reason, Problem: page.Sentence(refused.Error())})
		})
}
