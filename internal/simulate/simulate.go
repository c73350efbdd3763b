// Package simulate stands in for outside systems: a finance ledger, a schedule server, a work tracker and a time system, over HTTP on this
// machine, with made-up answers that fit the demonstration.
//
// Each can be told by its address to behave badly: ?slow=50 waits so many milliseconds at each request, ?fail=3 answers the third
// request and every third after it with an error, ?malformed=1 sends rows that cannot be right, ?repeat=1 sends rows twice.
package simulate

import (
	"context"
	"encoding/json"
	"net/http"
	"slices"
	"sort"
	"strconv"
	"sync/atomic"
	"time"

	"turret/internal/core/calendar"
	"turret/internal/demo"
)

// page is how many rows a system gives at a time.
const page = 200

// Systems answers for all four stand-ins, below /ledger, /schedule, /work and /hours, up to the end of a month.
type Systems struct {
	until    calendar.Month
	asked    atomic.Int64
	postings []Posting
	plans    map[string]*Plan
	items    []Item
	hours    []Hours
}

// Hours are a row of the time system. Seq rises; a correction is a later row with fewer hours than none.
type Hours struct {
	Seq      int    `json:"seq"`
	Person   string `json:"person"`
	Project  string `json:"project"`
	Date     string `json:"date"`
	Hours    string `json:"hours"`
	Activity string `json:"activity"`
	Billable string `json:"billable"`
}

// Posting is a row of the ledger. Seq rises; a correction is a later row of an earlier day.
type Posting struct {
	Seq      int    `json:"seq"`
	Project  string `json:"project"`
	Account  string `json:"account"`
	Date     string `json:"date"`
	Amount   string `json:"amount"`
	Currency string `json:"currency"`
	Voucher  string `json:"voucher"`
	Supplier string `json:"supplier"`
}

// Plan is a project of the schedule server; its version rises with each change.
type Plan struct {
	Project    string              `json:"project"`
	Version    int                 `json:"version"`
	Activities []map[string]string `json:"activities"`
	Links      []map[string]string `json:"links"`
}

// Item is a move of a piece of work of the tracker.
type Item struct {
	Seq int `json:"seq"`
	demo.Moved
}

// New makes the stand-ins with what happened from the month after the demonstration's up to a month.
func New(until calendar.Month) (*Systems, error) {
	s := &Systems{until: until, plans: map[string]*Plan{}}
	for m := demo.AsOf.Month() + 1; m <= until; m++ {
		all, err := demo.Records(m)
		if err != nil {
			return nil, err
		}
		s.month(m, all)
		s.clock(m, all.Hours)
	}
	moves, err := demo.Moves(until)
	for i, x := range moves {
		s.items = append(s.items, Item{i + 1, x})
	}
	return s, err
}

func (s *Systems) month(m calendar.Month, all demo.Reports) {
	late := 0
	for _, r := range all.Postings {
		if r["date"][:7] != m.String() {
			continue
		}
		s.post(r["project"], r["cost_code"], r["date"], r["amount"], r["currency"], r["document"], r["supplier"])
		if late++; late%90 == 0 { // found wrong afterwards and taken back
			s.post(r["project"], r["cost_code"], r["date"], "-"+r["amount"], r["currency"], r["document"]+"-C", r["supplier"])
		}
	}
	for _, r := range all.Activities {
		p := s.plans[r["project"]]
		if p == nil {
			p = &Plan{Project: r["project"]}
			s.plans[r["project"]] = p
		}
		if p.Version != int(m) {
			p.Version, p.Activities = int(m), nil
		}
		p.Activities = append(p.Activities, r)
	}
}

// clock puts the hours of a month into the time system; now and then an hour too many is taken back.
func (s *Systems) clock(m calendar.Month, rows []map[string]string) {
	for _, r := range rows {
		if r["date"][:7] != m.String() {
			continue
		}
		s.hours = append(s.hours, Hours{len(s.hours) + 1, r["person"], r["project"], r["date"], r["hours"], "", r["billable"]})
		if len(s.hours)%40 == 0 {
			s.hours = append(s.hours, Hours{len(s.hours) + 1, r["person"], r["project"], r["date"], "-1", "", r["billable"]})
		}
	}
}

func (s *Systems) post(project, account, date, amount, currency, voucher, supplier string) {
	s.postings = append(s.postings, Posting{len(s.postings) + 1, project, account, date, amount, currency, voucher, supplier})
}

