package condition

import (
	"reflect"
	"regexp/syntax"

	"github.com/expr-lang/expr/ast"
	"github.com/expr-lang/expr/parser"

	"turret/internal/app/fault"
)

// What a condition may cost, in steps: looking at a part of it is one, and so is each byte of a text for each part that reads it, or for
// each instruction of a pattern. A step takes some 10 ns, so that a condition over all projects takes a few seconds at most. Steps are
// counted, not timed: what is refused on one machine is refused on each.
const (
	maxSteps    = 20_000_000    // of one record
	MaxRunSteps = 200_000_000   // of one condition over all projects
	MaxOwnSteps = 1_000_000_000 // of all own checks in an assessment
)

// maxPattern bounds the instructions of a pattern, which grow with what is repeated in it.
const maxPattern = 1000

// Work counts the steps of conditions.
type Work struct{ Done, Most int }

// take adds the steps of one record.
func (w *Work) take(steps int) error {
	if steps > maxSteps {
		return ErrLong
	}
	if w.Done += steps; w.Done > w.Most {
		return ErrLong
	}
	return nil
}

// ErrLong refuses a condition that takes more work than it may.
var ErrLong = &fault.FieldError{Field: "expression", Value: "", Expected: "a condition that takes less work; its texts are too long for " +
	"what it asks of them"}

// steps is what one record costs whose texts, together, have so many bytes.
func (x *Expression) steps(texts int) int { return x.nodes + x.reads*texts }

// bytesOf are the bytes of the texts of a record's fields.
func bytesOf(fields any) int {
	n := 0
	v := reflect.ValueOf(fields)
	for i := range v.NumField() {
		if f := v.Field(i); f.Kind() == reflect.String {
			n += f.Len()
		}
	}
	return n
}

func (g given) bytes() int {
	n := 0
	for _, v := range g {
		switch v := v.(type) {
		case string:
			n += len(v)
		case given:
			n += v.bytes()
		}
	}
	return n
}

// weigh notes what a part of a condition costs, and refuses parts whose cost has no bound: those that go through many records, make
// lists, or join texts to longer ones.
func (v *visitor) weigh(node ast.Node) {
	v.x.nodes++
	switch n := node.(type) {
	case *ast.IdentifierNode, *ast.IntegerNode, *ast.FloatNode, *ast.BoolNode, *ast.StringNode, *ast.NilNode, *ast.ConstantNode,
		*ast.UnaryNode,
		*ast.ConditionalNode, *ast.VariableDeclaratorNode, *ast.MemberNode, *ast.SliceNode, *ast.ChainNode:
	case *ast.ArrayNode:
		if !v.lists[node] {
			v.refuse("a list, which may stand after in only,")
		}
	case *ast.BuiltinNode:
		v.x.reads++
	case *ast.BinaryNode:
		v.binary(n)
	default:
		v.refuse("one of its parts")
	}
}

func (v *visitor) binary(n *ast.BinaryNode) {
	v.x.reads++
	switch n.Operator {
	case "..":
		v.refuse("..")
	case "+":
		if !isNumber(n.Left) || !isNumber(n.Right) {
			v.refuse("+ of what is no number")
		}
	case "matches":
		v.pattern(n.Right)
	}
}

// pattern weighs a regular expression, which must stand in the condition as it is.
func (v *visitor) pattern(node ast.Node) {
	s, ok := node.(*ast.StringNode)
	if !ok {
		v.refuse("a pattern that is put together")
		return
	}
	if n := patternSize(s.Value); n <= maxPattern {
		v.x.reads += n
	}
}

// patternSize is about how many instructions a pattern has, counted before anything that is repeated in it is written out; 0 where it
// cannot be read, which the compiler tells with its place.
func patternSize(pattern string) int {
	re, err := syntax.Parse(pattern, syntax.Perl)
	if err != nil {
		return 0
	}
	return sizeOf(re)
}

func sizeOf(re *syntax.Regexp) int {
	n := 1
	for _, sub := range re.Sub {
		n += sizeOf(sub)
	}
	switch re.Op {
	case syntax.OpLiteral:
		n = len(re.Rune)
	case syntax.OpCharClass:
		n += len(re.Rune) / 8
	case syntax.OpRepeat:
		n *= max(re.Min+1, re.Max)
	}
	return min(n, 1<<30)
}

// largePattern is a pattern in a condition that is larger than one may be, found before anything compiles it.
func largePattern(text string) bool {
	tree, err := parser.Parse(text)
	if err != nil {
		return false
	}
	found := &patterns{}
	ast.Walk(&tree.Node, found)
	return found.large
}

type patterns struct{ large bool }

// Visit implements ast.Visitor.
func (p *patterns) Visit(node *ast.Node) {
	n, ok := (*node).(*ast.BinaryNode)
	if !ok || n.Operator != "matches" {
		return
	}
	if s, ok := n.Right.(*ast.StringNode); ok && patternSize(s.Value) > maxPattern {
		p.large = true
	}
}

func isNumber(n ast.Node) bool {
	t := n.Type()
	return t != nil && (t.Kind() == reflect.Float64 || t.Kind() == reflect.Int)
}

func (v *visitor) refuse(what string) {
	if v.refused == "" {
		v.refused = what
	}
}
