package store_test

import (
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/apptest"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/record"
	"turret/internal/store"
)

// What a load brought has the same digest in every file, whatever numbers its projects and cost codes have there.
func TestDigestsDoNotHangOnNumbers(t *testing.T) {
	digest := func(projects, codes, amount string) string {
		s, err := store.Create(ctx, filepath.Join(t.TempDir(), "p.db"), "EUR")
		require.NoError(t, err)
		defer s.Close()
		o := app.NewOffice(s, func() time.Time { return at }, app.Parts{})
		apptest.Send(t, o, apptest.Sent{Kind: record.CostCodes, Period: october, Text: "code,name\n" + codes},
			apptest.Sent{Kind: record.Projects, Period: october, Text: "code,name\n" + projects})
		r, err := o.Intake.Import(ctx, []*kept.File{apptest.Read(t, record.Budget,
			"project,cost_code,amount,month\nA,C,"+amount+",2026-10\n")}, intake.Origin{Period: october})
		require.NoError(t, err)
		all, err := s.RowsDigests(ctx, []int64{r.Loads[0].ID})
		require.NoError(t, err)
		return all[r.Loads[0].ID]
	}
	one := digest("A,First\nB,Second\n", "C,Cost\nD,Dig\n", "5")
	assert.Equal(t, one, digest("B,Second\nA,First\n", "D,Dig\nC,Cost\n", "5"))
	assert.NotEqual(t, one, digest("A,First\nB,Second\n", "C,Cost\nD,Dig\n", "6"))
}

// Fields of the office's own stand in the order in which they were made; one that was closed is not among them.
func TestOwnFieldsAreKeptInTheirOrder(t *testing.T) {
	s, o := apptest.Stored(t, apptest.Sent{Kind: record.OwnFields, Period: october, Text: "code,name,type\nside,Side,text\ncrew,Crew,number\n"},
		apptest.Sent{Kind: record.OwnFields, Period: october, Text: "code,name,type\nafter,After,day\nside,Side of the river,text\n"})
	names := func() (list []string) {
		m, err := s.Masters(ctx)
		require.NoError(t, err)
		for _, c := range m.Own {
			list = append(list, c.Name+" "+c.Head())
		}
		return list
	}
	assert.Equal(t, []string{"own.side Side of the river", "own.crew Crew", "own.after After"}, names())
	apptest.Send(t, o, apptest.Sent{Kind: record.OwnFields, Period: october, Text: "code,name,type,closed\ncrew,Crew,number,yes\n"})
	assert.Equal(t, []string{"own.side Side of the river", "own.after After"}, names())
	f, err := s.Rows(ctx, record.Projects, kept.Selection{})
	require.NoError(t, err)
	assert.Len(t, f.Cells(0), len(record.Projects.Input().Columns)+2, "rows read back have the columns of today")
}
