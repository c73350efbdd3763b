package app

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/fault"
	"turret/internal/core/health"
	"turret/internal/core/measure"
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
		_, err := Compile(text, "project")
		var field *fault.FieldError
		assert.ErrorAs(t, err, &field, fault.Clip(text, 60))
	}
	for _, text := range []string{
		`code in ["A", "B", lead]`, `not (lead in ["", "nobody"])`, "let gap = bac - eac; gap / bac < -0.1 and gap + ac > 0",
		`name matches "^[A-Z]{2}-[0-9]+" or code startsWith "L"`,
		"len(lead) + 1 > 4 and -cpi + 2 * spi - 1 < 0", `(driven ? "a" : "b") == "a"`, `lower(trim(name)) contains "lock"`,
		"max(cpi, spi, 1) > 0.9", `code[0:2] == "BR"`,
	} {
		_, err := Compile(text, "project")
		assert.NoError(t, err, text)
	}
}

// talker is an office of one project whose lead wrote so much.
func talker(t *testing.T, bytes int) (*Assessment, *measure.Project) {
	t.Helper()
	a := office(t)
	p := a.byCode["small"]
	p.Declared = &measure.Declared{Overall: health.Watch, Commentary: strings.Repeat("a", bytes)}
	return a, p
}

// A pattern of some 600 instructions over 200,000 letters would be 120 million steps.
func TestAConditionThatTakesTooMuchWork(t *testing.T) {
	const heavy = `commentary matches "(a?b?c?d?e?f?g?h?i?j?){10}z{300}"`
	a, p := talker(t, 200_000)
	x, err := Compile(heavy, "project")
	require.NoError(t, err)
	_, err = x.holds(a, p, &work{most: maxRunSteps})
	assert.ErrorIs(t, err, errLong)
	_, _, err = a.Table("", TableQuery{Where: heavy})
	assert.ErrorIs(t, err, errLong)

	a, p = talker(t, 1000)
	_, err = x.holds(a, p, &work{most: maxRunSteps})
	assert.NoError(t, err)
	w := &work{most: maxRunSteps}
	n := 0
	for ; err == nil && n < 1000; n++ {
		_, err = x.holds(a, p, w)
	}
	assert.ErrorIs(t, err, errLong, "added up over many")
	assert.Greater(t, n, 100)
}

// An own check that goes over its bound is switched off and says so; the others count, and so does it again once it asks for less.
func TestAnOwnCheckThatTakesTooMuchWorkIsSwitchedOff(t *testing.T) {
	a, p := talker(t, 200_000)
	a.Settings = DefaultSettings()
	heavy := OwnCheck{ID: "heavy", Name: "Heavy", Severity: "warning", On: "project",
		Expression: `not (commentary matches "(a?b?c?d?e?f?g?h?i?j?){10}z{300}")`}
	light := OwnCheck{ID: "light", Name: "Light", Severity: "warning", On: "project", Expression: "len(commentary) > 5"}
	found := func(checks ...OwnCheck) (ids []string) {
		a.Settings.OwnChecks = checks
		p.Checks.Findings, p.Checks.Tested = nil, nil
		a.readyOwn()
		a.runOwn([]*measure.Project{p})
		for _, f := range p.Checks.Findings {
			ids = append(ids, f.Rule.ID)
		}
		return ids
	}
	require.True(t, p.Tested())
	assert.Equal(t, []string{"light"}, found(heavy, light))
	require.Len(t, a.Broken, 1)
	assert.Contains(t, a.Broken[0], "Heavy: it is switched off")
	assert.Equal(t, []string{"light"}, found(light, heavy), "it stays so while the settings stand")
	assert.Contains(t, a.Broken[0], "Heavy: it is switched off")
	a.overworked = nil
	p.Declared.Commentary = p.Declared.Commentary[:1000]
	assert.Equal(t, []string{"heavy", "light"}, found(heavy, light))
	assert.Empty(t, a.Broken)
}
