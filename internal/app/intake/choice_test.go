package intake_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/record"
)

// chosen is a sheet that was recognised by itself in part, remembered in part, and chosen in part.
func chosen() *intake.Sheet {
	found := intake.Mapping{Kind: record.Actuals, Columns: map[string]string{"job": "project", "k": "", "net": "amount"},
		LeaveOut: []string{"total"}, Dialect: intake.Dialect{Decimal: "point"}}
	held := intake.Mapping{Kind: record.Actuals, Columns: map[string]string{"job": "project", "k": "cost_code", "net": "amount"},
		LeaveOut: []string{"total"}, Dialect: intake.Dialect{Decimal: "point"}}
	now := intake.Mapping{Kind: record.Actuals, Columns: map[string]string{"job": "project", "k": "cost_code", "net": "amount"},
		Values: map[string]map[string]string{"cost_code": {"travel": "T1"}}, Factors: map[string]int64{"amount": 1000},
		Fixed: map[string]string{"currency": "EUR"}, Round: true, Dialect: intake.Dialect{Decimal: "comma"},
		Once:    []string{intake.ValueChoice("cost_code", "travel")},
		Cells:   map[int32]map[string]string{7: {"net": "12"}},
		Without: map[int32]string{9: "twice"}}
	return &intake.Sheet{Found: found, Held: &held, Mapping: now, Remembered: true}
}

// What was chosen is listed once each, with what of it lasts; what the sheet tells by itself is not.
func TestChoicesAreWhatDepartsFromTheSheet(t *testing.T) {
	var says []string
	for _, c := range chosen().Choices() {
		mark := "to remember"
		switch {
		case c.Fixed:
			mark = "of rows"
		case c.Once:
			mark = "once"
		case c.Remembered:
			mark = "remembered"
		}
		says = append(says, mark+": "+c.Says)
	}
	assert.Equal(t, []string{"remembered: “k” is cost code", "once: “travel” in cost code means T1", "to remember: amount times 1000",
		"to remember: currency is EUR in every row", "to remember: amounts are rounded", "to remember: decimals by comma",
		"to remember: not: rows of total are left out", "of rows: row 7 says “12” in net", "of rows: row 9 is left out: twice"}, says)
	s := chosen()
	s.Mapping, s.Held = s.Found, nil
	assert.Empty(t, s.Choices())
}

// Each choice can be undone by itself: the others stay, and when all are undone the sheet is read as it tells.
func TestEachChoiceIsUndoneByItself(t *testing.T) {
	s := chosen()
	all := s.Choices()
	for i, c := range all {
		one := *chosen()
		one.Mapping = one.Mapping.With(c.ID, &one.Found)
		left := one.Choices()
		require.Len(t, left, len(all)-1, c.Says)
		for j, x := range append(append([]intake.Choice{}, all[:i]...), all[i+1:]...) {
			assert.Equal(t, x.ID, left[j].ID, "after undoing "+c.Says)
		}
		s.Mapping = s.Mapping.With(c.ID, &s.Found)
	}
	assert.Empty(t, s.Choices())
	again := chosen()
	assert.Len(t, again.Mapping.Cells, 1, "the mapping it was made from is left alone")
}

// What holds for one file is not remembered: it is as it was remembered before, or as the sheet tells.
func TestOnlyWhatLastsIsRemembered(t *testing.T) {
	s := chosen()
	m := s.Lasting()
	assert.Empty(t, m.Values["cost_code"])
	assert.Equal(t, []any{int64(1000), "comma", "EUR", 0, 0, 0},
		[]any{m.Factors["amount"], m.Dialect.Decimal, m.Fixed["currency"], len(m.Cells), len(m.Without), len(m.Once)})
	s.Mapping = s.Mapping.Only("decimal", true).Only("column\x1fk", true).Only(intake.ValueChoice("cost_code", "travel"), false)
	m = s.Lasting()
	assert.Equal(t, []string{"point", "cost_code", "T1"}, []string{m.Dialect.Decimal, m.Columns["k"], m.Values["cost_code"]["travel"]},
		"the column was remembered before and stays so")
	s.Held = nil
	assert.Empty(t, s.Lasting().Columns["k"])
}

// Rows are corrected and left out within bounds, and never without a reason.
func TestRowsByHand(t *testing.T) {
	m, err := intake.Mapping{}.Correct([]int32{3, 4}, map[string]string{"net": "5"})
	require.NoError(t, err)
	m, err = m.Correct([]int32{4}, map[string]string{"job": "A"})
	require.NoError(t, err)
	assert.Equal(t, map[int32]map[string]string{3: {"net": "5"}, 4: {"net": "5", "job": "A"}}, m.Cells)
	m, err = m.LeaveRows([]int32{8}, "  sent twice ")
	require.NoError(t, err)
	assert.Equal(t, map[int32]string{8: "sent twice"}, m.Without)
	var field *fault.FieldError
	_, err = m.LeaveRows([]int32{9}, "  ")
	require.ErrorAs(t, err, &field)
	many := make([]int32, intake.MaxHandRows)
	_, err = m.LeaveRows(many, "no")
	require.ErrorAs(t, err, &field)
	_, err = m.Correct(many, nil)
	require.ErrorAs(t, err, &field)
}
