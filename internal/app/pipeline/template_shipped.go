package pipeline

// shipped are the templates to begin with. A team that outgrows them writes its own, or takes a project for one.
var shipped = map[string][]Step{
	"small": {{Code: "A1", Name: "Agree what is wanted", Days: 10},
		{Code: "A2", Name: "Prepare", From: 10, Days: 20, After: []string{"A1"}},
		{Code: "A3", Name: "Carry it out", From: 30, Days: 60, After: []string{"A2"}},
		{Code: "A4", Name: "Try it and put it right", From: 90, Days: 10, After: []string{"A3"}},
		{Code: "A5", Name: "Hand it over", Kind: "milestone", Report: "programme", From: 99, Days: 1, After: []string{"A4"}}},
	"full": {{Code: "P1", Name: "Brief and consents", Kind: "summary"},
		{Code: "1.1", Name: "Write the brief", Parent: "P1", Days: 15},
		{Code: "1.2", Name: "Survey what is there", Parent: "P1", From: 10, Days: 20},
		{Code: "1.3", Name: "Ask for consents", Parent: "P1", From: 30, Days: 40, After: []string{"1.1", "1.2"}},
		{Code: "M1", Name: "Consents are in hand", Parent: "P1", Kind: "milestone", Report: "programme", From: 69, Days: 1,
			After: []string{"1.3"}},
		{Code: "P2", Name: "Design", Kind: "summary"},
		{Code: "2.1", Name: "Outline design", Parent: "P2", From: 30, Days: 25, After: []string{"1.1", "1.2"}},
		{Code: "2.2", Name: "Review by those concerned", Parent: "P2", From: 55, Days: 10, After: []string{"2.1"}},
		{Code: "2.3", Name: "Detailed design", Parent: "P2", From: 70, Days: 40, After: []string{"2.2", "M1"}},
		{Code: "M2", Name: "Design is agreed", Parent: "P2", Kind: "milestone", Report: "project", From: 109, Days: 1,
			After: []string{"2.3"}},
		{Code: "P3", Name: "Buying", Kind: "summary"},
		{Code: "3.1", Name: "Ask for offers", Parent: "P3", From: 110, Days: 25, After: []string{"M2"}},
		{Code: "3.2", Name: "Weigh offers and order", Parent: "P3", From: 135, Days: 15, After: []string{"3.1"}},
		{Code: "M3", Name: "Ordered", Parent: "P3", Kind: "milestone", Report: "programme", From: 149, Days: 1, After: []string{"3.2"}},
		{Code: "P4", Name: "Works", Kind: "summary"},
		{Code: "4.1", Name: "Set up the site", Parent: "P4", From: 150, Days: 10, After: []string{"M3"}},
		{Code: "4.2", Name: "Main works", Parent: "P4", From: 160, Days: 90, After: []string{"4.1"}},
		{Code: "4.3", Name: "Fit and connect", Parent: "P4", From: 230, Days: 30},
		{Code: "M4", Name: "Works are complete", Parent: "P4", Kind: "milestone", Report: "portfolio", From: 259, Days: 1,
			After: []string{"4.2", "4.3"}},
		{Code: "P5", Name: "Handover", Kind: "summary"},
		{Code: "5.1", Name: "Try it out", Parent: "P5", From: 260, Days: 15, After: []string{"M4"}},
		{Code: "5.2", Name: "Train those who run it", Parent: "P5", From: 260, Days: 10, After: []string{"M4"}},
		{Code: "5.3", Name: "Clear the site", Parent: "P5", From: 275, Days: 10, After: []string{"5.1"}},
		{Code: "M5", Name: "In use", Parent: "P5", Kind: "milestone", Report: "portfolio", From: 284, Days: 1, After: []string{"5.1",
			"5.2", "5.3"}},
		{Code: "5.4", Name: "Write down what was learned", Parent: "P5", From: 285, Days: 5, After: []string{"M5"}}},
}

// Shipped are the templates that ship with Turret, the smaller first.
func Shipped() []Template {
	return []Template{{Name: "small", Says: "A handful of activities to begin with", Steps: shipped["small"]},
		{Name: "full", Says: "Phases from a brief to the handover, as works have them", Steps: shipped["full"]}}
}
