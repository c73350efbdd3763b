package measure

import (
	"turret/internal/core/health"
)

// Rate is the health that the project would have by other tolerances, from the figures it has.
func (p *Project) Rate(t health.Tolerances) health.Result {
	q := *p
	q.env.Tolerances = t
	return health.Assess(q.healthInput(), t)
}
