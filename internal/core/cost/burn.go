package cost

import (
	"fmt"
	"math/big"
	"strconv"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
)

// RunMonths is over how many whole months the run-rate is taken.
const RunMonths = 3

// LastWhole is the last month that has ended by the end of a day.
func LastWhole(asOf calendar.Date) calendar.Month {
	if m := asOf.Month(); asOf < m.Last() {
		return m - 1
	}
	return asOf.Month()
}

// RunRate is the mean monthly actual cost of the last RunMonths whole months, rounded half to even.
func (a *Account) RunRate(asOf calendar.Date) money.Amount {
	last := LastWhole(asOf)
	return money.MulDiv(a.Between(a.ActualBy, last-RunMonths+1, last), 1, RunMonths)
}

// Between adds up the months from one to another, both included, of one of the account's rows of months. Months outside of the row count
// 0.
func (a *Account) Between(by []money.Amount, from, to calendar.Month) money.Amount {
	var sum money.Amount
	for m := max(from, a.First); m <= to && int(m-a.First) < len(by); m++ {
		sum += by[m-a.First]
	}
	return sum
}

// RunsOut is the month in which a budget is spent. Counted from the as-of date it is the one in which what remains is used up at a monthly
// rate, the month of the date in proportion to its working days left; a budget that is overspent ran out in the month in which the cost
// added up, by month from first on, passed it. It is false where that is never, or more than a century ahead. Amounts are minor units of
// one currency and rate is per month. The month found is the first by whose end nothing is left.
func RunsOut(budget, spent, rate money.Amount, first calendar.Month, by []money.Amount, cut Cut) (calendar.Month, bool) {
	if spent > budget {
		var sum money.Amount
		for i, a := range by {
			if sum += a; sum > budget {
				return first + calendar.Month(i), true
			}
		}
		return cut.Month, true
	}
	if rate <= 0 {
		return cut.Month, spent == budget
	}
	// In working days of the month of the date: what is left after it, over what a month takes.
	left := new(big.Int).Mul(big.NewInt(int64(budget-spent)), big.NewInt(cut.All))
	left.Sub(left, new(big.Int).Mul(big.NewInt(int64(rate)), big.NewInt(cut.All-cut.Passed)))
	if left.Sign() <= 0 {
		return cut.Month, true
	}
	month := new(big.Int).Mul(big.NewInt(int64(rate)), big.NewInt(cut.All))
	months, more := left.QuoRem(left, month, new(big.Int))
	if more.Sign() > 0 {
		months.Add(months, big.NewInt(1))
	}
	if !months.IsInt64() || months.Int64() > 1200 {
		return 0, false
	}
	return cut.Month + calendar.Month(months.Int64()), true
}

// Year is the money of one budget year, beside what lies before and after it. A year has twelve months from its first; all are minor units
// of the reporting currency.
type Year struct {
	Budget, Actual, ToGo                    money.Amount // of the year
	BudgetBefore, BudgetAfter, ActualBefore money.Amount // of earlier and of later years
	ToGoAfter                               money.Amount // forecast of later years
}

// Outlook is what the year is expected to cost.
func (y Year) Outlook() money.Amount { return y.Actual + y.ToGo }

// CarryOver is the part of the year's budget that the year is not expected to use; negative is drawn from other years.
func (y Year) CarryOver() money.Amount { return y.Budget - y.Outlook() }

// Year adds up the account by the budget year that begins in the first month.
func (a *Account) Year(first calendar.Month) Year {
	const never = 1 << 20
	last := first + 11
	return Year{Budget: a.Between(a.BudgetBy, first, last), Actual: a.Between(a.ActualBy, first, last),
		ToGo:         a.Between(a.ForecastBy, first, last),
		BudgetBefore: a.Between(a.BudgetBy, 0, first-1), BudgetAfter: a.Between(a.BudgetBy, last+1, never),
		ActualBefore: a.Between(a.ActualBy, 0, first-1), ToGoAfter: a.Between(a.ForecastBy, last+1, never)}
}

// YearOf is the first month of the budget year that a day falls into; years begin in a month of the calendar from 1 to 12.
func YearOf(day calendar.Date, begins int) calendar.Month {
	m := day.Month()
	return m - (m-calendar.Month(begins-1)+12)%12
}

// YearName is the budget year that begins in a month: 2026, or 2026/27 where it does not begin in January.
func YearName(first calendar.Month) string {
	y, m, _ := first.First().YMD()
	if m == 1 {
		return strconv.Itoa(y)
	}
	return fmt.Sprintf("%d/%02d", y, (y+1)%100)
}
