package assess

import (
	"turret/internal/app/condition"
	"turret/internal/core/measure"
)

// Awake are the open risks of a project that wake on the as-of date, in sentences: because their day has come, or because their condition
// holds. A condition that takes too much work, or is of fields that the office has no more, is told as such.
func Awake(a *Assessment, p *measure.Project) []string {
	var list []string
	for i := range p.Risks {
		r := &p.Risks[i]
		name := "Risk " + r.Code + " “" + r.Title + "” "
		if r.Woken(a.Env.AsOf) {
			list = append(list, name+"wakes: its day, "+r.Trigger.Human()+", has come")
			continue
		}
		if r.TriggerWhen == "" || !r.Open(a.Env.AsOf) {
			continue
		}
		is, err := triggered(a, p, r.TriggerWhen)
		if err != nil {
			list = append(list, name+"cannot be told to wake: "+err.Error())
		} else if is {
			list = append(list, name+"wakes: "+r.TriggerWhen)
		}
	}
	return list
}

func triggered(a *Assessment, p *measure.Project, text string) (bool, error) {
	x, err := condition.Compile(text, "project")
	if err != nil {
		return false, err
	}
	if err := x.Knows(a); err != nil {
		return false, err
	}
	return x.Holds(a, p, &condition.Work{Most: condition.MaxRunSteps})
}
