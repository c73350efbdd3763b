package edit

import (
	"maps"
	"slices"
	"strings"
)

// Meanwhile holds what somebody typed into a form against what the form was made from and what stands by now, each by the names of its
// fields. What they left as it was is not set, so that it stays what others made of it; a field of which was tells nothing is set as it
// is typed. Where both changed a field to different values it clashes, and nothing is to be saved: an *Error says both.
func Meanwhile(was, now, typed map[string]string) (map[string]string, error) {
	set := map[string]string{}
	e := &Error{}
	for _, name := range slices.Sorted(maps.Keys(typed)) {
		from, known := was[name]
		yours, theirs := typed[name], Plain(now[name])
		switch {
		case known && yours == from:
		case !known || theirs == from || theirs == yours:
			set[name] = yours
		default:
			e.Clashes = append(e.Clashes, Clash{Column: name, Yours: yours, Theirs: theirs})
		}
	}
	if len(e.Clashes) > 0 {
		return nil, e
	}
	return set, nil
}

// Plain is a cell as a form sends it: without what parts cells, and without blanks around it.
func Plain(cell string) string {
	return strings.TrimSpace(strings.NewReplacer("\r\n", "\n", "\x1f", " ").Replace(cell))
}
