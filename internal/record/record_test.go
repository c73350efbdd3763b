package record_test

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/record"
)

// What a reader, a table or the store takes for granted of every kind.
func TestDescriptorsHoldTogether(t *testing.T) {
	var before []record.Kind
	for _, k := range record.Kinds() {
		in := k.Input()
		require.NotNil(t, in, k)
		assert.NotEmpty(t, in.Title, k)
		assert.NotEmpty(t, in.Says, k)
		names := map[string]bool{}
		for i, c := range in.Columns {
			assert.False(t, names[c.Name], "%s has %s twice", k, c.Name)
			names[c.Name] = true
			assert.Equal(t, i, in.At(c.Name))
			assert.Equal(t, c.Cell == record.Choice, len(c.Choices) > 0, "%s.%s", k, c.Name)
			if c.Refers != "" && c.Refers != k {
				assert.Contains(t, before, c.Refers, "%s.%s refers to what comes later", k, c.Name)
			}
		}
		for _, key := range in.Key {
			assert.True(t, names[key], "%s is known again by %s, which it lacks", k, key)
		}
		assert.Equal(t, in.Rows != record.Merged || k == record.Projects, k.OfProject(), k)
		if in.Rows != record.Merged {
			assert.Equal(t, record.OfProject, in.Owner, k)
			assert.True(t, names["project"], "%s is kept by project", k)
		}
		for _, c := range in.Columns {
			if c.Cell == record.Units {
				assert.True(t, in.Money, "%s.%s is money, which may be kept from a reader", k, c.Name)
			}
		}
		for _, line := range strings.Split(in.Sample, "\n") {
			cells := strings.Split(line, "|")
			assert.LessOrEqual(t, len(cells), len(in.Columns), "%s: %s", k, line)
			for i, c := range in.Columns {
				if c.Required {
					assert.NotEmpty(t, cells[i], "%s.%s in %s", k, c.Name, line)
				}
			}
		}
		before = append(before, k)
	}
	assert.Nil(t, record.Kind("nonsense").Input())
	assert.False(t, record.Kind("nonsense").IsRecord())
	assert.Equal(t, "nonsense", record.Kind("nonsense").Title())
}

func TestTablesAreAllThatIsNotAdded(t *testing.T) {
	tables := record.Tables()
	assert.Equal(t, record.Statuses, tables[0], "what is edited most stands first")
	assert.Less(t, slices.Index(tables, record.CostCodes), slices.Index(tables, record.Calendars))
	for _, k := range record.Kinds() {
		assert.Equal(t, k != record.Actuals && k != record.Timesheets, slices.Contains(tables, k), k)
	}
	assert.Equal(t, []record.Kind{record.Activities, record.Budget, record.Forecast, record.Actuals, record.Statuses}, record.MatrixKinds())
}

// said is what is wrong with a row, as column: expected.
func said(k record.Kind, pairs ...string) (list []string) {
	in := k.Input()
	r := record.Row{In: in, N: 2, Cells: make([]string, len(in.Columns))}
	for i := 0; i < len(pairs); i += 2 {
		r.Cells[in.At(pairs[i])] = pairs[i+1]
	}
	in.Check(r, func(column, value, expected string) { list = append(list, column+" "+value+": "+expected) })
	return list
}

