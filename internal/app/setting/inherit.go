package setting

import (
	"context"
	"errors"
	"maps"
	"slices"

	"turret/internal/app/fault"
)

// Inherit has projects expect the same inputs and go by the same tolerances as another, where they have none of their own. It tells
// whether anything was set.
func (o *Office) Inherit(ctx context.Context, from string, projects []string) (bool, error) {
	for range 3 {
		s, err := o.Now(ctx)
		if err != nil {
			return false, err
		}
		next := *s
		if !next.inherit(from, projects) {
			return false, nil
		}
		err = o.Keep(ctx, &next, "take over the settings of "+from)
		if !errors.Is(err, fault.ErrConflict) {
			return err == nil, err
		}
	}
	return false, fault.Conflict("the settings kept being changed by others")
}

func (s *Settings) inherit(from string, projects []string) (changed bool) {
	s.NotExpected, s.Tolerances = maps.Clone(s.NotExpected), slices.Clone(s.Tolerances)
	of := func(code string) int {
		return slices.IndexFunc(s.Tolerances, func(l Limits) bool { return l.Scope == code })
	}
	for _, code := range projects {
		if list := s.NotExpected[from]; len(list) > 0 && s.NotExpected[code] == nil {
			s.NotExpected[code], changed = slices.Clone(list), true
		}
		if at := of(from); at > 0 && of(code) < 0 {
			own := s.Tolerances[at]
			own.Scope, own.Of = code, maps.Clone(own.Of)
			s.Tolerances, changed = append(s.Tolerances, own), true
		}
	}
	return changed
}
