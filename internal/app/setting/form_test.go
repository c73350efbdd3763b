package setting_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/setting"
)

// A form that asks for nothing more is kept as such, and told from one that was never composed.
func TestAFormThatAsksForNothing(t *testing.T) {
	_, o := apptest.Gate(t)
	asked := func() []setting.FormPart {
		s, err := o.Setting.Get(apptest.Ctx)
		require.NoError(t, err)
		return s.ProposalParts()
	}
	assert.Len(t, asked(), 3)
	require.NoError(t, o.Setting.ComposeForm(apptest.Ctx, []setting.FormPart{}, nil))
	assert.Empty(t, asked())
	require.NoError(t, o.Setting.ComposeForm(apptest.Ctx, []setting.FormPart{{Part: "own.gone", Help: "Where <b>", Required: true}}, nil))
	assert.Equal(t, []setting.FormPart{{Part: "own.gone", Help: "Where <b>", Required: true}}, asked())
	require.NoError(t, o.Setting.ComposeForm(apptest.Ctx, nil, nil))
	assert.Len(t, asked(), 3)
}
