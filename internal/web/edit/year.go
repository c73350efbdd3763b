package edit

import (
	"cmp"
	"fmt"
	"strconv"

	"turret/internal/app/edit"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/web/page"
)

// yearView is a calendar's year, month by month.
type yearView struct {
	Name          string
	Year, Days    int
	Names         []page.Link
	Before, After string
	Months        []monthView
}

type monthView struct {
	Name     string
	Days     int
	Weekdays []string
	Weeks    [][7]dayView
}

type dayView struct {
	Day          int
	Class, Title string
}

var weekdayNames = []string{"Mo", "Tu", "We", "Th", "Fr", "Sa", "Su"}

func yearOf(g *edit.Grid, r *page.Request, first int) *yearView {
	says := map[string]string{}
	var rows []kept.CalendarRow
	for _, cells := range g.Rows {
		row, ok := calendarRow(cells)
		if !ok {
			continue
		}
		rows = append(rows, row)
		if row.Date != 0 {
			says[row.Calendar+row.Date.String()] = row.Name
		}
	}
	weeks := kept.Weeks(rows)
	if weeks["default"] == nil {
		weeks["default"] = &kept.Week{Days: [7]bool{true, true, true, true, true}}
	}
	v := &yearView{Name: cmp.Or(r.Asked.Get("calendar"), "default")}
	w := weeks[v.Name]
	if w == nil {
		v.Name, w = "default", weeks["default"]
	}
	v.Year, _ = strconv.Atoi(r.Asked.Get("year"))
	if v.Year < 1 || v.Year > 9998 {
		v.Year = int(r.AsOf.Month()) / 12
	}
	for name := range weeks {
		if name != v.Name {
			v.Names = append(v.Names, page.Link{Text: name, Href: r.Here("calendar", name)})
		}
	}
	v.Before, v.After = r.Here("year", fmt.Sprint(v.Year-1)), r.Here("year", fmt.Sprint(v.Year+1))
	for m := calendar.Month(v.Year * 12); m < calendar.Month(v.Year*12+12); m++ {
		month := monthOf(m, w, says, v.Name, first)
		v.Days += month.Days
		v.Months = append(v.Months, month)
	}
	return v
}

func monthOf(m calendar.Month, w *kept.Week, says map[string]string, name string, first int) monthView {
	v := monthView{Name: m.Name(), Weekdays: append(append([]string{}, weekdayNames[first:]...), weekdayNames[:first]...)}
	var week [7]dayView
	for d := m.First(); d <= m.Last(); d++ {
		at := int(d-1) % 7 // day 1 was a Monday
		working := w.Days[at]
		x := dayView{Day: int(d-m.First()) + 1, Class: "off"}
		if ex, ok := w.Exceptions[d]; ok {
			working = ex
			x.Title = cmp.Or(says[name+d.String()], "an exception")
			x.Class = "off exception"
		}
		if working {
			v.Days++
			x.Class = "on"
			if x.Title != "" {
				x.Class = "on exception"
			}
		}
		column := (at - first + 7) % 7
		week[column] = x
		if column == 6 || d == m.Last() {
			v.Weeks = append(v.Weeks, week)
			week = [7]dayView{}
		}
	}
	return v
}

// calendarRow reads the cells of a calendar's row.
func calendarRow(cells []string) (kept.CalendarRow, bool) {
	row := kept.CalendarRow{Calendar: cells[0], Working: cells[3] == "yes", Name: cells[4]}
	if cells[1] != "" {
		d, err := calendar.ParseDate(cells[1])
		row.Date = d
		return row, err == nil
	}
	for i, w := range []string{"mon", "tue", "wed", "thu", "fri", "sat", "sun"} {
		if cells[2] == w {
			row.Weekday.Given, row.Weekday.N = true, int64(i)
		}
	}
	return row, row.Weekday.Given
}
