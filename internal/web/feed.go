package web

import (
	"errors"
	"fmt"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/setting"
)

func (s *Server) feedRoutes() {
	s.app.Get("/feeds", s.feeds)
	s.app.Post("/feeds/:name/run", s.runFeed)
	s.app.Post("/feeds", s.saveFeed)
	s.app.Get("/feeds/:name", s.feedLog)
}

type feedsView struct {
	Page    page
	Rows    []feedRow
	Admin   bool
	Problem string
	New     setting.FeedSetting
	Kinds   []picker
}

type feedRow struct {
	Name, Kind, Address, Every, Href string
	Last, State                      string
	Running                          bool
}

func (s *Server) feeds(c fiber.Ctx) error { return s.showFeeds(c, setting.FeedSetting{}, "") }

func (s *Server) showFeeds(c fiber.Ctx, add setting.FeedSetting, problem string) error {
	r, err := s.parse(c)
	if err != nil {
		return err
	}
	list, err := s.Office.Feed.List(c.Context())
	if err != nil {
		return err
	}
	v := feedsView{Page: r.bare("Feeds", "Gather"), Admin: access.ActorOf(c.Context()).MayWhole(access.ChangeSetup), Problem: problem,
		New: add,
		Kinds: []picker{choose("Kind", "kind", add.Kind, "ledger", "finance ledger", "schedule", "schedule server", "work",
			"work tracker")}}
	for _, f := range list {
		x := feedRow{Name: f.Name, Kind: f.Kind, Address: f.Address, Href: "/feeds/" + f.Name, Every: "by hand"}
		if f.Every > 0 {
			x.Every = counted(f.Every, "hour", "hours")
		}
		if f.Last != nil {
			x.Last, x.State, x.Running = when(f.Last.StartedAt), f.Last.State, f.Last.State == "running"
		}
		v.Rows = append(v.Rows, x)
	}
	if problem != "" {
		c.Status(fiber.StatusUnprocessableEntity)
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	return c.Render("feeds", v)
}

func (s *Server) saveFeed(c fiber.Ctx) error {
	f := setting.FeedSetting{Name: strings.Clone(strings.TrimSpace(c.FormValue("name"))), Kind: strings.Clone(c.FormValue("kind")),
		Address: strings.Clone(strings.TrimSpace(c.FormValue("address")))}
	f.Every, _ = strconv.Atoi(c.FormValue("every"))
	err := s.Office.Feed.Save(c.Context(), f, c.FormValue("remove") != "")
	var field *fault.FieldError
	if errors.As(err, &field) {
		return s.showFeeds(c, f, sentence(field.Error()))
	}
	if err != nil {
		return err
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/feeds")
}

func (s *Server) runFeed(c fiber.Ctx) error {
	name := strings.Clone(c.Params("name"))
	if err := s.Office.Feed.Start(c.Context(), s.Feeds, name); err != nil {
		return err
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/feeds/" + name)
}

type feedLogView struct {
	Page    page
	Name    string
	Running bool
	Rows    []feedRunRow
}

type feedRunRow struct {
	Started, Ended, State, Rows, Load, Log string
	Open                                   bool
}

func (s *Server) feedLog(c fiber.Ctx) error {
	r, err := s.parse(c)
	if err != nil {
		return err
	}
	name := strings.Clone(c.Params("name"))
	runs, err := s.Office.Feed.Runs(c.Context(), name)
	if err != nil {
		return err
	}
	v := feedLogView{Page: r.bare("Feed "+name, "Gather"), Name: name}
	for i, run := range runs {
		x := feedRunRow{Started: when(run.StartedAt), Ended: when(run.EndedAt), State: run.State, Rows: thousands(run.Rows), Log: run.Log,
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
