// Package backlog counts what projects work off item by item: points there, accepted, added and removed, how fast iterations accept them,
// when the rest is done at that speed, and what is not by the day it is wanted.
//
// # Units and days
//
// Points are ten-thousandths, 0 or more, so that 0.5 is 5,000 and sums are exact; an item without points counts 0. Velocity is points per
// iteration and is kept as a sum and a count: it is rounded only where it is read. All days are whole: what is said of a day is said of
// its end, and both ends of an iteration belong to it.
//
// # Deviations from common practice
//
// Forecasts are not made from one velocity but from the lowest, the mean and the highest of the last six finished iterations, so that they
// are a range. What the current iteration has accepted already is taken off what it is still expected to accept, and never added twice.
// Items that were removed count nowhere but in what was removed: the total of an earlier day is not that of today.
package backlog

import (
	"cmp"
	"slices"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/money"
)

// Item is one entry of a backlog. Days that are not given are 0. An item without a state and without a day of acceptance is open.
type Item struct {
	Code, Title, State, Iteration, Owner string // unique in its project

	Points                                    fact.Int      // ten-thousandths, 0 or more; 0 where not given
	Added, Started, DoneOn, Accepted, Removed calendar.Date // Added 0 was there from the start; Removed 0 was never taken out
	Rank                                      fact.Int      // the lowest is worked off first; missing comes last
	Blocked                                   string        // by what
	Ref                                       fact.Ref      // the row it was sent in
}

// Here reports whether the item counts at the end of asOf: it was added by then, or was there from the start, and was not removed by then.
func (i *Item) Here(asOf calendar.Date) bool { return i.Added <= asOf && !i.Gone(asOf) }

// Gone reports whether the item was taken out by the end of asOf.
func (i *Item) Gone(asOf calendar.Date) bool { return i.Removed != 0 && i.Removed <= asOf }

// Done reports whether the item was accepted by the end of asOf: by its state and, where it is given, by the day. One without a state
// counts by its day.
func (i *Item) Done(asOf calendar.Date) bool {
	if i.State == "" {
		return i.Accepted != 0 && i.Accepted <= asOf
	}
	return i.State == "accepted" && i.Accepted <= asOf
}

// Says tells its state, days and iteration in words.
func (i *Item) Says() string {
	parts := []string{i.State}
	for _, d := range []struct {
		is  string
		day calendar.Date
	}{{"added", i.Added}, {"accepted", i.Accepted}, {"removed", i.Removed}} {
		if d.day != 0 {
			parts = append(parts, d.is+" on "+d.day.Human())
		}
	}
	if i.Iteration != "" {
		parts = append(parts, "in "+i.Iteration)
	}
	return strings.TrimPrefix(strings.Join(parts, ", "), ", ")
}

// Since reports whether the item came after a day; one without a date was there from the start.
func (i *Item) Since(day calendar.Date) bool { return day != 0 && i.Added > day }

// Iteration is a span of days in which a team works off items; both days are included.
type Iteration struct {
	Code     string        // as items name it
	From, To calendar.Date // the first and the last day, both included
	Ref      fact.Ref
}

// Days is its length in calendar days, the first and the last counted.
func (i *Iteration) Days() int { return int(i.To-i.From) + 1 }

// Backlog is what a project works off. The order of its items is that of the file; results do not hang on it except where it says so. The
// zero value is an empty backlog.
type Backlog struct {
	Items      []Item        // in the order of the file
	Iterations []Iteration   // in any order; they may overlap
	Baseline   calendar.Date // the start of the project's baseline; 0 where it has none
	Deadline   calendar.Date // by when it is to be done; 0 where that is not known
	Grace      int           // calendar days of an iteration after which what comes is unplanned
}

// lastIterations is how many finished iterations velocity is measured over.
const lastIterations = 6

// Velocity is how many points iterations accept, in ten-thousandths. Mean is the exact Sum/Count. All four are 0 where no iteration is
// finished; an iteration that accepted nothing counts with 0.
type Velocity struct {
	Low, High  int64 // of one iteration each
	Sum, Count int64 // of the last finished iterations, at most six; Count is 0 where none is finished
}

// Known reports whether an iteration is finished.
func (v Velocity) Known() bool { return v.Count > 0 }

// Mean is the mean, rounded half to even.
func (v Velocity) Mean() int64 { return int64(money.MulDiv(1, v.Sum, max(v.Count, 1))) }

