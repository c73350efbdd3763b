package app

import (
	"fmt"
	"strconv"
	"strings"

	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
)

// Phrase is a piece of a headline. A figure names the measure that traces it, or the status that lists its projects.
type Phrase struct {
	Text    string
	Measure string
	Status  string // a value of Filter.Status
	Tone    health.Status
}

// Sentence is a headline, piece by piece.
type Sentence []Phrase

func (s Sentence) String() string {
	var b strings.Builder
	for _, p := range s {
		b.WriteString(p.Text)
	}
	return b.String()
}

func say(text string) Phrase { return Phrase{Text: text} }

func count(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}

// headline says what the open projects of a scope cost and how many need something.
func (l *Lookout) headline(env measure.Env, noMoney bool) Sentence {
	n := len(l.Open)
	if n == 0 {
		return Sentence{say("No open project here.")}
	}
	s := Sentence{say(count(n, "open project", "open projects"))}
	eac, vac, share := l.Group.Value("eac"), l.Group.Value("vac"), l.Group.Value("vac_share")
	if noMoney {
		s = append(s, say(". "))
	} else if !eac.Known {
		s = append(s, say(" without any estimate at completion. "))
	} else {
		verb := " are forecast to cost "
		if n == 1 {
			verb = " is forecast to cost "
		}
		s = append(s, say(verb), Phrase{Text: eac.Amount().Short(env.Currency), Measure: "eac"})
		if share.Known {
			s = append(s, say(", "), Phrase{Text: positive(vac).Amount().Short(env.Currency), Measure: "vac"},
				say(" ("), Phrase{Text: health.Percent(abs(share.Ratio)), Measure: "vac_share"}, say(") "+overUnder(vac)+" budget"))
		}
		if with := l.Group.CountOf("eac"); with < n {
			s = append(s, say(fmt.Sprintf(" (%d of %d projects have an estimate)", with, n)))
		}
		s = append(s, say(". "))
	}
	return append(s, l.needs()...)
}

func (l *Lookout) needs() Sentence {
	var s Sentence
	act := Phrase{Text: count(l.Count[health.Act], "needs action", "need action"), Status: "act", Tone: health.Act}
	watch := Phrase{Text: fmt.Sprintf("%d to watch", l.Count[health.Watch]), Status: "watch", Tone: health.Watch}
	switch {
	case l.Count[health.Act] > 0 && l.Count[health.Watch] > 0:
		s = Sentence{act, say("; "), watch}
	case l.Count[health.Act] > 0:
		s = Sentence{act}
	case l.Count[health.Watch] > 0:
		s = Sentence{say("None needs action; "), watch}
	default:
		s = Sentence{say("None needs action or watching")}
	}
	if l.Disagree > 0 {
		s = append(s, say("; "), Phrase{Text: strconv.Itoa(l.Disagree), Status: "disagree"},
			say(map[bool]string{true: " is", false: " are"}[l.Disagree == 1]+" declared better than computed"))
	}
	return append(s, say("."))
}

func positive(v measure.Value) measure.Value {
	v.N = max(v.N, -v.N)
	return v
}

func abs(x float64) float64 { return max(x, -x) }

func overUnder(vac measure.Value) string {
	if vac.N < 0 {
		return "over"
	}
	return "under"
}

// Headline says what a project will cost and when it will end, and what its lead declares.
func Headline(p *measure.Project, env measure.Env) Sentence {
	s := Sentence{say(p.Name)}
	done := p.Status == "closed"
	s = append(s, costPhrases(p, env, done)...)
	s = append(s, finishPhrases(p, done)...)
	if d := p.Value("declared_health"); d.Known {
		s = append(s, say(" Its lead declares it "), Phrase{Text: d.Status().String(), Measure: "declared_health", Tone: d.Status()},
			say("."))
	}
	return s
}

func costPhrases(p *measure.Project, env measure.Env, done bool) Sentence {
	vac, tone := p.Value("vac"), p.Health.By[health.Cost]
	verb := " will cost "
	if done {
		verb = " cost "
	}
	switch {
	case !vac.Known && p.Value("eac").Known:
		return Sentence{say(verb), Phrase{Text: p.Value("eac").Amount().Short(env.Currency), Measure: "eac"}, say(", against no budget,")}
	case vac.Reason == measure.NoMoney:
		return nil
	case !vac.Known:
		return Sentence{say(" has no estimate of its cost (" + vac.Reason + ")")}
	case vac.N == 0:
		return Sentence{say(verb + "exactly "), Phrase{Text: "its budget", Measure: "vac"}}
	case vac.N < 0:
		return Sentence{say(verb), Phrase{Text: positive(vac).Amount().Short(env.Currency) + " more", Measure: "vac", Tone: tone},
			say(" than its budget")}
	}
	return Sentence{say(verb), Phrase{Text: positive(vac).Amount().Short(env.Currency) + " less", Measure: "vac", Tone: tone},
		say(" than its budget")}
}

func finishPhrases(p *measure.Project, done bool) Sentence {
	v, tone := p.Value("finish_deviation"), p.Health.By[health.Schedule]
	if !v.Known {
		return Sentence{say("; when it ends is not known (" + v.Reason + ").")}
	}
	verb := " and finish "
	switch {
	case done:
		verb = " and finished "
	case !p.Value("eac").Known:
		verb = " and finishes "
	}
	if p.Value("eac").Reason == measure.NoMoney {
		verb = strings.Replace(verb, " and finish ", " finishes ", 1)
		verb = strings.TrimPrefix(verb, " and")
	}
	return Sentence{say(verb), Phrase{Text: schedule.Lateness(v.N), Measure: "finish_deviation", Tone: tone}, say(".")}
}
