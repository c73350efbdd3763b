package measure

import (
	"fmt"

	"turret/internal/core/capacity"
	"turret/internal/core/money"
)

// past and ahead pick what an assignment wants up to the as-of date, and after it.
func past(s *capacity.Share) int64  { return s.Past }
func ahead(s *capacity.Share) int64 { return s.Ahead }

// hours are units of core/capacity in ten-thousandths of an hour, half to even.
func hours(units int64) Value {
	return known(int64(money.MulDiv(money.Amount(units), 1, capacity.Unit/10_000)))
}

// staffHours are the hours of a project's assignments, added up before they are rounded.
func staffHours(pick func(*capacity.Share) int64) func(*Project) Value {
	return func(p *Project) Value {
		switch {
		case p.Status == Cancelled:
			return unknown("the project is cancelled")
		case len(p.Shares) == 0:
			return unknown("no assignments")
		}
		sum := int64(0)
		for i := range p.Shares {
			sum += pick(&p.Shares[i])
		}
		return hours(sum)
	}
}

// explainShares traces the assignments of a project with the hours that each wants.
func explainShares(pick func(*capacity.Share) int64) func(*Project, *Evidence) []Node {
	return func(p *Project, _ *Evidence) []Node {
		var list []Node
		for i := range p.Shares {
			x := &p.Shares[i]
			if n := pick(x); n != 0 {
				list = append(list, Node{Label: x.Who, Unit: Hours, Value: hours(n), Ref: x.Ref,
					Detail: fmt.Sprintf("%s of a working day from %s to %s", Value{Known: true,
						Ratio: float64(x.Percent) / 10_000}.Human(Share,
						""), x.From.Human(), x.To.Human())})
			}
		}
		return list
	}
}
