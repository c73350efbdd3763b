package say

import (
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/way"
	"turret/internal/core/write"
)

// Way says a way back without its stop: what is to change, until when, what comes of it, and whether the project has done as much before.
func Way(w *way.Way) string {
	s := w.Says
	if w.By != 0 {
		s += " by " + w.By.Human()
	}
	if w.Need.Known || w.Need.Reason == "" {
		s += map[health.Status]string{health.Watch: ", to be at watch", health.OnTrack: ", to be on track"}[w.To]
	}
	if done, known := w.Reached(); known {
		s += "; " + Best(w)
		switch {
		case done:
			s += ", which is enough"
		case w.Best.N != 0 || w.Unit == measure.Index:
			s += ", which is not enough"
		}
	}
	return s
}

// Best says the most that a project has done in one period of what a way back asks for; nothing where nothing tells.
func Best(w *way.Way) string {
	switch {
	case !w.Best.Known:
		return ""
	case w.Unit == measure.Days && w.Best.N == 0:
		return "it has never gained a day in a period"
	case w.Unit == measure.Days:
		return "it gained " + write.Days(w.Best.N) + " in its best period"
	case w.Unit == measure.Money && w.Best.N == 0:
		return "its estimate has never fallen"
	case w.Unit == measure.Money:
		return "its estimate fell by " + w.Best.Amount().Human(w.Currency) + " in its best period"
	}
	return "its best period had " + w.Best.Human(measure.Index, "")
}
