package lookout_test

import (
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/web/webtest"
)

func TestLookoutFiltersAndSorts(t *testing.T) {
	a := webtest.Server(t, webtest.Hostile)
	rows := regexp.MustCompile(`data-project="([^"]*)"`)
	shown := func(path string) (list []string) {
		code, body, _ := webtest.Get(t, a, path)
		require.Equal(t, 200, code, path)
		for _, m := range rows.FindAllStringSubmatch(body, -1) {
			list = append(list, m[1])
		}
		return list
	}
	assert.Len(t, shown("/"), 3)
	assert.Equal(t, "P", shown("/")[0], "what needs action stands first")
	assert.Equal(t, []string{"P"}, shown("/?status=act"))
	assert.Equal(t, []string{"P"}, shown("/?status=disagree"))
	assert.Equal(t, []string{"Q", "P"}, []string{shown("/?sort=project&dir=down")[0], shown("/?sort=project&dir=down")[1]})
	assert.Equal(t, "P", shown("/?sort=vac_share")[0], "undefined figures stand last")
	assert.Equal(t, "P", shown("/?sort=vac_share&dir=down")[0])
	assert.Len(t, shown("/?scope=A%26B"), 2)
	assert.Empty(t, shown("/?lead=nobody"))
	_, body, _ := webtest.Get(t, a, "/?lead=nobody")
	assert.Contains(t, body, "No open project answers these filters.")
	_, body, _ = webtest.Get(t, a, "/?scope=Q")
	assert.Contains(t, body, "1 open project")
}
