package capacity

import (
	"math/big"

	"turret/internal/core/fact"
	"turret/internal/core/money"
)

// Cell is what is there and what is wanted in a span, in units of an hour (Unit), without rounding. Booked and Billable may be below zero
// where more was taken back than booked; the others never are.
type Cell struct {
	Available, Demand int64 // less absences; and what is wanted, staffed or not
	Unstaffed         int64 // the part of the demand that names nobody
	Booked, Billable  int64 // up to the as-of date

	AvailablePast, DemandPast int64 // on the days up to the as-of date
	Full                      int64 // the hours of one person at work on the organisation's days of the span

	meant, based int64 // available hours times their target, and those that have one
}

// available adds hours, in ten-thousandths, that somebody has on one day; past where that is on or before the as-of date.
func (c *Cell) available(hours int64, p *Person, past bool) {
	c.Available += hours * dayUnit
	if past {
		c.AvailablePast += hours * dayUnit
	}
	if p.Target.Given {
		c.meant += hours * p.Target.N
		c.based += hours
	}
}

// demand adds what is wanted of one day, in units of an hour.
func (c *Cell) demand(units int64, past bool) {
	c.Demand += units
	if past {
		c.DemandPast += units
	}
}

// Add puts the hours of another cell of the same span, or of another span, to these.
func (c *Cell) Add(x *Cell) {
	c.Available, c.Demand, c.Unstaffed = c.Available+x.Available, c.Demand+x.Demand, c.Unstaffed+x.Unstaffed
	c.Booked, c.Billable = c.Booked+x.Booked, c.Billable+x.Billable
	c.AvailablePast, c.DemandPast = c.AvailablePast+x.AvailablePast, c.DemandPast+x.DemandPast
	c.meant, c.based = c.meant+x.meant, c.based+x.based
}

// Load is the demand over what is available, exactly; none where nothing is available.
func (c *Cell) Load() fact.Ratio { return fact.Of(c.Demand, c.Available) }

// Utilisation is what was booked over what was available on the days up to the as-of date; none where nothing was.
func (c *Cell) Utilisation() fact.Ratio { return fact.Of(c.Booked, c.AvailablePast) }

// BillableUtilisation is the part of it that can be billed.
func (c *Cell) BillableUtilisation() fact.Ratio { return fact.Of(c.Billable, c.AvailablePast) }

// PlannedUtilisation is the demand over what was available on the days up to the as-of date; none where nothing was.
func (c *Cell) PlannedUtilisation() fact.Ratio { return fact.Of(c.DemandPast, c.AvailablePast) }

// Target is the mean of the targets of those who have one, weighted by what is available of them; none where nothing is.
func (c *Cell) Target() fact.Ratio {
	if c.based == 0 {
		return fact.Ratio{}
	}
	return fact.Exactly(new(big.Rat).Quo(big.NewRat(c.meant, c.based), big.NewRat(10_000, 1)))
}

// Below reports whether utilisation is more than ten points of a percentage below a target; exactly ten are not, nor is where either is
// undefined.
func (c *Cell) Below(target fact.Ratio) bool {
	use := c.Utilisation()
	if !use.Given() || !target.Given() {
		return false
	}
	return new(big.Rat).Add(use.Rat(), big.NewRat(1, 10)).Cmp(target.Rat()) < 0
}

// FTE is how many people at work hours come to, in hundredths, half to even; none where the organisation works on no day of the span.
func (c *Cell) FTE(hours int64) fact.Int {
	if c.Full == 0 {
		return fact.Int{}
	}
	return fact.Some(int64(money.MulDiv(money.Amount(hours), 100, c.Full)))
}

// Gap is what is available less what is wanted, in hundredths of people at work, rounded once; below zero is a shortfall.
func (c *Cell) Gap() fact.Int { return c.FTE(c.Available - c.Demand) }

// Hours are units as hundredths of an hour, half to even. Numbers beyond int64 are not reached: a thousand people for a hundred years are
// below 2^61 units.
func Hours(units int64) int64 { return int64(money.MulDiv(money.Amount(units), 100, Unit)) }

// State is how far somebody is loaded.
type State uint8

// The states, ascending.
const (
	Free State = iota
	Full
	Over
)

func (s State) String() string { return [...]string{"free", "full", "over"}[s] }

// Limits say from which share of the available hours on somebody is full, and above which they are over, in hundredths of a percent. Equal
// to Full is full, equal to Over is not over.
type Limits struct{ Full, Over int64 }

// StandardLimits are those that hold where no others are set.
var StandardLimits = Limits{90_00, 100_00}

// Of is the state of a cell: full from the one limit, over above the other, and over where something is wanted and nothing is available.
func (l Limits) Of(c *Cell) State {
	load := c.Load()
	switch {
	case !load.Given():
		if c.Demand > 0 {
			return Over
		}
		return Free
	case load.Cmp(fact.Of(l.Over, 10_000)) > 0:
		return Over
	case load.Cmp(fact.Of(l.Full, 10_000)) >= 0:
		return Full
	}
	return Free
}
