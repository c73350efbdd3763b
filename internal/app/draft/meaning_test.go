package draft_test

import (
	"context"
	"io"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/audit"
	"turret/internal/app/draft"
	"turret/internal/app/intake"
	"turret/internal/record"
)

// taught has a person send a sheet of statuses as a sender and say what "red" means in it; the draft after it is loaded.
func taught(t *testing.T, o *app.Office, who *access.Actor, source, row, red string) *draft.Draft {
	t.Helper()
	c := access.As(context.Background(), who)
	d := sentAs(t, o, who, source, row)
	m := d.Sheets[0].Sheet.Mapping
	m.Kind = record.Statuses
	m.Columns = map[string]string{"job": "project", "light": "overall"}
	m.Values = map[string]map[string]string{"overall": {"red": red}}
	d, err := o.Draft.Remap(c, d.ID, d.Source, apptest.October, []intake.Mapping{m})
	require.NoError(t, err)
	loaded(t, o, who, d)
	return d
}

func loaded(t *testing.T, o *app.Office, who *access.Actor, d *draft.Draft) {
	t.Helper()
	j, err := o.Load.Start(access.As(context.Background(), who), d.ID)
	require.NoError(t, err)
	require.NoError(t, j.Wait(context.Background()))
	require.NoError(t, j.Now().Err)
}

// sentAs has a person send the sheet again.
func sentAs(t *testing.T, o *app.Office, who *access.Actor, source, row string) *draft.Draft {
	t.Helper()
	sent := false
	d, err := o.Draft.Receive(access.As(context.Background(), who), source, apptest.October, func() (*draft.Upload, error) {
		if sent {
			return nil, io.EOF
		}
		sent = true
		return &draft.Upload{Name: "lights.csv", Body: strings.NewReader("job,light\n" + row + "\n")}, nil
	})
	require.NoError(t, err)
	return d
}

func means(d *draft.Draft) string {
	m := d.Sheets[0].Sheet
	if !m.Remembered {
		return "not known"
	}
	return m.Mapping.Values["overall"]["red"]
}

// What a lead, or one with a part of the office, says that a cell means holds for their own files alone, whatever sender they name.
func TestNobodyTeachesTheMeaningsOfAnother(t *testing.T) {
	_, o := apptest.Gate(t)
	office, lead, scoped := apptest.Writers["analyst"], apptest.Writers["lead"], apptest.Writers["scoped analyst"]
	taught(t, o, office, "Works", "A1,red", "act")
	assert.Equal(t, "act", means(sentAs(t, o, office, "Works", "A1,red")))
	for _, other := range []*access.Actor{lead, scoped} {
		assert.Equal(t, "not known", means(sentAs(t, o, other, "Works", "A1,red")), other.Login)
		taught(t, o, other, "Works", "A1,red", "on track")
		assert.Equal(t, "on track", means(sentAs(t, o, other, "Works", "A1,red")), other.Login)
		assert.Equal(t, "act", means(sentAs(t, o, office, "Works", "A1,red")), "after "+other.Login)
	}
	for _, x := range []struct {
		who  *access.Actor
		want []string
	}{{lead, []string{"Lea"}}, {scoped, []string{"Works"}}, {office, []string{"Lea", "Works"}}} {
		list, err := o.Draft.Sources(access.As(context.Background(), x.who))
		require.NoError(t, err)
		assert.Equal(t, x.want, list, "whom one may name")
	}
	assert.Equal(t, "Lea", sentAs(t, o, lead, "Works", "A1,red").Source, "a lead sends in the own name")
	list, err := o.Draft.Remembered(access.As(context.Background(), lead), "Works")
	require.NoError(t, err)
	assert.Empty(t, list)
	taught(t, o, office, "Lea", "A1,red", "watch")
	assert.Equal(t, "on track", means(sentAs(t, o, lead, "", "A1,red")), "nor by a sender of the same name")
}

// A changed meaning is in the trail, and told with the next file until one was loaded by it.
func TestChangedMeaningsAreTold(t *testing.T) {
	_, o := apptest.Gate(t)
	office := apptest.Writers["analyst"]
	told := func() (list []string) {
		all, err := o.Draft.ChangedMeanings(access.As(context.Background(), office), "Works")
		require.NoError(t, err)
		for _, m := range all {
			list = append(list, m.ChangedBy+": "+m.Change)
		}
		return list
	}
	taught(t, o, office, "Works", "A1,red", "act")
	assert.Empty(t, told(), "given for the first time")
	taught(t, o, office, "Works", "B1,red", "on track")
	assert.Equal(t, []string{"Ana: “red” in overall means on track; no longer: “red” in overall means act"}, told())
	apptest.At = apptest.At.Add(time.Hour)
	t.Cleanup(func() { apptest.At = apptest.At.Add(-time.Hour) })
	loaded(t, o, office, sentAs(t, o, office, "Works", "A1,red"))
	assert.Empty(t, told(), "a file was loaded by it")
	entries, err := o.Audit.List(apptest.Ctx, audit.Query{})
	require.NoError(t, err)
	n := 0
	for _, e := range entries {
		if e.Act == "remember what is sent" && e.Subject == "Works" {
			n++
			assert.Contains(t, e.After, "“red” in overall means")
		}
	}
	assert.Equal(t, 2, n, "given and changed, not used")
}
