package forecast

import (
	"fmt"
	"sync"
	"testing"

	"turret/internal/core/calendar"
)

// large are projects of activities with ranges, each waiting for the one before and for one further back.
func large(projects, activities int) *Model {
	s := &scene{}
	for i := range projects {
		code := fmt.Sprintf("P%04d", i)
		p := s.project(code)
		codes := make([]string, activities)
		for k := range activities {
			codes[k] = fmt.Sprint(k)
			p.Activities = append(p.Activities, work(codes[k], 10, 5, 10, 25))
		}
		s.chain(code, codes...)
		for k := 5; k < activities; k += 3 {
			s.chain(code, codes[k-5], codes[k])
		}
	}
	return s.model()
}

func BenchmarkRangeOf500Activities10000Runs(b *testing.B) {
	m := large(1, 500)
	for b.Loop() {
		m.Run(options(10_000), nil)
	}
}

func BenchmarkRangeOf1000Projects200000Activities100Runs(b *testing.B) {
	m := large(1000, 200)
	for b.Loop() {
		m.Run(options(100), nil)
	}
}

// Two months of every quarter over a year and a half, so that a history has about as many rows as projects reported for.
func longHistory(projects int) []Story {
	list := history(projects, false)
	for i := range list {
		one := list[i].Moments[0]
		for k := range 9 {
			m := one
			m.Period += calendar.Period(k)
			list[i].Moments = append(list[i].Moments, m)
		}
	}
	return list
}

func BenchmarkLearnFrom100Projects(b *testing.B) {
	list := longHistory(100)
	for b.Loop() {
		Learn(list, Filter{})
	}
}

func BenchmarkLearnFrom500Projects(b *testing.B) {
	list := longHistory(500)
	for b.Loop() {
		Learn(list, Filter{})
	}
}

// What a change of one project of a thousand costs, once all were simulated.
func BenchmarkRangeAgainOf1000Projects200000Activities100Runs(b *testing.B) {
	m := large(1000, 200)
	opt := options(100)
	opt.Reuse = m.Reuse(m.Run(opt, nil), opt)
	for b.Loop() {
		m.sumOf, m.summed = nil, sync.Once{}
		m.Ventures[7].Spent++
		m.Run(opt, nil)
	}
}
