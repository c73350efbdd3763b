package condition_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/condition"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// office has fields of its own.
type office struct{ env measure.Env }

func (office) Programme(*measure.Project) *kept.Node { return nil }
func (o office) Environment() *measure.Env           { return &o.env }
func (office) OwnField(name string) (record.Column, bool) {
	cells := map[string]record.Cell{"own.side": record.Choice, "own.crew": record.Number, "own.until": record.Day, "own.note": record.Text}
	cell, ok := cells[name]
	return record.Column{Name: name, Cell: cell}, ok
}

// Conditions ask for fields of the office's own by their type; what is not there meets no limit.
func TestConditionsAskForOwnFields(t *testing.T) {
	full := &measure.Project{Info: measure.Info{Code: "P", Own: map[string]string{"side": "left", "crew": "12.5", "until": "2027-03-01"}}}
	bare := &measure.Project{Info: measure.Info{Code: "Q"}}
	for text, want := range map[string][2]bool{
		`own.side == "left"`:            {true, false},
		`own.side != "left"`:            {false, true},
		`own["side"] in ["left", "up"]`: {true, false},
		`own.crew > 12`:                 {true, false},
		`own.crew <= 12`:                {false, false},
		`own.crew == 12.5`:              {true, false},
		`own.until < "2027-03-02"`:      {true, false},
		`own.until >= "2027-03-02"`:     {false, false},
		`own.note == ""`:                {true, true},
		`code == "Q" or own.crew > 1`:   {true, true},
	} {
		x, err := condition.Compile(text, "project")
		require.NoError(t, err, text)
		require.NoError(t, x.Knows(office{}), text)
		for i, p := range []*measure.Project{full, bare} {
			is, err := x.Holds(office{}, p, &condition.Work{Most: condition.MaxRunSteps})
			require.NoError(t, err, text)
			assert.Equal(t, want[i], is, "%s of %s", text, p.Code)
		}
	}
}

func TestConditionsOfUnknownOwnFieldsAreRefused(t *testing.T) {
	var field *fault.FieldError
	x, err := condition.Compile(`own.county == "x"`, "project")
	require.NoError(t, err)
	require.ErrorAs(t, x.Knows(office{}), &field)
	assert.Contains(t, field.Expected, "there is no field own.county")
	for _, text := range []string{`own == own`, `own[lead] == "x"`, `len(own) > 1`, `own in ["x"]`} {
		_, err := condition.Compile(text, "project")
		assert.ErrorAs(t, err, &field, text)
	}
	x, err = condition.Compile(`own.side > 3`, "project")
	require.NoError(t, err)
	_, err = x.Holds(office{}, &measure.Project{Info: measure.Info{Own: map[string]string{"side": "left"}}}, &condition.Work{Most: 1000})
	assert.ErrorAs(t, err, &field, "a text is not more than a number, and it is told")
}