func TestRowsAtTheirLimits(t *testing.T) {
	const day, share = "hours %s: at most 24 hours a day", "person %s: a person or a role, not both"
	const owned = "node : either a project or a node, one of the two"
	for _, c := range []struct {
		kind  record.Kind
		cells string // name=value, parted by blanks
		wrong string
	}{
		{record.Timesheets, "hours=24", ""},
		{record.Timesheets, "hours=24.0001", strings.Replace(day, "%s", "24.0001", 1)},
		{record.Timesheets, "hours=-24", ""},
		{record.Timesheets, "hours=-24.0001", strings.Replace(day, "%s", "-24.0001", 1)},
		{record.Timesheets, "hours=0", ""},
		{record.Changes, "from= to=", ""},
		{record.Changes, "from=2026-01-05 to=2026-01-05", ""},
		{record.Changes, "from=2026-01-05 to=2026-01-04", "to 2026-01-04: from and to both, the later last"},
		{record.Changes, "from=2026-01-05 to=", "to : from and to both, the later last"},
		{record.Changes, "from= to=2026-01-05", "to 2026-01-05: from and to both, the later last"},
		{record.Allocations, "year=1900", ""},
		{record.Allocations, "year=1899", "year 1899: a year such as 2027"},
		{record.Allocations, "year=10000", "year 10000: a year such as 2027"},
		{record.Allocations, "year=-200", "year -200: a year such as 2027"},
		{record.People, "cost_rate=0 billing_rate=0 hours_per_day=0", ""},
		{record.People, "hours_per_day=-0.5", "hours_per_day -0.5: 0 or more"},
		{record.Risks, "project=P likelihood=1 consequence=5", ""},
		{record.Risks, "node=N likelihood= consequence=", ""},
		{record.Risks, "likelihood=1", owned},
		{record.Risks, "project=P node=N", strings.Replace(owned, "node ", "node N", 1)},
		{record.Issues, "raised=2026-01-05", owned},
		{record.Actions, "code=A", owned},
		{record.Checklist, "action=A", owned},
		{record.Meetings, "code=M", owned},
		{record.Decisions, "code=D", owned},
		{record.Decisions, "node=N code=D state=taken", ""},
		{record.Issues, "node=N raised=2026-01-05 closed=2026-01-05", ""},
		{record.Issues, "node=N raised=2026-01-05 closed=2026-01-04",
			"closed 2026-01-04: a day on or after 2026-01-05, when it was raised"},
		{record.Risks, "project=P likelihood=0", "likelihood 0: a whole number from 1 to 5"},
		{record.Risks, "project=P consequence=6", "consequence 6: a whole number from 1 to 5"},
		{record.Risks, "project=P consequence=10", "consequence 10: a whole number from 1 to 5"},
		{record.Backlog, "points=0", ""},
		{record.Backlog, "points=-1", "points -1: 0 or more"},
		{record.Assignments, "person=P from=2026-01-05 to=2026-01-05", ""},
		{record.Assignments, "role=diver from=2026-01-05 to=2026-01-05", ""},
		{record.Assignments, "from=2026-01-05 to=2026-01-05", strings.Replace(share, "%s", "", 1)},
		{record.Assignments, "person=P role=diver from=2026-01-05 to=2026-01-05", strings.Replace(share, "%s", "P", 1)},
		{record.Assignments, "person=P from=2026-01-05 to=2026-01-04", "to 2026-01-04: a day on or after 2026-01-05"},
		{record.Absences, "from=2026-12-21 to=2026-12-21", ""},
		{record.Absences, "from=2026-12-21 to=2026-12-20", "to 2026-12-20: a day on or after 2026-12-21"},
		{record.Absences, "hours=24", ""},
		{record.Absences, "hours=24.5", "hours 24.5: more than 0 and at most 24 hours a day; leave it empty for whole days"},
		{record.Absences, "hours=0", "hours 0: more than 0 and at most 24 hours a day; leave it empty for whole days"},
		{record.LabourRates, "role=diver cost_rate=0", ""},
		{record.LabourRates, "cost_rate=1", "person : one of person, role and cost_code"},
		{record.LabourRates, "person=P cost_code=C", "person P: one of person, role and cost_code"},
		{record.LabourRates, "person=P billing_rate=-1", "billing_rate -1: 0 or more"},
	} {
		var pairs []string
		for _, pair := range strings.Fields(c.cells) {
			name, value, _ := strings.Cut(pair, "=")
			pairs = append(pairs, name, value)
		}
		assert.Equal(t, c.wrong, strings.Join(said(c.kind, pairs...), "; "), "%s %s", c.kind, c.cells)
	}
}

// Shares add up to a hundred project by project, from every month on; the row that is told is the last one that counts there.
func TestSharesOfFunding(t *testing.T) {
	in := record.Funding.Input()
	row := func(n int32, project, percent, from string) record.Row {
		r := record.Row{In: in, N: n, Cells: make([]string, len(in.Columns))}
		r.Cells[in.At("project")], r.Cells[in.At("funder")], r.Cells[in.At("percent")] = project, "F"+percent, percent
		r.Cells[in.At("from")] = from
		return r
	}
	var told []string
	in.CheckAll([]record.Row{row(2, "P", "99.99", ""), row(3, "Q", "50", ""), row(4, "P", "0.01", ""), row(5, "Q", "49.99", "")},
		func(row int32, column, value, expected string) {
			told = append(told, column+" "+value+" "+expected)
			assert.Equal(t, int32(5), row)
		})
	require.Len(t, told, 1)
	assert.Contains(t, told[0], "percent 99.99 percentages that add up to 100 in Q")
}
