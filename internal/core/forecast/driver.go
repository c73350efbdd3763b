package forecast

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/stat"

	"turret/internal/core/calendar"
)

// Drivers tell what the range of a project's finish comes from.
type Drivers struct {
	Activities []Driver // in the order of the project's tasks
	Risks      []Driver // in the order of its risks

	tasks  []int32
	days   [][]int32 // by activity and run
	struck [][]bool  // by risk and run
	runs   int       // of the simulation
}

// Driver is one thing that moves the finish. Critical and Struck are shares from 0 to 1.
type Driver struct {
	Code     string
	Critical float64 // of an activity: share of the runs in which it was critical
	Struck   float64 // of a risk: share of the runs in which it struck
	Rank     float64 // rank correlation with the finish, from -1 to 1 (Spearman); 0 where it is the same in every run
}

// newDrivers makes room for what a project draws in each run: four bytes for an activity and one for a risk.
func newDrivers(v *Venture, runs int) *Drivers {
	d := &Drivers{runs: runs, days: make([][]int32, len(v.Tasks)), struck: make([][]bool, len(v.Hazards))}
	for k := range v.Tasks {
		d.Activities = append(d.Activities, Driver{Code: v.Tasks[k].Code})
		d.tasks = append(d.tasks, v.Tasks[k].Task)
		d.days[k] = make([]int32, runs)
	}
	for k := range v.Hazards {
		d.Risks = append(d.Risks, Driver{Code: v.Hazards[k].Code})
		d.struck[k] = make([]bool, runs)
	}
	return d
}

// add adds the runs of one thread in which each activity was critical.
func (d *Drivers) add(critical []int32) {
	for k, n := range critical {
		d.Activities[k].Critical += float64(n)
	}
}

// settle finds the correlations once all runs are done.
func (d *Drivers) settle(finish []calendar.Date) {
	by := make([]float64, d.runs)
	if finish == nil {
		return
	}
	for run, day := range finish {
		by[run] = float64(day)
	}
	by = ranks(by)
	x := make([]float64, d.runs)
	for k := range d.Activities {
		for run, n := range d.days[k] {
			x[run] = float64(n)
		}
		d.Activities[k].Rank = correlation(ranks(x), by)
		d.Activities[k].Critical /= float64(d.runs)
	}
	for k := range d.Risks {
		n := 0
		for run, struck := range d.struck[k] {
			x[run] = 0
			if struck {
				x[run] = 1
				n++
			}
		}
		d.Risks[k].Rank = correlation(ranks(x), by)
		d.Risks[k].Struck = float64(n) / float64(d.runs)
	}
	d.days, d.struck = nil, nil
}

// correlation is that of two lists, 0 where one of them is the same throughout.
func correlation(x, y []float64) float64 {
	c := stat.Correlation(x, y, nil)
	if math.IsNaN(c) {
		return 0
	}
	return c
}

// ranks are the places of values in ascending order, from 1; equal ones share the mean of theirs. So the correlation of two lists of ranks
// is Spearman's, ties included.
func ranks(values []float64) []float64 {
	order := make([]int, len(values))
	for i := range order {
		order[i] = i
	}
	slices.SortFunc(order, func(i, j int) int {
		switch {
		case values[i] < values[j]:
			return -1
		case values[i] > values[j]:
			return 1
		}
		return 0
	})
	list := make([]float64, len(values))
	for first := 0; first < len(order); {
		last := first
		for last+1 < len(order) && values[order[last+1]] == values[order[first]] {
			last++
		}
		for k := first; k <= last; k++ {
			list[order[k]] = float64(first+last)/2 + 1
		}
		first = last + 1
	}
	return list
}
