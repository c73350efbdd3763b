package lookout

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"turret/internal/app/say"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/write"
)

// headline says what the open projects of a scope cost and how many need something.
func (l *Lookout) headline(env measure.Env, noMoney bool) say.Sentence {
	n := len(l.Open)
	if n == 0 {
		return say.Sentence{say.Plain("No open project here.")}
	}
	var s say.Sentence
	awaited := say.Awaited(l.Open, env)
	if !slices.ContainsFunc(l.Open, withLedger) { // nothing else in the sentence is what it seems
		s, awaited = append(s, say.Plain(strings.TrimSpace(awaited)+" So far, ")), ""
	}
	s = append(s, say.Plain(write.Count(n, "open project", "open projects")))
	eac, vac, share := l.Group.Value(measure.EAC), l.Group.Value(measure.VAC), l.Group.Value(measure.VACShare)
	if noMoney {
		s = append(s, say.Plain(". "))
	} else if !eac.Known {
		s = append(s, say.Plain(" without any estimate at completion. "))
	} else {
		verb := " are forecast to cost "
		if n == 1 {
			verb = " is forecast to cost "
		}
		s = append(s, say.Plain(verb), say.Phrase{Text: eac.Amount().Short(env.Currency), Measure: measure.EAC})
		if share.Known {
			s = append(s, say.Plain(", "), say.Phrase{Text: say.Positive(vac).Amount().Short(env.Currency), Measure: measure.VAC},
				say.Plain(" ("), say.Phrase{Text: write.Percent(say.Abs(share.Ratio), 1), Measure: measure.VACShare},
				say.Plain(") "+say.OverUnder(vac)+" budget"))
		}
		if with := l.Group.CountOf(measure.EAC); with < n {
			s = append(s, say.Plain(fmt.Sprintf(" (%d of %d projects have an estimate)", with, n)))
		}
		s = append(s, say.Plain(". "))
	}
	return append(append(s, l.needs()...), say.Plain(awaited))
}

// withLedger reports whether the actual costs of the period have come for a project, as far as any are expected.
func withLedger(p *measure.Project) bool {
	return !slices.ContainsFunc(p.Awaits, func(x measure.Awaited) bool { return x.Kind == "actuals" })
}

func (l *Lookout) needs() say.Sentence {
	var s say.Sentence
	act := say.Phrase{Text: write.Count(l.Count[health.Act], "needs action", "need action"), Status: "act", Tone: health.Act}
	watch := say.Phrase{Text: fmt.Sprintf("%d to watch", l.Count[health.Watch]), Status: "watch", Tone: health.Watch}
	switch {
	case l.Count[health.Act] > 0 && l.Count[health.Watch] > 0:
		s = say.Sentence{act, say.Plain("; "), watch}
	case l.Count[health.Act] > 0:
		s = say.Sentence{act}
	case l.Count[health.Watch] > 0:
		s = say.Sentence{say.Plain("None needs action; "), watch}
	default:
		s = say.Sentence{say.Plain("None needs action or watching")}
	}
	if l.Disagree > 0 {
		s = append(s, say.Plain("; "), say.Phrase{Text: strconv.Itoa(l.Disagree), Status: "disagree"},
			say.Plain(map[bool]string{true: " is", false: " are"}[l.Disagree == 1]+" declared better than computed"))
	}
	return append(s, say.Plain("."))
}
