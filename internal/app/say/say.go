// Package say holds the sentences that headlines are made of, and counts things in words.
package say

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
	"turret/internal/core/write"
)

// Phrase is a piece of a headline. A figure names the measure that traces it, or the status that lists its projects.
type Phrase struct {
	Text    string
	Measure measure.Key
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

// Plain is a piece that traces nothing.
func Plain(text string) Phrase { return Phrase{Text: text} }

// Named is a code with the name that it stands for, or the code alone.
func Named(code, name string) string {
	if name == "" {
		return code
	}
	return code + " " + name
}

// Positive is a figure without its sign.
func Positive(v measure.Value) measure.Value {
	v.N = max(v.N, -v.N)
	return v
}

// Abs is a number without its sign.
func Abs(x float64) float64 { return max(x, -x) }

// OverUnder tells the side of the budget that a variance at completion is on.
func OverUnder(vac measure.Value) string {
	if vac.N < 0 {
		return "over"
	}
	return "under"
}

// Headline says what a project will cost and when it will end, and what its lead declares.
func Headline(p *measure.Project, env measure.Env) Sentence {
	s := Sentence{Plain(p.Name)}
	done := p.Status == measure.Closed
	s = append(s, costPhrases(p, env, done)...)
	s = append(s, finishPhrases(p, done)...)
	if d := p.Value(measure.DeclaredHealth); d.Known {
		s = append(s, Plain(" Its lead declares it "), Phrase{Text: d.Status().String(), Measure: measure.DeclaredHealth, Tone: d.Status()},
			Plain("."))
	}
	return append(s, Plain(Awaited([]*measure.Project{p}, env)))
}

// awaitedWords are the inputs that figures wait for, in words.
var awaitedWords = [][2]string{{"actuals", "actual costs"}, {"forecast", "forecasts"}, {"activities", "dates"}}

// Awaited says which inputs of the period have not come, as a sentence that follows others; nothing where all have. What as many projects
// wait for is told together.
func Awaited(list []*measure.Project, env measure.Env) string {
	words := map[int][]string{}
	for _, w := range awaitedWords {
		n := 0
		for _, p := range list {
			if slices.ContainsFunc(p.Awaits, func(x measure.Awaited) bool { return x.Kind == w[0] }) {
				n++
			}
		}
		words[n] = append(words[n], w[1])
	}
	delete(words, 0)
	var parts []string
	for _, n := range slices.Backward(slices.Sorted(maps.Keys(words))) {
		part := write.List(words[n])
		if n < len(list) {
			part += fmt.Sprintf(" of %d of %d projects", n, len(list))
		}
		parts = append(parts, part)
	}
	if len(parts) == 0 {
		return ""
	}
	text := strings.Join(parts, "; ")
	return " " + write.Capital(text) + " have not come for " + env.Period().Name() + "."
}

func costPhrases(p *measure.Project, env measure.Env, done bool) Sentence {
	vac, tone := p.Value(measure.VAC), p.Health.By[health.Cost]
	verb := " will cost "
	if done {
		verb = " cost "
	}
	switch {
	case !vac.Known && p.Value(measure.EAC).Known:
		return Sentence{Plain(verb), Phrase{Text: p.Value(measure.EAC).Amount().Short(env.Currency), Measure: measure.EAC},
			Plain(", against no budget,")}
	case vac.Reason == measure.NoMoney:
		return nil
	case !vac.Known:
		return Sentence{Plain(" has no estimate of its cost (" + vac.Reason + ")")}
	case vac.N == 0:
		return Sentence{Plain(verb + "exactly "), Phrase{Text: "its budget", Measure: measure.VAC}}
	case vac.N < 0:
		return Sentence{Plain(verb), Phrase{Text: Positive(vac).Amount().Short(env.Currency) + " more", Measure: measure.VAC, Tone: tone},
			Plain(" than its budget")}
	}
	return Sentence{Plain(verb), Phrase{Text: Positive(vac).Amount().Short(env.Currency) + " less", Measure: measure.VAC, Tone: tone},
		Plain(" than its budget")}
}

func finishPhrases(p *measure.Project, done bool) Sentence {
	v, tone := p.Value(measure.FinishDeviation), p.Health.By[health.Schedule]
	if !v.Known {
		return Sentence{Plain("; when it ends is not known (" + v.Reason + ").")}
	}
	verb, cost := " and finish ", p.Value(measure.EAC)
	switch alone := cost.Reason == measure.NoMoney; { // no cost is told before
	case alone && done:
		verb = " finished "
	case alone:
		verb = " finishes "
	case done:
		verb = " and finished "
	case !cost.Known:
		verb = " and finishes "
	}
	return Sentence{Plain(verb), Phrase{Text: schedule.Lateness(v.N), Measure: measure.FinishDeviation, Tone: tone}, Plain(".")}
}

// Plural is the word for several records of a sort.
func Plural(on string) string {
	if on == "activity" {
		return "activities"
	}
	return on + "s"
}
