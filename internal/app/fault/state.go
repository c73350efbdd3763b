package fault

import (
	"fmt"
)

// StateError is an ErrConflict that says itself what is in the way.
type StateError struct{ Says string }

// Error implements error.
func (e *StateError) Error() string { return e.Says }

// Is makes it an ErrConflict.
func (e *StateError) Is(target error) bool { return target == ErrConflict }

// Conflict is a StateError.
func Conflict(format string, args ...any) error { return &StateError{fmt.Sprintf(format, args...)} }
