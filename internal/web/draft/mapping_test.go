package draft

import (
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/intake"
	"turret/internal/record"
)

// The mapping form changes what it names and nothing else, and takes no column, kind or factor that there is not.
func TestMappingForm(t *testing.T) {
	m := intake.Mapping{Kind: record.Forecast, Heads: []string{"p", "c", "v"}, Columns: map[string]string{"p": "project", "c": "cost_code",
		"v": "amount"},
		Factors: map[string]int64{"amount": 1000}, Values: map[string]map[string]string{"currency": {"euro": "EUR"}}, Clear: true}
	same := mappingFrom(url.Values{"means-0-0": {""}}, 0, &intake.Sheet{Mapping: m})
	assert.Equal(t, m.Columns, same.Columns)
	assert.Equal(t, m.Factors, same.Factors)
	assert.True(t, same.Clear)
	n := mappingFrom(url.Values{"whole-0": {"1"}, "col-0-1": {""}, "col-0-2": {"nonsense"}, "factor-0-amount": {"7"},
		"fixed-0-cost_code": {" C "}, "dec-0": {"comma"},
		"leave-0": {"Total, SUM of all,,"}, "was-0-3": {"currency\x1fPounds"}, "means-0-3": {"GBP"}, "head-0": {"4"}, "round-0": {"1"}},
		0, &intake.Sheet{Mapping: m})
	assert.Equal(t, map[string]string{"p": "project", "c": "", "v": "amount"}, n.Columns)
	assert.Equal(t, int64(1000), n.Factors["amount"])
	assert.Equal(t, map[string]string{"cost_code": "C"}, n.Fixed)
	assert.Equal(t, []string{"total", "sum of all"}, n.LeaveOut)
	assert.Equal(t, map[string]string{"euro": "EUR", "pounds": "GBP"}, n.Values["currency"])
	assert.Equal(t, []any{"comma", int32(4), true, false}, []any{n.Dialect.Decimal, n.Dialect.HeadRow, n.Round, n.Clear})
	assert.Equal(t, map[string]string{"p": "project", "c": "cost_code", "v": "amount"}, m.Columns, "the old one is left as it was")
	assert.Equal(t, record.Forecast, mappingFrom(url.Values{"kind-0": {"nonsense"}}, 0, &intake.Sheet{Mapping: m}).Kind)
}
