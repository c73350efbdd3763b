package demo

import (
	"fmt"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/record"
)

// ownFields are what the board wants to know of its projects beyond what everybody asks: cells of own fields.
var ownFields = [][]string{
	{"reach", "Reach", "choice", "upper, middle, lower", "part of the river", ""},
	{"consent", "Consent until", "day", "", "when the consent of the water authority ends", ""},
	{"crew", "Crew at most", "number", "", "people on site when most are there", ""},
}

// ownColumns are those of projects that the own fields make.
func ownColumns() []record.Column {
	var list []record.Column
	for _, cells := range ownFields {
		c, _ := record.OwnColumn(cells)
		list = append(list, c)
	}
	return list
}

// writeFields writes the own fields of the board.
func writeFields(m *maker) {
	in := record.OwnFields.Input()
	for _, cells := range ownFields {
		var pairs []string
		for i, c := range in.Columns {
			pairs = append(pairs, c.Name, cells[i])
		}
		m.add(record.OwnFields, pairs...)
	}
}

// ownCells are the cells of a project in the own fields, as pairs. Programme offices and software have no reach of the river.
func ownCells(s *spec) []string {
	if s.parent == "DT" || s.status != "open" {
		return nil
	}
	n := int(s.code[len(s.code)-1] - '0')
	pairs := []string{"own.reach", []string{"upper", "middle", "lower"}[n%3], "own.crew", fmt.Sprint(4 + 3*n)}
	if n%4 != 2 {
		pairs = append(pairs, "own.consent", (AsOf + calendar.Date(120+47*n)).String())
	}
	return pairs
}

// writeKnown writes whom to ask about a project and where its documents lie.
func writeKnown(m *maker, s *spec) {
	office := strings.ToLower(s.code)
	m.add(record.Contacts, "project", s.code, "name", "Office of "+s.code, "about", "papers and appointments", "email",
		office+"@ostrel.example", "phone", "")
	if s.parent == "LW" || s.parent == "BR" {
		m.add(record.Contacts, "project", s.code, "name", "Site hut of "+s.code, "about", "access to the site", "email", "",
			"phone", "+44 20 7946 0"+s.code[3:]+"0")
	}
	m.add(record.Documents, "project", s.code, "title", "Business case", "address", "https://files.ostrel.example/"+office+"/case.pdf",
		"note", "approved by the board")
	if s.code == "LW-07" {
		m.add(record.Documents, "project", s.code, "title", "Drawings of the gates", "address",
			"https://files.ostrel.example/lw-07/gates", "activity", "M3")
	}
}
