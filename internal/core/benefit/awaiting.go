package benefit

import (
	"cmp"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
)

// Awaiting is what is asked for of a benefit as of a day, by the months that have ended. Amounts are minor units of the benefit's own
// currency or unit; the month of the day itself is not asked for before it ends.
type Awaiting struct {
	Untold []calendar.Month // that were to bring something and of which nobody told what came; ascending
	Due    money.Amount     // planned of the months of which it was told
	Come   money.Amount     // that came in those
}

// Short reports whether less than four fifths came of what was due in the months of which it was told, as Sums.Short has it.
func (a *Awaiting) Short() bool { return Sums{Due: a.Due, Come: a.Come}.Short() }

// Wanted reports whether anything is asked for.
func (a *Awaiting) Wanted() bool { return len(a.Untold) > 0 || a.Short() }

// Await tells what is asked for of the months of one benefit.
func Await(months []*Benefit, asOf calendar.Date) (a Awaiting) {
	for _, b := range months {
		switch {
		case b.Month.Last() > asOf:
		case b.Counted:
			a.Due += b.Planned
			a.Come += b.Achieved
		case b.Planned > 0:
			a.Untold = append(a.Untold, b.Month)
		}
	}
	slices.Sort(a.Untold)
	return a
}

// ByCode groups the months of benefits by their codes, both ascending.
func ByCode(list []Benefit) (groups [][]*Benefit) {
	all := make([]*Benefit, len(list))
	for i := range list {
		all[i] = &list[i]
	}
	slices.SortStableFunc(all, func(x, y *Benefit) int { return cmp.Or(cmp.Compare(x.Code, y.Code), cmp.Compare(x.Month, y.Month)) })
	for i, b := range all {
		if i == 0 || all[i-1].Code != b.Code {
			groups = append(groups, nil)
		}
		groups[len(groups)-1] = append(groups[len(groups)-1], b)
	}
	return groups
}
