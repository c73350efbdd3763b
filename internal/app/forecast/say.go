package forecast

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"turret/internal/core/fact"
	"turret/internal/core/forecast"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/write"
)

// LearnedSays says from how much was learned and how good it is, or why nothing is predicted.
func LearnedSays(l *forecast.Learned) string {
	if l.Reason != "" {
		return "Nothing is predicted: " + l.Reason + "."
	}
	return fmt.Sprintf("Learned from %d finished projects, skill %.2f.", l.Projects, l.Skill)
}

// Headline says how many projects are predicted at act, and how many of those are declared on track.
func (o *Outlooks) Headline() string {
	if o.Learned.Reason != "" {
		return LearnedSays(o.Learned)
	}
	act, declared := o.AtAct()
	text := fmt.Sprintf("%d of %s predicted at act", act, write.Count(len(o.List), "open project is", "open projects are"))
	if act > 0 {
		text += fmt.Sprintf("; %s declared on track", write.Count(declared, "of them is", "of them are"))
	}
	return text + "."
}

// ByDanger are the projects with those most likely to end at act first, and those without a prediction last.
func (o *Outlooks) ByDanger() []Outlook {
	list := slices.Clone(o.List)
	slices.SortStableFunc(list, func(x, y Outlook) int { return cmp.Compare(y.act(), x.act()) })
	return list
}

// act is the chance that a project ends at act; below zero where nothing is predicted.
func (x *Outlook) act() float64 {
	if x.Prediction == nil {
		return -1
	}
	return x.Prediction.Chances[forecast.Classes-1]
}

// PercentOf is a chance in whole percent; a dash where it is not known.
func PercentOf(x fact.Ratio) string {
	if !x.Given() {
		return "–"
	}
	return write.Percent(x.Float(), 0)
}

// Chance is the chance that a project ends at act as it is written; a dash where nothing is predicted.
func (x *Outlook) Chance() string {
	if x.Prediction == nil {
		return "–"
	}
	return write.Percent(x.act(), 0)
}

// Says tells what is predicted, how likely it is and with what confidence, or why nothing is.
func (x *Outlook) Says() string {
	d := x.Prediction
	if d == nil {
		return "nothing is predicted: " + x.Reason
	}
	return fmt.Sprintf("predicted %s, %s, confidence %s", x.Predicted(), write.Percent(d.Chances[d.Likeliest], 0), d.Confidence)
}

// Why is the weightiest reason for what is predicted; empty where nothing is.
func (x *Outlook) Why() string {
	if x.Prediction == nil {
		return ""
	}
	for _, why := range x.Prediction.Drivers {
		if why.Direction == "toward" {
			return why.Words
		}
	}
	return ""
}

// Sentence is what Says tells, with the weightiest reason.
func (x *Outlook) Sentence() string {
	if why := x.Why(); why != "" {
		return x.Says() + ": " + why
	}
	return x.Says()
}

// mostReasons is how many reasons are evidence.
const mostReasons = 3

// Evidence are two sentences for what is predicted: how likely it is, and what speaks for it.
func (x *Outlook) Evidence() []string {
	d := x.Prediction
	if d == nil {
		return nil
	}
	var toward []string
	for _, why := range d.Drivers {
		if why.Direction == "toward" && len(toward) < mostReasons {
			toward = append(toward, why.Words)
		}
	}
	list := []string{fmt.Sprintf("By how finished projects went that stood like this one it ends at %s with %s; confidence %s.",
		x.Predicted(), write.Percent(d.Chances[d.Likeliest], 0), d.Confidence)}
	if len(toward) > 0 {
		list = append(list, "What speaks for it: "+strings.Join(toward, "; ")+".")
	}
	return list
}

// Worse are the projects of which worse is predicted than declared, those most likely to end at act first.
func (o *Outlooks) Worse() []Outlook {
	return slices.DeleteFunc(o.ByDanger(), func(x Outlook) bool { return !x.Differs() })
}

// Danger reports whether act is predicted.
func (x *Outlook) Danger() bool { return x.Predicted() == health.Act }

// Differs reports whether worse is predicted than what was declared.
func (x *Outlook) Differs() bool {
	p := x.Predicted()
	return p != health.NotAssessed && x.Declared != health.NotAssessed && p > x.Declared
}

// Concerns are the projects predicted worse than declared, then the others that are predicted at act; of both those first that are most
// likely to end so.
func (o *Outlooks) Concerns() []Outlook {
	list := slices.DeleteFunc(o.ByDanger(), func(x Outlook) bool { return !x.Differs() && !x.Danger() })
	slices.SortStableFunc(list, func(x, y Outlook) int {
		switch {
		case x.Differs() == y.Differs():
			return 0
		case x.Differs():
			return -1
		}
		return 1
	})
	return list
}

// Among are the outlooks of some projects, in their order.
func (o *Outlooks) Among(projects []*measure.Project) *Outlooks {
	by := make(map[string]*Outlook, len(o.List))
	for i := range o.List {
		by[o.List[i].Project.Code] = &o.List[i]
	}
	out := &Outlooks{Learned: o.Learned}
	for _, p := range projects {
		if x := by[p.Code]; x != nil {
			out.List = append(out.List, *x)
		}
	}
	return out
}
