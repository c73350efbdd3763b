package forecast

import (
	"math"

	"gonum.org/v1/gonum/mat"
)

// Classes are the outcomes told apart: on track, watch, act.
const Classes = 3

// Chances are the probabilities of the outcomes; they add up to 1.
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
	x       []float64
	outcome int
	weight  float64
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
// does not make the loss smaller is halved.
func fit(list []example, features int, guess *logistic) *logistic {
	m := &logistic{}
	for k := range m {
		m[k] = make([]float64, features+1)
		if guess != nil {
			copy(m[k], guess[k])
		}
	}
	n := Classes * (features + 1)
	for range mostSteps {
		slope, bend := derivatives(m, list, features)
		var cholesky mat.Cholesky
		step := mat.NewVecDense(n, nil)
		if !cholesky.Factorize(bend) || cholesky.SolveVecTo(step, slope) != nil {
			return m
		}
		if m = m.moved(step, list); mat.Norm(step, math.Inf(1)) < settled {
			return m
		}
	}
	return m
}

// moved goes along a step, as far as the loss falls.
func (m *logistic) moved(step *mat.VecDense, list []example) *logistic {
	was := m.loss(list)
	for size := 1.0; size > 1e-6; size /= 2 {
		next := &logistic{}
		for k := range m {
			next[k] = make([]float64, len(m[k]))
			for j := range m[k] {
				next[k][j] = m[k][j] - size*step.AtVec(k*len(m[k])+j)
			}
		}
		if next.loss(list) <= was {
			return next
		}
	}
	step.Zero()
	return m
}

// loss is the penalised negative log-likelihood.
func (m *logistic) loss(list []example) float64 {
	sum := 0.0
	for k := range m {
		for j, w := range m[k] {
			sum += held(j) * w * w / 2
		}
	}
	for i := range list {
		sum -= list[i].weight * math.Log(max(m.chances(list[i].x)[list[i].outcome], 1e-300))
	}
	return sum
}

func held(j int) float64 {
	if j == 0 {
		return lightly
	}
	return ridge
}

// derivatives are the first and second ones of the loss.
func derivatives(m *logistic, list []example, features int) (*mat.VecDense, *mat.SymDense) {
	width := features + 1
	slope, bend := mat.NewVecDense(Classes*width, nil), mat.NewSymDense(Classes*width, nil)
	for k := range m {
		for j, w := range m[k] {
			slope.SetVec(k*width+j, held(j)*w)
			bend.SetSym(k*width+j, k*width+j, held(j))
		}
	}
	x := make([]float64, width)
	x[0] = 1
	for i := range list {
		e := &list[i]
		copy(x[1:], e.x)
		c := m.chances(e.x)
		for k := range Classes {
			g := c[k]
			if k == e.outcome {
				g--
			}
			for j := range width {
				slope.SetVec(k*width+j, slope.AtVec(k*width+j)+e.weight*g*x[j])
			}
			for l := k; l < Classes; l++ {
				h := -c[k] * c[l]
				if k == l {
					h += c[k]
				}
				add(bend, k*width, l*width, e.weight*h, x)
			}
		}
	}
	return slope, bend
}

// add adds the outer product of x times h to a block of a symmetric matrix.
func add(m *mat.SymDense, row, column int, h float64, x []float64) {
	for i, a := range x {
		if a == 0 {
			continue
		}
		first := 0
		if row == column {
			first = i
		}
		for j := first; j < len(x); j++ {
			m.SetSym(row+i, column+j, m.At(row+i, column+j)+h*a*x[j])
		}
	}
}
