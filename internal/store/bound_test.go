package store_test

import (
	"context"
	"reflect"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/kept"
	"turret/internal/core/backlog"
	"turret/internal/core/benefit"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/measure"
	"turret/internal/core/risk"
	"turret/internal/record"
)

// counted counts rows passed to a function of two values.
func counted[A, B any](n *int) func(A, B) { return func(A, B) { *n++ } }

// rowsRead are how many rows of loads each way of reading passes; one that fails is told as -1.
var rowsRead = map[string]func(r kept.Reading, n *int) error{
	"Masters": func(r kept.Reading, n *int) error {
		m, err := r.Masters(ctx)
		if err == nil {
			*n = len(m.Nodes) + len(m.Projects) + len(m.CostCodes) + len(m.Calendars) + len(m.Rates) + len(m.People) + len(m.Allocations)
		}
		return err
	},
	"Activities": func(r kept.Reading, n *int) error {
		return r.Activities(ctx, nil, counted[int64, *kept.ActivityFact](n))
	},
	"Links": func(r kept.Reading, n *int) error { return r.Links(ctx, nil, false, counted[int64, *kept.LinkFact](n)) },
	"Lines": func(r kept.Reading, n *int) error {
		return r.Lines(ctx, record.Budget, nil, counted[int64, cost.Line](n))
	},
	"Amounts":     func(r kept.Reading, n *int) error { return r.Amounts(ctx, nil, counted[int64, *cost.Posting](n)) },
	"Declared":    func(r kept.Reading, n *int) error { return r.Declared(ctx, nil, counted[int64, measure.Declared](n)) },
	"Commitments": func(r kept.Reading, n *int) error { return r.Commitments(ctx, nil, counted[int64, cost.Commitment](n)) },
	"Changes":     func(r kept.Reading, n *int) error { return r.Changes(ctx, nil, counted[int64, cost.Change](n)) },
	"Shares":      func(r kept.Reading, n *int) error { return r.Shares(ctx, nil, counted[int64, cost.Share](n)) },
	"Billings":    func(r kept.Reading, n *int) error { return r.Billings(ctx, nil, counted[int64, cost.Billing](n)) },
	"Bookings":    func(r kept.Reading, n *int) error { return r.Bookings(ctx, nil, counted[int64, *cost.Booking](n)) },
	"Risks":       func(r kept.Reading, n *int) error { return r.Risks(ctx, nil, counted[int64, risk.Risk](n)) },
	"Backlogs": func(r kept.Reading, n *int) error {
		return r.Backlogs(ctx, nil, counted[int64, backlog.Item](n), counted[int64, backlog.Iteration](n))
	},
	"Benefits": func(r kept.Reading, n *int) error { return r.Benefits(ctx, nil, counted[int64, benefit.Benefit](n)) },
	"Postings": func(r kept.Reading, n *int) error { list, err := r.Postings(ctx, 1); *n = len(list); return err },
	"Ledger": func(r kept.Reading, n *int) error {
		return r.Ledger(ctx, nil, func(_, _ int64, s *cost.MonthSum) bool {
			*n += s.Rows
			return true
		}, nil)
	},
	"CurrentLoad": func(r kept.Reading, n *int) error {
		load, err := r.CurrentLoad(ctx, record.Budget, 1)
		*n = int(load)
		return err
	},
	"LoadsOf": func(r kept.Reading, n *int) error {
		list, err := r.LoadsOf(ctx, record.Activities, 1)
		*n = len(list)
		return err
	},
	"MoneyLoads": func(r kept.Reading, n *int) error {
		list, err := r.MoneyLoads(ctx, record.Budget, 1)
		*n = len(list)
		return err
	},
	"History": func(r kept.Reading, n *int) error {
		return r.History(ctx, nil, func(int64, calendar.Period, *kept.ActivityFact) { *n++ })
	},
	"LastDelivered": func(r kept.Reading, n *int) error {
		return r.LastDelivered(ctx, nil, func(kept.Delivery) { *n++ })
	},
	"Begun": func(r kept.Reading, n *int) error {
		begun, _, err := r.Begun(ctx, 1)
		if begun {
			*n = 1
		}
		return err
	},
	"Rows": func(r kept.Reading, n *int) error {
		for _, k := range record.Kinds() {
			f, err := r.Rows(ctx, k, kept.Selection{})
			if err != nil {
				return err
			}
			*n += f.Len()
		}
		return nil
	},
}

// unbounded are the ways of reading that do not read rows of what stands, with the reason.
var unbounded = map[string]string{
	"Head": "of the file", "Settings": "of the file; a closed period has its own", "Loads": "all of them, also withdrawn ones",
	"LoadOf": "finds a file that was sent before", "LinesAt": "of a load that is named", "LinksAt": "beside a load that is named",
	"Documents": "of postings that are named",
	"Overrides": "acts, which have their days", "Acceptances": "acts, which have their days", "Agreements": "acts, which have their days",
	"Baselines": "acts, which have their days", "Rehearsals": "kept beside the figures", "Periods": "bounded by the serial of a closing",
	"PeriodValues": "of closed periods", "Commentaries": "by a moment that is named",
}

// Within a bound before anything came nothing is read, whichever way; without one every way reads something.
func TestEveryQuerySeesTheBound(t *testing.T) {
	s, o, _ := apptest.Filled(t)
	methods := reflect.TypeFor[kept.Reading]()
	read := func(name string, r kept.Reading) int {
		n := 0
		require.NoError(t, rowsRead[name](r, &n), name)
		return n
	}
	everything := kept.Bound{Load: 1 << 40, Period: 1 << 30}
	for i := range methods.NumMethod() {
		name := methods.Method(i).Name
		if unbounded[name] != "" {
			assert.Nil(t, rowsRead[name], name)
			continue
		}
		if !assert.NotNil(t, rowsRead[name], "%s: does it see the bound?", name) {
			continue
		}
		now := read(name, s)
		assert.Positive(t, now, "%s reads nothing", name)
		assert.Equal(t, now, read(name, s.At(everything)), name)
		assert.Zero(t, read(name, s.At(kept.Bound{Period: 1 << 30})), "%s reads what came later", name)
		assert.Zero(t, read(name, s.At(kept.Bound{Load: 1 << 40, Period: -1})), "%s reads what was sent for later periods", name)
	}
	closed, err := o.Assess.Periods(access.As(context.Background(), access.Operator("a test")))
	require.NoError(t, err)
	require.NotEmpty(t, closed)
	list, err := s.At(kept.Bound{Load: 1 << 40, Period: 1 << 30, Serial: 1}).Periods(ctx)
	require.NoError(t, err)
	assert.Empty(t, list, "what was closed later")
}
