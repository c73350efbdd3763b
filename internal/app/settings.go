package app

import (
	"context"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strings"

	"turret/internal/core/health"
)

// Rhythm says how often an input is expected.
type Rhythm string

// The rhythms: in each period, once and then standing until it changes, or not at all.
const (
	EachPeriod Rhythm = "each period"
	Once       Rhythm = "once"
	Never      Rhythm = "never"
)

// Expectation is how often an input is expected, and how many working days after the as-of date it is due.
type Expectation struct {
	Kind   Kind   `json:"kind"`
	Rhythm Rhythm `json:"rhythm"`
	Due    int    `json:"due_working_days"`
}

// Limits are the tolerances of one level: all projects, or those below the node or the project of a code. Shares are fractions.
type Limits struct {
	Scope         string     `json:"scope"` // empty for all
	FinishShare   [2]float64 `json:"finish_share"`
	MilestoneDays [2]float64 `json:"milestone_days"`
	CostShare     [2]float64 `json:"cost_share"`
	SpentShare    [2]float64 `json:"spent_share"`
}

// FeedSetting is the connection to an outside system. Every of 0 runs it by hand only.
type FeedSetting struct {
	Name    string `json:"name"`
	Kind    string `json:"kind"`
	Address string `json:"address"`
	Every   int    `json:"every_hours"`
}

// Settings are what an installation decides. Tolerances stand from the widest scope to the narrowest; the narrowest holds.
type Settings struct {
	Organisation string            `json:"organisation"`
	Inputs       []Expectation     `json:"inputs"`
	NotExpected  map[string][]Kind `json:"not_expected"` // by project, besides the rhythm
	AskedOfLeads []Kind            `json:"asked_of_leads"`
	Tolerances   []Limits          `json:"tolerances"`
	GroupShare   float64           `json:"group_share"`
	LookAhead    int               `json:"look_ahead_days"`
	DateOrder    string            `json:"date_order"` // of files that leave it open: ymd, dmy, mdy, or empty to ask
	FirstWeekday int               `json:"first_weekday"`
	YearMonth    int               `json:"budget_year_begins_in"` // month of the calendar; 0 is January
	Feeds        []FeedSetting     `json:"feeds"`
	Version      int64             `json:"-"`
}

// DefaultSettings are those of a new installation.
func DefaultSettings() *Settings {
	d := health.Defaults()
	pair := func(t health.Tolerance) [2]float64 { return [2]float64{t.Watch, t.Act} }
	return &Settings{
		Inputs: []Expectation{{Activities, EachPeriod, 3}, {Budget, Once, 5}, {Forecast, EachPeriod, 5}, {Actuals, EachPeriod, 4},
			{Statuses, EachPeriod, 5}},
		NotExpected:  map[string][]Kind{},
		AskedOfLeads: []Kind{Activities, Links, Forecast, Statuses, Commitments, Changes},
		Tolerances:   []Limits{{"", pair(d.FinishShare), pair(d.MilestoneDays), pair(d.CostShare), pair(d.SpentShare)}},
		GroupShare:   d.GroupShare, LookAhead: LookAhead, Feeds: []FeedSetting{},
	}
}

// FieldError is a setting or a form's field that cannot be taken. It is found with errors.As.
type FieldError struct{ Field, Value, Expected string }

func (e *FieldError) Error() string {
	return fmt.Sprintf("%s: %q; expected %s", e.Field, Clip(e.Value, 80), e.Expected)
}

