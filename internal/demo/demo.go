package demo

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"math/rand/v2"
	"os"
	"path/filepath"
	"time"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/ingest"
	"turret/internal/record"
)

// AsOf is the day on which the demonstration opens.
var AsOf = day(2026, 10, 31)

// Today is the day on which the demonstration takes place: what it stamps or compares with today goes by it.
var Today = day(2026, 11, 3)

const seed = 1805

// firstReport is the month of the first reports kept: seventeen months before the one in work.
var firstReport = day(2025, 5, 1).Month()

// Load takes in the demonstration: the reports of each month up to October's, each through the same readers and the same checks
// as a user's files. The store must be new.
func Load(ctx context.Context, store app.Store) error {
	ctx = access.As(ctx, access.Operator("R. Osei"))
	made, stop := ahead(ctx)
	defer stop()
	for month := firstReport; month <= AsOf.Month(); month++ {
		at := reportedAt(month)
		m := <-made
		files, err := m.files, m.err
		if err != nil {
			return err
		}
		office := app.NewOffice(store, func() time.Time { return at }, app.Parts{Reader: ingest.Reader{}})
		if _, err := office.Intake.Import(ctx, files, intake.Origin{Source: "demonstration", Period: calendar.Period(month)}); err != nil {
			return fmt.Errorf("demonstration of %s: %w", month, err)
		}
		if err := passGate(ctx, office, month); err != nil {
			return fmt.Errorf("demonstration of %s: %w", month, err)
		}
		if err := reminded(ctx, store, month, notAfterToday(at.AddDate(0, 0, 2))); err != nil {
			return err
		}
		if err := explained(ctx, store, month, notAfterToday(at.AddDate(0, 0, 4))); err != nil {
			return err
		}
		if month == AsOf.Month() {
			break // in work
		}
		closed := app.NewOffice(store, func() time.Time { return at.AddDate(0, 0, 6) }, app.Parts{})
		if _, err := closed.Publish.Close(ctx, calendar.Period(month)); err != nil {
			return fmt.Errorf("demonstration of %s: %w", month, err)
		}
	}
	if err := settle(ctx, store); err != nil {
		return err
	}
	if err := people(ctx, store); err != nil {
		return err
	}
	if err := weekSheets(ctx, store); err != nil {
		return err
	}
	return desk(ctx, store)
}

// month are the files of a month, or why they could not be made.
type month struct {
	files []*kept.File
	err   error
}

// ahead makes the files of each month while those of the month before are taken in.
func ahead(ctx context.Context) (<-chan month, context.CancelFunc) {
	ctx, stop := context.WithCancel(ctx)
	made := make(chan month, 1)
	go func() {
		for mo := firstReport; mo <= AsOf.Month(); mo++ {
			files, err := read(mo.Last())
			select {
			case made <- month{files, err}:
			case <-ctx.Done():
				return
			}
		}
	}()
	return made, stop
}

// reportedAt is when the reports of a month were taken in.
func reportedAt(month calendar.Month) time.Time {
	y, n := int(month+1)/12, int(month+1)%12+1
	switch month {
	case AsOf.Month():
		return time.Date(y, time.Month(n), 2, 8, 40, 0, 0, time.UTC)
	case AsOf.Month() - 1:
		return time.Date(y, time.Month(n), 5, 9, 12, 0, 0, time.UTC)
	}
	return time.Date(y, time.Month(n), 4, 9, 5, 0, 0, time.UTC)
}

// notAfterToday is a moment, or the early morning of Today where it would come later.
func notAfterToday(at time.Time) time.Time {
	y, m, d := Today.YMD()
	if early := time.Date(y, time.Month(m), d, 6, 30, 0, 0, time.UTC); at.After(early) {
		return early
	}
	return at
}

// buffer is a file in memory.
type buffer struct{ bytes.Buffer }

func (*buffer) Close() error { return nil }

