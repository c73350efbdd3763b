package condition

import (
	"math"
	"slices"
	"strconv"

	"github.com/expr-lang/expr/ast"

	"turret/internal/app/fault"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// own is the name before the fields that the office made for projects, as in own.county.
const own = "own"

// field notes a field of the office's own that a condition asks for.
func (v *visitor) field(node ast.Node) {
	n, ok := node.(*ast.MemberNode)
	if !ok {
		return
	}
	id, ok := n.Node.(*ast.IdentifierNode)
	if key, named := n.Property.(*ast.StringNode); ok && named && id.Value == own {
		v.fields[id] = true
		if !slices.Contains(v.x.own, key.Value) {
			v.x.own = append(v.x.own, key.Value)
		}
	}
}

// Knows refuses a condition that asks for fields which the office does not have; the error is a FieldError.
func (x *Expression) Knows(a Frame) error {
	for _, key := range x.own {
		if _, ok := a.OwnField(record.OwnPrefix + key); !ok {
			return fault.Field("expression", x.Text, "a condition that can be understood; there is no field "+record.OwnPrefix+
				fault.Clip(key, 40))
		}
	}
	return nil
}

// Knows refuses a check that asks for fields which the office does not have; the error is a FieldError.
func (r *OwnRule) Knows(a Frame) error { return r.expr.Knows(a) }

// ownValues are what a project has in the fields that the condition uses: numbers that are not there compare with nothing; false where a
// day that it uses is not there. Fields that the office does not have are as empty ones.
func (x *Expression) ownValues(a Frame, p *measure.Project) (given, bool) {
	fields := given{}
	for _, key := range x.own {
		c, _ := a.OwnField(record.OwnPrefix + key)
		s := p.Own[key]
		fields[key] = s
		switch {
		case c.Cell == record.Day && s == "":
			return nil, false
		case c.Cell == record.Number:
			n, err := strconv.ParseFloat(s, 64)
			if err != nil {
				n = math.NaN()
			}
			fields[key] = n
		}
	}
	return fields, true
}
