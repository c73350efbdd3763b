// Package feed holds the pages of feeds and their runs.
package feed

import (
	"embed"
	"fmt"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/setting"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// pages are those of one server.
type pages struct{ *page.Server }

// Routes adds the addresses of feeds and their runs.
func Routes(base *page.Server) {
	s := &pages{base}
	s.Show(templates)
	s.App.Get("/feeds", s.feeds)
	s.App.Post("/feeds/:name/run", s.runFeed)
	s.App.Post("/feeds", s.saveFeed)
	s.App.Get("/feeds/:name", s.feedLog)
}

type feedsView struct {
	Page    page.Page
	Rows    []feedRow
	Admin   bool
	Problem string
	New     setting.FeedSetting
	Kinds   []page.Picker
}

type feedRow struct {
	Name, Kind, Address, Every, Href string
	Last, State                      string
	Running                          bool
}

func (s *pages) feeds(c fiber.Ctx) error { return s.showFeeds(c, setting.FeedSetting{}, "") }

func (s *pages) showFeeds(c fiber.Ctx, add setting.FeedSetting, problem string) error {
	r, err := s.Parse(c)
	if err != nil {
		return err
	}
	list, err := s.Office.Feed.List(c.Context())
	if err != nil {
		return err
	}
	v := feedsView{Page: r.Page("Feeds", "Gather"), Admin: access.ActorOf(c.Context()).MayWhole(access.ChangeSetup),
		Problem: problem,
		New:     add,
		Kinds: []page.Picker{page.Choose("Kind", "kind", add.Kind, "ledger", "finance ledger", "schedule", "schedule server", "work",
			"work tracker", "hours", "time system")}}
	v.Page.Tabs = page.GatherTabs(r, "Feeds")
	for _, f := range list {
		x := feedRow{Name: f.Name, Kind: f.Kind, Address: f.Address, Href: "/feeds/" + f.Name, Every: "by hand"}
		if f.Every > 0 {
			x.Every = write.Count(f.Every, "hour", "hours")
		}
		if f.Last != nil {
			x.Last, x.State, x.Running = page.When(f.Last.StartedAt), f.Last.State, f.Last.State == "running"
		}
		v.Rows = append(v.Rows, x)
	}
	if problem != "" {
		c.Status(fiber.StatusUnprocessableEntity)
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	return c.Render("feeds", v)
}

func (s *pages) saveFeed(c fiber.Ctx) error {
	f := setting.FeedSetting{Name: strings.Clone(strings.TrimSpace(c.FormValue("name"))), Kind: strings.Clone(c.FormValue("kind")),
		Address: strings.Clone(strings.TrimSpace(c.FormValue("address")))}
	f.Every, _ = strconv.Atoi(c.FormValue("every"))
	err := s.Office.Feed.Save(c.Context(), f, c.FormValue("remove") != "")
	text := "The feed “" + f.Name + "” is saved."
	if c.FormValue("remove") != "" {
		text = "The feed “" + f.Name + "” is taken away; what it brought stays."
	}
	return page.AnsweredWith(c, err, text, "/feeds", func(refused error) error {
		return s.showFeeds(c, f,
			page.Sentence(refused.Error()))
	})
}

func (s *pages) runFeed(c fiber.Ctx) error {
	name := strings.Clone(c.Params("name"))
	if err := s.Office.Feed.Start(c.Context(), s.Feeds, name); err != nil {
		return err
	}
	return page.Go(c, "/feeds/"+name)
}

type feedLogView struct {
	Page    page.Page
	Name    string
	Running bool
	Rows    []feedRunRow
}

type feedRunRow struct {
	Started, Ended, State, Rows, Load, Log string
	Open                                   bool
}

func (s *pages) feedLog(c fiber.Ctx) error {
	r, err := s.Parse(c)
	if err != nil {
		return err
	}
	name := strings.Clone(c.Params("name"))
	runs, err := s.Office.Feed.Runs(c.Context(), name)
	if err != nil {
		return err
	}
	v := feedLogView{Page: r.Page("Feed "+name, "Gather"), Name: name}
	v.Page.Tabs = page.GatherTabs(r, "Feeds")
	for i, run := range runs {
		x := feedRunRow{Started: page.When(run.StartedAt), Ended: page.When(run.EndedAt), State: run.State,
			Rows: write.Whole(run.Rows), Log: run.Log,
			Open: i == 0}
		if run.Load != 0 {
			x.Load = fmt.Sprint(run.Load)
		}
		v.Running = v.Running || run.State == "running"
		v.Rows = append(v.Rows, x)
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	return c.Render("feed", v)
}
