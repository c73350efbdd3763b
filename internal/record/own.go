package record

import (
	"regexp"
	"slices"
	"strings"
)

// OwnPrefix begins the names of columns of projects that an office made for itself.
const OwnPrefix = "own."

// What a field of one's own may hold.
const (
	ownText   = "text"
	ownNumber = "number"
	ownDay    = "day"
	ownChoice = "choice"
	ownYes    = "yes or no"
)

var ownFields = &Input{Kind: OwnFields,
	Title: "Own fields", Says: "Columns that projects have beyond those of everybody. Whoever sees a project sees them.",
	Key: []string{"code"}, Check: checkOwnField,
	Sample: "county|County|choice|North, South|where the works are\n" +
		"jobs|Jobs|number||people at work at its height\n" +
		"permit|Permit until|day||",
	Columns: []Column{
		must(code("code", "small letters, digits and _; files call the column own. and this")), must(text("name", "as shown")),
		must(choice("type", "what it holds", ownText, ownNumber, ownDay, ownChoice, ownYes)),
		text("choices", "of a choice, parted by commas"), text("says", "what it means"),
		choice("closed", "no longer asked or shown; what was given stays", "no", "yes")}}

var ownCode = regexp.MustCompile(`^[a-z][a-z0-9_]{0,39}$`)

func checkOwnField(r Row, fail Fail) {
	if c := r.Get("code"); !ownCode.MatchString(c) {
		fail("code", c, "at most 40 small letters, digits and _, a letter first")
	}
	choices := ownChoices(r.Get("choices"))
	switch is := r.Get("type") == ownChoice; {
	case is && len(choices) < 2:
		fail("choices", r.Get("choices"), "two or more, parted by commas")
	case !is && len(choices) > 0:
		fail("choices", r.Get("choices"), "nothing, or the type choice")
	}
	for i, c := range choices {
		if slices.ContainsFunc(choices[:i], func(x string) bool { return strings.EqualFold(x, c) }) {
			fail("choices", c, "each once")
		}
	}
}

// ownChoices are those of a text that parts them by commas.
func ownChoices(s string) []string {
	var list []string
	for _, c := range strings.Split(s, ",") {
		if c = strings.TrimSpace(c); c != "" {
			list = append(list, c)
		}
	}
	return list
}

// OwnColumn is the column of projects that a row of own fields describes; false where the field is closed.
func OwnColumn(cells []string) (Column, bool) {
	r := Row{In: ownFields, Cells: cells}
	c := Column{Name: OwnPrefix + r.Get("code"), Title: r.Get("name"), Says: r.Get("says")}
	switch r.Get("type") {
	case ownNumber:
		c.Cell = Number
	case ownDay:
		c.Cell = Day
	case ownChoice:
		c.Cell, c.Choices = Choice, ownChoices(r.Get("choices"))
	case ownYes:
		c.Cell, c.Choices = Choice, []string{"yes", "no"}
	}
	return c, r.Get("closed") != "yes"
}

// Own is the key of a field of one's own; false for columns that everybody has.
func (c Column) Own() (key string, ok bool) { return strings.CutPrefix(c.Name, OwnPrefix) }

// With is the description with columns added behind its own; the same where there are none.
func (in *Input) With(own []Column) *Input {
	if in == nil || len(own) == 0 {
		return in
	}
	more := *in
	more.Columns = slices.Concat(in.Columns, own)
	more.at = make(map[string]int, len(more.Columns))
	for i, c := range more.Columns {
		more.at[c.Name] = i
	}
	return &more
}

// InputWith describes the kind in an office that has fields of its own: these are columns of projects.
func (k Kind) InputWith(own []Column) *Input {
	if k == Projects {
		return projects.With(own)
	}
	return k.Input()
}
