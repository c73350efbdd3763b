package setting

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"math"
	"net/url"
	"reflect"
	"slices"
	"strings"
	"unicode/utf8"

	"turret/internal/app/access"
	"turret/internal/app/condition"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/check"
	"turret/internal/core/health"
	"turret/internal/core/risk"
	"turret/internal/core/write"
	"turret/internal/record"
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
	Kind   record.Kind `json:"kind"`
	Rhythm Rhythm      `json:"rhythm"`
	Due    int         `json:"due_working_days"`
}

// Limits are the tolerances of one level: all projects, or those below the node or the project of a code. Shares are fractions. A
// kind of trigger that it does not name has the limits of the level above.
type Limits struct {
	Scope string                `json:"scope"`  // empty for all
	Of    map[string][2]float64 `json:"limits"` // watch and act by the key of the trigger
	Early *float64              `json:"early_share,omitempty"`
	Grace *int                  `json:"unplanned_after_days,omitempty"` // of narrower levels; see Settings
	Burn  string                `json:"burn_by,omitempty"`              // points or items; empty as the level above
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
	Organisation string                   `json:"organisation"`
	Address      string                   `json:"address,omitempty"` // at which people reach Turret, for links in messages
	Inputs       []Expectation            `json:"inputs"`
	NotExpected  map[string][]record.Kind `json:"not_expected"` // by project, besides the rhythm
	AskedOfLeads []record.Kind            `json:"asked_of_leads"`
	StepsDue     map[Step]int             `json:"steps_due_working_days,omitempty"` // after the as-of date
	Tolerances   []Limits                 `json:"tolerances"`
	GroupShare   float64                  `json:"group_share"`
	LookAhead    int                      `json:"look_ahead_days"`
	DateOrder    string                   `json:"date_order"` // of files that leave it open: ymd, dmy, mdy, or empty to ask
	FirstWeekday int                      `json:"first_weekday"`
	Periods      string                   `json:"periods,omitempty"`      // month, week or four weeks; empty is month
	PeriodsFrom  string                   `json:"periods_from,omitempty"` // a Monday on which one of four weeks begins
	YearMonth    int                      `json:"budget_year_begins_in"`  // month of the calendar; 0 is January
	Feeds        []FeedSetting            `json:"feeds"`

	Likelihood []float64 `json:"likelihood_percent,omitempty"` // probability of each likelihood from 1 to 5; none is as shipped

	OwnerNames map[string]string `json:"owner_names,omitempty"` // people by texts that stand for them as owners

	LikelihoodWords  []string `json:"likelihood_words,omitempty"`  // of the ratings from 1 to 5; none are as shipped
	ConsequenceWords []string `json:"consequence_words,omitempty"` // likewise

	StandardHours float64 `json:"standard_hours,omitempty"` // of a working day where a person has none; 0 is 8
	LoadFull      float64 `json:"load_full,omitempty"`      // share of the available hours from which somebody is full; 0 is 0.9
	LoadOver      float64 `json:"load_over,omitempty"`      // above which they are over; 0 is 1

	Grace      int    `json:"unplanned_after_days,omitempty"` // of an iteration, after which what comes is unplanned
	YearlyRate *int64 `json:"yearly_rate,omitempty"`          // of what money is worth a year later, hundredths of a percent; none is 4 %

	ProposalForm []FormPart `json:"proposal_form,omitzero"` // nil is as shipped

	LearnScore int  `json:"learn_from_score,omitempty"`       // lowest data score of a closed period that is learned from, 0 to 100
	LearnAny   bool `json:"learn_without_baseline,omitempty"` // also from closed periods in which a project had no baseline
	Triangular bool `json:"triangular_ranges,omitempty"`      // ranges of three points are triangles; else they are by PERT

	Weights     map[string]float64   `json:"weights,omitempty"` // of dimensions in the overall status; none takes the worst
	ChecksOff   []string             `json:"checks_off,omitempty"`
	CheckLimits map[string]float64   `json:"check_limits,omitempty"`
	OwnChecks   []condition.OwnCheck `json:"own_checks,omitempty"`

	Version int64 `json:"-"`
}

