// Package forecast looks ahead from what was: figures that move steadily toward a limit, and how past forecasts turned out.
package forecast

import (
	"math"

	"gonum.org/v1/gonum/stat"
)

// Steady is how many moves in a row, all the same way, make a movement steady.
const Steady = 3

// Creep is a steady movement toward a limit.
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
