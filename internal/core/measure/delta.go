package measure

import (
	"fmt"

	"turret/internal/core/figure"
	"turret/internal/core/health"
)

// Delta writes how a figure moved from one value to another, with its sign and unit; empty where either is undefined or the
// figure is a status. Dates move by working days.
func (d *Definition) Delta(from, to Value, env Env) string {
	if !from.Known || !to.Known {
		return ""
	}
	switch d.Unit {
	case Money:
		by := to.Amount() - from.Amount()
		if by > 0 {
			return "+" + by.Short(env.Currency)
		}
		return by.Short(env.Currency)
	case Share:
		return health.Percent(to.Ratio - from.Ratio)
	case Index:
		return fmt.Sprintf("%+.2f", to.Ratio-from.Ratio)
	case Day:
		return figure.Signed(int64(env.Calendar.Between(from.Date(), to.Date()))) + " days"
	case Hours, ExpectedDays:
		return fmt.Sprintf("%+.1f", float64(to.N-from.N)/10_000)
	case Health:
		return ""
	}
	return figure.Signed(to.N - from.N)
}
