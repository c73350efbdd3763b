package benefit_test

import (
	"net/http"
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/record"
	"turret/internal/web/webtest"
)

// bringing is a house in which Alpha is to bring fares from September on and rent from March 2027, and Beta lights that are no money.
func bringing(t *testing.T) *webtest.House {
	t.Helper()
	h := webtest.New(t)
	h.Take(record.Benefits, "project,code,name,owner,month,planned,forecast,achieved,unit\n"+
		"A1,FARE,Fares <b>,Lea,2026-09,1000,,700,\nA1,FARE,Fares <b>,Lea,2026-10,1000,,100,\nA1,FARE,Fares <b>,Lea,2026-12,2000,2500,,\n"+
		"A1,RENT,Rent,Other,2027-03,600,,,\nB1,LAMP,Lamps,Other,2026-10,10,,8,lamps\n")
	return h
}

// cells are the texts of a row of a table, without its first.
func cells(row string) (list []string) {
	for _, m := range regexp.MustCompile(`(?s)<td[^>]*>(.*?)</td>`).FindAllStringSubmatch(row, -1) {
		list = append(list, webtest.Text(m[1]))
	}
	return list
}

// By hand, as of 31 October: 700 and 100 came of 2,000 that were due, 40 %; with 2,500 of December and 600 of March 3,900 are expected
// where 4,600 were planned. Every benefit stands below the months of the head, whenever its own begin: rent in the seventh, March.
func TestWhatAProjectBrings(t *testing.T) {
	h := bringing(t)
	page := h.Page("ana", "/projects/A1/benefits")
	assert.Contains(t, webtest.Text(page),
		"Alpha is to bring €3,900 where €4,600 was planned; €800 of €2,000 due by now has come; it does not pay back")
	assert.Contains(t, page, "Fares &lt;b&gt;")
	heads := regexp.MustCompile(`<th scope="col" class="num">([A-Z][a-z]{2} \d\d)</th>`).FindAllStringSubmatch(page, -1)
	if assert.Len(t, heads, 12) {
		assert.Equal(t, []string{"Sep 26", "Mar 27", "Aug 27"}, []string{heads[0][1], heads[6][1], heads[11][1]})
	}
	var rent []string
	for _, row := range webtest.Rows(page, "Rent") {
		if list := cells(row); len(list) >= 12 {
			rent = list[len(list)-12:]
		}
	}
	assert.Equal(t, []string{"", "", "", "", "", "", "€600.00", "", "", "", "", ""}, rent)
	assert.Contains(t, h.Page("ana", "/projects/A1/benefits?trace=benefit_achieved"), "€800.00")
	h.Shut("exe", "/projects/A1/benefits", http.StatusForbidden)
	h.Shut("lea", "/projects/B1/benefits", http.StatusNotFound)
}

// The list adds up what is money. Less than four fifths of what was due is told in colour, exactly four fifths are not; owners are
// reminded by whoever may, and others are not asked.
func TestBenefitsOfAScope(t *testing.T) {
	h := bringing(t)
	page := h.Page("ana", "/money/benefits")
	assert.Contains(t, webtest.RowOf(t, page, "Alpha"), "tone-act")
	assert.NotContains(t, webtest.RowOf(t, page, "Beta"), "tone-act", "8 of 10 lamps")
	assert.Contains(t, webtest.RowOf(t, page, "Alpha"), "40.0 %")
	h.Take(record.Benefits, "project,code,name,owner,month,planned,achieved\nA1,FARE,Fares,Lea,2026-10,1000,900\n")
	assert.NotContains(t, webtest.RowOf(t, h.Page("ana", "/money/benefits"), "Alpha"), "tone-act", "800 of 1,000 would be enough, 900 are")
	assert.Contains(t, h.Page("ana", "/money/benefits?by=programme"), "Programme A")
	assert.NotContains(t, h.Page("lea", "/money/benefits"), "Beta")
	h.Shut("exe", "/money/benefits", http.StatusForbidden)
	h.Do("lea", "/money/benefits", http.StatusForbidden)
}
