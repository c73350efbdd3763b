package schedule

import (
	"fmt"
	"slices"
	"strings"
)

// LinkType says which point of the predecessor holds which point of the successor.
type LinkType uint8

// The types, by their usual two letters.
const (
	FinishStart LinkType = iota
	StartStart
	FinishFinish
	StartFinish
)

func (t LinkType) String() string { return [...]string{"FS", "SS", "FF", "SF"}[t] }

// ParseLinkType reads the two letters; the second result is false for any other text.
func ParseLinkType(s string) (LinkType, bool) {
	i := slices.Index([]string{"FS", "SS", "FF", "SF"}, s)
	return LinkType(max(i, 0)), i >= 0
}

// fromStart reports whether the link leaves from the start of its predecessor.
func (t LinkType) fromStart() bool { return t == StartStart || t == StartFinish }

// toStart reports whether the link leads to the start of its successor.
func (t LinkType) toStart() bool { return t == FinishStart || t == StartStart }

// Link holds task To back by task From; both are indexes into the tasks. Lag is in working days of the successor's calendar
// and may be negative.
type Link struct {
	From, To int32
	Type     LinkType
	Lag      int32 // working days of the successor's calendar, negative for a lead
}

// Graph is the logic of a network: links between tasks, in an order in which each task stands behind its predecessors. It is immutable and
// serves any number of runs. An empty graph has no tasks and dates none.
type Graph struct {
	Links  []Link
	Cycles [][]int32 // tasks that go round, each cycle in the order of its links, beginning with its lowest index

	order   []int32 // tasks that can be dated, predecessors first
	in, out adjacency
	stuck   []bool // in a cycle or behind one
}

// adjacency lists the links of each task: those of task t are links[first[t]:first[t+1]].
type adjacency struct{ first, links []int32 }

// of lists the links of a task.
func (a *adjacency) of(task int32) []int32 { return a.links[a.first[task]:a.first[task+1]] }

// newAdjacency sorts links by the task at one of their ends, in the order in which they were given, by counting.
func newAdjacency(tasks int, links []Link, end func(*Link) int32) adjacency {
	a := adjacency{first: make([]int32, tasks+1), links: make([]int32, len(links))}
	for i := range links {
		a.first[end(&links[i])+1]++
	}
	for t := range tasks {
		a.first[t+1] += a.first[t]
	}
	next := slices.Clone(a.first)
	for i := range links {
		t := end(&links[i])
		a.links[next[t]] = int32(i)
		next[t]++
	}
	return a
}

// NewGraph sorts the tasks by their links, in time and memory linear in both. Tasks in a cycle, or behind one, cannot be dated.
func NewGraph(tasks int, links []Link) *Graph {
	g := &Graph{Links: links, order: make([]int32, 0, tasks), stuck: make([]bool, tasks),
		in:  newAdjacency(tasks, links, func(l *Link) int32 { return l.To }),
		out: newAdjacency(tasks, links, func(l *Link) int32 { return l.From })}
	waits := make([]int32, tasks)
	for t := range waits {
		waits[t] = int32(len(g.in.of(int32(t))))
	}
	var ready []int32 // a stack, so that the tasks of a project come close together
	for t := range int32(tasks) {
		if len(g.in.of(t)) > 0 {
			continue
		}
		for ready = append(ready, t); len(ready) > 0; {
			at := ready[len(ready)-1]
			ready = ready[:len(ready)-1]
			g.order = append(g.order, at)
			for _, l := range g.out.of(at) {
				to := links[l].To
				if waits[to]--; waits[to] == 0 {
					ready = append(ready, to)
				}
			}
		}
	}
	for t := range waits {
		g.stuck[t] = waits[t] > 0
	}
	if len(g.order) < tasks {
		g.findCycles()
	}
	return g
}

// findCycles walks back from each stuck task over stuck predecessors, of which each has one, until it comes round.
func (g *Graph) findCycles() {
	walk := make([]int32, len(g.stuck)) // the walk that came by, from 1
	for start := range g.stuck {
		var path []int32
		for t := int32(start); g.stuck[t]; {
			if walk[t] == int32(start)+1 {
				g.Cycles = append(g.Cycles, forward(path[slices.Index(path, t):]))
			}
			if walk[t] != 0 {
				break
			}
			walk[t] = int32(start) + 1
			path = append(path, t)
			for _, l := range g.in.of(t) {
				if from := g.Links[l].From; g.stuck[from] {
					t = from
					break
				}
			}
		}
	}
}

// forward turns a path walked backwards into the order of the links, beginning with the lowest task.
func forward(back []int32) []int32 {
	list := slices.Clone(back)
	slices.Reverse(list)
	at := slices.Index(list, slices.Min(list))
	return append(slices.Clone(list[at:]), list[:at]...)
}

// Stuck says whether a task stands in a cycle or behind one.
func (g *Graph) Stuck(task int32) bool { return g.stuck[task] }

// Into lists the links that hold a task back, Out those by which it holds others.
func (g *Graph) Into(task int32) []int32 { return g.in.of(task) }

// Out lists the links by which a task holds others.
func (g *Graph) Out(task int32) []int32 { return g.out.of(task) }

// CycleError is a cycle of links with the names of its tasks in order.
type CycleError []string

// Error names the tasks in the order of their links, the first one again at the end.
func (e CycleError) Error() string {
	if len(e) == 0 {
		return "links go round"
	}
	return fmt.Sprintf("links go round: %s → %s", strings.Join(e, " → "), e[0])
}
