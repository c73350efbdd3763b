package setting

import (
	"context"
	"errors"
	"maps"
	"slices"

	"turret/internal/app/fault"
	"turret/internal/record"
)

// Inherit has projects expect the same inputs and go by the same tolerances as another, where they have none of their own. It tells
// whether anything was set.
func (o *Office) Inherit(ctx context.Context, from string, projects []string) (bool, error) {
	return o.adopt(ctx, "take over the settings of "+from, func(s *Settings) bool { return s.inherit(from, projects) })
}

// InheritLimits has projects go by the tolerances of another, where they have none of their own.
func (o *Office) InheritLimits(ctx context.Context, from string, projects []string) error {
	_, err := o.adopt(ctx, "take over the tolerances of "+from, func(s *Settings) bool { return inheritLimits(s, from, projects) })
	return err
}

// Ask has of projects, where nothing is set of them yet, only some of the inputs that the office expects each period.
func (o *Office) Ask(ctx context.Context, projects []string, asked []record.Kind) error {
	_, err := o.adopt(ctx, "ask for what a template asks for", func(s *Settings) bool { return s.ask(projects, asked) })
	return err
}

// adopt changes the settings, as often as others change them meanwhile, within reason.
func (o *Office) adopt(ctx context.Context, act string, change func(*Settings) bool) (bool, error) {
	for range 3 {
		s, err := o.Now(ctx)
		if err != nil {
			return false, err
		}
		next := *s
		if !change(&next) {
			return false, nil
		}
		err = o.Keep(ctx, &next, act)
		if !errors.Is(err, fault.ErrConflict) {
			return err == nil, err
		}
	}
	return false, fault.Conflict("the settings kept being changed by others")
}

func (s *Settings) inherit(from string, projects []string) (changed bool) {
	s.NotExpected = maps.Clone(s.NotExpected)
	for _, code := range projects {
		if list := s.NotExpected[from]; len(list) > 0 && s.NotExpected[code] == nil {
			s.NotExpected[code], changed = slices.Clone(list), true
		}
	}
	return inheritLimits(s, from, projects) || changed
}

func inheritLimits(s *Settings, from string, projects []string) (changed bool) {
	s.Tolerances = slices.Clone(s.Tolerances)
	of := func(code string) int {
		return slices.IndexFunc(s.Tolerances, func(l Limits) bool { return l.Scope == code })
	}
	for _, code := range projects {
		if at := of(from); at > 0 && of(code) < 0 {
			own := s.Tolerances[at]
			own.Scope, own.Of = code, maps.Clone(own.Of)
			s.Tolerances, changed = append(s.Tolerances, own), true
		}
	}
	return changed
}

func (s *Settings) ask(projects []string, asked []record.Kind) (changed bool) {
	s.NotExpected = maps.Clone(s.NotExpected)
	if s.NotExpected == nil {
		s.NotExpected = map[string][]record.Kind{}
	}
	var not []record.Kind
	for _, in := range s.Inputs {
		if in.Rhythm == EachPeriod && !slices.Contains(asked, in.Kind) {
			not = append(not, in.Kind)
		}
	}
	for _, code := range projects {
		if s.NotExpected[code] == nil && len(not) > 0 {
			s.NotExpected[code], changed = slices.Clone(not), true
		}
	}
	return changed
}
