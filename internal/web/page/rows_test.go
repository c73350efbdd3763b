package page

import (
	"html/template"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/assess"
	"turret/internal/core/measure"
)

// A row is made once for an assessment; with one that nobody is shown any more its rows go, and with too many those of the oldest.
func TestRowsAreKeptAsLongAsTheirAssessment(t *testing.T) {
	var gone *assess.Assessment
	c := rowCache{keeps: func(a *assess.Assessment) bool { return a != gone }}
	made := 0
	row := func(a *assess.Assessment) {
		html, err := c.Of(a, RowKey{part: "row", project: &measure.Project{}}, func() (template.HTML, error) { made++; return "<tr>", nil })
		require.NoError(t, err)
		require.Equal(t, template.HTML("<tr>"), html)
	}
	p, list := &measure.Project{}, make([]*assess.Assessment, mostAssessed+1)
	same := func(a *assess.Assessment) {
		_, err := c.Of(a, RowKey{project: p}, func() (template.HTML, error) { made++; return "", nil })
		require.NoError(t, err)
	}
	for i := range list {
		list[i] = &assess.Assessment{}
	}
	same(list[0])
	same(list[0])
	assert.Equal(t, 1, made)
	row(list[1])
	gone = list[0]
	row(list[2])
	assert.Len(t, c.kept, 2)
	assert.NotContains(t, c.kept, gone)
	for _, a := range list[3:] {
		row(a)
	}
	require.Len(t, c.kept, mostAssessed)
	row(&assess.Assessment{})
	assert.Len(t, c.kept, mostAssessed)
	assert.Same(t, list[2], c.kept[0].of)
}
