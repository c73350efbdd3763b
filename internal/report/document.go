package report

import (
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/scene"
)

// document is a report before it is set: sections of blocks, the same for print, page, workbook and files.
type document struct {
	Title, Name string // of the report, and of what it is about
	About       string // as of when, in which state and currency
	Footer      string
	Stamp       string // of a closed period, for machines; empty for none
	AsOf        calendar.Date
	Currency    money.Currency
	Sections    []section

	Cover        bool
	Organisation string
	Mark         []byte // PNG or JPEG; nil for none
	MarkType     string
	MarkShape    float64 // its width by its height

	A3, Portrait bool
}

// section is a part of a document that begins with its title.
type section struct {
	Key, Title string
	Blocks     []block
	Data       []*table // what workbooks and CSV hold of it; the tables among the blocks where nil
	Fresh      bool     // begins on a page of its own
}

// block is something set below the other.
type block interface{ isBlock() }

type (
	// lead is a headline sentence.
	lead struct{ Text string }
	// small is a remark.
	small struct{ Text string }
	// heading is a title within a section, with a pennant before it where there is one; Page begins a page and is a bookmark.
	heading struct {
		Text, Soft string
		Mark       *scene.Scene
		Page       bool
	}
	// words is what somebody wrote, in light Markdown.
	words struct{ Head, Text string }
	// figures are a row of figures with their names.
	figures struct{ Names, Values []string }
	// drawing is a scene; a tall one is cut between its rows, with the first Head pixels repeated, at places in Cuts.
	drawing struct {
		Scene  *scene.Scene
		Wide   float64 // how much of the width it takes at most; 0 is all
		Head   float64
		Cuts   []float64
		Beside []aside // stands at its right
		Yields bool    // is set smaller where what comes before the next page then fits on this one
	}
	// table is rows under heads.
	table struct {
		Name    string // of its sheet and file, where it is not the only one of its section
		Columns []column
		Rows    []row
		Empty   string // stands where it has no rows
	}
)

// aside is a short text beside a drawing.
type aside struct {
	Mark       *scene.Scene
	Head, Text string
}

func (lead) isBlock()     {}
func (small) isBlock()    {}
func (heading) isBlock()  {}
func (words) isBlock()    {}
func (figures) isBlock()  {}
func (*drawing) isBlock() {}
func (*table) isBlock()   {}

// column is a head with how its cells are set.
type column struct {
	Head  string
	Width float64 // weight among the others
	Right bool
	Unit  measure.Unit
	Value bool // cells are values of the unit
	Sum   bool // adds up
}

// row is cells by column; a group heads those after it, a total adds those before it up.
type row struct {
	Cells        []cell
	Group, Total bool
}

// cell is what stands in a column: for reading, and for files.
type cell struct {
	Text     string
	Soft     string // a second line
	Bold     bool
	Drawings []*scene.Scene // before the text
	Value    measure.Value  // of columns that have one
	Plain    string         // as files hold it, where that is not Text
}

// plain is a cell as files hold it.
func (c *cell) plain(k *column, cur money.Currency) string {
	switch {
	case k.Value && c.Value.Known:
		return c.Value.Text(k.Unit, cur)
	case k.Value && c.Plain == "":
		return ""
	case c.Plain != "":
		return c.Plain
	}
	return c.Text
}

// tables are what files hold of a section.
func (s *section) tables() []*table {
	if s.Data != nil {
		return s.Data
	}
	var list []*table
	for _, b := range s.Blocks {
		if t, ok := b.(*table); ok {
			list = append(list, t)
		}
	}
	return list
}
