package feed

import (
	"context"
	"errors"
	"fmt"
	"net/url"
	"regexp"
	"slices"
	"sort"
	"strings"
	"time"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/app/setting"
	"turret/internal/core/write"
)

// Run is one run of a feed.
type Run struct {
	ID                 int64
	Feed               string
	StartedAt, EndedAt time.Time
	State              string // running, done, failed
	Cursor             string // where to go on, as the outside system wrote it
	Rows               int
	Load               int64 // 0 where nothing was loaded
	Log                string
}

// Pulled is what came from an outside system.
type Pulled struct {
	Files  []*kept.File
	Cursor string   // where to go on next time
	Log    []string // what happened, line by line
	Told   []Told
	Items  []Item
}

// Told is what an outside system says of one of its own records, which a record here hangs together with.
type Told struct{ Number, Title, State string }

// Puller fetches from outside systems. An error leaves what was fetched before it in Pulled, for the log.
type Puller interface {
	// Numbers are those of outside records whose state is asked for, where the system keeps such.
	Pull(ctx context.Context, feed setting.FeedSetting, cursor string, numbers ...string) (*Pulled, error)
}

// State is a feed with its last run, nil where it never ran.
type State struct {
	setting.FeedSetting
	Last *Run
}

// List lists the feeds.
func (o *Office) List(ctx context.Context) ([]State, error) {
	if _, err := access.PermitWhole(ctx, access.RunFeeds); err != nil {
		return nil, err
	}
	s, err := o.setting.Now(ctx)
	if err != nil {
		return nil, err
	}
	runs, err := o.store.LastFeedRuns(ctx)
	if err != nil {
		return nil, err
	}
	o.honest(runs)
	var list []State
	for _, f := range s.Plain().Feeds {
		x := State{FeedSetting: f}
		for i := range runs {
			if runs[i].Feed == f.Name {
				x.Last = &runs[i]
			}
		}
		list = append(list, x)
	}
	return list, nil
}

// honest marks runs that are said to be running and are not: Turret ended in the middle of them.
func (o *Office) honest(runs []Run) {
	o.fed.Lock()
	defer o.fed.Unlock()
	for i := range runs {
		if r := &runs[i]; r.State == "running" && !o.feeding[r.Feed] {
			r.State = "broken off"
		}
	}
}

// Kinds are the kinds of outside systems.
func Kinds() []string { return []string{"ledger", "schedule", "work", "hours"} }

func check(f *setting.FeedSetting) error {
	u, err := url.Parse(f.Address)
	switch {
	case !feedName.MatchString(f.Name):
		return fault.Field("name", f.Name, "1 to 40 small letters, digits and hyphens")
	case !slices.Contains(Kinds(), f.Kind):
		return fault.Field("kind", f.Kind, fmt.Sprint("one of ", Kinds()))
	case err != nil || u.Scheme != "http" && u.Scheme != "https" || u.Host == "":
		return fault.Field("address", f.Address, "an address such as http://127.0.0.1:8091")
	case f.Every < 0 || f.Every > 24*31:
		return fault.Field("every", fmt.Sprint(f.Every), "0 (by hand) to 744 hours")
	}
	return nil
}

var feedName = regexp.MustCompile(`^[a-z0-9][a-z0-9-]{0,39}$`)

// Save adds or replaces the feed of a name, or removes it.
func (o *Office) Save(ctx context.Context, f setting.FeedSetting, remove bool) error {
	if _, err := access.PermitWhole(ctx, access.ChangeSetup); err != nil {
		return err
	}
	if err := check(&f); err != nil && !remove {
		return err
	}
	s, err := o.setting.Now(ctx)
	if err != nil {
		return err
	}
	s.Feeds = slices.DeleteFunc(slices.Clone(s.Feeds), func(x setting.FeedSetting) bool { return x.Name == f.Name })
	if !remove {
		s.Feeds = append(s.Feeds, f)
	}
	sort.Slice(s.Feeds, func(i, j int) bool { return s.Feeds[i].Name < s.Feeds[j].Name })
	return o.setting.Keep(ctx, s, "change the feeds")
}