// DefaultSettings are those of a new installation.
func DefaultSettings() *Settings {
	d := health.Defaults()
	of := map[string][2]float64{}
	for _, r := range health.Rules() {
		of[r.Key] = [2]float64{r.Default.Watch, r.Default.Act}
	}
	return &Settings{
		Inputs: []Expectation{{record.Activities, EachPeriod, 3}, {record.Budget, Once, 5}, {record.Forecast, EachPeriod, 5},
			{record.Actuals, EachPeriod, 4},
			{record.Statuses, EachPeriod, 5}},
		NotExpected: map[string][]record.Kind{},
		AskedOfLeads: []record.Kind{record.Activities, record.Links, record.Forecast, record.Statuses, record.Commitments, record.Changes,
			record.Risks, record.Issues, record.Meetings, record.Decisions, record.Actions, record.Checklist, record.Lessons,
			record.Iterations, record.Backlog, record.Contacts, record.Documents, record.Discussion, record.Outside, record.Attachments},
		Tolerances: []Limits{{Of: of, Early: &d.Early}},
		GroupShare: d.GroupShare, LookAhead: LookAhead, Feeds: []FeedSetting{},
	}
}

// Check refuses settings that make no sense.
func (s *Settings) Check() error {
	for _, in := range s.Inputs {
		if !slices.Contains([]Rhythm{EachPeriod, Once, Never}, in.Rhythm) {
			return fault.Field("rhythm of "+string(in.Kind), string(in.Rhythm), "each period, once or never")
		}
		if in.Due < 0 || in.Due > 60 {
			return fault.Field("due of "+string(in.Kind), fmt.Sprint(in.Due), "0 to 60 working days")
		}
		if !slices.Contains(record.MatrixKinds(), in.Kind) {
			return fault.Field("input", string(in.Kind), fmt.Sprint("one of ", record.MatrixKinds()))
		}
	}
	for _, k := range s.AskedOfLeads {
		if !slices.Contains(record.Kinds(), k) {
			return fault.Field("asked of leads", string(k), fmt.Sprint("one of ", record.Kinds()))
		}
	}
	last := 0
	for _, step := range Steps() {
		n := s.StepDue(step)
		if n < last || n > 60 {
			return fault.Field("due of "+string(step), fmt.Sprint(n),
				fmt.Sprintf("%d to 60 working days: no step is due before the one ahead of it", last))
		}
		last = n
	}
	if len(s.Tolerances) == 0 || s.Tolerances[0].Scope != "" {
		return fault.Field("tolerances", "", "those of all projects first")
	}
	seen := map[string]bool{}
	for _, l := range s.Tolerances {
		if seen[l.Scope] {
			return fault.Field("tolerances", l.Scope, "each scope once")
		}
		seen[l.Scope] = true
		if err := l.Check(); err != nil {
			return err
		}
	}
	if err := errors.Join(s.checkAssessing(), s.checkLikelihood()); err != nil {
		return err
	}
	return s.checkPlain()
}

func (s *Settings) checkAssessing() error {
	for name, w := range s.Weights {
		if d, ok := health.ParseDimension(name); !ok || d == health.Overall || !(w >= 0 && w <= 1000) {
			return fault.Field("weight of "+name, fmt.Sprint(w), "0 to 1000 for a dimension")
		}
	}
	for _, id := range s.ChecksOff {
		if check.Lookup(id) == nil && !slices.ContainsFunc(s.OwnChecks, func(x condition.OwnCheck) bool { return x.ID == id }) {
			return fault.Field("check", id, "the id of a check")
		}
	}
	for id, v := range s.CheckLimits {
		if r := check.Lookup(id); r == nil || r.Limit == nil || !(v >= 0 && v <= 1e6) {
			return fault.Field("limit of check "+id, fmt.Sprint(v), "a number of 0 or more, of a check that has a limit")
		}
	}
	if err := s.checkForm(); err != nil {
		return err
	}
	return s.checkOwn()
}

