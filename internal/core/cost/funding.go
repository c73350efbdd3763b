package cost

import (
	"cmp"
	"fmt"
	"maps"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/money"
)

// Whole is one hundred percent in hundredths of a percent.
const Whole = 10_000

// Share is what a funder pays of the cost of a centre from a month on. Percent are hundredths of a percent.
type Share struct {
	Funder            string
	Percent           int64          // hundredths of a percent
	From              calendar.Month // 0 for always
	Centre            string         // empty for every centre without shares of its own
	Granted, Received money.Amount   // of the funder, in Currency
	Currency          money.Currency // of what is granted and received
	Ref               fact.Ref
}

// Sharing finds who pays for a centre in a month. Shares of one centre and month of beginning stand and fall together. Its percentages add
// up to Whole for each centre and month of beginning.
type Sharing struct{ by map[string][][]Share }

// NewSharing groups shares. Those of a centre from a month on must add up to a whole, else the error names them.
func NewSharing(shares []Share) (*Sharing, error) {
	list := slices.Clone(shares)
	slices.SortStableFunc(list, func(a, b Share) int {
		return cmp.Or(cmp.Compare(a.Centre, b.Centre), cmp.Compare(a.From, b.From))
	})
	s := &Sharing{by: map[string][][]Share{}}
	for at := 0; at < len(list); {
		end, sum := at, int64(0)
		for end < len(list) && list[end].Centre == list[at].Centre && list[end].From == list[at].From {
			sum += list[end].Percent
			end++
		}
		if sum != Whole {
			return nil, &SharesError{list[at].Centre, list[at].From, sum, list[end-1].Ref}
		}
		s.by[list[at].Centre] = append(s.by[list[at].Centre], list[at:end])
		at = end
	}
	return s, nil
}

// SharesError tells of percentages that do not add up to 100.
type SharesError struct {
	Centre string
	From   calendar.Month // 0 for always
	Sum    int64          // hundredths of a percent
	Last   fact.Ref       // row of the last share of the group
}

// Error names the centre, the month from which the shares hold, and what they add up to.
func (e *SharesError) Error() string {
	of := "every cost centre"
	if e.Centre != "" {
		of = "cost centre " + e.Centre
	}
	from := "from the beginning"
	if e.From != 0 {
		from = "from " + e.From.String()
	}
	return fmt.Sprintf("the shares of %s %s add up to %s %%, not to 100", of, from, money.Decimal(e.Sum, 2))
}

// In are the shares in force for a centre in a month: its own, else those of every centre; nil where none has begun.
func (s *Sharing) In(centre string, m calendar.Month) []Share {
	for _, c := range []string{centre, ""} {
		list := s.by[c]
		for i := len(list) - 1; i >= 0; i-- {
			if list[i][0].From <= m {
				return list[i]
			}
		}
	}
	return nil
}

// Now is the percent of a funder in force in a month, by the shares that began last: those of every centre, else, where it pays for single
// ones only, those of the first of them. 0 is none any more, or not yet.
func (s *Sharing) Now(funder string, m calendar.Month) int64 {
	for _, centre := range slices.Sorted(maps.Keys(s.by)) { // every centre's stand first, under no name
		for _, x := range s.In(centre, m) {
			if x.Funder == funder && x.Centre == centre {
				return x.Percent
			}
		}
	}
	return 0
}

// Split divides the cost of a centre and month among its funders, exactly; without funders the parts are nil.
func (s *Sharing) Split(a money.Amount, centre string, m calendar.Month) ([]Share, []money.Amount) {
	shares := s.In(centre, m)
	if shares == nil {
		return nil, nil
	}
	weights := make([]int64, len(shares))
	for i := range shares {
		weights[i] = shares[i].Percent
	}
	return shares, money.Split(a, weights)
}

// Borne is what a funder bears of a project's cost. Parts of all funders, nobody among them, add up to the project's in minor units.
// Undrawn may be negative where more was paid than granted.
type Borne struct {
	Funder               string       // empty for what nobody bears
	Actual, ToGo, Budget money.Amount // reporting currency, as all amounts of it
	Granted, Received    money.Amount // by the shares of the funder
	Undrawn              money.Amount // granted and not received
	Ahead                money.Amount // received beyond its share of the cost so far; negative is still to be drawn
	First                fact.Ref     // row of its first share
	Months               []BorneMonth // ascending, by centre within a month
	Percent              int64        // its share in force last, hundredths of a percent
}

// BorneMonth is the part of a funder in the cost of a month.
type BorneMonth struct {
	Month  calendar.Month
	Centre string       // empty where the rows name none
	Cost   money.Amount // of all funders
	Part   money.Amount // of this one
}

// Bear splits a project's cost among those who pay for it: actual cost, forecast to go and budget, each per cost centre and month.
// What nobody bears comes under an empty name. Parts add up to the whole exactly.
func Bear(shares []Share, t *Timed, rates *Rates, asOf calendar.Date) ([]Borne, error) {
	sharing, err := NewSharing(shares)
	if err != nil {
		return nil, err
	}
	at := map[string]int{}
	var list []Borne
	of := func(name string) *Borne {
		i, ok := at[name]
		if !ok {
			i = len(list)
			at[name] = i
			list = append(list, Borne{Funder: name})
		}
		return &list[i]
	}
	for i := range shares {
		s := &shares[i]
		b := of(s.Funder)
		if b.First == (fact.Ref{}) {
			b.First = s.Ref
		}
		b.Percent = sharing.Now(s.Funder, asOf.Month())
		granted, received, err := s.Worth(rates, asOf)
		if err != nil {
			return nil, err
		}
		b.Granted += granted
		b.Received += received
	}
	t.each(func(centre string, m calendar.Month, x *TimedCell) {
		shares, actual := sharing.Split(x.Actual, centre, m)
		_, togo := sharing.Split(x.ToGo, centre, m)
		_, budget := sharing.Split(x.Budget, centre, m)
		if shares == nil {
			shares, actual, togo, budget = []Share{{}}, []money.Amount{x.Actual}, []money.Amount{x.ToGo}, []money.Amount{x.Budget}
		}
		for i := range shares {
			b := of(shares[i].Funder)
			b.Actual += actual[i]
			b.ToGo += togo[i]
			b.Budget += budget[i]
			if x.Actual != 0 {
				b.Months = append(b.Months, BorneMonth{m, centre, x.Actual, actual[i]})
			}
		}
	})
	for i := range list {
		b := &list[i]
		b.Undrawn, b.Ahead = b.Granted-b.Received, b.Received-b.Actual
	}
	return list, nil
}