// Runs lists the last runs of a feed, newest first.
func (o *Office) Runs(ctx context.Context, name string) ([]Run, error) {
	if _, err := o.feed(ctx, name); err != nil {
		return nil, err
	}
	runs, err := o.store.FeedRuns(ctx, name, 50)
	o.honest(runs)
	return runs, err
}

func (o *Office) feed(ctx context.Context, name string) (*setting.FeedSetting, error) {
	if _, err := access.PermitWhole(ctx, access.RunFeeds); err != nil {
		return nil, err
	}
	s, err := o.setting.Now(ctx)
	if err != nil {
		return nil, err
	}
	for i := range s.Feeds {
		if s.Feeds[i].Name == name {
			return &s.Feeds[i], nil
		}
	}
	return nil, fmt.Errorf("feed %q: %w", fault.Clip(name, 40), fault.ErrNotFound)
}

// Start begins a run of a feed and returns at once. A feed that is running is not begun a second time.
func (o *Office) Start(ctx context.Context, from Puller, name string) error {
	f, run, err := o.beginFeed(ctx, from, name)
	if err == nil {
		go func() { _ = o.runFeed(context.WithoutCancel(ctx), from, f, run) }() // its error stands in the run's log
	}
	return err
}

// Run runs a feed to its end.
func (o *Office) Run(ctx context.Context, from Puller, name string) (*Run, error) {
	f, run, err := o.beginFeed(ctx, from, name)
	if err != nil {
		return nil, err
	}
	return run, o.runFeed(ctx, from, f, run)
}

func (o *Office) beginFeed(ctx context.Context, from Puller, name string) (*setting.FeedSetting, *Run, error) {
	f, err := o.feed(ctx, name)
	if err != nil {
		return nil, nil, err
	}
	if from == nil {
		return nil, nil, fmt.Errorf("feeds: %w", fault.ErrNotFound)
	}
	o.fed.Lock()
	defer o.fed.Unlock()
	if o.feeding[name] {
		return nil, nil, fmt.Errorf("feed %s is running: %w", name, fault.ErrConflict)
	}
	run := &Run{Feed: name, StartedAt: o.now(), State: "running"}
	if run.Cursor, err = o.cursor(ctx, name); err != nil {
		return nil, nil, err
	}
	if err := o.store.SaveFeedRun(ctx, run); err != nil {
		return nil, nil, err
	}
	o.feeding[name] = true
	return f, run, nil
}

// cursor is where a feed goes on: behind its last run whose load stands, so that what a withdrawn load brought is fetched again.
func (o *Office) cursor(ctx context.Context, name string) (string, error) {
	runs, err := o.store.FeedRuns(ctx, name, 1000)
	if err != nil {
		return "", err
	}
	loads, err := o.store.Loads(ctx)
	if err != nil {
		return "", err
	}
	withdrawn, brought := map[int64]bool{}, map[string]int64{}
	for i := range loads {
		l := &loads[i]
		withdrawn[l.ID] = l.Withdrawn()
		if l.Source == source(name) && brought[l.Note] == 0 { // the newest of a run, as its end would name it
			brought[l.Note] = l.ID
		}
	}
	cursor, found := "", false
	for _, r := range runs { // newest first; runs that found nothing new stand or fall with the load before them
		if load := brought[r.name()]; r.State == "running" && load != 0 { // broken off after its load: not fetched again
			r.State, r.Load = "done", load
		}
		switch {
		case r.State != "done":
		case withdrawn[r.Load]:
			cursor, found = "", false
		default:
			if !found {
				cursor, found = r.Cursor, true
			}
			if r.Load != 0 {
				return cursor, nil
			}
		}
	}
	return cursor, nil
}

// source is what is said of loads that a feed brought; name is what is noted of those of a run.
func source(feed string) string { return "feed " + feed }
func (r *Run) name() string     { return fmt.Sprint("the feed's run ", r.ID) }

