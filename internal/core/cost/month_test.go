package cost

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/money"
)

func posting(row int32, code int32, day string, amount money.Amount, currency money.Currency, centre, document string) Posting {
	return Posting{Code: code, Date: on(day), Amount: amount, Currency: currency, Centre: centre, Document: document,
		Ref: fact.Ref{Load: 7, Row: row}}
}

// Seven postings by hand: those of one code, centre, currency and month are one sum, whatever stands between them.
func TestPostingsAreAddedUpByMonth(t *testing.T) {
	list := []Posting{
		posting(2, 1, "2026-01-31", 100, "EUR", "OPS", "D1"),
		posting(3, 1, "2026-02-01", 20, "EUR", "OPS", "D2"),
		posting(4, 1, "2026-01-02", -30, "EUR", "OPS", ""),
		posting(5, 1, "2026-01-02", 7, "SEK", "OPS", "D3"),
		posting(6, 1, "2026-01-02", 5, "EUR", "LAB", "D4"),
		posting(7, 2, "2026-01-05", 3, "EUR", "OPS", "D5"),
		posting(8, 1, "2026-01-30", 0, "EUR", "OPS", "D6"),
	}
	var s MonthSums
	for i := range list {
		s.Add(&list[i])
	}
	key := func(i int) uint64 { return list[i].Key() }
	january, february := month("2026-01"), month("2026-02")
	want := []MonthSum{
		{Code: 1, Centre: "LAB", Currency: "EUR", Month: january, Amount: 5, Rows: 1, Last: on("2026-01-02"), Entries: []Entry{{key(4),
			6}}},
		{Code: 1, Centre: "OPS", Currency: "EUR", Month: january, Amount: 70, Rows: 3, Last: on("2026-01-31"),
			Entries: []Entry{{key(0), 2}, {key(6), 8}}},
		{Code: 1, Centre: "OPS", Currency: "EUR", Month: february, Amount: 20, Rows: 1, Last: on("2026-02-01"), Entries: []Entry{{key(1),
			3}}},
		{Code: 1, Centre: "OPS", Currency: "SEK", Month: january, Amount: 7, Rows: 1, Last: on("2026-01-02"), Entries: []Entry{{key(3),
			5}}},
		{Code: 2, Centre: "OPS", Currency: "EUR", Month: january, Amount: 3, Rows: 1, Last: on("2026-01-05"), Entries: []Entry{{key(5),
			7}}},
	}
	assert.Equal(t, want, s.Take())
	assert.Empty(t, s.Take(), "it begins anew")
	s.Add(&list[6])
	assert.Equal(t, 1, s.Take()[0].Rows)
	for i := range list { // each is in one sum and no other
		n := 0
		for k := range want {
			if want[k].Holds(&list[i]) {
				n++
			}
		}
		assert.Equal(t, 1, n, i)
	}
}

// What makes two postings the same entry is kept in files: this digest was worked out by other means.
func TestKeysOfEntriesStayAsTheyAre(t *testing.T) {
	x := posting(2, 11, "2026-10-05", 50_000, "EUR", "OPS", "D1")
	assert.Equal(t, uint64(13095103167915219835), x.Key())
	for what, other := range map[string]Posting{
		"document": posting(2, 11, "2026-10-05", 50_000, "EUR", "OPS", "D2"),
		"day":      posting(2, 11, "2026-10-06", 50_000, "EUR", "OPS", "D1"),
		"amount":   posting(2, 11, "2026-10-05", -50_000, "EUR", "OPS", "D1"),
		"code":     posting(2, 12, "2026-10-05", 50_000, "EUR", "OPS", "D1"),
		"currency": posting(2, 11, "2026-10-05", 50_000, "SEK", "OPS", "D1")} {
		assert.NotEqual(t, x.Key(), other.Key(), what)
	}
	assert.Equal(t, x.Key(), (&Posting{Code: 11, Date: x.Date, Amount: 50_000, Currency: "EUR", Document: "D1", Supplier: "S"}).Key(),
		"centre, supplier and row are no part of it")
}

// Added up by month and then counted, postings in the reporting currency come to the same account as one by one.
func TestSumsCountAsTheirPostings(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		way := Way(rapid.IntRange(0, 2).Draw(t, "way"))
		account := func(count func(*Builder)) Account {
			b := NewBuilder(euro, calendar.Standard, on("2026-12-31"))
			b.Classify(Classes{Of: []Class{0, Capital, Operating, 0}, Labour: []bool{false, false, true, true}, Reserve: []bool{false,
				true, false, false}})
			b.By(way)
			count(b)
			return b.Account()
		}
		var list []Posting
		for i := range rapid.IntRange(0, 40).Draw(t, "postings") {
			day := on("2026-01-01") + calendar.Date(rapid.IntRange(0, 364).Draw(t, "day"))
			list = append(list, Posting{Code: int32(rapid.IntRange(0, 5).Draw(t, "code")), Date: day, Currency: "EUR",
				Amount: money.Amount(rapid.Int64Range(-1_000, 1_000).Draw(t, "amount")), Centre: rapid.SampledFrom([]string{"",
					"OPS"}).Draw(t, "centre"),
				Document: fmt.Sprint(i)})
		}
		slow := account(func(b *Builder) {
			for _, x := range list {
				b.Post(x)
			}
		})
		quick := account(func(b *Builder) {
			var s MonthSums
			for i := range list {
				s.Add(&list[i])
			}
			for _, x := range s.Take() {
				b.PostSum(&x)
			}
		})
		assert.Equal(t, slow, quick)
	})
}
