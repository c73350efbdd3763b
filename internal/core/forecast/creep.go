// Package forecast looks ahead from what was: figures that move steadily toward a limit, and how past forecasts turned out.
//
// # Ranges
//
// A simulation draws the remaining duration of each open activity, the risks that strike and the cost to go, and dates the computed
// network once for each run (Monte Carlo over the critical path method). Durations given by three points are beta-PERT with a lambda of 4
// (Malcolm and others 1959) or triangular; others are the days left times how finished work turned out. Each draw is a function of the
// seed, the run and the name of the thing it is for, so that neither threads, nor other projects, nor the order of files change it.
// Percentiles are counted and never interpolated: P80 is the first day by which at least 80 % of the runs finished.
//
// # Predictions
//
// What an open project will come to is told by a multinomial logistic regression with an L2 penalty, fitted by Newton's method to the
// closed periods of finished projects and judged by leaving out one project after the other. Where it has no skill it tells nothing.
// Figures that are counted or drawn are exact; those that are learned are floating point and are told with few decimals.
//
// # Deviations from common practice
//
// Ratios are drawn from what happened and not from a distribution fitted to it, which needs twenty of them; with fewer, things are as
// planned. Draws of different things are independent: a common cause must be told as a risk of its own.
package forecast

import (
	"math"

	"gonum.org/v1/gonum/stat"
)

// Steady is how many moves in a row, all the same way, make a movement steady.
const Steady = 3

// Creep is a steady movement toward a limit. From is the first of the steady values, To the last; both are in the unit of the series.
type Creep struct {
	From, To float64
	Slope    float64 // per period, by least squares over the steady part
	Periods  int     // from the last value until the limit is crossed, 1 at least
}

// farthest is how many periods ahead a crossing is told.
const farthest = 24

// CreepTo finds whether the last values of a series, one per period, move steadily toward a limit that they have not crossed; upwards
// where beyond is above the limit. The crossing is where the line by least squares through the last four values meets it.
func CreepTo(values []float64, limit float64, up bool) (Creep, bool) {
	n := len(values)
	if n < Steady+1 {
		return Creep{}, false
	}
	part := values[n-Steady-1:]
	sign := -1.0
	if up {
		sign = 1
	}
	for i := 1; i < len(part); i++ {
		if sign*(part[i]-part[i-1]) <= 0 || math.IsNaN(part[i]) {
			return Creep{}, false
		}
	}
	last := part[len(part)-1]
	if sign*(last-limit) > 0 {
		return Creep{}, false
	}
	at := make([]float64, len(part))
	for i := range at {
		at[i] = float64(i)
	}
	_, slope := stat.LinearRegression(at, part, nil, false)
	ahead := (limit - last) / slope
	c := Creep{From: part[0], To: last, Slope: slope, Periods: int(math.Floor(ahead)) + 1}
	return c, c.Periods >= 1 && c.Periods <= farthest
}
