package fault_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/fault"
)

func TestAProblemSaysWhereWhatAndWhatWasExpected(t *testing.T) {
	p := fault.Problem{File: "x.csv", Row: 1, Column: "date", Value: "soon", Expected: "a day"}
	assert.Equal(t, `x.csv, row 1, column date: "soon": expected a day`, p.String())
	p.Row, p.Column, p.Value = 0, "", ""
	assert.Equal(t, `x.csv: expected a day`, p.String())
	p.Value = "ééééé" + fmt.Sprintf("%0100d", 0)
	assert.Contains(t, p.String(), `"ééééé`)
	assert.Contains(t, p.String(), `…": expected`, "a long value is cut")
}

func TestClipCountsLettersNotBytes(t *testing.T) {
	for _, c := range []struct {
		text string
		n    int
		want string
	}{{"", 0, ""}, {"abc", 3, "abc"}, {"abcd", 3, "abc…"}, {"äöü", 3, "äöü"}, {"äöüß", 3, "äöü…"}, {"a", 0, "…"}} {
		assert.Equal(t, c.want, fault.Clip(c.text, c.n), "%q at %d", c.text, c.n)
	}
}

func TestARefusalListsAllAndIsFoundAgain(t *testing.T) {
	one := fault.Problem{File: "x.csv", Expected: "rows"}
	err := fmt.Errorf("loading: %w", &fault.Refusal{Problems: []fault.Problem{one, one}})
	assert.ErrorIs(t, err, fault.ErrRefused)
	assert.Contains(t, err.Error(), "2 problems; the load was refused and nothing was changed")
	assert.Contains(t, (&fault.Refusal{Problems: []fault.Problem{one}}).Error(), "1 problem;")
	assert.Len(t, fault.ProblemsIn(err), 2)
	assert.Nil(t, fault.ProblemsIn(fault.ErrNotFound))
	assert.Equal(t, `until: “soon”; expected a day`, fault.Field("until", "soon", "a day").Error())
}
