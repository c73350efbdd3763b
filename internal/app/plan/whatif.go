package plan

import (
	"turret/internal/app/assess"
	"turret/internal/app/setting"
	"turret/internal/core/health"
	"turret/internal/core/measure"
)

// WhatIf is what other tolerances of all projects would make of their statuses.
type WhatIf struct {
	Now, Then [health.Overall + 1][4]int // by dimension and status
	Changed   []Changed
}

// Changed is a project whose overall status would be another.
type Changed struct {
	Project   *measure.Project
	Was, Then health.Result
}

// TryOut rates the projects of a scope by other limits of all projects; limits of narrower scopes stay as they are.
func TryOut(a *assess.Assessment, s *assess.Scope, limits setting.Limits) (*WhatIf, error) {
	if err := limits.Check(); err != nil {
		return nil, err
	}
	x := &WhatIf{}
	tried := *a
	tried.Env.Tolerances = limits.Over(a.Env.Tolerances)
	by := a.Settings.LimitsOf()
	for _, p := range s.Projects {
		then := p.Rate(tried.EnvOf(p, by).Tolerances)
		for _, d := range append(health.Dimensions(), health.Overall) {
			x.Now[d][p.Health.InForce(d)]++
			x.Then[d][then.InForce(d)]++
		}
		if then.Overall != p.Health.Overall || then.By != p.Health.By {
			x.Changed = append(x.Changed, Changed{p, p.Health, then})
		}
	}
	return x, nil
}