// Progress is how a backlog stands at the end of a day; points are ten-thousandths. Total is Accepted plus Remaining; Added and Unplanned
// are parts of Total, Removed is not. No sum is below 0.
type Progress struct {
	Total, Accepted, Remaining, Added, Removed, Unplanned int64 // Total = Accepted + Remaining; the others but Removed are parts of it

	Velocity Velocity
	Measured []Done     // the finished iterations that velocity is measured over, in their order
	Current  *Iteration // begun and not finished; nil where there is none
	InWork   int64      // accepted of the current one
	Length   int        // the usual one of iterations, in calendar days; 0 where there are none

	Low, Mean, High Finish // at the low, the mean and the high velocity: the latest first
	Late            []int  // items that are not done by the deadline at the mean velocity, by rank; nil where LateKnown is false
	LatePoints      int64  // of Late
	LateKnown       bool   // there is a deadline and a velocity, or nothing remains
	LateReason      string // why that is not known
}

// Done is what a finished iteration accepted.
type Done struct {
	Iteration *Iteration
	Points    int64
}

// Finish is when nothing remains, or the reason why that is not known.
type Finish struct {
	Day    calendar.Date // 0 where there is a reason
	Reason string        // empty where there is a day
}

// On is how the backlog stands at the end of a day. It takes time linear in the items times the iterations, and changes nothing in the
// backlog.
func (b *Backlog) On(asOf calendar.Date) *Progress {
	s := &Progress{}
	done := map[string]int64{}
	for i := range b.Items {
		x := &b.Items[i]
		if x.Gone(asOf) && x.Added <= asOf {
			s.Removed += x.Points.N
		}
		if !x.Here(asOf) {
			continue
		}
		s.Total += x.Points.N
		if x.Done(asOf) {
			s.Accepted += x.Points.N
			done[x.Iteration] += x.Points.N
		}
		if x.Since(b.Baseline) {
			s.Added += x.Points.N
		}
		if b.Unplanned(x) {
			s.Unplanned += x.Points.N
		}
	}
	s.Remaining = s.Total - s.Accepted
	b.measure(s, asOf, done)
	b.finish(s, asOf)
	b.late(s, asOf)
	return s
}

// Unplanned reports whether an item came after its iteration had begun. That is from the day after its first one and Grace further days;
// an item that names no iteration, or one that is not there, was never unplanned.
func (b *Backlog) Unplanned(x *Item) bool {
	at := slices.IndexFunc(b.Iterations, func(i Iteration) bool { return i.Code == x.Iteration })
	return at >= 0 && x.Added > b.Iterations[at].From+calendar.Date(b.Grace)
}

// measure finds velocity, the current iteration and the usual length. Iterations are taken in the order of their last days; where two are
// current, the one that ends first is.
func (b *Backlog) measure(s *Progress, asOf calendar.Date, done map[string]int64) {
	inOrder := make([]*Iteration, len(b.Iterations))
	often := map[int]int{}
	for i := range b.Iterations {
		inOrder[i] = &b.Iterations[i]
		often[b.Iterations[i].Days()]++
	}
	slices.SortFunc(inOrder, func(x, y *Iteration) int {
		return cmp.Or(cmp.Compare(x.To, y.To), cmp.Compare(x.From, y.From), cmp.Compare(x.Code, y.Code))
	})
	for days, n := range often {
		if n > often[s.Length] || n == often[s.Length] && days > s.Length {
			s.Length = days
		}
	}
	for _, x := range inOrder {
		switch {
		case x.To <= asOf:
			s.Measured = append(s.Measured, Done{x, done[x.Code]})
		case x.From <= asOf && s.Current == nil:
			s.Current, s.InWork = x, done[x.Code]
		}
	}
	s.Measured = s.Measured[max(0, len(s.Measured)-lastIterations):]
	for i, x := range s.Measured {
		v := &s.Velocity
		if v.Sum, v.Count = v.Sum+x.Points, v.Count+1; i == 0 {
			v.Low, v.High = x.Points, x.Points
		}
		v.Low, v.High = min(v.Low, x.Points), max(v.High, x.Points)
	}
}

// farthest bounds how many days ahead a finish is told: about four hundred years.
const farthest = 146_000