// longestRun bounds a run; what it did not come to is for the next one.
const longestRun = 30 * time.Minute

// runFeed pulls, takes in what came as one load, and only then moves the cursor: a run that breaks leaves everything as it
// was and the next one begins where this one did.
func (o *Office) runFeed(ctx context.Context, from Puller, f *setting.FeedSetting, run *Run) error {
	defer func() {
		o.fed.Lock()
		delete(o.feeding, f.Name)
		o.fed.Unlock()
	}()
	var pulled *Pulled
	at, err := o.setting.Reached(ctx, *f)
	if err == nil {
		limited, stop := context.WithTimeout(ctx, longestRun)
		defer stop()
		var numbers []string
		if numbers, err = o.numbers(limited, f.Kind); err == nil {
			pulled, err = pull(limited, from, at, run.Cursor, numbers)
		}
	}
	log := []string{}
	if pulled != nil {
		log = pulled.Log
	}
	before := run.Cursor
	if err == nil {
		err = o.takeItems(ctx, run, pulled.Items, &log)
	}
	if err == nil {
		err = o.takePulled(ctx, f, run, pulled, &log)
	}
	if err == nil {
		err = o.takeTold(ctx, run, pulled.Told, &log)
	}
	run.EndedAt, run.State = o.now(), "done"
	if err != nil {
		run.State, run.Cursor = "failed", before
		log = append(log, "failed: "+fault.Clip(err.Error(), 4000), "nothing was changed; the next run begins at the same place")
	}
	run.Log = strings.Join(log, "\n")
	return errors.Join(err, o.store.SaveFeedRun(ctx, run))
}

// pull asks the outside system; should reading its answers break, that is an error like any other.
func pull(ctx context.Context, from Puller, f setting.FeedSetting, cursor string, numbers []string) (p *Pulled, err error) {
	defer func() {
		if r := recover(); r != nil {
			err = fmt.Errorf("reading what %s sent broke off: %v", f.Name, r)
		}
	}()
	return from.Pull(ctx, f, cursor, numbers...)
}

func (o *Office) takePulled(ctx context.Context, f *setting.FeedSetting, run *Run, p *Pulled, log *[]string) error {
	var files []*kept.File
	for _, file := range p.Files {
		known, err := o.store.LoadOf(ctx, file.Kind, file.Digest)
		if err != nil {
			return err
		}
		switch {
		case file.Len() == 0:
		case known != nil:
			*log = append(*log, fmt.Sprintf("%s: the same as load %d, not taken again", file.Name, known.ID))
		default:
			files = append(files, file)
		}
	}
	run.Cursor = p.Cursor
	if len(files) > 0 {
		if err := o.store.SaveFeedRun(ctx, run); err != nil { // so that a run broken off after its load is known to have got here
			return err
		}
		r, err := o.intake.Import(ctx, files, intake.Origin{Source: source(f.Name), Author: source(f.Name), Note: run.name()})
		if err != nil {
			return err
		}
		for i, l := range r.Loads {
			run.Load, run.Rows = l.ID, run.Rows+l.Rows
			*log = append(*log, fmt.Sprintf("load %d: %s of %s", l.ID, write.Count(l.Rows, "row", "rows"), files[i].Kind.Title()))
		}
		for _, w := range r.Warnings {
			*log = append(*log, "warning: "+w.String())
		}
	} else if run.Rows == 0 {
		*log = append(*log, "nothing new")
	}
	return nil
}

// longAgo reports whether a run began so long ago, or while the clock was ahead.
func (r *Run) longAgo(now time.Time, span time.Duration) bool {
	ago := now.Sub(r.StartedAt)
	return ago >= span || ago < -span
}

// Due lists the feeds whose time has come.
func (o *Office) Due(ctx context.Context) ([]string, error) {
	list, err := o.List(ctx)
	var due []string
	for _, f := range list {
		if f.Every > 0 && (f.Last == nil || f.Last.longAgo(o.now(), time.Duration(f.Every)*time.Hour)) {
			due = append(due, f.Name)
		}
	}
	return due, err
}