// noWord reports whether a word of likelihood or consequence is none, or longer than 40 letters.
func noWord(w string) bool { return w == "" || utf8.RuneCountInString(w) > 40 }

func (s *Settings) checkLikelihood() error {
	for field, words := range map[string][]string{"likelihood_words": s.LikelihoodWords, "consequence_words": s.ConsequenceWords} {
		if n := len(words); n != 0 && n != 5 || slices.ContainsFunc(words, noWord) {
			return fault.Field(field, fault.Clip(strings.Join(words, ", "), 80), "five words, the least first, each of at most 40 letters")
		}
	}
	list := s.Likelihood
	wrong := len(list) != 0 && (len(list) != len(risk.DefaultScale) || !slices.IsSorted(list) || list[len(list)-1] == 0)
	for _, p := range list {
		wrong = wrong || !(p >= 0 && p <= 100)
	}
	if wrong {
		return fault.Field("probabilities of likelihoods", fmt.Sprint(list),
			"five percentages from 0 to 100, none below the one before and the last above 0")
	}
	return nil
}

// OwnerOf is the person that an owner's text stands for: the one it was matched to, else the text itself.
func (s *Settings) OwnerOf(text string) string {
	if name, ok := s.OwnerNames[text]; ok {
		return name
	}
	return text
}

// mostOwners bounds how many texts are matched.
const mostOwners = 2000

// MatchOwner has a text stand for a person as the owner of records; an empty person takes that back.
func (o *Office) MatchOwner(ctx context.Context, text, person string) error {
	if _, err := access.PermitWhole(ctx, access.Send); err != nil {
		return err
	}
	if text == "" || utf8.RuneCountInString(text) > 200 || utf8.RuneCountInString(person) > 200 {
		return fault.Field("owner", fault.Clip(text, 40), "a text that stands as owner, of at most 200 letters")
	}
	s, err := o.Now(ctx)
	if err != nil {
		return err
	}
	next := *s
	next.OwnerNames = maps.Clone(s.OwnerNames)
	if next.OwnerNames == nil {
		next.OwnerNames = map[string]string{}
	}
	if next.OwnerNames[text] = person; person == "" {
		delete(next.OwnerNames, text)
	}
	if len(next.OwnerNames) > mostOwners {
		return fault.Field("owner", fault.Clip(text, 40), fmt.Sprintf("at most %d texts that stand for people", mostOwners))
	}
	return o.Keep(ctx, &next, "match an owner")
}

// LikelihoodNames are the words of the likelihoods from 1 to 5.
func (s *Settings) LikelihoodNames() []string {
	if len(s.LikelihoodWords) == 5 {
		return s.LikelihoodWords
	}
	return []string{"rare", "unlikely", "possible", "likely", "expected"}
}

// ConsequenceNames are the words of the consequences from 1 to 5.
func (s *Settings) ConsequenceNames() []string {
	if len(s.ConsequenceWords) == 5 {
		return s.ConsequenceWords
	}
	return []string{"slight", "small", "middling", "large", "severe"}
}

// Scale is the probability of each likelihood of risks.
func (s *Settings) Scale() risk.Scale {
	scale := risk.DefaultScale
	if len(s.Likelihood) == len(scale) {
		for i, p := range s.Likelihood {
			scale[i] = int64(math.Round(p * 100))
		}
	}
	return scale
}

