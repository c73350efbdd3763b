package intake

import (
	"slices"
	"strings"
	"time"

	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/app/setting"
	"turret/internal/record"
)

// Dialect is how a file writes its cells; an empty field leaves it to be recognised.
type Dialect struct {
	Encoding  string `json:"encoding,omitempty"`  // utf-8, utf-16, windows-1252
	Separator string `json:"separator,omitempty"` // comma, semicolon, tab, bar
	Decimal   string `json:"decimal,omitempty"`   // point, comma
	Dates     string `json:"dates,omitempty"`     // ymd, dmy, mdy
	HeadRow   int32  `json:"head_row,omitempty"`  // 1 for the first
}

// Mapping is how a sheet becomes rows of a kind. Heads are written as Plain makes them.
type Mapping struct {
	Kind     record.Kind                  `json:"kind"`
	Skip     bool                         `json:"skip,omitempty"` // the sheet is not read
	Dialect  Dialect                      `json:"dialect"`
	Columns  map[string]string            `json:"columns,omitempty"` // head to column, empty to ignore it
	Factors  map[string]int64             `json:"factors,omitempty"` // by column, such as 1000 for thousands
	Values   map[string]map[string]string `json:"values,omitempty"`  // by column, what a cell says to what it means
	Fixed    map[string]string            `json:"fixed,omitempty"`   // by column, what holds for every row
	LeaveOut []string                     `json:"leave_out,omitempty"`
	Clear    bool                         `json:"clear,omitempty"` // columns that the file lacks are emptied; else they keep what stands
	Round    bool                         `json:"round,omitempty"` // amounts are rounded to what their currency has
	Heads    []string                     `json:"heads,omitempty"` // of the sheet it was made for
	Once     []string                     `json:"once,omitempty"`  // choices that hold for this file alone

	// What was done to rows of this file alone.
	Cells   map[int32]map[string]string `json:"cells,omitempty"`   // by row and head, what a cell should say
	Without map[int32]string            `json:"without,omitempty"` // rows that are not read, each with the reason
}

// Plain is a head as mappings know it: lower case, one space between words.
func Plain(head string) string { return strings.Join(strings.Fields(strings.ToLower(head)), " ") }

// Signature names the heads that a mapping was made for.
func (m *Mapping) Signature() string {
	heads := slices.Clone(m.Heads)
	slices.Sort(heads)
	return strings.Join(heads, "\x1f")
}

// Fits counts the heads of a sheet that a mapping knows; -1 where one that it reads is not there.
func (m *Mapping) Fits(heads []string) int {
	n := 0
	for _, h := range m.Heads {
		if slices.Contains(heads, h) {
			n++
		} else if m.Columns[h] != "" {
			return -1
		}
	}
	return n
}

// Recall picks the mapping that fits the heads of a sheet best; nil where none does.
func Recall(list []Mapping, heads []string) *Mapping {
	var best *Mapping
	most := 0
	for i := range list {
		if n := list[i].Fits(heads); n > most {
			best, most = &list[i], n
		}
	}
	return best
}

// Sheet is a part of a received file as recognised: a CSV file has one, others may have several.
type Sheet struct {
	File, Name string // Name is empty where the file is one sheet
	Heads      []string
	Sample     [][]string // the first rows below the head
	Mapping    Mapping    // what holds: recognised, remembered or chosen
	Found      Mapping    // as recognised by the sheet alone
	Held       *Mapping   // as remembered, where it is
	Remembered bool
	Recognised string // the dialect in words
	Doubts     []string
	Months     []string       // heads that are months, whose cells are amounts
	Problem    *fault.Problem // why it cannot be read at all

	Own []record.Column // that the office had made for projects when it was looked at
}

// Input describes the kind of the sheet with the columns of the office's own; nil while it has no kind.
func (s *Sheet) Input() *record.Input { return s.Mapping.Kind.InputWith(s.Own) }

// Reader reads files that came in. File names are only shown, never opened; path is where the file lies.
type Reader interface {
	// With is a reader that knows the columns which the office made for projects.
	With(own []record.Column) Reader
	// Sheets lists the sheets of a file, each with what was recognised; remembered mappings are used where they fit.
	Sheets(path, name string, remembered []Mapping, settings *setting.Settings) ([]Sheet, error)
	// Look recognises one sheet again, with a kind or dialect that was chosen.
	Look(path, name, sheet string, chosen Mapping, settings *setting.Settings) (*Sheet, error)
	// Read reads one sheet by a mapping. Problems are what is wrong with its content.
	Read(path, name, sheet string, m Mapping) (*kept.File, []fault.Problem, error)
	// Typed reads rows of cells in the kind's columns, as they are typed in. The first is row 2.
	Typed(kind record.Kind, rows [][]string) (*kept.File, []fault.Problem)
	// Surroundings reads some rows as they came, by their numbers, and the heads under 0.
	Surroundings(path, name, sheet string, m Mapping, wanted map[int32]bool) (map[int32][]string, error)
	// Corrected writes a sheet again with a column that says what is wrong with each row.
	Corrected(path, name, sheet string, m Mapping, problems []fault.Problem) ([]byte, error)
}

// Meaning is what is remembered of a sender's sheets of one shape, and who changed it last: nobody where it is as it was first given.
type Meaning struct {
	Mapping
	UsedAt    time.Time
	ChangedAt time.Time
	ChangedBy string
	Change    string // in words
}

// Fresh says whether nothing was loaded by the meaning since it was changed.
func (m *Meaning) Fresh() bool { return m.ChangedBy != "" && !m.UsedAt.After(m.ChangedAt) }

// Words says what a mapping means: each head, value and what else was chosen.
func (m *Mapping) Words() []string {
	list := make([]string, 0, len(m.Columns)+4)
	for _, p := range m.parts() {
		list = append(list, p.says)
	}
	return list
}

// Changes says in words what another mapping means differently: what is new, and what no longer holds.
func (m *Mapping) Changes(now *Mapping) []string {
	was, is := m.Words(), now.Words()
	var list []string
	for _, w := range is {
		if !slices.Contains(was, w) {
			list = append(list, w)
		}
	}
	for _, w := range was {
		if !slices.Contains(is, w) {
			list = append(list, "no longer: "+w)
		}
	}
	return list
}

// Title is the file's name, with the sheet's where it has several.
func (s *Sheet) Title() string {
	if s.Name == "" {
		return s.File
	}
	return s.File + " › " + s.Name
}
