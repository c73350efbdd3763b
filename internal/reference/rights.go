package reference

import (
	"fmt"
	"io"
	"slices"
	"strings"

	"turret/internal/app/access"
	"turret/internal/app/setting"
	"turret/internal/record"
)

// Rights writes who may do what, as Markdown.
func Rights(w io.Writer) error {
	b := &strings.Builder{}
	b.WriteString("# Who may do what\n\nMade from the code by `turret reference docs`; a test holds it current.\n\n")
	b.WriteString("Reading is bounded by scope, and by costs where those are kept from somebody; a lead has the projects led besides. " +
		"What is marked *whole* is for those\nfrom whom nothing is kept: no scope, and no costs hidden.\n\n")
	b.WriteString("| act |")
	for _, role := range access.Roles() {
		fmt.Fprintf(b, " %s |", role)
	}
	b.WriteString("\n|---|" + strings.Repeat("---|", len(access.Roles())) + "\n")
	for _, r := range access.Rights() {
		fmt.Fprintf(b, "| %s |", r.Act)
		for _, role := range access.Roles() {
			mark := ""
			if slices.Contains(r.Roles, role) {
				mark = map[bool]string{true: "whole", false: "yes"}[r.Whole]
			}
			fmt.Fprintf(b, " %s |", mark)
		}
		b.WriteString("\n")
	}
	b.WriteString("\n## Rows of each kind\n\nWhoever sends rows, as a file, by a table or pasted, may write those of the kinds asked " +
		"of them, of projects that are theirs before and after. Kinds\nthat belong to no project are for those without a scope; kinds " +
		"that tell of costs are kept from those from whom costs are.\n\n")
	b.WriteString("| kind | belongs to | tells of costs | asked of leads at first |\n|---|---|---|---|\n")
	asked := setting.DefaultSettings().AskedOfLeads
	for _, k := range record.Kinds() {
		owner := "nobody"
		if k.OfProject() {
			owner = "a project"
		}
		fmt.Fprintf(b, "| `%s` | %s | %s | %s |\n", k, owner, tick(k.IsCost()), tick(slices.Contains(asked, k)))
	}
	_, err := io.WriteString(w, b.String())
	return err
}

func tick(yes bool) string {
	if yes {
		return "yes"
	}
	return ""
}
