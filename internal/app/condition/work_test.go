package condition_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/condition"
	"turret/internal/app/fault"
)

// doubled binds a name to two of the former's, n times: 2 to the power of n of what it began with.
func doubled(begin, join string, n int) string {
	var b strings.Builder
	fmt.Fprintf(&b, "let v0=%s; ", begin)
	for i := range n {
		fmt.Fprintf(&b, "let v%d=%s; ", i+1, strings.ReplaceAll(join, "x", fmt.Sprintf("v%d", i)))
	}
	fmt.Fprintf(&b, "v%d == v0", n)
	return b.String()
}

// What would grow without bound is refused before it is computed.
func TestConditionsThatGrowAreRefused(t *testing.T) {
	for _, text := range []string{
		doubled("code", "x+x", 25), doubled("code", "upper(x+x)", 10), doubled("[code]", "[x,x]", 10),
		doubled("code", "true ? x+x : x", 10),
		"(driven ? code : cpi) + code == code", `(code ?? name) + name == "x"`, `code + "x" == "ax"`,
		"1 in 1..1000000000", "1..1000000000 == 1..1000000000", "len(1..1000000000) > 1", "5 in (driven ? 1..1000000000 : 1..2)",
		"let r = 1..1000000000; 1 in r",
		"[code] == [name]", "len([code, name]) > 1", "{code: name} == {code: name}", "code in {a: 1}",
		`code matches name`, `code matches lower("A")`, `name matches "([a-z]{500}){3}"`, `name matches "` + strings.Repeat("a?", 700) +
			`"`,
		`name matches "(` + strings.Repeat("x", 900) + `){1000}(` + strings.Repeat("y", 900) + `){1000}"`,
		`not (name matches "((x{30}){30}y){1,}") or name matches "` + strings.Repeat("(a|b){500}", 3) + `"`,
		"map([code], #) == [code]", "reduce([1], #acc + #) > 0", "repeat(code, 1000000000) == code", "join([code], code) == code",
		"split(code, code) == []", "any([1], true)",
		"string(cpi) == code", "toJSON(code) == code", "code | upper() | repeat(9) == code",
		"if driven { code + code } else { code } == code",
	} {
		_, err := condition.Compile(text, "project")
		var field *fault.FieldError
		assert.ErrorAs(t, err, &field, fault.Clip(text, 60))
	}
	for _, text := range []string{
		`code in ["A", "B", lead]`, `not (lead in ["", "nobody"])`, "let gap = bac - eac; gap / bac < -0.1 and gap + ac > 0",
		`name matches "^[A-Z]{2}-[0-9]+" or code startsWith "L"`,
		"len(lead) + 1 > 4 and -cpi + 2 * spi - 1 < 0", `(driven ? "a" : "b") == "a"`, `lower(trim(name)) contains "lock"`,
		"max(cpi, spi, 1) > 0.9", `code[0:2] == "BR"`,
	} {
		_, err := condition.Compile(text, "project")
		assert.NoError(t, err, text)
	}
}