// Check refuses settings that make no sense.
func (s *Settings) Check() error {
	for _, in := range s.Inputs {
		if !slices.Contains([]Rhythm{EachPeriod, Once, Never}, in.Rhythm) {
			return &FieldError{"rhythm of " + string(in.Kind), string(in.Rhythm), "each period, once or never"}
		}
		if in.Due < 0 || in.Due > 60 {
			return &FieldError{"due of " + string(in.Kind), fmt.Sprint(in.Due), "0 to 60 working days"}
		}
		if !slices.Contains(MatrixKinds(), in.Kind) {
			return &FieldError{"input", string(in.Kind), fmt.Sprint("one of ", MatrixKinds())}
		}
	}
	for _, k := range s.AskedOfLeads {
		if !slices.Contains(Kinds(), k) {
			return &FieldError{"asked of leads", string(k), fmt.Sprint("one of ", Kinds())}
		}
	}
	if len(s.Tolerances) == 0 || s.Tolerances[0].Scope != "" {
		return &FieldError{"tolerances", "", "those of all projects first"}
	}
	seen := map[string]bool{}
	for _, l := range s.Tolerances {
		if seen[l.Scope] {
			return &FieldError{"tolerances", l.Scope, "each scope once"}
		}
		seen[l.Scope] = true
		if err := l.check(); err != nil {
			return err
		}
	}
	return s.checkPlain()
}

func (s *Settings) checkPlain() error {
	switch {
	case !(s.GroupShare > 0 && s.GroupShare <= 1):
		return &FieldError{"share that decides a group", fmt.Sprint(s.GroupShare), "above 0, at most 1"}
	case s.LookAhead < 1 || s.LookAhead > 250:
		return &FieldError{"look ahead", fmt.Sprint(s.LookAhead), "1 to 250 working days"}
	case !slices.Contains([]string{"", "ymd", "dmy", "mdy"}, s.DateOrder):
		return &FieldError{"date order", s.DateOrder, "ymd, dmy, mdy or none"}
	case s.FirstWeekday < 0 || s.FirstWeekday > 6:
		return &FieldError{"first weekday", fmt.Sprint(s.FirstWeekday), "0 for Monday to 6 for Sunday"}
	case s.YearMonth < 0 || s.YearMonth > 12:
		return &FieldError{"budget year begins in", fmt.Sprint(s.YearMonth), "a month from 1 to 12"}
	case len(s.Organisation) > 200:
		return &FieldError{"organisation", s.Organisation, "a shorter name"}
	}
	return nil
}

func (l *Limits) check() error {
	for name, t := range map[string][2]float64{"finish": l.FinishShare, "milestones": l.MilestoneDays, "cost": l.CostShare, "spent": l.SpentShare} {
		for _, v := range t {
			if math.IsNaN(v) || v < 0 || v > 10_000 {
				return &FieldError{"tolerance of " + name, fmt.Sprint(v), "0 or more"}
			}
		}
		if t[1] < t[0] {
			return &FieldError{"tolerance of " + name, fmt.Sprintf("watch %v, act %v", t[0], t[1]), "act at or above watch"}
		}
	}
	return nil
}

// tolerances are those that hold for all, and then by the code of each scope that has its own.
func (s *Settings) tolerances() map[string]health.Tolerances {
	by := map[string]health.Tolerances{}
	two := func(p [2]float64) health.Tolerance { return health.Tolerance{Watch: p[0], Act: p[1]} }
	for _, l := range s.Tolerances {
		by[l.Scope] = health.Tolerances{FinishShare: two(l.FinishShare), MilestoneDays: two(l.MilestoneDays),
			CostShare: two(l.CostShare), SpentShare: two(l.SpentShare), GroupShare: s.GroupShare}
	}
	return by
}

// Expected is the rhythm and due date of an input; a kind that is not listed is not expected.
func (s *Settings) Expected(k Kind) Expectation {
	for _, in := range s.Inputs {
		if in.Kind == k {
			return in
		}
	}
	return Expectation{Kind: k, Rhythm: Never}
}

// Settings reads the settings; anyone signed in may, since pages depend on them.
func (o *Office) Settings(ctx context.Context) (*Settings, error) {
	if _, err := permit(ctx, Read); err != nil {
		return nil, err
	}
	return o.settings(ctx)
}

func (o *Office) settings(ctx context.Context) (*Settings, error) { return settingsOf(ctx, o.store) }

