// Package evidence is what figures are computed from and under: rows as they were sent, and the steps that lead from a figure to them.
//
// A trace is a tree. Its inner nodes are figures with the rule that made them of their children; its leaves are rows, by the number of
// their load and their place in the file, with the words that lead from the amount sent to the amount counted. Leaves of a sum add up to
// it in minor units; where one cannot be converted its value is the reason, and so is that of every figure that needs it.
package evidence

import (
	"slices"

	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/figure"
	"turret/internal/core/schedule"
	"turret/internal/core/write"
)

// Node is one step of a trace: a figure with its rule and inputs, or at the end the row it came from.
type Node struct {
	Label    string
	Key      string // of the catalogue, where the node is one of its figures
	Project  string // code of the project, where the node is a figure of another than the traced one
	Unit     figure.Unit
	Value    figure.Value
	Rule     string   // how the value was made of the children, in a sentence
	Detail   string   // how an input row becomes the value, such as "100.00 SEK at 0.0871"
	Ref      fact.Ref // the row, where the node is one
	Children []Node   // in the order in which they are read
}

// Rows are what a project's figures were computed from, in the order of the files. It is read by many at once and never changed after it
// was gathered.
type Rows struct {
	Budget, Forecast []cost.Line
	Ledger           []cost.Posting // all that was posted, whether it counts or not
	Postings         []cost.Posting // those that count: of the ledger, and labour that is known in another way
	Commitments      []cost.Commitment
	Shares           []cost.Share
	Billings         []cost.Billing
	Bookings         []cost.Booking
	Rates            *cost.Rates
	Tariffs          *cost.Tariffs
	Classes          cost.Classes
	CodeNames        func(code int32) string
	Env              Env
	Chain            func(activity int) []Step // the driving chain that ends in an activity; nil where there is none
}

// Step is one activity of the chain that leads to another, with the link by which it drives the next, nil for the last.
type Step struct {
	Project  string
	Activity *schedule.Activity
	Times    schedule.Times
	Link     *schedule.Dependency
}

// byCode gathers leaves under one node per cost code, in the order of the codes.
type byCode struct {
	order []int32
	rows  map[int32][]Node
}

// add puts a leaf below its cost code.
func (b *byCode) add(code int32, n Node) {
	if b.rows == nil {
		b.rows = map[int32][]Node{}
	}
	if _, ok := b.rows[code]; !ok {
		b.order = append(b.order, code)
	}
	b.rows[code] = append(b.rows[code], n)
}

// nodes are the cost codes in their order, each the sum of its leaves. A leaf that is undefined counts 0 here; the figure above says that
// it is undefined.
func (b *byCode) nodes(name func(int32) string) []Node {
	slices.Sort(b.order)
	var list []Node
	for _, code := range b.order {
		rows, sum := b.rows[code], int64(0)
		for _, r := range rows {
			sum += r.Value.N
		}
		list = append(list, Node{Label: name(code), Unit: figure.Money, Value: known(sum), Children: rows,
			Rule: "Sum of " + write.Count(len(rows), "row", "rows") + "."})
	}
	return list
}
