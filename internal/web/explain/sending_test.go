package explain

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/core/calendar"
)

// november is a period of a month that ends on its thirtieth.
var november = calendar.Months.Of(calendar.On(2026, 11, 1))

func of(cells ...string) func(string) string {
	by := map[string]string{}
	for i := 0; i < len(cells); i += 2 {
		by[cells[i]] = cells[i+1]
	}
	return func(name string) string { return by[name] }
}

// Asked of a lead is what is not done and begins by the end of the next period, and what ended in this one.
func TestActivitiesThatAreDueOrInWork(t *testing.T) {
	for _, x := range []struct {
		cells []string
		want  bool
	}{
		{[]string{"actual_start", "2025-01-01", "start", "2027-06-01"}, true},
		{[]string{"start", "2026-12-31"}, true}, {[]string{"start", "2027-01-01"}, false},
		{[]string{"finish", "2026-12-31"}, true}, {[]string{"baseline_start", "2027-01-01", "baseline_finish", "2026-01-01"}, false},
		{[]string{"baseline_finish", "2026-10-01"}, true}, {nil, false}, {[]string{"start", "soon"}, false},
		{[]string{"actual_finish", "2026-11-01"}, true}, {[]string{"actual_finish", "2026-11-30"}, true},
		{[]string{"actual_finish", "2026-10-31"}, false}, {[]string{"actual_finish", "2026-12-01"}, false},
		{[]string{"kind", "summary", "start", "2026-11-01"}, false}, {[]string{"kind", "milestone", "finish", "2026-11-01"}, true},
	} {
		assert.Equal(t, x.want, inWork(of(x.cells...), november), x.cells)
	}
}

// The three months after the period, lines of single months only.
func TestMonthsAhead(t *testing.T) {
	for month, want := range map[string]bool{"2026-11": false, "2026-12": true, "2027-02": true, "2027-03": false, "": false,
		"spring": false} {
		assert.Equal(t, want, ahead(of("month", month), november), month)
	}
}

func TestWhatIsNotClosed(t *testing.T) {
	for _, x := range []struct {
		cells []string
		want  bool
	}{{nil, true}, {[]string{"state", "open"}, true}, {[]string{"state", "closed"}, false}, {[]string{"state", "occurred"}, false},
		{[]string{"closed", "2026-11-02"}, false}, {[]string{"state", "Resolved "}, false}, {[]string{"state", "waiting"}, true}} {
		assert.Equal(t, x.want, unclosed(of(x.cells...), november), x.cells)
	}
}
