package chart

import (
	"turret/internal/core/calendar"
	"turret/internal/core/risk"
	"turret/internal/core/schedule"
	"turret/internal/scene"
)

// BlockedBy says by activity which open issues block it; those of a summary are of what lies below it too.
func BlockedBy(list []schedule.Activity, issues []risk.Issue, asOf calendar.Date) map[string]string {
	by, says := risk.Blocking(issues, asOf), map[string]string{}
	parent := make(map[string]string, len(list))
	for i := range list {
		parent[list[i].Code] = list[i].Parent
	}
	for i := range list {
		text := ""
		for _, x := range by[list[i].Code] {
			text += "; blocked by issue " + x.Code + " " + x.Title
		}
		if text == "" {
			continue
		}
		at := list[i].Code
		for range list { // a parent that goes round ends
			if at == "" {
				break
			}
			says[at] += text
			at = parent[at]
		}
	}
	for code, text := range says {
		says[code] = text[len("; "):]
	}
	return says
}

// block draws the mark of what is blocked, its left edge at x and its middle at y: a box that is crossed.
func block(s *scene.Scene, x, y float64) {
	const w = 8.0
	s.Rect("blocked", x, y-w/2, w, w)
	s.Line("blocked", x, y-w/2, x+w, y+w/2)
	s.Line("blocked", x, y+w/2, x+w, y-w/2)
}