// finish tells when nothing remains at each velocity.
func (b *Backlog) finish(s *Progress, asOf calendar.Date) {
	if s.Remaining <= 0 {
		last := b.lastAccepted(asOf)
		s.Low, s.Mean, s.High = last, last, last
		return
	}
	v := s.Velocity
	s.Low, s.Mean, s.High = s.at(v.Low, 1, asOf), s.at(v.Sum, v.Count, asOf), s.at(v.High, 1, asOf)
}

// at is the finish at a velocity of sum/count points an iteration. What is left after the current iteration is rounded up to whole
// iterations, times their usual length in calendar days.
func (s *Progress) at(sum, count int64, asOf calendar.Date) Finish {
	switch {
	case !s.Velocity.Known():
		return Finish{Reason: "no iteration is finished"}
	case sum <= 0:
		return Finish{Reason: "velocity is zero"}
	}
	left := max(0, s.Remaining*count-max(0, s.spare(sum, count)))
	n := (left + sum - 1) / sum
	if n*int64(s.Length) > farthest {
		return Finish{Reason: "it is more than four hundred years away"}
	}
	return Finish{Day: s.from(asOf) + calendar.Date(n*int64(s.Length))}
}

// spare is what the current iteration still accepts at a velocity of sum/count, times count; negative where it has accepted more.
func (s *Progress) spare(sum, count int64) int64 {
	if s.Current == nil {
		return 0
	}
	return sum - s.InWork*count
}

// from is the end of the current iteration, else the day itself.
func (s *Progress) from(asOf calendar.Date) calendar.Date {
	if s.Current != nil {
		return s.Current.To
	}
	return asOf
}

// lastAccepted is the finish of a backlog of which nothing remains: the last day on which one of its items was accepted.
func (b *Backlog) lastAccepted(asOf calendar.Date) Finish {
	var last calendar.Date
	for i := range b.Items {
		if x := &b.Items[i]; x.Here(asOf) && x.Done(asOf) {
			last = max(last, x.Accepted)
		}
	}
	if last == 0 {
		return Finish{Reason: "nothing remains, and no day of acceptance is given"}
	}
	return Finish{Day: last}
}

// late names what is not done by the deadline at the mean velocity. What is possible by then is what the current iteration still accepts,
// where it ends by the deadline, and the mean for each whole iteration after it that ends by then. The items are taken by rank until that
// is used up; sums are compared times the count of iterations, so that the mean is not rounded.
func (b *Backlog) late(s *Progress, asOf calendar.Date) {
	v := s.Velocity
	switch {
	case b.Deadline == 0:
		s.LateReason = "no required or planned finish"
		return
	case s.Remaining > 0 && !v.Known():
		s.LateReason = "no iteration is finished"
		return
	}
	s.LateKnown = true
	from, possible := s.from(asOf), int64(0)
	if from <= b.Deadline {
		possible = max(0, s.spare(v.Sum, v.Count))
		if s.Length > 0 {
			possible += v.Sum * int64(int(b.Deadline-from)/s.Length)
		}
	}
	var sum int64
	for _, i := range b.Order(asOf) {
		sum += b.Items[i].Points.N
		if sum*max(v.Count, 1) > possible {
			s.Late = append(s.Late, i)
			s.LatePoints += b.Items[i].Points.N
		}
	}
}

// Order lists the items that remain at the end of a day by rank, those without one last, ties by code.
func (b *Backlog) Order(asOf calendar.Date) []int {
	var list []int
	for i := range b.Items {
		if x := &b.Items[i]; x.Here(asOf) && !x.Done(asOf) {
			list = append(list, i)
		}
	}
	slices.SortStableFunc(list, func(i, k int) int { return ByRank(&b.Items[i], &b.Items[k]) })
	return list
}

// ByRank orders items by rank, those without one last, ties by code.
func ByRank(x, y *Item) int {
	if x.Rank.Given != y.Rank.Given {
		if x.Rank.Given {
			return -1
		}
		return 1
	}
	return cmp.Or(cmp.Compare(x.Rank.N, y.Rank.N), cmp.Compare(x.Code, y.Code))
}

// LateShare is the part of what remains that is late; 0 where nothing remains. The ratio is exact.
func (s *Progress) LateShare() fact.Ratio {
	if s.Remaining == 0 {
		return fact.Of(0, 1)
	}
	return fact.Of(s.LatePoints, s.Remaining)
}
