package draft_test

import (
	"io"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/apptest"
	"turret/internal/app/draft"
	"turret/internal/app/intake"
	"turret/internal/record"
)

// Columns that a file lacks keep what stands, and are emptied where one says so; the words of another month are of that month alone.
func TestColumnsThatAFileLacks(t *testing.T) {
	_, o := apptest.Gate(t)
	apptest.Send(t, o, apptest.Sent{Kind: record.Statuses, Period: apptest.October - 1,
		Text: "project,overall,schedule,commentary\nA1,watch,act,The gate is late.\n"})
	sent := false
	d, err := o.Draft.Receive(apptest.Ctx, "", apptest.October, func() (*draft.Upload, error) {
		if sent {
			return nil, io.EOF
		}
		sent = true
		return &draft.Upload{Name: "status.csv", Body: strings.NewReader("project,overall\nA1,on track\n")}, nil
	})
	require.NoError(t, err)
	in := record.Statuses.Input()
	read := func() (cells []string, warning string) {
		_, c, err := o.Draft.Preview(apptest.Ctx, d.ID, apptest.October.Last())
		require.NoError(t, err)
		require.Empty(t, c.Problems)
		require.Len(t, c.Warnings, 1)
		row := c.Files[0].Cells(0)
		return []string{row[in.At("overall")], row[in.At("schedule")], row[in.At("commentary")]}, c.Warnings[0].Expected
	}
	cells, says := read()
	assert.Equal(t, []string{"on track", "act", ""}, cells)
	assert.Contains(t, says, "columns that it lacks keep what stood: schedule (1 row)")

	m := d.Sheets[0].Sheet.Mapping
	m.Clear = true
	_, err = o.Draft.Remap(apptest.Ctx, d.ID, "", apptest.October, []intake.Mapping{m})
	require.NoError(t, err)
	cells, says = read()
	assert.Equal(t, []string{"on track", "", ""}, cells)
	assert.Contains(t, says, "these become empty: schedule (1 row)")
}

// previewed is the first row of a file dropped for October, by the names of its columns, and what is warned of.
func previewed(t *testing.T, o *app.Office, kind record.Kind, text string, clear bool) (func(column string) string, string) {
	t.Helper()
	sent := false
	d, err := o.Draft.Receive(apptest.Ctx, "", apptest.October, func() (*draft.Upload, error) {
		if sent {
			return nil, io.EOF
		}
		sent = true
		return &draft.Upload{Name: string(kind) + ".csv", Body: strings.NewReader(text)}, nil
	})
	require.NoError(t, err)
	m := d.Sheets[0].Sheet.Mapping
	m.Clear = clear
	_, err = o.Draft.Remap(apptest.Ctx, d.ID, "", apptest.October, []intake.Mapping{m})
	require.NoError(t, err)
	_, c, err := o.Draft.Preview(apptest.Ctx, d.ID, apptest.October.Last())
	require.NoError(t, err)
	require.Empty(t, c.Problems)
	var says []string
	for _, w := range c.Warnings {
		says = append(says, w.Expected)
	}
	f := c.Files[0]
	return func(column string) string { return f.Cell(0, column) }, strings.Join(says, "; ")
}

// Rows that take the place of those of the same key, and those kept by their columns alone, keep what a file lacks as well.
func TestColumnsThatAFileLacksOfEveryKind(t *testing.T) {
	_, o := apptest.Gate(t)
	apptest.Send(t, o, apptest.Sent{Kind: record.OwnFields, Period: apptest.October - 1, Text: "code,name,type\ncrew,Crew,number\n"},
		apptest.Sent{Kind: record.Projects, Period: apptest.October - 1,
			Text: "code,name,parent,lead,sponsor,status,own.crew\nA1,Gate,A,Lea,Sue,proposed,7\n"},
		apptest.Sent{Kind: record.CostCodes, Period: apptest.October - 1, Text: "code,name,closed\nD,Dig,yes\n"},
		apptest.Sent{Kind: record.Risks, Period: apptest.October - 1, Text: "project,code,title,owner,probability\nA1,R1,Flood,Lea,20\n"})

	cell, says := previewed(t, o, record.Projects, "code,name,lead\nA1,Great gate,Lea\n", false)
	assert.Equal(t, []string{"Great gate", "A", "Sue", "proposed", "7"}, []string{cell("name"), cell("parent"), cell("sponsor"),
		cell("status"), cell("own.crew")})
	assert.Contains(t, says, "keep what stood: parent (1 row), sponsor (1 row), currency (1 row), status (1 row), crew (1 row)")
	cell, says = previewed(t, o, record.Projects, "code,name,parent,lead\nA1,Gate,A,Lea\n", true)
	assert.Equal(t, []string{"A", "", "open", ""}, []string{cell("parent"), cell("sponsor"), cell("status"), cell("own.crew")})
	assert.Contains(t, says, "become empty: sponsor (1 row)")
	cell, _ = previewed(t, o, record.CostCodes, "code,name\nD,Deep\n", false)
	assert.Equal(t, []string{"Deep", "yes"}, []string{cell("name"), cell("closed")})
	apptest.Send(t, o, apptest.Sent{Kind: record.Rates, Period: apptest.October - 1, Text: "currency,month,rate,kind\nSEK,2026-01,0.1,plan\n"})
	cell, says = previewed(t, o, record.Rates, "currency,month,rate\nSEK,2026-01,0.2\n", false)
	assert.Equal(t, []string{"0.2", "month"}, []string{cell("rate"), cell("kind")}, "a rate of that month, not the plan's")
	assert.NotContains(t, says, "keep what stood")
	cell, _ = previewed(t, o, record.Risks, "project,code,title,probability\nA1,R1,Great flood,30\n", false)
	assert.Equal(t, []string{"Great flood", "Lea", "30"}, []string{cell("title"), cell("owner"), cell("probability")})
	cell, says = previewed(t, o, record.Projects, "code,name\nNEW,Weir\n", false)
	assert.Equal(t, []string{"Weir", "open"}, []string{cell("name"), cell("status")})
	assert.NotContains(t, says, "keep what stood", "a project of which nothing stood")
}
