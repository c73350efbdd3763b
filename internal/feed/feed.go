// Package feed fetches from outside systems over HTTP. What it fetches goes the way of every other input: read by the same
// readers, checked, and taken in as one load or not at all.
package feed

import (
	"cmp"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"slices"
	"sort"
	"strconv"
	"strings"
	"time"

	"turret/internal/app/fault"
	"turret/internal/app/feed"
	"turret/internal/app/kept"
	"turret/internal/app/setting"
	"turret/internal/record"
)

// Limits of a run.
const (
	maxAnswer = 32 << 20 // bytes of one answer
	maxPages  = 20_000
	tries     = 3         // of one request
	maxRun    = 256 << 20 // bytes of all answers of a run
	maxLog    = 300       // lines
)

// Client fetches. Typed reads rows of cells in the columns of a kind, as intake.Reader does.
type Client struct {
	Typed func(kind record.Kind, rows [][]string) (*kept.File, []fault.Problem)
	HTTP  *http.Client
	Wait  time.Duration // before a request is tried again
	Rows  int           // most of a run; 500,000 where 0
}

func (c *Client) most() int { return cmp.Or(c.Rows, 500_000) }

var _ feed.Puller = (*Client)(nil)

// Pull fetches what is new since the cursor, and from a work tracker the states of the records of these numbers.
func (c *Client) Pull(ctx context.Context, f setting.FeedSetting, cursor string, numbers ...string) (*feed.Pulled, error) {
	base, err := url.Parse(f.Address)
	if err != nil {
		return nil, err
	}
	r := &run{Client: c, ctx: ctx, base: base, out: &feed.Pulled{Cursor: cursor}, name: f.Name}
	switch f.Kind {
	case "ledger":
		err = r.ledger(cursor)
	case "hours":
		err = r.hours(cursor)
	case "schedule":
		err = r.schedule(cursor)
	case "work":
		if err = r.work(cursor); err == nil {
			err = r.records(numbers)
		}
	default:
		err = fmt.Errorf("%q is no kind of feed", f.Kind)
	}
	return r.out, err
}

type run struct {
	*Client
	ctx  context.Context
	base *url.URL
	out  *feed.Pulled
	name string
	read int64 // bytes so far
}

func (r *run) log(format string, args ...any) {
	switch n := len(r.out.Log); {
	case n < maxLog:
		r.out.Log = append(r.out.Log, fmt.Sprintf(format, args...))
	case n == maxLog:
		r.out.Log = append(r.out.Log, "and more of the same")
	}
}

// get asks for a path below the feed's address, with the address's own parameters kept; what fails is tried again.
func (r *run) get(path string, q url.Values, into any) error {
	u := r.base.JoinPath(path)
	all := r.base.Query()
	for k, v := range q {
		all[k] = v
	}
	u.RawQuery = all.Encode()
	var err error
	for n := 1; n <= tries; n++ {
		if err = r.once(u.String(), into); err == nil || errors.Is(err, fault.ErrTooLarge) {
			return err
		}
		r.log("%s, try %d of %d: %v", path, n, tries, err)
		wait, stop := context.WithTimeout(r.ctx, time.Duration(n)*r.Wait)
		<-wait.Done()
		stop()
		if r.ctx.Err() != nil {
			return r.ctx.Err()
		}
	}
	return err
}

func (r *run) once(address string, into any) error {
	ask, err := http.NewRequestWithContext(r.ctx, http.MethodGet, address, nil)
	if err != nil {
		return err
	}
	answer, err := r.HTTP.Do(ask)
	var told *url.Error
	if errors.As(err, &told) { // it names the address, whose secrets are nobody's
		err = told.Err
	}
	if err != nil {
		return err
	}
	defer answer.Body.Close()
	if answer.StatusCode != http.StatusOK {
		return fmt.Errorf("answered %s", answer.Status)
	}
	body, err := io.ReadAll(io.LimitReader(answer.Body, maxAnswer+1))
	if err != nil {
		return err
	}
	if len(body) > maxAnswer {
		return fmt.Errorf("answered with more than %d MB", maxAnswer>>20)
	}
	if r.read += int64(len(body)); r.read > maxRun {
		return fmt.Errorf("answered with more than %d MB in one run: %w", maxRun>>20, fault.ErrTooLarge)
	}
	return json.Unmarshal(body, into)
}

