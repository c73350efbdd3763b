package chart_test

import (
	"regexp"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/curve"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/money"
)

var labelAt = regexp.MustCompile(`<text[^>]* y="([-0-9.]+)"[^>]*>(at|by|budget|declared)[^<]*`)

// Estimates that lie close together at the top of the picture are all told within it, from the highest down to the lowest, the budget
// before what equals it, no two at one height.
func TestEstimatesStayWithinThePicture(t *testing.T) {
	asOf := calendar.On(2026, 10, 31)
	b := cost.NewBuilder(cost.NewRates("EUR", nil), calendar.Standard, asOf)
	b.Budget(cost.Line{Amount: 1_000_00, Currency: "EUR", Month: asOf.Month()})
	p := &measure.Project{Info: measure.Info{Code: "A", Status: measure.Open}, Account: b.Account()}
	env := measure.Env{AsOf: asOf, Currency: "EUR", Calendar: calendar.Standard, Tolerances: health.Defaults()}
	measure.Assess(p, env)
	var list []chart.Estimate
	for i, name := range []string{"declared", "at budget", "by index", "by both", "by recent"} {
		list = append(list, chart.Estimate{Name: name, Value: money.Amount(1_000_00 + 100*i)})
	}
	opt := chart.CurveOptions{W: 900, H: 330, AsOf: asOf, Currency: "EUR"}
	svg := chart.Earned(curve.New([]*measure.Project{p}, env), nil, list, opt).SVG()
	found := labelAt.FindAllStringSubmatch(svg, -1)
	require.Len(t, found, 6, svg)
	last := 0.0
	for i, m := range found {
		y, err := strconv.ParseFloat(m[1], 64)
		require.NoError(t, err)
		assert.GreaterOrEqual(t, y, 12.0, m[0])
		assert.LessOrEqual(t, y, 330.0, m[0])
		assert.GreaterOrEqual(t, y-last, 12.0, m[0])
		last = y
		assert.Contains(t, m[0], []string{">by recent", ">by both", ">by index", ">at budget", ">budget", ">declared"}[i])
	}
}
