package saved_test

import (
	"context"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/fault"
	"turret/internal/app/saved"
)

func as(login string) context.Context {
	return access.As(context.Background(), &access.Actor{Login: login, Name: strings.ToUpper(login), Role: access.Analyst})
}

// What somebody keeps is theirs; what is shared is seen by all and ended by them alone.
func TestWhatIsKeptIsOnesOwn(t *testing.T) {
	o := apptest.House(t).Saved
	ann, bob := as("ann"), as("bob")
	require.NoError(t, o.SaveView(ann, " Late ", "sort=late", false))
	require.NoError(t, o.SaveView(ann, "Dear", "sort=eac", true))
	names := func(ctx context.Context) (list []string) {
		views, err := o.Views(ctx)
		require.NoError(t, err)
		for _, v := range views {
			list = append(list, v.Name+" "+v.Query)
		}
		return list
	}
	assert.ElementsMatch(t, []string{"Late sort=late", "Dear sort=eac"}, names(ann))
	assert.Equal(t, []string{"Dear sort=eac"}, names(bob))

	require.NoError(t, o.SaveView(ann, "Late", "sort=finish", false))
	assert.ElementsMatch(t, []string{"Late sort=finish", "Dear sort=eac"}, names(ann), "a name stands for one")
	require.NoError(t, o.SaveView(bob, "Late", "sort=bob", false))
	assert.ElementsMatch(t, []string{"Late sort=bob", "Dear sort=eac"}, names(bob), "of each person")

	views, err := o.Views(bob)
	require.NoError(t, err)
	for _, v := range views {
		err := o.EndView(bob, v.ID)
		if v.Login == "bob" {
			assert.NoError(t, err)
		} else {
			assert.ErrorIs(t, err, access.ErrForbidden)
		}
	}
	assert.Equal(t, []string{"Dear sort=eac"}, names(bob))
	assert.ErrorIs(t, o.EndView(bob, 12345), fault.ErrNotFound)
}

func TestWhatCannotBeKept(t *testing.T) {
	o := apptest.House(t).Saved
	ctx := as("ann")
	var field *fault.FieldError
	for name, bad := range map[string][2]string{"no name": {"  ", "q"}, "a long name": {strings.Repeat("é", 81), "q"},
		"a long address": {"x", strings.Repeat("q", 8001)}} {
		assert.ErrorAs(t, o.SaveView(ctx, bad[0], bad[1], false), &field, name)
	}
	assert.NoError(t, o.SaveView(ctx, strings.Repeat("é", 80), strings.Repeat("q", 8000), false), "just short enough")
	for i := range 3 {
		_, err := o.Keep(ctx, saved.View{Kind: saved.ReportView, Name: fmt.Sprint(i)}, 3)
		require.NoError(t, err)
	}
	_, err := o.Keep(ctx, saved.View{Kind: saved.ReportView, Name: "one more"}, 3)
	assert.ErrorAs(t, err, &field, "a fourth")
	_, err = o.Keep(ctx, saved.View{Kind: saved.ReportView, Name: "2", Query: "anew"}, 3)
	assert.NoError(t, err, "in the place of one that is there")
}

// What is kept for all is one of its name, whoever keeps it next; what stood before can still be read, the oldest first.
func TestWhatIsKeptForAll(t *testing.T) {
	o := apptest.House(t).Saved
	ann, bob := as("ann"), as("bob")
	keep := func(ctx context.Context, name, text string) error {
		return o.KeepForAll(ctx, saved.View{Kind: saved.Template, Name: name, Query: text}, 2)
	}
	require.NoError(t, keep(ann, "Plan", "1"))
	require.NoError(t, keep(bob, "Plan", "2"))
	require.NoError(t, keep(ann, "Plan", "3"))
	list, err := o.List(bob, saved.Template)
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.Equal(t, "3", list[0].Query)
	every, err := o.Every(bob, saved.Template, "Plan")
	require.NoError(t, err)
	var said []string
	for _, v := range every {
		said = append(said, v.Who+" "+v.Query)
	}
	assert.Equal(t, []string{"ANN 1", "BOB 2", "ANN 3"}, said)

	require.NoError(t, keep(ann, "Other", "1"))
	require.ErrorContains(t, keep(ann, "Third", "1"), "at most 2 in all")
	require.NoError(t, keep(ann, "Plan", "4"), "which is there already")
	require.ErrorContains(t, keep(ann, " ", "1"), "a name of at most 80 characters")
	require.NoError(t, o.EndForAll(bob, saved.Template, "Plan"))
	require.ErrorIs(t, o.EndForAll(bob, saved.Template, "Plan"), fault.ErrNotFound)
	require.NoError(t, keep(ann, "Third", "1"))
}