// Handler answers for the systems.
func (s *Systems) Handler() http.Handler {
	m := http.NewServeMux()
	m.HandleFunc("GET /ledger/postings", s.moody(s.ledger))
	m.HandleFunc("GET /schedule/projects", s.moody(s.projects))
	m.HandleFunc("GET /schedule/projects/{code}", s.moody(s.plan))
	m.HandleFunc("GET /hours/hours", s.moody(s.booked))
	m.HandleFunc("GET /work/items", s.moody(s.work))
	m.HandleFunc("GET /work/records", s.moody(s.records))
	return m
}

// moody does what the address asks for before it answers.
func (s *Systems) moody(answer func(*http.Request) any) http.HandlerFunc {
	return func(w http.ResponseWriter, r *http.Request) {
		q := r.URL.Query()
		if ms, _ := strconv.Atoi(q.Get("slow")); ms > 0 {
			wait, stop := context.WithTimeout(r.Context(), time.Duration(min(ms, 10_000))*time.Millisecond)
			<-wait.Done()
			stop()
		}
		n := s.asked.Add(1)
		if every, _ := strconv.ParseInt(q.Get("fail"), 10, 64); every > 0 && n%every == 0 {
			http.Error(w, "the stand-in was told to fail", http.StatusInternalServerError)
			return
		}
		v := answer(r)
		if v == nil {
			http.NotFound(w, r)
			return
		}
		w.Header().Set("Content-Type", "application/json")
		_ = json.NewEncoder(w).Encode(v)
	}
}

func (s *Systems) ledger(r *http.Request) any {
	after, _ := strconv.Atoi(r.URL.Query().Get("after"))
	from := min(max(0, after), len(s.postings))
	to := min(from+page, len(s.postings))
	rows := slices.Clone(s.postings[from:to])
	if r.URL.Query().Get("malformed") != "" && len(rows) > 3 {
		rows[1].Date, rows[2].Amount, rows[3].Project = "2026-02-30", "a lot", "NOT-THERE"
	}
	if r.URL.Query().Get("repeat") != "" {
		rows = append(rows, rows[:min(20, len(rows))]...)
	}
	return map[string]any{"postings": rows, "next": to, "more": to < len(s.postings)}
}

func (s *Systems) booked(r *http.Request) any {
	after, _ := strconv.Atoi(r.URL.Query().Get("after"))
	from := min(max(0, after), len(s.hours))
	to := min(from+page, len(s.hours))
	rows := slices.Clone(s.hours[from:to])
	if r.URL.Query().Get("malformed") != "" && len(rows) > 2 {
		rows[1].Hours, rows[2].Person = "30", "NOBODY"
	}
	if r.URL.Query().Get("repeat") != "" {
		rows = append(rows, rows[:min(20, len(rows))]...)
	}
	return map[string]any{"hours": rows, "next": to, "more": to < len(s.hours)}
}

func (s *Systems) projects(*http.Request) any {
	list := []map[string]any{}
	for code, p := range s.plans {
		list = append(list, map[string]any{"project": code, "version": p.Version})
	}
	sort.Slice(list, func(i, j int) bool { return list[i]["project"].(string) < list[j]["project"].(string) })
	return map[string]any{"projects": list}
}

func (s *Systems) plan(r *http.Request) any {
	p := s.plans[r.PathValue("code")]
	if p == nil {
		return nil
	}
	q := *p
	if r.URL.Query().Get("malformed") != "" && len(q.Activities) > 0 {
		first := map[string]string{}
		for k, v := range q.Activities[0] {
			first[k] = v
		}
		first["finish"] = "soon"
		q.Activities = append([]map[string]string{first}, q.Activities[1:]...)
	}
	return q
}

func (s *Systems) work(r *http.Request) any {
	after, _ := strconv.Atoi(r.URL.Query().Get("after"))
	from := min(max(0, after), len(s.items))
	to := min(from+page, len(s.items))
	return map[string]any{"items": s.items[from:to], "next": to, "more": to < len(s.items)}
}

// records tells the state of the cases that the demonstration hangs together with.
func (s *Systems) records(r *http.Request) any {
	cases := map[string][2]string{"CASE-2291": {"Consent for the bank at pass 5", "with the owner"},
		"CHANGE-118": {"Closure of the towpath", "agreed"}}
	list := []map[string]string{}
	for _, number := range r.URL.Query()["number"] {
		if x, ok := cases[number]; ok {
			list = append(list, map[string]string{"number": number, "title": x[0], "state": x[1]})
		}
	}
	return map[string]any{"records": list}
}
