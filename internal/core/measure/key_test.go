package measure

import (
	"encoding/json"
	"fmt"
	"go/ast"
	"go/parser"
	"go/token"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A key without an entry would answer with the first figure of the catalogue, two of one text with each other's.
func TestEveryKeyHasItsEntryAndItsText(t *testing.T) {
	require.Len(t, catalogue, int(keyCount)-1)
	for key := None + 1; key < keyCount; key++ {
		assert.Equal(t, key, Of(key).Key)
		assert.Equal(t, key, KeyOf(key.String()), key)
		assert.Regexp(t, `^[a-z][a-z_]*[a-z]$`, key.String())
	}
}

// What is read beside a key is what the catalogue says of it.
func TestKeysAreToldAsTheCatalogueHasThem(t *testing.T) {
	f, err := parser.ParseFile(token.NewFileSet(), "key.go", nil, parser.ParseComments|parser.SkipObjectResolution)
	require.NoError(t, err)
	var told []string
	ast.Inspect(f, func(n ast.Node) bool {
		if x, ok := n.(*ast.ValueSpec); ok && x.Comment != nil {
			told = append(told, strings.TrimSpace(x.Comment.Text()))
		}
		return true
	})
	var want []string
	for i := range catalogue {
		d := &catalogue[i]
		want = append(want, fmt.Sprintf("%s, %s: %s", d.Key, d.Unit, d.Name))
	}
	assert.Equal(t, want, told)
}

// What is no measure has no figure, and tells of no costs: columns of other things are not kept from anybody for it.
func TestWhatIsNoMeasure(t *testing.T) {
	for _, text := range []string{"", "nonsense", "BAC", "own.bac"} {
		d, ok := Lookup(text)
		assert.False(t, ok, text)
		assert.False(t, d.IsCost(), text)
		assert.Equal(t, None, KeyOf(text), text)
	}
	p := project("A", 100, 50, 60)
	assert.False(t, p.Value(None).Known)
	assert.False(t, RollOf(None, []*Project{p}, env).Known)
	assert.Empty(t, None.String())
	assert.True(t, Of(VAC).IsCost())
	assert.False(t, Of(FinishShare).IsCost())
}

func TestKeysAreReadInTheirOrderAndTheFirstWrongOneNamed(t *testing.T) {
	list, wrong := KeysOf("vac, bac ev")
	assert.Equal(t, []Key{VAC, BAC, EV}, list)
	assert.Empty(t, wrong)
	_, wrong = KeysOf("vac,nothing,bax")
	assert.Equal(t, "nothing", wrong)
	list, wrong = KeysOf(" , ")
	assert.Len(t, list, len(catalogue))
	assert.Empty(t, wrong)
	assert.Equal(t, []string{"vac", "bac"}, Texts(VAC, BAC))
	b, err := json.Marshal(map[string]any{"key": EACByCPI})
	require.NoError(t, err)
	assert.JSONEq(t, `{"key": "eac_cpi"}`, string(b))
}
