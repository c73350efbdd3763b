package priority

import (
	"turret/internal/core/fact"
	"turret/internal/core/money"
)

// Contribution is what a project does for a goal, by their indexes, with a rating in ten-thousandths of 0 to 5.
type Contribution struct {
	Project, Goal int32
	Rating        int64 // 0 does nothing
}

// Coverage is how a goal is served. A project whose money is unknown counts 0 and is one of Projects all the same.
type Coverage struct {
	Projects int          // that do something for it
	Money    money.Amount // theirs, each split among the goals it does something for
	Share    fact.Ratio   // of the money of all goals; none where that is nothing
}

// Cover splits the money of each project among the goals it does something for, by its ratings, so that parts add up; a rating of 0 does
// nothing. Idle are the projects that serve no goal, by index.
func Cover(goals int, money_ []money.Amount, list []Contribution) (out []Coverage, idle []int) {
	out = make([]Coverage, goals)
	by := make([][]Contribution, len(money_))
	for _, c := range list {
		if c.Rating > 0 {
			by[c.Project] = append(by[c.Project], c)
		}
	}
	var all money.Amount
	for i := range by {
		if len(by[i]) == 0 {
			idle = append(idle, i)
			continue
		}
		weights := make([]int64, len(by[i]))
		for k, c := range by[i] {
			weights[k] = c.Rating
		}
		for k, part := range money.Split(money_[i], weights) {
			out[by[i][k].Goal].Projects++
			out[by[i][k].Goal].Money += part
			all += part
		}
	}
	for g := range out {
		out[g].Share = fact.Of(int64(out[g].Money), int64(all))
	}
	return out, idle
}