func read(asOf calendar.Date) ([]*kept.File, error) {
	made := map[string]*buffer{}
	m := newMaker(func(name string) (io.WriteCloser, error) {
		made[name] = &buffer{}
		return made[name], nil
	}, seed, asOf)
	m.own = ownColumns()
	m.crossed = asOf >= (AsOf.Month() - 1).Last()
	m.since = (asOf.Month() - 1).Last()
	m.doc = int(asOf.Month()-firstReport) * 40_000
	switch asOf {
	case AsOf:
		october(m)
	case (AsOf.Month() - 1).Last():
		september(m)
	default:
		earlier(m)
	}
	if err := m.close(); err != nil {
		return nil, err
	}
	var files []*kept.File
	for _, kind := range record.Kinds() {
		b, ok := made[string(kind)+".csv"]
		if !ok {
			continue
		}
		name := fmt.Sprintf("%s-%s.csv", kind, asOf.Month())
		f, problems, err := ingest.Reader{Own: m.own}.CSV(name, kind, b)
		if err != nil {
			return nil, err
		}
		if len(problems) > 0 {
			return nil, &fault.Refusal{Problems: problems}
		}
		files = append(files, f)
	}
	return files, nil
}

// silent has sent nothing since September.
const silent = "DT-04"

// earlier writes what the leads of the projects begun by then sent at the end of a month; the first month brings the masters.
func earlier(m *maker) {
	if m.asOf.Month() == firstReport {
		m.masters()
		writeFields(m)
		writeStages(m)
	}
	for _, s := range open() {
		if s.start > m.asOf {
			continue
		}
		m.row(&s)
		m.then(&s)
		m.reports(&s)
		m.money(&s)
		m.history(&s)
		writeGates(m, &s)
	}
	writePast(m)
}

// then has a project stand as it did at the end of m.asOf: less had gone wrong.
func (m *maker) then(s *spec) {
	x := m.elapsed(s) / min(1, elapsedAt(m.days, s, AsOf))
	s.slip = int(float64(s.slip) * x * x)
	s.overrun *= x * x
	if m.asOf < (AsOf.Month() - 1).Last() {
		s.comment = earlierComment(s, m.asOf.Month())
	}
	if s.code == "LW-07" {
		s.declared = "on track"
	} else if x < 0.8 && s.declared != "" {
		s.declared = "on track"
	}
}

// earlierComment is what a lead who writes much wrote before; others wrote nothing.
func earlierComment(s *spec, mo calendar.Month) string {
	if s.comment == "" {
		return ""
	}
	return [...]string{"As planned.", "Work goes on as agreed; nothing to report.", "A wet month; we keep to our dates.",
		"The crew is complete again."}[int(mo)%4]
}

// september writes the reports of the month before, and all that had ended by then.
func september(m *maker) {
	writePast(m)
	for i, s := range finished() {
		if !s.past {
			m.project(&s)
		}
		writeLessons(m, &s, i)
		writeBenefits(m, &s)
	}
	for _, s := range open() {
		if s.start > m.asOf {
			continue
		}
		m.row(&s)
		m.then(&s)
		m.reports(&s)
		m.money(&s)
		m.history(&s)
		writeGates(m, &s)
		if s.code != silent {
			m.risks(&s)
		}
	}
	writeReady(m)
}

func october(m *maker) {
	for _, s := range open() {
		m.row(&s)
		if s.code != silent {
			m.reports(&s)
			m.finances(&s)
			m.registers(&s)
			writeKnown(m, &s)
		}
		writeGates(m, &s)
		m.money(&s)
	}
	for _, s := range proposals() {
		m.project(&s)
	}
	m.team()
	writeNodes(m)
	writeBoard(m)
	writePipeline(m)
}

func open() []spec {
	list := stories()
	for i := range list {
		s := &list[i]
		s.status, s.sponsor, s.unit = "open", sponsors[s.parent], s.parent
		if s.stage == "" {
			s.stage = "delivery"
		}
		s.category = []string{"renewal", "safety", "service", "nature", "renewal"}[i%5]
		if s.parent == "DT" {
			s.category = "data"
		}
		s.activities, s.postings = 34+i%7, 620
		s.driven = s.code == "DT-03" || s.code == "BV-03" || s.code == "LW-12"
		s.handovers = handovers(s)
		s.all, s.final = s.slip, s.overrun
	}
	return list
}