func (s *Settings) checkPlain() error {
	switch {
	case !(s.GroupShare > 0 && s.GroupShare <= 1):
		return fault.Field("share that decides a group", fmt.Sprint(s.GroupShare), "above 0, at most 1")
	case !(s.StandardHours >= 0 && s.StandardHours <= 24):
		return fault.Field("hours of a working day", fmt.Sprint(s.StandardHours), "more than 0, at most 24")
	case !(s.LoadFull >= 0 && s.LoadOver >= 0 && s.LoadOver <= 10) || s.LoadLimits().Full > s.LoadLimits().Over:
		return fault.Field("load", fmt.Sprint(s.LoadFull*100),
			"a share from which somebody is full that is not above the one from which they are over")
	case s.LookAhead < 1 || s.LookAhead > 250:
		return fault.Field("look ahead", fmt.Sprint(s.LookAhead), "1 to 250 working days")
	case !slices.Contains([]string{"", "ymd", "dmy", "mdy"}, s.DateOrder):
		return fault.Field("date order", s.DateOrder, "ymd, dmy, mdy or none")
	case s.FirstWeekday < 0 || s.FirstWeekday > 6:
		return fault.Field("first weekday", fmt.Sprint(s.FirstWeekday), "0 for Monday to 6 for Sunday")
	case !slices.Contains([]string{"", "month", "week", "four weeks"}, s.Periods):
		return fault.Field("periods", s.Periods, "month, week or four weeks")
	case s.Periods == "four weeks" && !isMonday(s.PeriodsFrom):
		return fault.Field("periods from", s.PeriodsFrom, "a Monday on which one of four weeks begins, as YYYY-MM-DD")
	case s.YearMonth < 0 || s.YearMonth > 12:
		return fault.Field("budget year begins in", fmt.Sprint(s.YearMonth), "a month from 1 to 12")
	case s.LearnScore < 0 || s.LearnScore > 100:
		return fault.Field("learned from a data score of", fmt.Sprint(s.LearnScore), "0 to 100")
	case s.Grace < 0 || s.Grace > mostGrace:
		return fault.Field("unplanned after", fmt.Sprint(s.Grace), fmt.Sprintf("0 to %d days", mostGrace))
	case s.Rate() < -5_000 || s.Rate() > 10_000:
		return fault.Field("yearly rate", fmt.Sprint(float64(s.Rate())/100), "-50 to 100 %")
	case s.Address != "" && !isAddress(s.Address):
		return fault.Field("address", s.Address, "an address such as https://turret.example.org")
	case len(s.Organisation) > 200:
		return fault.Field("organisation", s.Organisation, "a shorter name")
	}
	return nil
}

func isMonday(text string) bool {
	d, err := calendar.ParseDate(text)
	return err == nil && d.Weekday() == 0
}

// usualRate is 4 %.
const usualRate = 400

// Rate is by how much less money is worth a year later, in hundredths of a percent.
func (s *Settings) Rate() int64 {
	if s.YearlyRate == nil {
		return usualRate
	}
	return *s.YearlyRate
}

// Cycle is how reporting periods follow each other.
func (s *Settings) Cycle() calendar.Cycle {
	switch s.Periods {
	case "week":
		return calendar.Weeks
	case "four weeks":
		from, _ := calendar.ParseDate(s.PeriodsFrom) // Check holds it to be one
		return calendar.FourWeeksFrom(from)
	}
	return calendar.Months
}

// mostGrace bounds after how many days of an iteration what comes is unplanned.
const mostGrace = 365

// Check refuses tolerances that no trigger has or that cannot be.
func (l *Limits) Check() error {
	for key, pair := range l.Of {
		rule, ok := health.RuleOf(key)
		if !ok {
			return fault.Field("tolerance", key, "the key of a trigger")
		}
		if err := rule.Check(health.Tolerance{Watch: pair[0], Act: pair[1]}); err != nil {
			return fault.Field("tolerance of "+write.Within(rule.Name), fmt.Sprintf("watch %v, act %v", pair[0],
				pair[1]), err.Error())
		}
	}
	if e := l.Early; e != nil && !(*e >= 0 && *e <= 1) {
		return fault.Field("early stage", fmt.Sprint(*e), "0 to 100 %")
	}
	if g := l.Grace; g != nil && (*g < 0 || *g > mostGrace) {
		return fault.Field("unplanned after", fmt.Sprint(*g), fmt.Sprintf("0 to %d days", mostGrace))
	}
	if l.Burn != "" && l.Burn != "points" && l.Burn != "items" {
		return fault.Field("backlogs are drawn by", fault.Clip(l.Burn, 40), "points or items")
	}
	return nil
}

