package condition

import (
	"errors"
	"regexp"
	"strings"

	"turret/internal/app/fault"
	"turret/internal/app/say"
	"turret/internal/core/check"
	"turret/internal/core/measure"
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

// OwnRule is an own check made ready.
type OwnRule struct {
	Rule check.Rule
	expr *Expression
}

var ownID = regexp.MustCompile(`^[a-z][a-z0-9_]{1,39}$`)

// Ready compiles an own check; what is wrong with it is a FieldError.
func (x *OwnCheck) Ready() (OwnRule, error) {
	severity, ok := check.ParseSeverity(x.Severity)
	switch {
	case !ownID.MatchString(x.ID):
		return OwnRule{}, fault.Field("id", x.ID, "2 to 40 small letters, digits and underscores, a letter first")
	case strings.TrimSpace(x.Name) == "" || len(x.Name) > 200:
		return OwnRule{}, fault.Field("name", x.Name, "what is wrong, in a few words")
	case !ok:
		return OwnRule{}, fault.Field("severity", x.Severity, "error, warning or information")
	case len(x.Mend) > 500:
		return OwnRule{}, fault.Field("how to fix it", x.Mend, "a shorter sentence")
	}
	e, err := Compile(x.Expression, x.On)
	if err != nil {
		return OwnRule{}, err
	}
	return OwnRule{check.Rule{ID: x.ID, Name: x.Name, Says: "Own check: " + e.Text, Severity: severity, Records: say.Plural(x.On),
		Mend: x.Mend, Costs: e.TellsCosts()}, e}, nil
}

// ownResult is what an own check found in a project.
type ownResult struct {
	Project *measure.Project
	Tested  int
	Found   []check.Finding
}

// Over runs the check over projects; false where it took too much work.
func (r *OwnRule) Over(a Frame, projects []*measure.Project, w *Work) ([]ownResult, bool) {
	var list []ownResult
	for _, p := range projects {
		if !p.Tested() {
			continue
		}
		tested, found, err := r.Run(a, p, w)
		if errors.Is(err, ErrLong) {
			return nil, false
		}
		if err != nil { // of this project: the check is told as failed there, and the others go on
			found = []check.Finding{{Says: fault.Clip(err.Error(), 200), Ref: p.Ref}}
		}
		list = append(list, ownResult{p, tested, found})
	}
	return list, true
}

// Run tests the records of a project.
func (r *OwnRule) Run(a Frame, p *measure.Project, w *Work) (tested int, found []check.Finding, err error) {
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
		test(nil, check.Finding{Kind: string(record.Projects), Says: r.Rule.Name, Ref: p.Ref})
	case "activity":
		for i := range p.Activities {
			x := &p.Activities[i]
			if !test(fieldsOfActivity(a, p, i), check.Finding{Kind: string(record.Activities), Record: x.Code, Says: x.Code + " " +
				x.Name +
				": " + r.Rule.Name, Ref: x.Ref}) {
				return tested, found, err
			}
		}
	case "risk":
		for i := range p.Risks {
			x := &p.Risks[i]
			test(fieldsOfRisk(x, a.Environment().AsOf), check.Finding{Kind: string(record.Risks), Record: x.Code,
				Says: x.Code + " " + x.Title + ": " +
					r.Rule.Name,
				Ref: x.Ref})
		}
	case "issue":
		for i := range p.Issues {
			x := &p.Issues[i]
			test(issueFields{x.Code, x.Title, string(x.Priority), x.Owner, string(x.State), isoDay(x.Due, x.Due != 0),
				x.Open(a.Environment().AsOf)},
				check.Finding{Kind: string(record.Issues), Record: x.Code, Says: x.Code + " " + x.Title + ": " + r.Rule.Name, Ref: x.Ref})
		}
	case "action":
		for i := range p.Actions {
			x := &p.Actions[i]
			test(actionFields{x.Code, x.Title, x.Owner, string(x.State), x.Source, isoDay(x.Due, x.Due != 0),
				optional(x.Percent.N, x.Percent.Given, 100), x.Open(a.Environment().AsOf)},
				check.Finding{Kind: string(record.Actions), Record: x.Code, Says: x.Code + " " + x.Title + ": " + r.Rule.Name, Ref: x.Ref})
		}
	}
	return tested, found, err
}
