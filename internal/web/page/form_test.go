package page

import (
	"errors"
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/access"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/publish"
)

// What a person can mend in the form, or read there, comes back to it in its own words; the rest is another matter.
func TestWhatAFormIsRefusedFor(t *testing.T) {
	field := fault.Field("until", "x", "a day")
	for _, c := range []struct{ err, want error }{
		{fmt.Errorf("saving: %w", field), field},
		{fmt.Errorf("saving: %w", fault.Conflict("October is closed.")), fault.Conflict("October is closed.")},
		{&edit.Error{}, &edit.Error{}},
		{&publish.ObstacleError{}, &publish.ObstacleError{}},
		{fmt.Errorf("load 3: %w", fault.ErrPinned), fmt.Errorf("load 3: %w", fault.ErrPinned)},
		{fmt.Errorf("load 3: %w", fault.ErrNeeded), fmt.Errorf("load 3: %w", fault.ErrNeeded)},
		{fmt.Errorf("saving: %w", fault.ErrConflict), nil},
		{fmt.Errorf("saving: %w", access.ErrForbidden), nil},
		{errors.New("the disk is full"), nil},
		{nil, nil},
	} {
		assert.Equal(t, c.want, Refused(c.err), "%v", c.err)
	}
}
