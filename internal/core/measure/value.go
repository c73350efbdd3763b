package measure

import (
	"cmp"
	"math/big"

	"turret/internal/core/calendar"
	"turret/internal/core/evidence"
	"turret/internal/core/fact"
	"turret/internal/core/figure"
	"turret/internal/core/health"
	"turret/internal/core/money"
)

// Unit is what a value counts.
type Unit = figure.Unit

// Value is what a measure comes to.
type Value = figure.Value

// Env is what figures are computed under.
type Env = evidence.Env

// Node is one step of a trace.
type Node = evidence.Node

// Evidence is what a project's figures were computed from.
type Evidence = evidence.Rows

// Step is one activity of the chain that leads to another.
type Step = evidence.Step

// The units, by their short names.
const (
	Money        = figure.Money
	Share        = figure.Share
	Days         = figure.Days
	Day          = figure.Day
	Count        = figure.Count
	Health       = figure.Health
	Index        = figure.Index
	Hours        = figure.Hours
	Points       = figure.Points
	Score        = figure.Score
	ExpectedDays = figure.ExpectedDays
	Month        = figure.Month
)

// known is a whole number: minor units, days, a date, a count or ten-thousandths, by the unit of its measure.
func known(n int64) Value { return Value{Known: true, N: n} }

// Quotient is a share or index of two whole numbers of the same unit; den must not be zero.
func Quotient(num, den int64) Value { return quotient(num, den) }

// quotient keeps the fraction beside its nearest floating-point number; den must not be zero.
func quotient(num, den int64) Value {
	return Value{Known: true, Ratio: float64(num) / float64(den), Exact: fact.Of(num, den)}
}

// rational is a share or index that is worked out exactly.
func rational(r *big.Rat) Value {
	f, _ := r.Float64()
	return Value{Known: true, Ratio: f, Exact: fact.Exactly(r)}
}

// unknown is no figure, and why.
func unknown(reason string) Value { return Value{Reason: reason} }

// amount is a figure of money.
func amount(a money.Amount) Value { return known(int64(a)) }

// date is a figure that is a day.
func date(d calendar.Date) Value { return known(int64(d)) }

// status is a figure that is a status.
func status(s health.Status) Value { return known(int64(s)) }

// Compare orders two known values of the measure.
func (d *Definition) Compare(a, b Value) int {
	if d.Unit == Share || d.Unit == Index || d.Unit == Score {
		return cmp.Compare(a.Ratio, b.Ratio) // rows are sorted by what they show
	}
	return cmp.Compare(a.N, b.N)
}
