package assess_test

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/assess"
	"turret/internal/core/measure"
	"turret/internal/record"
)

func TestProjectsAreOrderedByOwnFields(t *testing.T) {
	reach := record.Column{Cell: record.Choice, Choices: []string{"upper", "middle", "lower"}}
	for _, x := range []struct {
		column       record.Column
		values, want string
		reverse      bool
	}{
		{record.Column{Cell: record.Number}, "10 9 -2 2.5 -", "-2 2.5 9 10 -", false},
		{record.Column{Cell: record.Number}, "10 9 -2 2.5 -", "10 9 2.5 -2 -", true},
		{record.Column{Cell: record.Day}, "2027-01-02 - 2026-12-31", "2026-12-31 2027-01-02 -", false},
		{reach, "lower upper - middle", "upper middle lower -", false},
		{reach, "lower upper - middle", "lower middle upper -", true},
		{record.Column{}, "b a - c", "a b c -", false},
	} {
		x.column.Name = "own.x"
		var list []*measure.Project
		for _, v := range strings.Fields(x.values) {
			own := map[string]string{"x": v}
			if v == "-" {
				own = nil
			}
			list = append(list, &measure.Project{Info: measure.Info{Own: own}})
		}
		slices.SortStableFunc(list, func(p, q *measure.Project) int { return assess.CompareOwn(p, q, x.column, x.reverse) })
		var got []string
		for _, p := range list {
			if v := p.Own["x"]; v != "" {
				got = append(got, v)
			} else {
				got = append(got, "-")
			}
		}
		assert.Equal(t, x.want, strings.Join(got, " "))
	}
}

func TestOwnFieldsAreReadAsPeopleWriteThem(t *testing.T) {
	p := &measure.Project{Info: measure.Info{Own: map[string]string{"n": "-1234.5", "d": "2027-02-01", "t": "a\nb"}}}
	for name, c := range map[string]record.Cell{"own.n": record.Number, "own.d": record.Day, "own.t": record.Text, "own.x": record.Day} {
		want := map[string]string{"own.n": "−1,234.5", "own.d": "1 Feb 2027", "own.t": "a\nb", "own.x": ""}[name]
		assert.Equal(t, want, assess.OwnText(p, record.Column{Name: name, Cell: c}), name)
	}
}