// take reads rows into a file of a kind; what is wrong with them is a refusal of the whole.
func (r *run) take(kind record.Kind, rows [][]string) error {
	if len(rows) == 0 {
		return nil
	}
	f, problems := r.Typed(kind, rows)
	f.Name = fmt.Sprintf("feed %s, %s", r.name, strings.ToLower(kind.Title()))
	f.Recognised = "fetched"
	if len(problems) > 0 {
		for i := range problems {
			problems[i].File = f.Name
		}
		return &fault.Refusal{Problems: problems}
	}
	b, _ := json.Marshal(rows)
	sum := sha256.Sum256(b)
	f.Digest, f.Size = hex.EncodeToString(sum[:]), int64(len(b))
	r.out.Files = append(r.out.Files, f)
	return nil
}

// cells arranges a record in the kind's columns.
func cells(kind record.Kind, record map[string]string) []string {
	in := kind.Input()
	row := make([]string, len(in.Columns))
	for i, c := range in.Columns {
		row[i] = record[c.Name]
	}
	return row
}

type posting struct {
	Seq                                                         int
	Project, Account, Date, Amount, Currency, Voucher, Supplier string
}

// ledger fetches postings after the last sequence number taken in.
func (r *run) ledger(cursor string) error {
	return r.numbered("postings", "ledger", cursor, record.Actuals, func(b json.RawMessage) (int, map[string]string, error) {
		var p posting
		err := json.Unmarshal(b, &p)
		return p.Seq, map[string]string{"project": p.Project, "cost_code": p.Account, "date": p.Date, "amount": p.Amount,
			"currency": p.Currency, "document": p.Voucher, "supplier": p.Supplier}, err
	})
}

// hours fetches the hours of a time system in the same way.
func (r *run) hours(cursor string) error {
	return r.numbered("hours", "time system", cursor, record.Timesheets, func(b json.RawMessage) (int, map[string]string, error) {
		var h struct {
			Seq                                              int
			Person, Project, Date, Hours, Activity, Billable string
		}
		err := json.Unmarshal(b, &h)
		return h.Seq, map[string]string{"person": h.Person, "project": h.Project, "date": h.Date, "hours": h.Hours, "activity": h.Activity,
			"billable": h.Billable}, err
	})
}

// numbered fetches rows page by page after the last sequence number taken in. A row that comes twice is taken once.
func (r *run) numbered(what, system, cursor string, kind record.Kind, read func(json.RawMessage) (int, map[string]string, error)) error {
	after, _ := strconv.Atoi(cursor)
	seen := map[int]bool{}
	var rows [][]string
	repeated := 0
	for range maxPages {
		var page map[string]json.RawMessage
		if err := r.get(what, url.Values{"after": {strconv.Itoa(after)}}, &page); err != nil {
			return err
		}
		var came []json.RawMessage
		next, more := 0, false
		if err := errors.Join(part(page, what, &came), part(page, "next", &next), part(page, "more", &more)); err != nil {
			return err
		}
		for _, b := range came {
			seq, cell, err := read(b)
			if err != nil {
				return err
			}
			if seen[seq] {
				repeated++
				continue
			}
			seen[seq] = true
			rows = append(rows, cells(kind, cell))
		}
		r.log("%s after %d: %d rows", what, after, len(came))
		if next < after {
			return fmt.Errorf("the %s went back from %d to %d", system, after, next)
		}
		if more && next == after {
			return fmt.Errorf("the %s says that there is more after %d, and leads to the same page", system, after)
		}
		after = next
		if !more {
			break
		}
		if len(rows) >= r.most() {
			r.log("stopped after %d rows; the next run goes on after %d", len(rows), after)
			break
		}
	}
	if repeated > 0 {
		r.log("%d rows came more than once and are taken once", repeated)
	}
	r.out.Cursor = strconv.Itoa(after)
	return r.take(kind, rows)
}

// part reads a part of an answer; one that is not there stays as it was.
func part(page map[string]json.RawMessage, name string, into any) error {
	if b, ok := page[name]; ok {
		return json.Unmarshal(b, into)
	}
	return nil
}

