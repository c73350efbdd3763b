package condition_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/condition"
	"turret/internal/app/fault"
)

// What is wrong in a condition is told, and nothing runs long or reaches out.
func TestConditionsThatAreRefused(t *testing.T) {
	for text, says := range map[string]string{
		"":                                  "a condition such as",
		"cpy < 0.9":                         "cpi",
		"cpi <":                             "",
		"cpi + 1":                           "",
		`cpi < "x"`:                         "",
		"risk.code == 'R'":                  "",
		"all(1..1000000000, true)":          "",
		"map([1], {#}) == [1]":              "",
		strings.Repeat("cpi < 1 and ", 500): "at most",
		strings.Repeat("(", 400) + "true":   "",
		"__env == nil":                      "",
		"now() == now()":                    "",
	} {
		_, err := condition.Compile(text, "project")
		var field *fault.FieldError
		require.ErrorAs(t, err, &field, fault.Clip(text, 40))
		assert.Contains(t, field.Expected, says, fault.Clip(text, 40))
	}
	for _, name := range []string{"cpi", "programme", "lead"} {
		ok := false
		for _, n := range condition.Names("project") {
			ok = ok || n.Name == name
		}
		assert.True(t, ok, "%s is completed", name)
	}
}