// Over puts the limits over those of the level above.
func (l *Limits) Over(t health.Tolerances) health.Tolerances {
	for key, pair := range l.Of {
		if rule, ok := health.RuleOf(key); ok {
			t.Of[rule.Kind] = health.Tolerance{Watch: pair[0], Act: pair[1]}
		}
	}
	if l.Early != nil {
		t.Early = *l.Early
	}
	return t
}

// Whole are the tolerances that hold for all projects.
func (s *Settings) Whole() health.Tolerances {
	t := health.Defaults()
	t.GroupShare = s.GroupShare
	for _, d := range health.Dimensions() {
		t.Weights[d] = s.Weights[d.String()]
	}
	return s.Tolerances[0].Over(t)
}

// LimitsOf are the limits of the levels that have their own, by the code of the scope.
func (s *Settings) LimitsOf() map[string]*Limits {
	by := map[string]*Limits{}
	for i := range s.Tolerances[1:] {
		by[s.Tolerances[1+i].Scope] = &s.Tolerances[1+i]
	}
	return by
}

// Checks are the options of the checks.
func (s *Settings) Checks() check.Options {
	opt := check.Options{Off: map[string]bool{}, Limits: s.CheckLimits}
	for _, id := range s.ChecksOff {
		opt.Off[id] = true
	}
	return opt
}

// Expected is the rhythm and due date of an input; a kind that is not listed is not expected.
func (s *Settings) Expected(k record.Kind) Expectation {
	for _, in := range s.Inputs {
		if in.Kind == k {
			return in
		}
	}
	return Expectation{Kind: k, Rhythm: Never}
}

// Get reads the settings; anyone signed in may, since pages depend on them.
func (o *Office) Get(ctx context.Context) (*Settings, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	return o.Now(ctx)
}

// Now is what is set, whoever asks.
func (o *Office) Now(ctx context.Context) (*Settings, error) { return Of(ctx, o.store) }

// Of reads the settings that a reading holds.
func Of(ctx context.Context, view kept.Reading) (*Settings, error) {
	text, version, err := view.Settings(ctx)
	if err != nil {
		return nil, err
	}
	s, err := parseSettings(text)
	if err != nil {
		return nil, fmt.Errorf("reading the settings: %w", err)
	}
	s.Version = version
	return s, nil
}

// parseSettings reads settings as they are kept; an empty text is the default.
func parseSettings(text string) (*Settings, error) {
	s := DefaultSettings()
	if text != "" {
		if err := s.take([]byte(text), false); err != nil {
			return nil, err
		}
	}
	if s.NotExpected == nil {
		s.NotExpected = map[string][]record.Kind{}
	}
	return s, nil
}

// take puts the members that a JSON object names in the place of those there, each as a whole: decoded over what is there, lists would be
// merged by position. Strict refuses names that are no settings.
func (s *Settings) take(object []byte, strict bool) error {
	var named map[string]json.RawMessage
	if err := json.Unmarshal(object, &named); err != nil {
		return err
	}
	var fresh Settings
	d := json.NewDecoder(bytes.NewReader(object))
	if strict {
		d.DisallowUnknownFields()
	}
	if err := d.Decode(&fresh); err != nil {
		return err
	}
	for name, value := range named { // names are told apart as the decoder does it
		named[strings.ToLower(name)] = value
	}
	from, to := reflect.ValueOf(&fresh).Elem(), reflect.ValueOf(s).Elem()
	for i := range to.NumField() {
		name, _, _ := strings.Cut(to.Type().Field(i).Tag.Get("json"), ",")
		if _, ok := named[name]; ok {
			to.Field(i).Set(from.Field(i))
		}
	}
	return nil
}

