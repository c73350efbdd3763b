package explain_test

import (
	"context"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/app/explain"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/app/lookout"
	"turret/internal/core/health"
	"turret/internal/demo"
)

// What is to be explained of a late barge: last period's text, what moved, what is of concern, and facts that are those of the figures.
func TestExplainingAProject(t *testing.T) {
	o, a := apptest.Demo(t)
	ctx := access.As(context.Background(), access.Operator("a test"))
	x, err := o.Explain.Of(ctx, a, "LW-11")
	require.NoError(t, err)
	part := map[health.Dimension]*explain.Part{}
	for i := range x.Parts {
		part[x.Parts[i].On] = &x.Parts[i]
	}
	sched := part[health.Schedule]
	assert.Contains(t, sched.Last.Text, "slewing ring")
	assert.Equal(t, "J. Moreau", sched.Last.Who)
	assert.Empty(t, sched.Text.Text)
	assert.Contains(t, strings.Join(sched.Concerns, "; "), "Finish 61 working days late")
	p := x.Project
	var keys []string
	for _, m := range sched.Moved {
		keys = append(keys, m.Definition.Key.String())
		assert.Equal(t, p.Value(m.Definition.Key), m.Now)
		assert.NotEqual(t, m.Was, m.Now)
	}
	assert.Contains(t, keys, "expected_finish")
	assert.Contains(t, sched.Facts, "Finish 61 working days late")
	assert.Contains(t, sched.Facts, "since September 2026")
	assert.Contains(t, part[health.Overall].Text.Text, "The barge stays in the yard")

	list, err := o.Explain.Explained(ctx, a, &assess.Scope{Projects: a.Projects})
	require.NoError(t, err)
	assert.True(t, list[0].Wanted && len(list[0].Written) == 0, "what is to be written stands first")
}

// A text is kept over the one it was written to, not over another's; it is bounded; it silences the check that misses it; and a closed
// period takes none.
func TestWritingToTheFigures(t *testing.T) {
	o, a := apptest.Demo(t)
	lead := access.As(context.Background(), &access.Actor{Login: "okafor", Name: "M. Okafor", Role: access.Lead})
	ctx := access.As(context.Background(), access.Operator("a test"))
	mine, err := o.Assess.Day(lead, demo.AsOf)
	require.NoError(t, err)
	write := func(on health.Dimension, id int64, text string) error {
		return o.Explain.Write(lead, mine, "LW-07", []kept.Commentary{{ID: id, On: on, Text: text}})
	}
	require.NoError(t, write(health.Cost, 0, "Divers were dear.\r\n"))
	again, err := o.Assess.Day(ctx, demo.AsOf)
	require.NoError(t, err)
	p, err := again.Project("LW-07")
	require.NoError(t, err)
	require.Len(t, p.Words, 2)
	assert.Equal(t, []string{assess.SentWith, "Divers were dear.", "M. Okafor"}, []string{p.Words[0].Who, p.Words[1].Text, p.Words[1].Who},
		"what came with the status is the commentary until somebody writes another")
	x, err := o.Explain.Of(lead, again, "LW-07")
	require.NoError(t, err)
	assert.Equal(t, p.Declared.Commentary, x.Parts[0].Text.Text)
	history, err := o.Explain.History(lead, again, "LW-07")
	require.NoError(t, err)
	require.Len(t, history, 2)
	assert.Equal(t, assess.SentWith, history[0].Who)

	assert.ErrorIs(t, write(health.Cost, 0, "Another text over none."), fault.ErrConflict, "somebody wrote meanwhile")
	require.NoError(t, write(health.Cost, 0, "Divers were dear."), "what did not change is no conflict")
	var field *fault.FieldError
	require.ErrorAs(t, write(health.Scope, 0, strings.Repeat("ש", 200_001)), &field)
	assert.Contains(t, field.Expected, "this has 200001")
	assert.ErrorIs(t, o.Explain.Write(lead, mine, "BR-03", []kept.Commentary{{On: health.Cost, Text: "x"}}), fault.ErrNotFound,
		"another lead's project")

	september, err := o.Assess.Day(ctx, (demo.AsOf.Month() - 1).Last())
	require.NoError(t, err)
	assert.ErrorIs(t, o.Explain.Write(ctx, september, "LW-07", []kept.Commentary{{On: health.Cost, Text: "x"}}), fault.ErrConflict)
	for _, q := range a.Projects {
		for i := range q.Checks.Findings {
			if f := &q.Checks.Findings[i]; f.Rule.ID == "finish_silent" {
				require.NoError(t, o.Explain.Write(ctx, again, q.Code, []kept.Commentary{{On: health.Schedule, Text: "The finish moved."}}))
				now, err := o.Assess.Day(ctx, demo.AsOf)
				require.NoError(t, err)
				r, err := now.Project(q.Code)
				require.NoError(t, err)
				for _, g := range r.Checks.Findings {
					assert.NotEqual(t, "finish_silent", g.Rule.ID)
				}
				return
			}
		}
	}
	t.Fatal("no finish moved silently in the demonstration")
}

// What the office writes to the whole is for those who see the whole; a scope that is none has no note.
func TestTheOfficesNote(t *testing.T) {
	o, a := apptest.Demo(t)
	ctx := access.As(context.Background(), access.Operator("a test"))
	now, last, err := o.Explain.Note(ctx, a, "")
	require.NoError(t, err)
	assert.Empty(t, now.Text)
	assert.Contains(t, last.Text, "crane barge")
	require.NoError(t, o.Explain.WriteNote(ctx, a, "LW", kept.Commentary{Text: "Locks first."}))
	assert.ErrorIs(t, o.Explain.WriteNote(ctx, a, "LW", kept.Commentary{Text: "Over nothing."}), fault.ErrConflict)
	assert.ErrorIs(t, o.Explain.WriteNote(ctx, a, "nowhere", kept.Commentary{Text: "x"}), fault.ErrNotFound)
	l, err := lookout.Of(a, "LW", lookout.Filter{})
	require.NoError(t, err)
	require.NoError(t, o.Explain.Noted(ctx, a, l))
	assert.Equal(t, "Locks first.", l.Note.Text)
	lead := access.As(context.Background(), &access.Actor{Login: "okafor", Name: "M. Okafor", Role: access.Lead})
	mine, err := o.Assess.Day(lead, demo.AsOf)
	require.NoError(t, err)
	now, _, err = o.Explain.Note(lead, mine, "LW")
	require.NoError(t, err)
	assert.Empty(t, now.Text, "a lead sees a part of it only")
	assert.ErrorIs(t, o.Explain.WriteNote(lead, mine, "LW", kept.Commentary{Text: "x"}), access.ErrForbidden)
}
