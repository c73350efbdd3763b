package demo

import (
	"context"
	"fmt"
	"slices"
	"time"

	"turret/internal/app"
	"turret/internal/app/benefit"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/record"
)

// gains are what projects are to bring: a name, an amount a month from a month on, and how much of it is still expected.
var gains = []struct {
	project, name string
	from          string
	monthly       int64
	share, come   float64
	owner         string
	proof         string
}{
	{"LW-07", "Lock fees no longer lost", "2027-06", 124_000, 0.97, 0.9, "M. Okafor", "Fees in the ledger against the year before"},
	{"LW-02", "Fewer visits to weirs", "2027-03", 79_000, 1, 0.9, "P. Novák", "Visits in the log of the district, at 310 euros each"},
	{"BV-05", "Berth fees", "2026-09", 91_000, 0.86, 0.9, "T. Haas", "Fees in the booking service"},
	{"BV-02", "Less power for lights", "2027-02", 77_500, 1, 0.9, "E. Brandt", "Meter readings at two posts"},
	{"DT-02", "Fewer false alarms", "2027-04", 66_000, 0.95, 0.9, "S. Adeyemi", "Call-outs of the standby at night"},
	{"DT-03", "Data sold to the flood office", "2027-06", 88_000, 1, 0.9, "K. Ōtani", "Invoices"},
	{"FW-01", "Fishing licences", "2027-05", 13_000, 1, 0.9, "R. Castellanos", "Licences sold"},
	{"DT-05", "Spares bought once", "2027-03", 41_000, 1.04, 0.9, "S. Adeyemi", "Orders of spares"},
	{unpaid, "Tolls of the wider lock", "2026-01", 9_500, 1, 0.12, "J. Moreau", "Tolls in the ledger"},
}

// unpaid is a closed project whose benefit has not come.
const unpaid = "LW-901"

// gainMonths is for how many months benefits are planned.
const gainMonths = 48

// writeBenefits writes what a project is to bring, month by month: money, and of the berths what is counted in boats.
func writeBenefits(m *maker, s *spec) {
	for _, g := range gains {
		if g.project != s.code {
			continue
		}
		from, err := calendar.ParseMonth(g.from)
		if err != nil {
			panic(err) // a constant
		}
		for i := range calendar.Month(gainMonths) {
			cents := g.monthly * 100
			pairs := []string{"project", s.code, "code", "V1", "name", g.name, "month", (from + i).String(), "planned",
				money.Amount(cents).Text("EUR"), "forecast", money.Amount(g.share * float64(cents)).Text("EUR"), "currency", "EUR",
				"owner", g.owner, "proof", g.proof}
			boats := []string{"project", s.code, "code", "V2", "name", "Boats in booked berths", "month", (from + i).String(), "planned",
				"260", "unit", "boats", "owner", g.owner, "proof", "Bookings that were not undone"}
			if from+i <= m.asOf.Month() {
				pairs = append(pairs, "achieved", money.Amount(g.come*g.share*float64(cents)).Text("EUR"))
				boats = append(boats, "achieved", fmt.Sprint(241+7*int(i)))
			}
			m.add(record.Benefits, pairs...)
			if s.code == "BV-05" && i < 12 {
				m.add(record.Benefits, boats...)
			}
		}
	}
}

// remindedIn are the months in which the owner of the benefit that has not come was asked for it.
var remindedIn = []calendar.Month{day(2026, 6, 1).Month(), day(2026, 8, 1).Month()}

// reminded notes that the owner was asked; the letters went long ago.
func reminded(ctx context.Context, store app.Store, month calendar.Month, at time.Time) error {
	if !slices.Contains(remindedIn, month) {
		return nil
	}
	for _, g := range gains {
		if g.project == unpaid {
			return store.Note(ctx, kept.Entry{At: at, Who: "R. Osei", Act: benefit.Reminding, Subject: unpaid + " V1",
				After: g.owner + ": What came of 1 benefit"})
		}
	}
	return nil
}
