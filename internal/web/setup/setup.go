// Package setup holds the pages of settings, people and the trail.
package setup

import (
	"cmp"
	"embed"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"maps"
	"net/url"
	"slices"
	"sort"
	"strconv"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/account"
	"turret/internal/app/audit"
	"turret/internal/app/fault"
	"turret/internal/app/setting"
	"turret/internal/core/cost"
	"turret/internal/core/health"
	"turret/internal/core/money"
	"turret/internal/core/write"
	"turret/internal/record"

	"turret/internal/web/assess"
	"turret/internal/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// pages are those of one server.
type pages struct{ *page.Server }

// Routes adds the addresses of settings, people and the trail.
func Routes(base *page.Server) {
	s := &pages{base}
	s.Show(templates)
	s.App.Get("/setup", s.setup)
	s.App.Get("/setup/settings", s.settings)
	s.App.Post("/setup/settings", s.saveSettings)
	s.App.Get("/setup/settings.json", s.exportSettings)
	s.App.Post("/setup/import", s.importSettings)
	s.App.Get("/setup/people", s.people)
	s.App.Get("/setup/people/:id", s.person)
	s.App.Post("/setup/people/:id", s.savePerson)
	s.App.Get("/setup/audit", s.audit)
}

type setupView struct {
	Page    page.Page
	Parts   []setupPart
	Admin   bool
	Problem string
	Done    string
}

type setupPart struct{ Name, Href, Says string }

func (s *pages) setup(c fiber.Ctx) error { return s.showSetup(c, "", c.Query("done")) }

func (s *pages) showSetup(c fiber.Ctx, problem, done string) error {
	r, err := s.Parse(c)
	if err != nil {
		return err
	}
	actor := access.ActorOf(c.Context())
	if actor == nil {
		return access.ErrSignedOut
	}
	if !actor.May(access.ReadSetup) {
		return fmt.Errorf("settings: %w", access.ErrForbidden)
	}
	v := setupView{Page: r.Page("Setup", "Setup"), Admin: actor.MayWhole(access.ChangeSetup), Problem: problem}
	if done != "" {
		v.Done = "The settings are taken over."
	}
	v.Parts = []setupPart{
		{"Structure", "/edit/structure", "portfolios and programmes"}, {"Projects", "/edit/projects", "names, leads, dates, status"},
		{"Own fields", "/edit/own_fields", "what you want to know of projects beyond what everybody asks"},
		{"Cost codes", "/edit/cost_codes", "the tree that amounts are booked on"},
		{"Calendars", "/edit/calendars", "working days, with a view of the year"},
		{"Rates", "/edit/rates", "currencies and their rates by month"},
		{"Periods, tolerances, locale", "/setup/settings", "what is expected when, limits by level, dates and amounts"},
	}
	if actor.MayWhole(access.RunFeeds) {
		v.Parts = append(v.Parts, setupPart{"Feeds", "/feeds", "outside systems and when they are asked"})
	}
	if actor.MayWhole(access.ManageUsers) {
		v.Parts = append(v.Parts, setupPart{"People", "/setup/people", "who may do what, and addresses for reminders"})
	}
	if len(actor.Scopes) == 0 && !actor.HideMoney {
		v.Parts = append(v.Parts, setupPart{"Audit trail", "/setup/audit", "who did what to which record"})
	}
	if problem != "" {
		c.Status(fiber.StatusUnprocessableEntity)
	}
	return c.Render("setup", v)
}

type settingsView struct {
	Page    page.Page
	S       *setting.Settings
	Version int64
	Admin   bool
	Problem string
	Done    string
	Inputs  []inputView
	Steps   []inputView
	Asked   []askedView
	Limits  assess.LimitTable
	Group   string
	Weights []assess.LimitCell
	Dates   page.Picker
	Weekday page.Picker
	Periods page.Picker
	Year    page.Picker
	Scopes  []string

	Likelihood string // probabilities of likelihoods in percent

	LikelihoodWords, ConsequenceWords string // parted by commas
	StandardHours, LoadFull, LoadOver string
	YearlyRate                        string
}

type inputView struct {
	Kind, Name string
	Rhythm     page.Picker
	Due        int
}

type askedView struct {
	Kind, Name string
	Asked      bool
}

func (s *pages) settings(c fiber.Ctx) error {
	if !access.ActorOf(c.Context()).May(access.ReadSetup) {
		if access.ActorOf(c.Context()) == nil {
			return access.ErrSignedOut
		}
		return fmt.Errorf("settings: %w", access.ErrForbidden)
	}
	set, err := s.Office.Setting.Get(c.Context())
	if err != nil {
		return err
	}
	return s.showSettings(c, set, set.Version, "", c.Query("saved") != "")
}

func (s *pages) showSettings(c fiber.Ctx, set *setting.Settings, version int64, problem string, saved bool) error {
	r, err := s.Parse(c)
	if err != nil {
		return err
	}
	v := settingsView{Page: r.Page("Settings", "Setup"), S: set, Version: version, Problem: problem,
		Admin: access.ActorOf(c.Context()).MayWhole(access.ChangeSetup), Group: page.Share(set.GroupShare)}
	if saved {
		v.Done = "Saved. Every figure follows."
	}
	for i, p := range likelihoods(set) {
		v.Likelihood += map[bool]string{true: ", "}[i > 0] + strconv.FormatFloat(p, 'f', -1, 64)
	}
	number := func(x float64) string { return strconv.FormatFloat(x, 'f', -1, 64) }
	v.YearlyRate = money.Plain(set.Rate(), 2)
	v.StandardHours = number(float64(set.DayHours()) / cost.HourUnits)
	v.LoadFull, v.LoadOver = number(float64(set.LoadLimits().Full)/100), number(float64(set.LoadLimits().Over)/100)
	v.LikelihoodWords = strings.Join(set.LikelihoodNames(), ", ")
	v.ConsequenceWords = strings.Join(set.ConsequenceNames(), ", ")
	for _, k := range record.MatrixKinds() {
		e := set.Expected(k)
		v.Inputs = append(v.Inputs, inputView{string(k), k.Title(), page.Choose("Expected", "rhythm-"+string(k), string(e.Rhythm),
			"each period", "each period", "once", "once, then until it changes", "never", "never"), e.Due})
	}
	for _, step := range setting.Steps() {
		v.Steps = append(v.Steps, inputView{Kind: string(step), Name: write.Capital(string(step)), Due: set.StepDue(step)})
	}
	asked := map[record.Kind]bool{}
	for _, k := range set.AskedOfLeads {
		asked[k] = true
	}
	for _, k := range record.Kinds() {
		if k.PerProject() {
			v.Asked = append(v.Asked, askedView{string(k), k.Title(), asked[k]})
		}
	}
	v.Limits = assess.LimitTableOf(append(slices.Clone(set.Tolerances), setting.Limits{}))
	for _, d := range health.Dimensions() {
		v.Weights = append(v.Weights, assess.LimitCell{Name: "weight-" + d.String(), Label: "Weight of " + d.String(),
			Value: strconv.FormatFloat(set.Weights[d.String()], 'f', -1, 64)})
	}
	v.Dates = page.Choose("Dates of files that leave it open", "dates", set.DateOrder, "", "ask each time", "ymd", "year first", "dmy",
		"day first", "mdy", "month first")
	v.Weekday = page.Choose("The week begins on", "weekday", strconv.Itoa(set.FirstWeekday), "0", "Monday", "5", "Saturday", "6", "Sunday")
	v.Periods = page.Choose("Periods are", "periods", cmp.Or(set.Periods, "month"), "month", "months of the calendar", "four weeks",
		"four weeks", "week", "weeks, Monday to Sunday")
	v.Year = page.Picker{Label: "The budget year begins in", Name: "year"}
	for m := 1; m <= 12; m++ {
		v.Year.Options = append(v.Year.Options, page.Option{Value: strconv.Itoa(m), Text: time.Month(m).String(),
			Selected: m == max(set.YearMonth, 1)})
	}
	if g, err := s.Office.Edit.Grid(c.Context(), record.Structure, ""); err == nil {
		for _, row := range g.Rows {
			v.Scopes = append(v.Scopes, row[0])
		}
	}
	if problem != "" {
		c.Status(fiber.StatusUnprocessableEntity)
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	return c.Render("settings", v)
}

func (s *pages) saveSettings(c fiber.Ctx) error {
	if !access.ActorOf(c.Context()).MayWhole(access.ChangeSetup) {
		return fmt.Errorf("settings: %w", access.ErrForbidden)
	}
	q, err := url.ParseQuery(string(c.Body()))
	if err != nil {
		return fiber.NewError(fiber.StatusBadRequest, "The form cannot be read.")
	}
	set, err := s.Office.Setting.Get(c.Context())
	if err != nil {
		return err
	}
	now := set.Version
	if set.Version, err = strconv.ParseInt(q.Get("version"), 10, 64); err != nil {
		return fiber.NewError(fiber.StatusBadRequest, "The form cannot be read.")
	}
	if err = settingsFrom(q, set); err == nil {
		err = s.Office.Setting.Save(c.Context(), set)
	}
	refused := page.Refused(err)
	switch {
	case refused != nil:
		return s.showSettings(c, set, set.Version, page.Sentence(refused.Error()), false)
	case errors.Is(err, fault.ErrConflict):
		return s.showSettings(c, set, now, "Somebody else changed the settings meanwhile. Yours are still here: save again to put "+
			"them in their place, or reload to see theirs.", false)
	case err != nil:
		return err
	}
	return page.Go(c, "/setup/settings?saved=1")
}

func settingsFrom(q url.Values, set *setting.Settings) error {
	set.Organisation = strings.TrimSpace(q.Get("organisation"))
	steps := maps.Clone(set.StepsDue)
	if steps == nil {
		steps = map[setting.Step]int{}
	}
	for _, step := range setting.Steps() {
		if text := strings.TrimSpace(q.Get("step-" + string(step))); text != "" {
			n, err := strconv.Atoi(text)
			if err != nil {
				return &fault.FieldError{Field: "due of " + string(step), Value: text, Expected: "a number of working days"}
			}
			if n != set.StepDue(step) {
				steps[step] = n
			}
		}
	}
	if len(steps) > 0 {
		set.StepsDue = steps
	}
	set.Address = strings.TrimRight(strings.TrimSpace(q.Get("address")), "/")
	set.DateOrder = q.Get("dates")
	var err error
	if set.FirstWeekday, err = strconv.Atoi(q.Get("weekday")); err != nil {
		return &fault.FieldError{Field: "first weekday", Value: q.Get("weekday"), Expected: "a day of the week"}
	}
	if q.Has("periods") {
		set.Periods, set.PeriodsFrom = q.Get("periods"), ""
		if set.Periods == "month" {
			set.Periods = "" // as it stands where nobody has said so
		}
		if set.Periods == "four weeks" {
			set.PeriodsFrom = strings.TrimSpace(q.Get("periods-from"))
		}
	}
	if q.Has("year") {
		if set.YearMonth, err = strconv.Atoi(q.Get("year")); err != nil {
			return &fault.FieldError{Field: "budget year begins in", Value: q.Get("year"), Expected: "a month from 1 to 12"}
		}
		if set.YearMonth == 1 {
			set.YearMonth = 0 // as it stands where nobody has said so
		}
	}
	if set.LookAhead, err = strconv.Atoi(q.Get("lookahead")); err != nil {
		return &fault.FieldError{Field: "look ahead", Value: q.Get("lookahead"), Expected: "working days"}
	}
	if set.Likelihood, err = likelihoodsFrom(q.Get("likelihood")); err != nil {
		return err
	}
	if err := hoursFrom(q, set); err != nil {
		return err
	}
	if err := aheadFrom(q, set); err != nil {
		return err
	}
	if err := worthFrom(q, set); err != nil {
		return err
	}
	shipped := setting.DefaultSettings()
	set.LikelihoodWords = wordsFrom(q.Get("likelihood_words"), shipped.LikelihoodNames())
	set.ConsequenceWords = wordsFrom(q.Get("consequence_words"), shipped.ConsequenceNames())
	group, err := page.Percent(q.Get("group"), "share that decides a group")
	if err != nil {
		return err
	}
	set.GroupShare = group
	set.Inputs, set.AskedOfLeads = nil, []record.Kind{}
	for _, k := range record.MatrixKinds() {
		due, err := strconv.Atoi(q.Get("due-" + string(k)))
		if err != nil {
			return &fault.FieldError{Field: "due of " + k.Title(), Value: q.Get("due-" + string(k)),
				Expected: "working days after the as-of date"}
		}
		set.Inputs = append(set.Inputs, setting.Expectation{Kind: k, Rhythm: setting.Rhythm(q.Get("rhythm-" + string(k))), Due: due})
	}
	for _, k := range record.Kinds() {
		if q.Get("asked-"+string(k)) != "" {
			set.AskedOfLeads = append(set.AskedOfLeads, k)
		}
	}
	if err := assess.WeightsFrom(q, set); err != nil {
		return err
	}
	set.Tolerances, err = assess.LimitsFrom(q)
	return err
}

// likelihoodsFrom are the probabilities of likelihoods as typed; none for those that ship.
func likelihoodsFrom(text string) ([]float64, error) {
	var list []float64
	for _, x := range strings.FieldsFunc(text, func(r rune) bool { return r == ',' || r == ';' || r == ' ' || r == '%' }) {
		p, err := strconv.ParseFloat(x, 64)
		if err != nil {
			return nil, &fault.FieldError{Field: "probabilities of likelihoods", Value: fault.Clip(text, 60),
				Expected: "five percentages such as 5, 20, 40, 60, 85"}
		}
		list = append(list, p)
	}
	if slices.Equal(list, likelihoods(setting.DefaultSettings())) {
		return nil, nil // as it stands where nobody has said so
	}
	return list, nil
}

// wordsFrom reads words parted by commas; none where they are as shipped, so that it stands as where nobody has said so.
func wordsFrom(text string, shipped []string) []string {
	var list []string
	for _, w := range strings.Split(text, ",") {
		list = append(list, strings.TrimSpace(w))
	}
	if strings.TrimSpace(text) == "" || slices.Equal(list, shipped) {
		return nil
	}
	return list
}

// likelihoods are the probabilities of likelihoods in percent.
func likelihoods(s *setting.Settings) []float64 {
	var list []float64
	for _, p := range s.Scale() {
		list = append(list, float64(p)/100)
	}
	return list
}

func (s *pages) exportSettings(c fiber.Ctx) error {
	b, err := s.Office.Setting.Export(c.Context())
	if err != nil {
		return err
	}
	return s.Deliver(c, "turret-settings.json", "application/json", append(b, '\n'))
}

func (s *pages) importSettings(c fiber.Ctx) error {
	took := false
	err := s.OneFile(c, func(_ string, body io.Reader) error {
		b, err := io.ReadAll(io.LimitReader(body, 1<<20))
		if err != nil {
			return err
		}
		if took = len(b) > 0; !took {
			return nil
		}
		return s.Office.Setting.Import(c.Context(), b)
	})
	refused := page.Refused(err)
	switch {
	case !took && err == nil:
		return s.showSetup(c, "Choose a settings file first.", "")
	case refused != nil:
		return s.showSetup(c, page.Sentence(refused.Error()), "")
	case err != nil:
		return err
	}
	return page.Go(c, "/setup?done=1")
}

type peopleView struct {
	Page page.Page
	Rows []personRow
}

type personRow struct {
	Href, Name, Login, Email, Role, Scopes string
	Money, SignsIn, Active                 string
}

func (s *pages) people(c fiber.Ctx) error {
	list, err := s.Office.Account.People(c.Context())
	if err != nil {
		return err
	}
	r, err := s.Parse(c)
	if err != nil {
		return err
	}
	v := peopleView{Page: r.Page("People", "Setup")}
	for i := range list {
		a := &list[i]
		x := personRow{Href: fmt.Sprintf("/setup/people/%d", a.ID), Name: a.Name, Login: a.Login, Email: a.Email, Role: string(a.Role),
			Scopes: cmp.Or(strings.Join(a.Scopes, ", "), "everything"), Money: "shown", SignsIn: "with a password", Active: "active"}
		if a.Role == access.Lead {
			x.Scopes = strings.TrimSuffix("projects led, "+strings.Join(a.Scopes, ", "), ", ")
		}
		if a.HideMoney {
			x.Money = "hidden"
		}
		if a.Password == "" {
			x.SignsIn = "not yet"
		}
		if !a.Active {
			x.Active = "not active"
		}
		v.Rows = append(v.Rows, x)
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	return c.Render("people", v)
}

type personView struct {
	Page    page.Page
	A       account.Account
	Scopes  string
	Role    page.Picker
	Problem string
	Codes   []string
}

func (s *pages) person(c fiber.Ctx) error {
	a := account.Account{Active: true, Role: access.Lead}
	list, err := s.Office.Account.People(c.Context())
	if err != nil {
		return err
	}
	if c.Params("id") != "new" {
		id, err := page.Number(c, "id")
		if err != nil {
			return err
		}
		for i := range list {
			if list[i].ID == id {
				a = list[i]
			}
		}
		if a.ID == 0 {
			return fiber.ErrNotFound
		}
	}
	return s.showPerson(c, a, "")
}

func (s *pages) showPerson(c fiber.Ctx, a account.Account, problem string) error {
	r, err := s.Parse(c)
	if err != nil {
		return err
	}
	v := personView{Page: r.Page("Person", "Setup"), A: a, Scopes: strings.Join(a.Scopes, ", "), Problem: problem}
	v.Role = page.Picker{Label: "Role", Name: "role"}
	for _, role := range access.Roles() {
		v.Role.Options = append(v.Role.Options, page.Option{Value: string(role), Text: string(role), Selected: role == a.Role})
	}
	if problem != "" {
		c.Status(fiber.StatusUnprocessableEntity)
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	return c.Render("person", v)
}

func (s *pages) savePerson(c fiber.Ctx) error {
	f := func(name string) string { return strings.Clone(c.FormValue(name)) }
	a := account.Account{Login: f("login"), Name: f("name"), Email: f("email"), Role: access.Role(f("role")), HideMoney: f("hide") != "",
		Active: f("active") != ""}
	if c.Params("id") != "new" {
		id, err := page.Number(c, "id")
		if err != nil {
			return err
		}
		a.ID = id
	}
	a.Version, _ = strconv.ParseInt(f("version"), 10, 64)
	for _, code := range strings.FieldsFunc(f("scopes"), func(r rune) bool { return r == ',' || r == '\n' }) {
		if code = strings.TrimSpace(code); code != "" {
			a.Scopes = append(a.Scopes, code)
		}
	}
	saved, err := s.Office.Account.SaveAccount(c.Context(), a, f("password"))
	refused := page.Refused(err)
	switch {
	case refused != nil:
		return s.showPerson(c, a, page.Sentence(refused.Error()))
	case errors.Is(err, fault.ErrConflict):
		return s.showPerson(c, a, "Somebody else changed this person meanwhile. What you typed is still here; reload to see theirs.")
	case err != nil:
		return err
	}
	if f("password") != "" || !a.Active { // whoever is signed in with the old one is not any longer
		but := int64(0)
		if v := page.VisitOf(c); v != nil && v.Account.ID == saved.ID {
			but = v.Session.ID
		}
		if err := errors.Join(s.Sessions.EndOthers(c.Context(), saved.ID, but), s.Sessions.Release(c.Context(), saved.Login)); err != nil {
			return err
		}
	}
	page.Tell(c, a.Name+" is saved.")
	return page.Go(c, "/setup/people")
}

type auditView struct {
	Page    page.Page
	Rows    []auditRow
	Q       audit.Query
	Verdict string
	Broken  bool
	Older   string
}

type auditRow struct {
	ID                                           int64
	At, Who, Act, Subject, Before, After, Digest string
}

func (s *pages) audit(c fiber.Ctx) error {
	r, err := s.Parse(c)
	if err != nil {
		return err
	}
	q := audit.Query{Text: r.Asked.Get("text"), Who: r.Asked.Get("who"), Act: r.Asked.Get("act"), Limit: 100}
	q.Before, _ = strconv.ParseInt(r.Asked.Get("before"), 10, 64)
	list, err := s.Office.Audit.List(c.Context(), q)
	if err != nil {
		return err
	}
	v := auditView{Page: r.Page("Audit trail", "Setup"), Q: q}
	for i := range list {
		e := &list[i]
		v.Rows = append(v.Rows, auditRow{e.ID, page.When(e.At), e.Who, e.Act, e.Subject, fault.Clip(readable(e.Before), 600),
			fault.Clip(readable(e.After), 600), e.Digest[:12]})
	}
	if len(list) == q.Limit {
		v.Older = r.Here("before", fmt.Sprint(list[len(list)-1].ID))
	}
	if r.Asked.Get("verify") != "" {
		found, err := s.Office.Audit.Verify(c.Context())
		if err != nil {
			return err
		}
		v.Verdict = fmt.Sprintf("The chain of %d entries is whole.", found.Entries)
		if v.Broken = found.Broken != 0 || len(found.Wrong) > 0; v.Broken {
			v.Verdict = strings.Join(found.Wrong, "; ")
		}
		if found.Broken != 0 {
			v.Verdict = strings.TrimSuffix(fmt.Sprintf("The chain is broken at entry %d; %s", found.Broken, v.Verdict), "; ")
		}
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	return c.Render("audit", v)
}

// readable writes a JSON object line by line, its texts plain.
func readable(s string) string {
	var object map[string]json.RawMessage
	if !strings.HasPrefix(s, "{") || json.Unmarshal([]byte(s), &object) != nil {
		return s
	}
	var lines []string
	for k, v := range object {
		var text string
		if json.Unmarshal(v, &text) != nil {
			text = string(v)
		}
		lines = append(lines, k+": "+text)
	}
	sort.Strings(lines)
	return strings.Join(lines, "\n")
}
