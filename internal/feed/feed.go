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
	case "schedule":
		err = r.schedule(cursor)
	case "work":
		if err = r.work(); err == nil {
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
		select {
		case <-r.ctx.Done():
			return r.ctx.Err()
		case <-time.After(time.Duration(n) * r.Wait):
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

// ledger fetches postings page by page after the last sequence number taken in. A row that comes twice is taken once.
func (r *run) ledger(cursor string) error {
	after, _ := strconv.Atoi(cursor)
	seen := map[int]bool{}
	var rows [][]string
	repeated := 0
	for range maxPages {
		var page struct {
			Postings []posting
			Next     int
			More     bool
		}
		if err := r.get("postings", url.Values{"after": {strconv.Itoa(after)}}, &page); err != nil {
			return err
		}
		for _, p := range page.Postings {
			if seen[p.Seq] {
				repeated++
				continue
			}
			seen[p.Seq] = true
			rows = append(rows, cells(record.Actuals, map[string]string{"project": p.Project, "cost_code": p.Account, "date": p.Date,
				"amount": p.Amount, "currency": p.Currency, "document": p.Voucher, "supplier": p.Supplier}))
		}
		r.log("postings after %d: %d rows", after, len(page.Postings))
		if page.Next < after {
			return fmt.Errorf("the ledger went back from %d to %d", after, page.Next)
		}
		if page.More && page.Next == after {
			return fmt.Errorf("the ledger says that there is more after %d, and leads to the same page", after)
		}
		after = page.Next
		if !page.More {
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
	return r.take(record.Actuals, rows)
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

// work counts the items of the tracker. There is no register of them yet that they could be taken into.
func (r *run) work() error {
	after, n := 0, 0
	points := map[string]int{}
	for range maxPages {
		var page struct {
			Items []struct {
				Project, State string
				Points         int
			}
			Next int
			More bool
		}
		if err := r.get("items", url.Values{"after": {strconv.Itoa(after)}}, &page); err != nil {
			return err
		}
		for _, i := range page.Items {
			n++
			points[i.Project] += i.Points
		}
		if page.More && page.Next <= after {
			return fmt.Errorf("the tracker says that there is more after %d, and leads to %d", after, page.Next)
		}
		after = page.Next
		if !page.More || n >= r.most() {
			break
		}
	}
	r.log("%d items seen in %d projects; Turret keeps no backlog yet, so none is taken in", n, len(points))
	return nil
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
