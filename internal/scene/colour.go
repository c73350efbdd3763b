package scene

import (
	_ "embed"
	"encoding/json"
	"fmt"
)

// The table of colours: by their roles, of the light and the dark theme of pages; print takes those of the light one where it has no
// other. Styles of pages are built from it too.
//
//go:embed colours.json
var table []byte

// RGB is a colour of print, each part from 0 to 255.
type RGB struct{ R, G, B int }

// Hex is the colour as style sheets write it.
func (c RGB) Hex() string { return fmt.Sprintf("#%02x%02x%02x", c.R, c.G, c.B) }

var inPrint = read(table)

// read takes the colours of print out of the table. A table that cannot be read is a fault of the build, and panics.
func read(table []byte) map[string]RGB {
	var roles map[string]struct{ Light, Dark, Print string }
	if err := json.Unmarshal(table, &roles); err != nil {
		panic(err)
	}
	colours := make(map[string]RGB, len(roles))
	for role, by := range roles {
		text := by.Light
		if by.Print != "" {
			text = by.Print
		}
		var c RGB
		if _, err := fmt.Sscanf(text, "#%02x%02x%02x", &c.R, &c.G, &c.B); err != nil {
			panic(fmt.Sprintf("the colour of %s, %q: %v", role, text, err))
		}
		colours[role] = c
	}
	return colours
}

// Colour is the colour of a role in print; a role that the table does not have is a fault of the build, and panics.
func Colour(role string) RGB {
	c, ok := inPrint[role]
	if !ok {
		panic("no colour for " + role)
	}
	return c
}

func colour(role string) *RGB {
	c := Colour(role)
	return &c
}
