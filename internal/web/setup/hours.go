package setup

import (
	"cmp"
	"net/url"
	"strconv"
	"strings"

	"turret/internal/app/fault"
	"turret/internal/app/setting"
	"turret/internal/core/money"
)

// hoursFrom reads the hours of a working day, and from when on somebody is full and over; what a form leaves out stays.
func hoursFrom(q url.Values, set *setting.Settings) error {
	for _, x := range []struct {
		name, field string
		per, usual  float64
		to          *float64
	}{{"standard_hours", "hours of a working day", 1, 8, &set.StandardHours}, {"load_full", "full from", 100, 90, &set.LoadFull},
		{"load_over", "over above", 100, 100, &set.LoadOver}} {
		text := strings.TrimSpace(strings.Replace(q.Get(x.name), ",", ".", 1))
		if !q.Has(x.name) {
			continue
		}
		n := 0.0
		if text != "" {
			var err error
			if n, err = strconv.ParseFloat(text, 64); err != nil || !(n > 0) {
				return fault.Field(x.field, fault.Clip(q.Get(x.name), 40), "a number above 0")
			}
		}
		if *x.to = n / x.per; n == x.usual {
			*x.to = 0 // as it stands where nobody has said so
		}
	}
	return nil
}

// aheadFrom reads what predictions are learned from and how three points are spread.
func aheadFrom(q url.Values, set *setting.Settings) error {
	if q.Has("learn_score") {
		n, err := strconv.Atoi(cmp.Or(strings.TrimSpace(q.Get("learn_score")), "0"))
		if err != nil {
			return fault.Field("learned from a data score of", fault.Clip(q.Get("learn_score"), 40), "0 to 100")
		}
		set.LearnScore = n
	}
	switch from := q.Get("learn_baseline"); from {
	case "":
	case "set", "any":
		set.LearnAny = from == "any"
	default:
		return fault.Field("learned from periods", fault.Clip(from, 40), "set or any")
	}
	switch by := q.Get("spread_by"); by {
	case "":
	case "pert", "triangle":
		set.Triangular = by == "triangle"
	default:
		return fault.Field("three points spread by", fault.Clip(by, 40), "pert or triangle")
	}
	return nil
}

// worthFrom reads from which day of an iteration on what comes is unplanned, and by how much less money is worth a year later.
func worthFrom(q url.Values, set *setting.Settings) error {
	if q.Has("grace") {
		n, err := strconv.Atoi(cmp.Or(strings.TrimSpace(q.Get("grace")), "0"))
		if err != nil {
			return fault.Field("unplanned after", fault.Clip(q.Get("grace"), 40), "0 to 365 days")
		}
		set.Grace = n
	}
	if !q.Has("yearly_rate") {
		return nil
	}
	set.YearlyRate = nil
	if text := strings.TrimSpace(q.Get("yearly_rate")); text != "" {
		n, err := money.ParseDecimal(money.Typed(text), 2)
		if err != nil {
			return fault.Field("yearly rate", fault.Clip(text, 40), "a percentage such as 4 or 3.5")
		}
		if set.YearlyRate = &n; n == setting.DefaultSettings().Rate() {
			set.YearlyRate = nil // as it stands where nobody has said so
		}
	}
	return nil
}
