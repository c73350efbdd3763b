package place

import (
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/assess"
	"turret/internal/core/measure"
	"turret/internal/web/page"
)

// Another scope keeps the page and the period, as far as the page can show it; what only figures of the former one opened is dropped.
func TestWhereAnotherScopeLeads(t *testing.T) {
	figures := &assess.Assessment{ByCode: map[string]*measure.Project{"LW-07": {}, "BR-03": {}}}
	for _, c := range []struct{ from, group, project string }{
		{"/money?asof=2026-09-30&status=all&trace=eac", "/money?asof=2026-09-30&scope=BR&status=all", "/projects/BR-03?asof=2026-09-30"},
		{"/money?asof=2026-09-30&scope=LW-07", "/money?asof=2026-09-30&scope=BR", "/money?asof=2026-09-30&scope=BR-03"},
		{"/projects/LW-07/explain?asof=2026-09-30&scope=LW", "/explain?asof=2026-09-30&scope=BR",
			"/projects/BR-03/explain?asof=2026-09-30&scope=LW"},
		{"/projects/LW-07/records/risks?record=risks:R1&asof=2026-09-30", "/?asof=2026-09-30&scope=BR",
			"/projects/BR-03/records/risks?asof=2026-09-30"},
		{"/edit/risks?project=LW-07&at=R1&asof=2026-09-30", "/projects?asof=2026-09-30&scope=BR",
			"/edit/risks?asof=2026-09-30&project=BR-03"},
	} {
		from, err := url.Parse(c.from)
		require.NoError(t, err)
		tree := &tree{r: &page.Request{Asked: url.Values{"asof": {"2026-09-30"}}, Figures: figures}, from: from}
		assert.Equal(t, c.group, tree.group("BR"), c.from)
		assert.Equal(t, c.project, tree.project("BR-03"), c.from)
	}
}
