package ingest

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/intake"
	"turret/internal/app/setting"
	"turret/internal/record"
)

var ownHere = []record.Column{{Name: "own.side", Title: "Side of the river", Cell: record.Choice, Choices: []string{"left", "right"}},
	{Name: "own.crew", Title: "Crew", Cell: record.Number}, {Name: "own.until", Title: "Consent until", Cell: record.Day},
	{Name: "own.note", Title: "Note"}}

// Fields of the office's own are read as any column: by their type, in any order, those that are not there not at all.
func TestOwnFieldsAreRead(t *testing.T) {
	f, problems, err := Reader{ownHere}.CSV("projects.csv", record.Projects, strings.NewReader(
		"own.until,Own.Crew,code,name,own.nothing,own.side\n2027-03-01,12.50,P,Gate,x,LEFT\n,,Q,Lock,,\n"))
	require.NoError(t, err)
	require.Empty(t, problems)
	assert.Equal(t, map[string]string{"until": "2027-03-01", "crew": "12.5", "side": "left"}, f.Projects[0].Own)
	assert.Equal(t, map[string]string{"until": "", "crew": "", "side": ""}, f.Projects[1].Own, "empty, and to be emptied")
	assert.Equal(t, []string{"own.nothing"}, f.Ignored, "a field that the office does not have")
	in, cells := f.Input(), f.Cells(0)
	require.Len(t, cells, len(in.Columns))
	assert.Equal(t, "12.5", cells[in.At("own.crew")])
	assert.Equal(t, "", cells[in.At("own.note")], "a column that the file lacks")

	plain, _ := read(t, record.Projects, "code,name,own.crew\nP,Gate,3\n")
	assert.Nil(t, plain.Projects[0].Own)
	assert.Equal(t, []string{"own.crew"}, plain.Ignored)
}

func TestWrongOwnFieldsAreLocated(t *testing.T) {
	for cell, want := range map[string]string{"own.side\nP,Gate,middle": "one of left, right", "own.crew\nP,Gate,many": "a number such as",
		"own.until\nP,Gate,2027-02-30": "a day of the calendar", "own.until\nP,Gate,1979-12-31": "a day from 1980"} {
		_, problems, err := Reader{ownHere}.CSV("projects.csv", record.Projects, strings.NewReader("code,name,"+cell+"\n"))
		require.NoError(t, err)
		require.Len(t, problems, 1, cell)
		assert.Equal(t, int32(2), problems[0].Row)
		assert.Equal(t, cell[:strings.Index(cell, "\n")], problems[0].Column)
		assert.Contains(t, problems[0].Expected, want)
	}
}

// A sender's own heads and ways to write days and numbers hold for fields of the office's own too.
func TestOwnFieldsAreRecognised(t *testing.T) {
	at := filepath.Join(t.TempDir(), "000")
	require.NoError(t, os.WriteFile(at, []byte("Code;Name;Side of the river;Consent until;Crew\nP;Gate;right;31.12.2027;1.234,5\n"), 0o600))
	sheets, err := Reader{ownHere}.Sheets(at, "projects.csv", nil, setting.DefaultSettings())
	require.NoError(t, err)
	m := sheets[0].Mapping
	assert.Equal(t, []string{"own.side", "own.until", "own.crew"}, []string{m.Columns["side of the river"], m.Columns["consent until"],
		m.Columns["crew"]})
	require.NotNil(t, sheets[0].Input())
	_, known := sheets[0].Input().Column("own.crew")
	assert.True(t, known, "the sheet tells what its columns may be")
	f, problems, err := Reader{ownHere}.Read(at, "projects.csv", "", m)
	require.NoError(t, err)
	require.Empty(t, problems)
	assert.Equal(t, map[string]string{"side": "right", "until": "2027-12-31", "crew": "1234.5"}, f.Projects[0].Own)
	m.Fixed = map[string]string{"own.note": "as sent"}
	f, _, err = Reader{ownHere}.Read(at, "projects.csv", "", m)
	require.NoError(t, err)
	assert.Equal(t, "as sent", f.Projects[0].Own["note"], "a value for all rows")
	var reader intake.Reader = Reader{}
	typed, problems := reader.With(ownHere).Typed(record.Projects, [][]string{append(make([]string, 16), "", "7", "", "")})
	assert.NotEmpty(t, problems, "without code and name")
	assert.Equal(t, "7", typed.Projects[0].Own["crew"])
}

// A folder that brings fields and projects is read with its fields known, whatever the order of the names.
func TestAFolderBringsItsFields(t *testing.T) {
	dir := t.TempDir()
	for name, text := range map[string]string{"own_fields.csv": "code,name,type,closed\ncrew,Crew,number,\nold,Old,text,yes\n",
		"projects.csv": "code,name,own.crew,own.old\nP,Gate,4,x\n"} {
		require.NoError(t, os.WriteFile(filepath.Join(dir, name), []byte(text), 0o600))
	}
	for _, paths := range [][]string{{dir}, {filepath.Join(dir, "projects.csv"), filepath.Join(dir, "own_fields.csv")}} {
		files, _, err := Paths(paths, "")
		require.NoError(t, err)
		require.Len(t, files, 2)
		assert.Equal(t, record.OwnFields, files[0].Kind)
		assert.Equal(t, map[string]string{"crew": "4"}, files[1].Projects[0].Own, "of fields that are open")
	}
	files, _, err := Reader{[]record.Column{{Name: "own.old"}, {Name: "own.more"}}}.Paths([]string{dir}, "")
	require.NoError(t, err)
	var names []string
	for _, c := range files[1].Own {
		names = append(names, c.Name)
	}
	assert.Equal(t, []string{"own.more", "own.crew"}, names, "the file closes a field that was open")
}
