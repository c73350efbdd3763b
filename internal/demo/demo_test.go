package demo

import (
	"context"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/store"
)

func TestX(t *testing.T) {
	ctx := context.Background()
	s, err := store.Create(ctx, filepath.Join(t.TempDir(), "demo.db"), "EUR")
	require.NoError(t, err)
	defer s.Close()
	require.NoError(t, Load(ctx, s))
	a, err := app.NewOffice(s, nil).Assess(ctx, AsOf)
	require.NoError(t, err)
	l, err := a.Lookout("", app.Filter{})
	require.NoError(t, err)
	t.Log(l.Headline.String())
	acts, posts := 0, 0
	for _, p := range a.Projects {
		acts += len(p.Activities)
		posts += p.Account.Postings
	}
	t.Log(len(a.Projects), acts, posts)
	for _, p := range l.Shown {
		t.Log(p.Code, p.Name, p.Health.Overall, p.Value("declared_health").Human(5, "EUR"), p.Value("vac_share").Human(1, "EUR"), p.Value("finish_deviation").N, p.Value("milestones_missed").N, p.Health.Reason())
	}
	assert.Len(t, l.Open, 27)
}
