package forecast

import (
	"math"

	"gonum.org/v1/gonum/mat"
)

// Classes are the outcomes told apart: on track, watch, act.
const Classes = 3

// Chances are the probabilities of the outcomes; they add up to 1. The order is that of the worse: on track, watch, act.
type Chances [Classes]float64

// Likeliest is the outcome with the highest probability, the worse of equal ones.
func (c Chances) Likeliest() int {
	best := Classes - 1
	for k := best - 1; k >= 0; k-- {
		if c[k] > c[best] {
			best = k
		}
	}
	return best
}

// example is what is learned from: standardised features, an outcome, and how much it counts.
type example struct {
	x       []float64 // around 0, in units of spread
	outcome int       // index of what came
	weight  float64   // the moments of a project weigh 1 together
}

// logistic is a multinomial logistic regression: a weight of each feature for each outcome, the first of them the intercept.
type logistic [Classes][]float64

// ridge is how strongly weights are held to zero (L2), against examples that count as many as there are projects. The intercept is held by
// little, so that an outcome which never came keeps a chance.
const (
	ridge     = 1.0
	lightly   = 0.01
	mostSteps = 50
	settled   = 1e-9
)

// chances are the probabilities of the outcomes for standardised features.
func (m *logistic) chances(x []float64) Chances {
	var c Chances
	top := math.Inf(-1)
	for k := range c {
		c[k] = m[k][0]
		for j, v := range x {
			c[k] += m[k][j+1] * v
		}
		top = max(top, c[k])
	}
	sum := 0.0
	for k := range c {
		c[k] = math.Exp(c[k] - top)
		sum += c[k]
	}
	for k := range c {
		c[k] /= sum
	}
	return c
}

// fit learns from the examples by Newton's method from a first guess, nil for none. It ends when no weight moves any more; a step that
// does not make the loss smaller is halved. The loss is convex, so there is one best set of weights and it does not hang on the guess but
// for rounding.
func fit(list []example, features int, guess *logistic) *logistic {
	m := &logistic{}
	for k := range m {
		m[k] = make([]float64, features+1)
		if guess != nil {
			copy(m[k], guess[k])
		}
	}
	n := Classes * (features + 1)
	now := make([]Chances, len(list)) // of the examples by the weights so far
	loss := m.loss(list, now)
	for range mostSteps {
		slope, bend := derivatives(m, list, features, now)
		var cholesky mat.Cholesky
		step := mat.NewVecDense(n, nil)
		if !cholesky.Factorize(bend) || cholesky.SolveVecTo(step, slope) != nil {
			return m
		}
		if m, loss = m.moved(step, list, now, loss); mat.Norm(step, math.Inf(1)) < settled {
			return m
		}
	}
	return m
}

// moved goes along a step, as far as the loss falls from what it was; now becomes the chances by the weights that are returned.
func (m *logistic) moved(step *mat.VecDense, list []example, now []Chances, was float64) (*logistic, float64) {
	for size := 1.0; size > 1e-6; size /= 2 {
		next := &logistic{}
		for k := range m {
			next[k] = make([]float64, len(m[k]))
			for j := range m[k] {
				next[k][j] = m[k][j] - size*step.AtVec(k*len(m[k])+j)
			}
		}
		if loss := next.loss(list, now); loss <= was {
			return next, loss
		}
	}
	step.Zero()
	was = m.loss(list, now)
	return m, was
}

// loss is the penalised negative log-likelihood; into takes the chances of the examples.
func (m *logistic) loss(list []example, into []Chances) float64 {
	sum := 0.0
	for k := range m {
		for j, w := range m[k] {
			sum += held(j) * w * w / 2
		}
	}
	for i := range list {
		into[i] = m.chances(list[i].x)
		sum -= list[i].weight * math.Log(max(into[i][list[i].outcome], 1e-300))
	}
	return sum
}

// held is the strength of the penalty of a weight, the first of them the intercept.
func held(j int) float64 {
	if j == 0 {
		return lightly
	}
	return ridge
}

// derivatives are the first and second ones of the loss where the examples have the chances now. The second ones stand above the
// diagonal, row by row.
func derivatives(m *logistic, list []example, features int, now []Chances) (*mat.VecDense, *mat.SymDense) {
	width := features + 1
	n := Classes * width
	slope, bend := make([]float64, n), make([]float64, n*n)
	for k := range m {
		for j, w := range m[k] {
			at := k*width + j
			slope[at], bend[at*n+at] = held(j)*w, held(j)
		}
	}
	x := make([]float64, width)
	x[0] = 1
	for i := range list {
		e := &list[i]
		copy(x[1:], e.x)
		c := now[i]
		for k := range Classes {
			g := c[k]
			if k == e.outcome {
				g--
			}
			for j, to := 0, slope[k*width:][:width]; j < width; j++ {
				to[j] += e.weight * g * x[j]
			}
			for l := k; l < Classes; l++ {
				h := -c[k] * c[l]
				if k == l {
					h += c[k]
				}
				outer(bend[k*width*n+l*width:], n, e.weight*h, x, k == l)
			}
		}
	}
	return mat.NewVecDense(n, slope), mat.NewSymDense(n, bend)
}

// outer adds the outer product of x times h to a block of a matrix whose rows are n apart; of one on the diagonal the part above it.
func outer(block []float64, n int, h float64, x []float64, diagonal bool) {
	for i, a := range x {
		if a == 0 {
			continue
		}
		first := 0
		if diagonal {
			first = i
		}
		row, scaled := block[i*n:][:len(x)], h*a
		for j := first; j < len(x); j++ {
			row[j] += scaled * x[j]
		}
	}
}
