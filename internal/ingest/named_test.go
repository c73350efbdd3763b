package ingest

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/intake"
	"turret/internal/record"
)

// A sender of actions, whose heads a file of issues has as well, is not taken to have sent actions under the name of issues; under a name
// of their own, what is remembered of them goes before the guess.
func TestAFileNamedAfterItsKindIsOfThatKind(t *testing.T) {
	remembered := []intake.Mapping{{Kind: record.Actions, Heads: []string{"project", "code", "title"},
		Columns: map[string]string{"project": "project", "code": "code", "title": "title"}}}
	for name, want := range map[string]record.Kind{"issues.csv": record.Issues, "issues from the site.csv": record.Actions,
		"list.csv": record.Actions, "benefits.csv": record.Actions} { // benefits must have more columns than these
		at := onDisk(t, name, []byte("project,code,title\nA,1,Something\n"))
		list, err := Reader{}.Sheets(at, name, remembered, settings)
		require.NoError(t, err)
		require.Len(t, list, 1)
		assert.Equal(t, want, list[0].Mapping.Kind, name)
	}
}
