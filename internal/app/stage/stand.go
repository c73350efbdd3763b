package stage

import "turret/internal/core/measure"

// Stand is where a project stands in its stages.
type Stand struct {
	Model  *Model   // nil where no model is for it
	At     int      // its stage; -1 where the model does not know it
	Open   *Gate    // asked for and not decided yet; nil for none
	Gates  []*Gate  // all of them, by the day on which they were asked for
	Behind []Behind // the stages before its own
	Last   *Gate    // that it passed last; nil for none
}

// Behind is a stage whose gate a project has to have passed.
type Behind struct {
	Stage  *Stage
	Gate   *Gate // asked for last; nil for never
	Passed bool
}

// Skipped are the stages before its own whose gates the project never passed.
func (s *Stand) Skipped() (list []*Stage) {
	for i := range s.Behind {
		if !s.Behind[i].Passed {
			list = append(list, s.Behind[i].Stage)
		}
	}
	return list
}

// Stage is the stage that the project is in; nil where it is not known.
func (s *Stand) Stage() *Stage {
	if s.Model == nil || s.At < 0 {
		return nil
	}
	return &s.Model.Stages[s.At]
}

// Next is the stage after its own; nil where there is none.
func (s *Stand) Next() *Stage {
	if s.Model == nil || s.At < 0 || s.At+1 >= len(s.Model.Stages) {
		return nil
	}
	return &s.Model.Stages[s.At+1]
}

// Asks reports whether its gate needs something of a kind.
func (s *Stage) Asks(kind string) bool {
	for i := range s.Needs {
		if s.Needs[i].Kind == kind {
			return true
		}
	}
	return false
}

// Stand is where a project stands. One that names no stage is in the first.
func (g *Gates) Stand(x *measure.Project) Stand {
	s := Stand{Model: g.ModelOf(x), At: -1, Gates: g.Of[x.Code]}
	if s.Model == nil {
		return s
	}
	if s.At = s.Model.Place(x.Stage); x.Stage == "" {
		s.At = 0
	}
	passed, last := map[int]bool{}, map[int]*Gate{}
	for _, gate := range s.Gates {
		at := s.Model.Place(gate.Stage)
		last[at] = gate
		if gate.Passed() {
			passed[at], s.Last = true, gate
		}
	}
	for k := range max(s.At, 0) {
		s.Behind = append(s.Behind, Behind{&s.Model.Stages[k], last[k], passed[k]})
	}
	if stage := s.Stage(); stage != nil {
		for _, gate := range s.Gates {
			if gate.Decision == "" && s.Model.Place(gate.Stage) == s.At {
				s.Open = gate
			}
		}
	}
	return s
}
