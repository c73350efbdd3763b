package assess

import (
	"maps"
	"slices"

	"turret/internal/app/condition"
	"turret/internal/core/measure"
)

// readyOwn compiles the own checks of the settings. One that is no longer understood is named in Broken, and so is one that took too much
// work.
func readyOwn(a *Assessment) {
	a.Own, a.Broken = nil, nil
	for _, x := range a.Settings.OwnChecks {
		if slices.Contains(a.Settings.ChecksOff, x.ID) {
			continue
		}
		if a.overworked[x.ID] {
			a.Broken = append(a.Broken, x.Name+": "+tooMuch)
			continue
		}
		r, err := x.Ready()
		if err == nil {
			err = r.Knows(a)
		}
		if err != nil {
			a.Broken = append(a.Broken, x.Name+": "+err.Error())
			continue
		}
		a.Own = append(a.Own, r)
	}
}

// tooMuch is why an own check is switched off by itself.
const tooMuch = "it is switched off, because it takes more work than a check may; ask less of its texts"

// runOwn runs the own checks over projects. One that takes too much work is switched off: nothing of it counts.
func runOwn(a *Assessment, projects []*measure.Project) {
	if len(a.Own) == 0 {
		return
	}
	left := condition.MaxOwnSteps
	for i := 0; i < len(a.Own); i++ {
		w := &condition.Work{Most: min(condition.MaxRunSteps, left)}
		results, ok := a.Own[i].Over(a, projects, w)
		left -= w.Done
		if !ok {
			switchOff(a, i)
			i--
			continue
		}
		for k := range results {
			r := &results[k]
			r.Project.Checks.Add(&a.Own[i].Rule, r.Tested, r.Found, r.Project.Audit.Accepted)
		}
	}
	for _, p := range projects {
		if p.Tested() {
			p.Conclude()
		}
	}
}

func switchOff(a *Assessment, i int) {
	rule := &a.Own[i].Rule
	a.Broken = append(a.Broken, rule.Name+": "+tooMuch)
	over := map[string]bool{rule.ID: true} // the former's is read by others
	maps.Copy(over, a.overworked)
	a.overworked = over
	a.Own = slices.Delete(a.Own, i, i+1)
}
