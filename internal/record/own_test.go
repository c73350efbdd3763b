package record

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

func fieldOf(cells string) []string { return strings.Split(cells, "|") }

func TestAFieldOfOnesOwnIsAColumnOfProjects(t *testing.T) {
	for _, x := range []struct {
		cells   string
		cell    Cell
		choices []string
		open    bool
	}{
		{"note|Note|text|||", Text, nil, true},
		{"jobs|Jobs|number|||no", Number, nil, true},
		{"until|Until|day|||", Day, nil, true},
		{"side|Side|choice| left ,right,, |which side|", Choice, []string{"left", "right"}, true},
		{"dry|Dry|yes or no|||", Choice, []string{"yes", "no"}, true},
		{"old|Old|text|||yes", Text, nil, false},
	} {
		c, open := OwnColumn(fieldOf(x.cells))
		key, own := c.Own()
		assert.True(t, own)
		assert.Equal(t, strings.Split(x.cells, "|")[0], key)
		assert.Equal(t, "own."+key, c.Name)
		assert.Equal(t, x.cell, c.Cell, key)
		assert.Equal(t, x.choices, c.Choices, key)
		assert.Equal(t, x.open, open, key)
		assert.Equal(t, strings.Split(x.cells, "|")[1], c.Head(), key)
	}
	_, own := Column{Name: "owner"}.Own()
	assert.False(t, own, "a name that only begins alike")
}

func TestOnlyProjectsHaveFieldsOfOnesOwn(t *testing.T) {
	note, _ := OwnColumn(fieldOf("note|Note|text|||"))
	more := Projects.InputWith([]Column{note})
	assert.Len(t, more.Columns, len(projects.Columns)+1)
	assert.Equal(t, len(projects.Columns), more.At("own.note"), "behind those of everybody")
	assert.Equal(t, 0, more.At("code"))
	assert.Equal(t, -1, projects.At("own.note"), "what everybody has is as it was")
	assert.Same(t, risks, Risks.InputWith([]Column{note}))
	assert.Same(t, projects, Projects.InputWith(nil))
	assert.Nil(t, Kind("nonsense").InputWith([]Column{note}))
}

// refusedOf are the columns in which a row of a kind is refused.
func refusedOf(in *Input, cells string) (list []string) {
	row := strings.Split(cells, "|")
	for len(row) < len(in.Columns) {
		row = append(row, "")
	}
	in.Check(Row{In: in, Cells: row}, func(column, _, _ string) { list = append(list, column) })
	return list
}

func TestFieldsOfOnesOwnAreRefused(t *testing.T) {
	for cells, want := range map[string][]string{
		"county|County|text": nil, "a_1|A|number": nil, "side|Side|choice|left,right": nil,
		strings.Repeat("a", 40) + "|Long|text": nil, strings.Repeat("a", 41) + "|Longer|text": {"code"},
		"County|County|text": {"code"}, "1st|First|text": {"code"}, "my field|Mine|text": {"code"}, "own.x|X|text": {"code"}, "_a|A|text": {"code"},
		"side|Side|choice": {"choices"}, "side|Side|choice|left": {"choices"}, "side|Side|choice|left,,": {"choices"},
		"side|Side|choice|left,Left": {"choices"}, "note|Note|text|a,b": {"choices"}, "dry|Dry|yes or no|yes,no": {"choices"},
	} {
		assert.Equal(t, want, refusedOf(ownFields, cells), cells)
	}
}

func TestAddressesOfDocumentsLeadToAHost(t *testing.T) {
	for address, ok := range map[string]bool{
		"https://files.example.org/case.pdf": true, "http://intranet/x?y=1#z": true, "HTTPS://files.example.org": true,
		"javascript:alert(1)": false, "data:text/html,x": false, "files.example.org/case": false, "/case": false, "//files/case": false,
		"https://": false, "https:///x": false, "https://a b/c": false, "https://x/\"onmouseover=": false, "https://x/<b>": false,
		"file:///etc/passwd": false, "": false, "https://x\n/y": false,
	} {
		refused := refusedOf(documents, "P|Case|"+address)
		assert.Equal(t, !ok, len(refused) > 0, "%q: %v", address, refused)
	}
}

func TestMailOfContacts(t *testing.T) {
	for mail, ok := range map[string]bool{"": true, "a.person@example.org": true, "A. Person <a@example.org>": false, "nobody": false,
		"a@b@c": false, " a@example.org": false} {
		assert.Equal(t, !ok, len(refusedOf(contacts, "P|Cole||"+mail)) > 0, mail)
	}
}