// finished are the projects that have ended, more than half of them while reports were kept.
func finished() []spec {
	r := rand.New(rand.NewPCG(seed, 3))
	var list []spec
	for i := range 66 {
		p := programmes[i%len(programmes)][0]
		w := works[p]
		d := 160 + r.IntN(220)
		start := day(2020, 1+r.IntN(12), 3) + calendar.Date(r.IntN(1500))
		s := spec{code: fmt.Sprintf("%s-9%02d", p, i+1), name: places[(i*7)%len(places)] + " " + w[(i/5)%len(w)], parent: p,
			lead: leads[r.IntN(len(leads))], sponsor: sponsors[p], category: "renewal", stage: "closed", unit: p, status: "closed",
			budget: 150_000 + r.Int64N(3_000_000), start: start, days: d, slip: r.IntN(50) - 12, overrun: 0.25*r.Float64() - 0.08,
			activities: 22 + r.IntN(10), postings: 880, phases: [][]phase{building, system, habitat}[i%3]}
		if i%9 < 5 {
			remember(&s, i)
		}
		s.all, s.final = s.slip, s.overrun
		list = append(list, s)
	}
	return list
}

func proposals() []spec {
	var list []spec
	for i := range ideas {
		x := &ideas[i]
		list = append(list, spec{code: x.code, name: x.name, parent: x.parent, lead: leads[i], sponsor: sponsors[x.parent],
			category: "renewal",
			stage:    "idea", unit: x.parent, status: "proposed", start: day(2027, 1+i, 4), days: 200 + 20*i})
	}
	return list
}

// Size says how large a synthetic portfolio is, in all.
type Size struct {
	Projects, Activities, Ledger int
	Seed                         uint64
}

// Check refuses sizes that cannot be made.
func (s Size) Check() error {
	if s.Projects < 1 || s.Activities < 0 || s.Ledger < 0 || s.Projects > 100_000 || s.Activities > 10_000_000 || s.Ledger > 50_000_000 {
		return fmt.Errorf("a portfolio of %d projects, %d activities and %d postings cannot be made", s.Projects, s.Activities, s.Ledger)
	}
	return nil
}

// Generate writes a synthetic portfolio as of AsOf into a folder, one CSV file per kind.
func Generate(size Size, dir string) error {
	m := newMaker(func(name string) (io.WriteCloser, error) {
		return os.Create(filepath.Join(dir, name))
	}, size.Seed, AsOf)
	m.masters()
	r := rand.New(rand.NewPCG(size.Seed, 11))
	for i := range size.Projects {
		p := programmes[i%len(programmes)][0]
		days := 220 + r.IntN(400)
		s := spec{code: fmt.Sprintf("%s-%05d", p, i+1), name: places[i%len(places)] + " " + works[p][i%4], parent: p,
			lead: leads[r.IntN(len(leads))], sponsor: sponsors[p], category: "renewal", stage: "delivery", unit: p, status: "open",
			budget: 200_000 + r.Int64N(9_000_000), start: AsOf - calendar.Date(100+r.IntN(days)), days: days,
			slip: max(-8, r.IntN(80)-50), overrun: 0.3*r.Float64() - 0.22,
			declared:   []string{"on track", "on track", "watch", "act"}[r.IntN(4)],
			activities: cut(size.Activities, size.Projects, i), postings: cut(size.Ledger, size.Projects, i),
			phases: [][]phase{building, system, habitat}[r.IntN(3)]}
		if r.IntN(5) == 0 {
			s.sek = 0.2
		}
		s.all, s.final = s.slip, s.overrun
		m.project(&s)
	}
	return m.close()
}

// cut is the ith of n parts of a total; they add up to it.
func cut(total, n, i int) int { return total*(i+1)/n - total*i/n }