// Save replaces the settings, unless they were changed since the version in s: an error wrapping ErrConflict then.
func (o *Office) Save(ctx context.Context, s *Settings) error {
	if _, err := access.PermitWhole(ctx, access.ChangeSetup); err != nil {
		return err
	}
	return o.Keep(ctx, s, "change the settings")
}

// Keep checks and keeps settings; the act names what was done in the trail. The cycle of periods changes only while nothing has come.
func (o *Office) Keep(ctx context.Context, s *Settings, act string) error {
	if err := s.Check(); err != nil {
		return err
	}
	old, err := o.Now(ctx)
	if err != nil {
		return err
	}
	before, after, err := Both(old.Plain(), s.Plain())
	secrets := s.secrets(old)
	if err != nil || before == after && len(secrets) == 0 {
		return err
	}
	if old.Cycle() != s.Cycle() {
		if err := o.cycleFree(ctx); err != nil {
			return err
		}
	}
	was, is := differing(before, after)
	return o.store.SaveSettings(ctx, after, s.Version, secrets, o.audit.Entry(ctx, act, "settings", was, is))
}

// cycleFree says why the cycle of periods cannot change: what came stands for periods of the one there is.
func (o *Office) cycleFree(ctx context.Context) error {
	loads, err := o.store.Loads(ctx)
	if err != nil {
		return err
	}
	closings, err := o.store.Closings(ctx)
	if err != nil {
		return err
	}
	if len(loads)+len(closings) > 0 {
		return fault.Conflict("periods stay as they are: %d loads came and %d periods were closed by them; an installation where "+
			"nothing has "+
			"come yet can choose", len(loads), len(closings))
	}
	return nil
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
	was, is, err := Both(a, b)
	if err != nil {
		return before, after
	}
	return was, is
}

// Both writes two values as JSON, for the trail.
func Both(a, b any) (string, string, error) {
	x, err := json.Marshal(a)
	if err != nil {
		return "", "", err
	}
	y, err := json.Marshal(b)
	return string(x), string(y), err
}

// Export writes the settings as one JSON file.
func (o *Office) Export(ctx context.Context) ([]byte, error) {
	if _, err := access.Permit(ctx, access.ReadSetup); err != nil {
		return nil, err
	}
	s, err := o.Now(ctx)
	if err != nil {
		return nil, err
	}
	return json.MarshalIndent(s.Plain(), "", "  ")
}

// Import replaces the settings by those of a JSON file; what it does not name stays as it is.
func (o *Office) Import(ctx context.Context, file []byte) error {
	if _, err := access.PermitWhole(ctx, access.ChangeSetup); err != nil {
		return err
	}
	s, err := o.Now(ctx)
	if err != nil {
		return err
	}
	if err := s.take(file, true); err != nil {
		return fault.Field("settings file", fault.Clip(err.Error(), 200), "the JSON that Turret exports")
	}
	return o.Keep(ctx, s, "import the settings")
}

// isAddress reports whether links can begin with a text.
func isAddress(s string) bool {
	u, err := url.Parse(s)
	return err == nil && len(s) <= 200 && (u.Scheme == "http" || u.Scheme == "https") && u.Host != "" && u.RawQuery == "" &&
		u.Fragment == ""
}

// maxOwn bounds how many own checks there are.
const maxOwn = 100

func (s *Settings) checkOwn() error {
	if len(s.OwnChecks) > maxOwn {
		return fault.Field("own checks", fmt.Sprint(len(s.OwnChecks)), fmt.Sprintf("at most %d", maxOwn))
	}
	seen := map[string]bool{}
	for _, x := range s.OwnChecks {
		if seen[x.ID] || check.Lookup(x.ID) != nil {
			return fault.Field("id", x.ID, "an id that no other check has")
		}
		seen[x.ID] = true
		if _, err := x.Ready(); err != nil {
			return err
		}
	}
	return nil
}

// LookAhead is the number of working days within which a milestone to come is due.
const LookAhead = 20

// MaxPanelText bounds what people write on a page or its notice, in characters.
const MaxPanelText = 2000