func settingsOf(ctx context.Context, view Reading) (*Settings, error) {
	text, version, err := view.Settings(ctx)
	if err != nil {
		return nil, err
	}
	s := DefaultSettings()
	if text != "" {
		if err := json.Unmarshal([]byte(text), s); err != nil {
			return nil, fmt.Errorf("reading the settings: %w", err)
		}
	}
	if s.NotExpected == nil {
		s.NotExpected = map[string][]Kind{}
	}
	s.Version = version
	return s, nil
}

// SaveSettings replaces the settings, unless they were changed since the version in s: an error wrapping ErrConflict then.
func (o *Office) SaveSettings(ctx context.Context, s *Settings) error {
	if _, err := permit(ctx, ChangeSetup); err != nil {
		return err
	}
	return o.saveSettings(ctx, s, "change the settings")
}

func (o *Office) saveSettings(ctx context.Context, s *Settings, act string) error {
	if err := s.Check(); err != nil {
		return err
	}
	old, err := o.settings(ctx)
	if err != nil {
		return err
	}
	before, after, err := both(old, s)
	if err != nil || before == after {
		return err
	}
	was, is := differing(before, after)
	return o.store.SaveSettings(ctx, after, s.Version, o.note(ctx, act, "settings", was, is))
}

// differing cuts two JSON objects to the members in which they differ.
func differing(before, after string) (string, string) {
	var a, b map[string]json.RawMessage
	if json.Unmarshal([]byte(before), &a) != nil || json.Unmarshal([]byte(after), &b) != nil {
		return before, after
	}
	for k := range a {
		if string(a[k]) == string(b[k]) {
			delete(a, k)
			delete(b, k)
		}
	}
	was, is, err := both(a, b)
	if err != nil {
		return before, after
	}
	return was, is
}

func both(a, b any) (string, string, error) {
	x, err := json.Marshal(a)
	if err != nil {
		return "", "", err
	}
	y, err := json.Marshal(b)
	return string(x), string(y), err
}

// Expect says whether an input is expected of a project, as far as its rhythm asks for it at all.
func (o *Office) Expect(ctx context.Context, project string, kind Kind, expected bool) error {
	if _, err := permit(ctx, Remind); err != nil {
		return err
	}
	if !slices.Contains(MatrixKinds(), kind) {
		return fmt.Errorf("input %q: %w", kind, ErrNotFound)
	}
	s, err := o.settings(ctx)
	if err != nil {
		return err
	}
	list := slices.DeleteFunc(slices.Clone(s.NotExpected[project]), func(k Kind) bool { return k == kind })
	if !expected {
		list = append(list, kind)
	}
	changed := *s
	changed.NotExpected = map[string][]Kind{}
	for code, kinds := range s.NotExpected {
		changed.NotExpected[code] = kinds
	}
	changed.NotExpected[project] = list
	if len(list) == 0 {
		delete(changed.NotExpected, project)
	}
	return o.saveSettings(ctx, &changed, "change what is expected")
}

// ExportSettings writes the settings as one JSON file.
func (o *Office) ExportSettings(ctx context.Context) ([]byte, error) {
	if _, err := permit(ctx, ReadSetup); err != nil {
		return nil, err
	}
	s, err := o.settings(ctx)
	if err != nil {
		return nil, err
	}
	return json.MarshalIndent(s, "", "  ")
}

// ImportSettings replaces the settings by those of a JSON file; what it does not name stays as it is.
func (o *Office) ImportSettings(ctx context.Context, file []byte) error {
	if _, err := permit(ctx, ChangeSetup); err != nil {
		return err
	}
	s, err := o.settings(ctx)
	if err != nil {
		return err
	}
	d := json.NewDecoder(strings.NewReader(string(file)))
	d.DisallowUnknownFields()
	if err := d.Decode(s); err != nil {
		return &FieldError{"settings file", Clip(err.Error(), 200), "the JSON that Turret exports"}
	}
	return o.saveSettings(ctx, s, "import the settings")
}
