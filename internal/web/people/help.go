package people

import (
	"fmt"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/people"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

// helpView tells who might need help, and keeps quiet of the others.
type helpView struct {
	page.SectionFrame
	Days  []string
	Rows  []helpRow
	Quiet []helpRow
	Empty string
}

type helpRow struct {
	Name, Role                string
	Given, InWork             string
	Done                      string
	Bars                      []helpBar
	Overdue, Blocked, Silence string
	Unplanned                 string
	Named, Away               string
}

// helpBar is what was done on a day.
type helpBar struct {
	X, Y, H int
	Says    string
}

func (s *pages) help(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	list, err := people.HelpOf(c.Context(), r.Figures)
	if err != nil {
		return err
	}
	v := helpView{SectionFrame: page.SectionFrame{Page: r.Page("Who needs help", "People"), Tabs: page.PeopleTabs(r, "Who needs help")},
		Empty: "No work names anybody of the register of people."}
	v.Page.Awaits = ""
	days := people.HelpDays(r.Figures.Env.Calendar, r.AsOf)
	most := 1
	for i := range list {
		for _, n := range list[i].Done {
			most = max(most, n)
		}
	}
	for i := range list {
		h := &list[i]
		row := helpRowOf(h, most)
		for k := range row.Bars {
			row.Bars[k].Says = days[k].Human() + ": " + write.Count(h.Done[k], "done", "done")
		}
		if h.Wants() {
			v.Rows = append(v.Rows, row)
		} else {
			v.Quiet = append(v.Quiet, row)
		}
	}
	head := write.Count(len(v.Rows), "person", "people") + " of " + write.Whole(len(list)) + " might need help."
	if !access.ActorOf(c.Context()).May(access.Send) {
		head = "How your own work stands."
	}
	v.Headline = []page.Spoken{{Text: head}}
	return r.Answer("people-help", &v.Page, &v)
}

// barHeight is that of the fullest day.
const barHeight = 20

func helpRowOf(h *people.Help, most int) helpRow {
	row := helpRow{Name: h.Person.Name, Role: h.Person.Role, Given: strconv.Itoa(h.Given), InWork: strconv.Itoa(h.InWork),
		Named: strings.Join(h.Late, "; "), Away: h.Away}
	sum := 0
	for i, n := range h.Done {
		sum += n
		high := n * barHeight / most
		row.Bars = append(row.Bars, helpBar{X: i * 8, Y: barHeight + 1 - max(high, 1), H: max(high, 1)})
	}
	row.Done = strconv.Itoa(sum)
	for to, n := range map[*string]int{&row.Overdue: h.Overdue, &row.Blocked: h.Blocked, &row.Unplanned: h.Unplanned} {
		if n > 0 {
			*to = strconv.Itoa(n)
		}
	}
	if h.Silent > 0 {
		row.Silence = fmt.Sprintf("%s, since %s", write.Count(h.Silent, "day", "days"), h.Moved.Human())
	}
	return row
}