// schedule fetches the plans whose version is another than at the last run.
func (r *run) schedule(cursor string) error {
	had := map[string]int{}
	_ = json.Unmarshal([]byte(cursor), &had) // no cursor: everything is new
	var list struct {
		Projects []struct {
			Project string
			Version int
		}
	}
	if err := r.get("projects", nil, &list); err != nil {
		return err
	}
	sort.Slice(list.Projects, func(i, j int) bool { return list.Projects[i].Project < list.Projects[j].Project })
	var activities, links [][]string
	for _, p := range list.Projects {
		if had[p.Project] == p.Version {
			continue
		}
		var plan struct{ Activities, Links []map[string]string }
		if err := r.get("projects/"+url.PathEscape(p.Project), nil, &plan); err != nil {
			return err
		}
		for _, a := range plan.Activities {
			a["project"] = p.Project
			activities = append(activities, cells(record.Activities, a))
		}
		for _, l := range plan.Links {
			l["project"] = p.Project
			links = append(links, cells(record.Links, l))
		}
		if len(activities)+len(links) > r.most() {
			return fmt.Errorf("sent more than %d rows in one run: %w", r.most(), fault.ErrTooLarge)
		}
		r.log("%s, version %d: %d activities, %d dependencies", p.Project, p.Version, len(plan.Activities), len(plan.Links))
		had[p.Project] = p.Version
	}
	b, err := json.Marshal(had)
	if err != nil {
		return err
	}
	r.out.Cursor = string(b)
	if err := r.take(record.Activities, activities); err != nil {
		return err
	}
	return r.take(record.Links, links)
}

// move is a row of a work tracker. Its number rises with each move of an item.
type move struct {
	Seq                                                                                  int
	Project, Code, Title, State, Iteration, Owner, Added, Started, Done, Accepted, Taken string
	Points                                                                               json.Number
}

// work fetches the moves of items after the last number taken in. What a move leaves empty stays as it is.
func (r *run) work(cursor string) error {
	after, _ := strconv.Atoi(cursor)
	first := after
	for range maxPages {
		var page struct {
			Items []move
			Next  int
			More  bool
		}
		if err := r.get("items", url.Values{"after": {strconv.Itoa(after)}}, &page); err != nil {
			return err
		}
		for i := range page.Items {
			if x := &page.Items[i]; x.Seq > first && x.Project != "" && x.Code != "" {
				r.out.Items = append(r.out.Items, x.item())
			}
		}
		if page.More && page.Next <= after {
			return fmt.Errorf("the tracker says that there is more after %d, and leads to %d", after, page.Next)
		}
		after = max(after, page.Next)
		if !page.More || len(r.out.Items) >= r.most() {
			break
		}
	}
	r.log("items after %d: %d moves", first, len(r.out.Items))
	r.out.Cursor = strconv.Itoa(after)
	return nil
}

func (x *move) item() feed.Item {
	it := feed.Item{Project: x.Project, Code: x.Code, Cells: map[string]string{}}
	for column, value := range map[string]string{"title": x.Title, "state": x.State, "iteration": x.Iteration, "owner": x.Owner,
		"points": x.Points.String(), "added": x.Added, "started": x.Started, "done_on": x.Done, "accepted": x.Accepted,
		"removed": x.Taken} {
		if value != "" {
			it.Cells[column] = value
		}
	}
	return it
}

// mostAsked is of how many records a tracker is asked at a time.
const mostAsked = 50

// records asks the tracker for the state of its records of these numbers. What it does not know it leaves out; what was not asked for is
// not taken.
func (r *run) records(numbers []string) error {
	for list := range slices.Chunk(numbers, mostAsked) {
		var page struct{ Records []feed.Told }
		if err := r.get("records", url.Values{"number": list}, &page); err != nil {
			return err
		}
		for _, x := range page.Records {
			if !slices.Contains(list, x.Number) {
				continue
			}
			x.State, x.Title = fault.Clip(strings.TrimSpace(x.State), 60), fault.Clip(strings.TrimSpace(x.Title), 200)
			r.out.Told = append(r.out.Told, x)
		}
	}
	if len(numbers) > 0 {
		r.log("asked for %d outside records, told of %d", len(numbers), len(r.out.Told))
	}
	return nil
}
