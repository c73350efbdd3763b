package judge

import (
	"context"
	"fmt"
	"slices"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/condition"
	"turret/internal/app/fault"
	"turret/internal/core/check"
)

// Trial is what an own check would find.
type Trial struct {
	Tested int
	Found  []Found
}

// Try runs an own check over the open projects of a scope without keeping it.
func (o *Office) Try(ctx context.Context, a *assess.Assessment, s *assess.Scope, x condition.OwnCheck) (*Trial, error) {
	if _, err := access.Permit(ctx, access.ReadSetup); err != nil {
		return nil, err
	}
	r, err := x.Ready()
	if err != nil {
		return nil, err
	}
	if err := r.Knows(a); err != nil {
		return nil, err
	}
	t := &Trial{}
	w := &condition.Work{Most: condition.MaxRunSteps}
	for _, p := range s.Projects {
		tested, found, err := r.Run(a, p, w)
		if err != nil {
			return nil, err
		}
		t.Tested += tested
		for i := range found {
			found[i].Rule = &r.Rule
			t.Found = append(t.Found, Found{Finding: &found[i], Project: p})
		}
	}
	return t, nil
}

// SaveCheck keeps an own check, in the place of the one of the same id; without an expression it takes that away.
func (o *Office) SaveCheck(ctx context.Context, x condition.OwnCheck) error {
	if _, err := access.PermitWhole(ctx, access.Judge); err != nil {
		return err
	}
	s, err := o.setting.Now(ctx)
	if err != nil {
		return err
	}
	changed := *s
	changed.OwnChecks = slices.DeleteFunc(slices.Clone(s.OwnChecks), func(y condition.OwnCheck) bool { return y.ID == x.ID })
	if x.Expression == "" {
		changed.ChecksOff = slices.DeleteFunc(slices.Clone(s.ChecksOff), func(id string) bool { return id == x.ID })
		return o.setting.Keep(ctx, &changed, "take away a check")
	}
	changed.OwnChecks = append(changed.OwnChecks, x)
	return o.setting.Keep(ctx, &changed, "keep a check")
}

// SetCheck switches a check on or off, and sets its limit where one is given.
func (o *Office) SetCheck(ctx context.Context, id string, on bool, limit *float64) error {
	if _, err := access.PermitWhole(ctx, access.Judge); err != nil {
		return err
	}
	s, err := o.setting.Now(ctx)
	if err != nil {
		return err
	}
	rule := check.Lookup(id)
	switch own := slices.ContainsFunc(s.OwnChecks, func(x condition.OwnCheck) bool { return x.ID == id }); {
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
	return o.setting.Keep(ctx, &changed, "set a check")
}
