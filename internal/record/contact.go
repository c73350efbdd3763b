package record

import (
	"net/mail"
	"net/url"
	"strings"
)

var contacts = &Input{Kind: Contacts,
	Title: "Contacts", Says: "Whom to ask about a project, besides its lead and sponsor.", Key: []string{"project", "name"},
	Owner: OfProject, Rows: Revised, Check: checkContact,
	Sample: "N-01|C. Person|the borings|c.person@example.org|+44 20 0000 0000\n" +
		"N-01|D. Person|permits||",
	Columns: []Column{projectCode, must(text("name", "whom")), text("about", "what to ask about"), text("email", "address of mail"),
		text("phone", "")}}

var documents = &Input{Kind: Documents,
	Title: "Documents", Says: "Where the documents of a project lie, each with the deliverable it belongs to.",
	Key:   []string{"project", "title"},
	Owner: OfProject, Rows: Revised, Check: checkDocument,
	Sample: "N-01|Business case|https://files.example.org/n-01/case.pdf|approved by the board|\n" +
		"N-01|Drawings of the gate|https://files.example.org/n-01/gate||A2",
	Columns: []Column{projectCode, must(text("title", "as shown")), must(text("address", "of a page or file, with https://")),
		text("note", ""), code("activity", "the deliverable or activity it belongs to")}}

func checkContact(r Row, fail Fail) {
	s := r.Get("email")
	if a, err := mail.ParseAddress(s); s != "" && (err != nil || a.Address != s) {
		fail("email", s, "an address such as a.person@example.org")
	}
}

// checkDocument refuses addresses that a browser would run or that lead to no host.
func checkDocument(r Row, fail Fail) {
	if s := r.Get("address"); !leadsOut(s) {
		fail("address", s, "an address that begins with https:// or http://")
	}
}

// leadsOut reports whether an address leads to a host, by a scheme that a browser only opens.
func leadsOut(s string) bool {
	u, err := url.Parse(s)
	return err == nil && u.Host != "" && (u.Scheme == "https" || u.Scheme == "http") && !strings.ContainsAny(s, " \n\t\"<>")
}
