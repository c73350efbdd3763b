package risk

import "turret/internal/core/calendar"

// Blocking are the open issues as of a day that block an activity, by its code, in their order.
func Blocking(issues []Issue, asOf calendar.Date) map[string][]*Issue {
	by := map[string][]*Issue{}
	for i := range issues {
		if x := &issues[i]; x.Blocks != "" && x.Open(asOf) {
			by[x.Blocks] = append(by[x.Blocks], x)
		}
	}
	return by
}
