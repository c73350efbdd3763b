package cost

import (
	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/money"
)

// ChangeState is how far a change has come.
type ChangeState uint8

// The states of a change. Budget lines of a change count only where it is approved, or not in the register at all.
const (
	Requested ChangeState = iota
	Approved
	Refused
)

func (s ChangeState) String() string { return [...]string{"requested", "approved", "refused"}[s] }

// ParseChangeState reads a state, false for what is none.
func ParseChangeState(s string) (ChangeState, bool) {
	for _, x := range []ChangeState{Requested, Approved, Refused} {
		if x.String() == s {
			return x, true
		}
	}
	return 0, false
}

// Change is an entry of a project's register of changes. An amount below zero takes budget back. Days may be negative as well, where it
// brings the finish nearer.
type Change struct {
	Code, Title         string // as its project calls it
	State               ChangeState
	Amount              money.Amount   // effect on the budget
	Currency            money.Currency // of the amount
	Days                fact.Int       // effect on the finish, working days
	CostCode            string         // where the money is meant to go; empty where nobody said
	From, To            calendar.Date  // over which the money is meant to be spent, both included; 0 where nobody said
	Profile             Profile        // by which it spreads over them
	Reason, Answer      string         // of who asks; of who decides
	RequestedBy, By     string         // who asked; who decides
	RequestedOn, Closed calendar.Date  // day of the request; of the decision; 0 where not given
	Ref                 fact.Ref       // the row it was sent in
}

// Month is where its amount is converted: the month it begins in, else that of its request, else the as-of month.
func (c Change) Month(asOf calendar.Date) calendar.Month {
	for _, d := range []calendar.Date{c.From, c.RequestedOn} {
		if d != 0 {
			return d.Month()
		}
	}
	return asOf.Month()
}

// Asked is what a register of changes holds that is not decided yet. Amount is in the reporting currency at plan rates; Days are working
// days, added up without regard to which run beside each other.
type Asked struct {
	Changes int          // asked for and not decided
	Amount  money.Amount // minor units of the reporting currency
	Days    int64        // working days
}

// Change adds an entry of the register; it must come before the lines of the budget.
func (b *Builder) Change(c Change) {
	if c.State != Approved {
		b.Hold(c.Code)
	}
	if c.State != Requested {
		return
	}
	a, _, err := b.rates.Planned(c.Amount, c.Currency, c.Month(b.asOf))
	if err != nil {
		b.fail(InChanges, err)
		return
	}
	b.acc.Asked.Changes++
	b.acc.Asked.Amount += a
	b.acc.Asked.Days += c.Days.N
}

// Funds is what those who pay have granted and paid, in the reporting currency.
type Funds struct {
	Rows              int
	Granted, Received money.Amount
}

// Fund adds a share's grant and what was received of it.
func (b *Builder) Fund(s Share) {
	f := &b.acc.Funds
	f.Rows++
	granted, received, err := s.Worth(b.rates, b.asOf)
	if err != nil {
		b.fail(InFunding, err)
		return
	}
	f.Granted += granted
	f.Received += received
}

// Worth is a share's grant and what was received of it, at the plan rate of its month.
func (s Share) Worth(rates *Rates, asOf calendar.Date) (granted, received money.Amount, err error) {
	m := s.Month(asOf)
	if granted, _, err = rates.Planned(s.Granted, s.Currency, m); err == nil {
		received, _, err = rates.Planned(s.Received, s.Currency, m)
	}
	return granted, received, err
}

// Month is where a share's amounts are converted: that of the as-of date, or a later one that it begins in.
func (s Share) Month(asOf calendar.Date) calendar.Month { return max(s.From, asOf.Month()) }
