package setup

import (
	"net/url"
	"strconv"
	"strings"

	"turret/internal/app/fault"
	"turret/internal/app/setting"
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
