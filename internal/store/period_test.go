package store_test

import (
	"fmt"
	"math/rand/v2"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/apptest"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/measure"
	"turret/internal/record"
	"turret/internal/store"
)

// What a bound shows is what a file shows that only ever had the loads within it, whatever came when and for which period.
func TestABoundShowsWhatHadCome(t *testing.T) {
	s, o := apptest.Opened(t)
	random := rand.New(rand.NewPCG(7, 11))
	months := []calendar.Period{calendar.Months.Of(calendar.On(2026, 10, 1)), calendar.Months.Of(calendar.On(2026, 11, 1)),
		calendar.Months.Of(calendar.On(2026, 12, 1))}
	type sent struct {
		id    int64
		kind  record.Kind
		month calendar.Period
		text  string
	}
	masters, err := s.Masters(ctx)
	require.NoError(t, err)
	require.Len(t, masters.Projects, 2)
	var all []sent
	send := func(o *app.Office, x *sent) {
		r, err := o.Intake.Import(ctx, []*kept.File{apptest.Read(t, x.kind, x.text)}, intake.Origin{Period: x.month})
		require.NoError(t, err)
		x.id = r.Loads[0].ID
	}
	for n := range 30 {
		x := sent{month: months[random.IntN(3)]}
		project := []string{"A", "B"}[random.IntN(2)]
		switch random.IntN(4) {
		case 0:
			x.kind, x.text = record.Budget, fmt.Sprintf("project,cost_code,amount,month\n%s,C,%d,2026-01\n%s,C,%d,2026-02\n", project,
				100+n,
				project, n)
		case 1:
			x.kind, x.text = record.Actuals, fmt.Sprintf("project,cost_code,date,amount\n%s,C,2026-03-%02d,%d.25\n", project, 1+n%28, n)
		case 2:
			x.kind, x.text = record.Projects, fmt.Sprintf("code,name,parent,currency\n%s,Name %d,PG,EUR\n", project, n)
		default:
			x.kind, x.text = record.Forecast, fmt.Sprintf("project,cost_code,amount,month\n%s,C,%d,2026-12\n", project, n)
		}
		send(o, &x)
		all = append(all, x)
	}
	seen := func(r kept.Reading) (list []string) {
		m, err := r.Masters(ctx)
		require.NoError(t, err)
		code := map[int64]string{}
		for i := range m.Projects {
			code[m.Projects[i].ID] = m.Projects[i].Code
			list = append(list, m.Projects[i].Code+" "+m.Projects[i].Name)
		}
		for _, kind := range []record.Kind{record.Budget, record.Forecast} {
			require.NoError(t, r.Lines(ctx, kind, nil,
				func(p int64, l cost.Line) { list = append(list, fmt.Sprintln(kind, code[p], l.Month, l.Amount)) }))
		}
		require.NoError(t, r.Amounts(ctx, nil,
			func(p int64, l *cost.Posting) { list = append(list, fmt.Sprintln(code[p], l.Date, l.Amount)) }))
		return list
	}
	for _, month := range months {
		for _, upTo := range []int{5, 17, 30} {
			path := filepath.Join(t.TempDir(), "fresh.db")
			fresh, err := store.Create(ctx, path, "EUR")
			require.NoError(t, err)
			f := app.NewOffice(fresh, func() time.Time { return at }, app.Parts{})
			for _, first := range []struct {
				kind record.Kind
				text string
			}{{record.Structure, "code,name,level,parent\nPF,Portfolio,portfolio,\nPG,Programme,programme,PF\n"},
				{record.CostCodes, "code,name\nC,Cost\n"},
				{record.Projects, "code,name,parent,currency\nB,Second,PG,SEK\nA,First,PG,EUR\n"}} {
				send(f, &sent{kind: first.kind, text: first.text, month: months[0]})
			}
			for i := range all[:upTo] {
				if x := all[i]; x.month <= month {
					send(f, &x)
				}
			}
			assert.ElementsMatch(t, seen(fresh), seen(s.At(kept.Bound{Load: all[upTo-1].id, Period: month})), "%d loads up to %s", upTo,
				month)
			require.NoError(t, fresh.Close())
		}
	}
}

// What is sent without a period is for the one in view, or in work; nothing falls into a period that is closed.
func TestWhichPeriodSomethingIsFor(t *testing.T) {
	s, o := apptest.Opened(t)
	n := 0
	send := func(month calendar.Period) calendar.Period {
		n++
		c := ctx
		if month != 0 {
			c = intake.For(ctx, month.Last())
		}
		_, err := o.Intake.Import(c, []*kept.File{apptest.Read(t, record.Budget,
			fmt.Sprintf("project,cost_code,amount,month\nA,C,%d,2026-01\n", n))},
			intake.Origin{})
		require.NoError(t, err)
		return loadsOf(t, s)[0].Period
	}
	assert.Equal(t, october, send(0), "the last whole month on 3 November")
	assert.Equal(t, october-3, send(october-3))
	_, err := o.Publish.Close(ctx, october)
	require.NoError(t, err)
	assert.Equal(t, []calendar.Period{october + 1, october + 2}, []calendar.Period{send(0), send(october + 2)})
	_, err = o.Intake.PeriodFor(intake.For(ctx, october.Last()))
	require.ErrorIs(t, err, fault.ErrConflict)
	a, err := o.Assess.Day(ctx, october.Last())
	require.NoError(t, err)
	p, err := a.Project("A")
	require.NoError(t, err)
	assert.Equal(t, int64(200), p.Value(measure.BAC).N, "as it was closed: the second that was sent")
}

// Figures of a closed period come back under the measures that they were kept of, by both ways of reading them.
func TestFiguresOfAClosedPeriodKeepTheirMeasures(t *testing.T) {
	s, _, _ := apptest.Filled(t)
	periods, err := s.Periods(ctx)
	require.NoError(t, err)
	require.NotEmpty(t, periods)
	seen := map[measure.Key]int{}
	require.NoError(t, s.PeriodValues(ctx, []measure.Key{measure.BAC, measure.DataScore}, nil, 0, 0,
		func(v kept.PeriodValue) { seen[v.Measure]++ }))
	assert.Len(t, seen, 2)
	assert.Positive(t, seen[measure.BAC])
	assert.Equal(t, seen[measure.BAC], seen[measure.DataScore], "each of as many scopes")
	_, values, err := s.Frozen(ctx, periods[0].Serial)
	require.NoError(t, err)
	all := map[measure.Key]bool{}
	for i := range values {
		all[values[i].Measure] = true
	}
	assert.Len(t, all, len(measure.All()))
	assert.False(t, all[measure.None])
}
