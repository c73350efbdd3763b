package app

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"regexp"
	"slices"
	"strings"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/core/check"
	"turret/internal/core/measure"
	"turret/internal/core/risk"
	"turret/internal/record"
)

// OwnCheck is a check that an installation wrote itself: a record for which the condition is true has failed.
type OwnCheck struct {
	ID         string `json:"id"`
	Name       string `json:"name"`
	Severity   string `json:"severity"`
	On         string `json:"on"`
	Expression string `json:"expression"`
	Mend       string `json:"mend"`
}

// ownRule is an own check made ready.
type ownRule struct {
	rule check.Rule
	expr *Expression
}

var ownID = regexp.MustCompile(`^[a-z][a-z0-9_]{1,39}$`)

// maxOwn bounds how many own checks there are.
const maxOwn = 100

func (s *Settings) checkOwn() error {
	if len(s.OwnChecks) > maxOwn {
		return fault.Field("own checks", fmt.Sprint(len(s.OwnChecks)), fmt.Sprintf("at most %d", maxOwn))
	}
	seen := map[string]bool{}
	for _, x := range s.OwnChecks {
		if seen[x.ID] || check.Lookup(x.ID) != nil {
			return fault.Field("id", x.ID, "an id that no other check has")
		}
		seen[x.ID] = true
		if _, err := x.ready(); err != nil {
			return err
		}
	}
	return nil
}

// ready compiles an own check; what is wrong with it is a FieldError.
func (x *OwnCheck) ready() (ownRule, error) {
	severity, ok := check.ParseSeverity(x.Severity)
	switch {
	case !ownID.MatchString(x.ID):
		return ownRule{}, fault.Field("id", x.ID, "2 to 40 small letters, digits and underscores, a letter first")
	case strings.TrimSpace(x.Name) == "" || len(x.Name) > 200:
		return ownRule{}, fault.Field("name", x.Name, "what is wrong, in a few words")
	case !ok:
		return ownRule{}, fault.Field("severity", x.Severity, "error, warning or information")
	case len(x.Mend) > 500:
		return ownRule{}, fault.Field("how to mend it", x.Mend, "a shorter sentence")
	}
	e, err := Compile(x.Expression, x.On)
	if err != nil {
		return ownRule{}, err
	}
	return ownRule{check.Rule{ID: x.ID, Name: x.Name, Says: "Own check: " + e.Text, Severity: severity, Records: plural(x.On),
		Mend: x.Mend, Costs: e.tellsCosts()}, e}, nil
}

func plural(on string) string {
	if on == "activity" {
		return "activities"
	}
	return on + "s"
}

// readyOwn compiles the own checks of the settings. One that is no longer understood is named in Broken, and so is one that took too much
// work.
func (a *Assessment) readyOwn() {
	a.own, a.Broken = nil, nil
	for _, x := range a.Settings.OwnChecks {
		if slices.Contains(a.Settings.ChecksOff, x.ID) {
			continue
		}
		if a.overworked[x.ID] {
			a.Broken = append(a.Broken, x.Name+": "+tooMuch)
			continue
		}
		r, err := x.ready()
		if err != nil {
			a.Broken = append(a.Broken, x.Name+": "+err.Error())
			continue
		}
		a.own = append(a.own, r)
	}
}

// tooMuch is why an own check is switched off by itself.
const tooMuch = "it is switched off, because it takes more work than a check may; ask less of its texts"

// runOwn runs the own checks over projects. One that takes too much work is switched off: nothing of it counts.
func (a *Assessment) runOwn(projects []*measure.Project) {
	if len(a.own) == 0 {
		return
	}
	left := maxOwnSteps
	for i := 0; i < len(a.own); i++ {
		w := &work{most: min(maxRunSteps, left)}
		results, ok := a.own[i].over(a, projects, w)
		left -= w.done
		if !ok {
			a.switchOff(i)
			i--
			continue
		}
		for k := range results {
			r := &results[k]
			r.project.Checks.Add(&a.own[i].rule, r.tested, r.found, r.project.Audit.Accepted)
		}
	}
	for _, p := range projects {
		if p.Tested() {
			p.Conclude()
		}
	}
}

func (a *Assessment) switchOff(i int) {
	rule := &a.own[i].rule
	a.Broken = append(a.Broken, rule.Name+": "+tooMuch)
	over := map[string]bool{rule.ID: true} // the former's is read by others
	maps.Copy(over, a.overworked)
	a.overworked = over
	a.own = slices.Delete(a.own, i, i+1)
}

// ownResult is what an own check found in a project.
type ownResult struct {
	project *measure.Project
	tested  int
	found   []check.Finding
}

// over runs the check over projects; false where it took too much work.
func (r *ownRule) over(a Frame, projects []*measure.Project, w *work) ([]ownResult, bool) {
	var list []ownResult
	for _, p := range projects {
		if !p.Tested() {
			continue
		}
		tested, found, err := r.run(a, p, w)
		if errors.Is(err, errLong) {
			return nil, false
		}
		if err != nil { // of this project: the check is told as failed there, and the others go on
			found = []check.Finding{{Says: fault.Clip(err.Error(), 200), Ref: p.Ref}}
		}
		list = append(list, ownResult{p, tested, found})
	}
	return list, true
}

