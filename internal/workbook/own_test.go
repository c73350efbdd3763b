package workbook_test

import (
	"bytes"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"turret/internal/app/apptest"
	appreport "turret/internal/app/report"
	"turret/internal/record"
	"turret/internal/workbook"
)

// Files of a table hold fields of the office's own: texts that a spreadsheet would run are guarded, days and numbers are such.
func TestOwnFieldsInFiles(t *testing.T) {
	o := apptest.House(t, apptest.Sent{Kind: record.OwnFields, Period: apptest.October,
		Text: "code,name,type\nnote,Note,text\ncrew,Crew,number\nuntil,Until,day\n"},
		apptest.Sent{Kind: record.Projects, Period: apptest.October,
			Text: "code,name,own.note,own.crew,own.until\nA,First,=1+1,12.5,2027-03-01\nB,Second,,,\n"})
	a := apptest.Assessed(t, o, apptest.October.Last())
	_, table, err := appreport.Table(a, "", appreport.TableQuery{Columns: []string{"own.note", "own.crew", "own.until", "bac"}})
	require.NoError(t, err)
	file := func(name string) string {
		var b bytes.Buffer
		require.NoError(t, workbook.Money(&b, name, a, table))
		return b.String()
	}
	assert.Equal(t, "group,project,name,as_of,currency,own.note,own.crew,own.until,bac\n"+
		",A,First,2026-10-31,EUR,'=1+1,12.5,2027-03-01,\n,B,Second,2026-10-31,EUR,,,,\n*,*,,2026-10-31,EUR,,,,\n", file("money.csv"))
	assert.Contains(t, file("money.json"), `"own.crew": "12.5"`)
	assert.Contains(t, file("money.json"), `"own.crew": null`)
	book, err := excelize.OpenReader(strings.NewReader(file("money.xlsx")))
	require.NoError(t, err)
	rows, err := book.GetRows("Money", excelize.Options{RawCellValue: true})
	require.NoError(t, err)
	assert.Equal(t, []string{"Note", "Crew", "Until"}, rows[0][3:6])
	assert.Equal(t, []string{"=1+1", "12.5", "46447"}, rows[1][3:6], "1 March 2027 is the 46,447th day of a workbook")
	formula, err := book.GetCellFormula("Money", "D2")
	require.NoError(t, err)
	assert.Empty(t, formula, "a text, not a formula")
}
