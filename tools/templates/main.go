// Command templates formats the templates of pages: one element a line where it helps reading, lines of 140 where they can be broken.
// In their source a line break beside a tag or an action is for the eye only, and a space that shows there is written &#32;.
//
//	go run ./tools/templates [-check] FILE...
package main

import (
	"flag"
	"fmt"
	"os"
)

func main() {
	check := flag.Bool("check", false, "name what is not formatted, and write nothing")
	lines := flag.Bool("lines", false, "take line breaks beside tags for spaces")
	flag.Parse()
	wrong := 0
	for _, name := range flag.Args() {
		b, err := os.ReadFile(name)
		if err != nil {
			fmt.Fprintln(os.Stderr, err)
			os.Exit(1)
		}
		out := Format(string(b), *lines)
		if out == string(b) {
			continue
		}
		if *check {
			wrong++
			fmt.Println(name, "is not formatted; run make format")
		} else if err := os.WriteFile(name, []byte(out), 0o644); err != nil {
			fmt.Fprintln(os.Stderr, err)
			os.Exit(1)
		}
	}
	if wrong > 0 {
		os.Exit(1)
	}
}