// run tests the records of a project.
func (r *ownRule) run(a Frame, p *measure.Project, w *work) (tested int, found []check.Finding, err error) {
	env, ok := r.expr.values(a, p)
	if !ok {
		return 0, nil, nil
	}
	texts := env.bytes()
	test := func(fields any, f check.Finding) bool {
		if err != nil {
			return false
		}
		tested++
		size := texts
		if fields != nil {
			env[r.expr.on] = fields
			size += bytesOf(fields)
		}
		if err = w.take(r.expr.steps(size)); err != nil {
			return false
		}
		is, failed := r.expr.run(env)
		if failed != nil {
			err = failed
			return false
		}
		if is {
			found = append(found, f)
		}
		return true
	}
	switch r.expr.on {
	case "project":
		test(nil, check.Finding{Kind: string(record.Projects), Says: r.rule.Name, Ref: p.Ref})
	case "activity":
		for i := range p.Activities {
			x := &p.Activities[i]
			if !test(fieldsOfActivity(a, p, i), check.Finding{Kind: string(record.Activities), Record: x.Code, Says: x.Code + " " + x.Name +
				": " + r.rule.Name, Ref: x.Ref}) {
				return tested, found, err
			}
		}
	case "risk":
		for i := range p.Risks {
			x := &p.Risks[i]
			test(fieldsOfRisk(x), check.Finding{Kind: string(record.Risks), Record: x.Code, Says: x.Code + " " + x.Title + ": " +
				r.rule.Name,
				Ref: x.Ref})
		}
	case "issue":
		for i := range p.Issues {
			x := &p.Issues[i]
			test(issueFields{x.Code, x.Title, x.Priority, x.Owner, x.State, isoDay(x.Due, x.Due != 0), !risk.Over(x.State)},
				check.Finding{Kind: string(record.Issues), Record: x.Code, Says: x.Code + " " + x.Title + ": " + r.rule.Name, Ref: x.Ref})
		}
	case "action":
		for i := range p.Actions {
			x := &p.Actions[i]
			test(actionFields{x.Code, x.Title, x.Owner, x.State, x.Source, isoDay(x.Due, x.Due != 0),
				optional(x.Percent.N, x.Percent.Given, 100), x.Open()},
				check.Finding{Kind: string(record.Actions), Record: x.Code, Says: x.Code + " " + x.Title + ": " + r.rule.Name, Ref: x.Ref})
		}
	}
	return tested, found, err
}

// Trial is what an own check would find.
type Trial struct {
	Tested int
	Found  []Found
}

// Try runs an own check over the open projects of a scope without keeping it.
func (o *Office) Try(ctx context.Context, a *Assessment, s *Scope, x OwnCheck) (*Trial, error) {
	if _, err := access.Permit(ctx, access.ReadSetup); err != nil {
		return nil, err
	}
	r, err := x.ready()
	if err != nil {
		return nil, err
	}
	t := &Trial{}
	w := &work{most: maxRunSteps}
	for _, p := range s.Projects {
		tested, found, err := r.run(a, p, w)
		if err != nil {
			return nil, err
		}
		t.Tested += tested
		for i := range found {
			found[i].Rule = &r.rule
			t.Found = append(t.Found, Found{Finding: &found[i], Project: p})
		}
	}
	return t, nil
}

// SaveCheck keeps an own check, in the place of the one of the same id; without an expression it takes that away.
func (o *Office) SaveCheck(ctx context.Context, x OwnCheck) error {
	if _, err := access.PermitWhole(ctx, access.Judge); err != nil {
		return err
	}
	s, err := o.settings(ctx)
	if err != nil {
		return err
	}
	changed := *s
	changed.OwnChecks = slices.DeleteFunc(slices.Clone(s.OwnChecks), func(y OwnCheck) bool { return y.ID == x.ID })
	if x.Expression == "" {
		changed.ChecksOff = slices.DeleteFunc(slices.Clone(s.ChecksOff), func(id string) bool { return id == x.ID })
		return o.saveSettings(ctx, &changed, "take away a check")
	}
	changed.OwnChecks = append(changed.OwnChecks, x)
	return o.saveSettings(ctx, &changed, "keep a check")
}

// SetCheck switches a check on or off, and sets its limit where one is given.
func (o *Office) SetCheck(ctx context.Context, id string, on bool, limit *float64) error {
	if _, err := access.PermitWhole(ctx, access.Judge); err != nil {
		return err
	}
	s, err := o.settings(ctx)
	if err != nil {
		return err
	}
	rule := check.Lookup(id)
	switch own := slices.ContainsFunc(s.OwnChecks, func(x OwnCheck) bool { return x.ID == id }); {
	case rule == nil && !own:
		return fmt.Errorf("check %q: %w", fault.Clip(id, 60), fault.ErrNotFound)
	case limit != nil && (rule == nil || rule.Limit == nil):
		return fault.Field("limit", fmt.Sprint(*limit), "none: "+id+" has no limit")
	}
	changed := *s
	changed.ChecksOff = slices.DeleteFunc(slices.Clone(s.ChecksOff), func(x string) bool { return x == id })
	if !on {
		changed.ChecksOff = append(changed.ChecksOff, id)
	}
	if limit != nil {
		changed.CheckLimits = map[string]float64{}
		for k, v := range s.CheckLimits {
			changed.CheckLimits[k] = v
		}
		changed.CheckLimits[id] = *limit
		if rule.Limit.Default == *limit {
			delete(changed.CheckLimits, id)
		}
	}
	return o.saveSettings(ctx, &changed, "set a check")
}
