package web

import (
	"cmp"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"maps"
	"math"
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
	"turret/internal/core/health"
	"turret/internal/record"
)

func (s *Server) setupRoutes() {
	s.app.Get("/setup", s.setup)
	s.app.Get("/setup/settings", s.settings)
	s.app.Post("/setup/settings", s.saveSettings)
	s.app.Get("/setup/settings.json", s.exportSettings)
	s.app.Post("/setup/import", s.importSettings)
	s.app.Get("/setup/people", s.people)
	s.app.Get("/setup/people/:id", s.person)
	s.app.Post("/setup/people/:id", s.savePerson)
	s.app.Get("/setup/audit", s.audit)
}

type setupView struct {
	Page    page
	Parts   []setupPart
	Admin   bool
	Problem string
	Done    string
}

type setupPart struct{ Name, Href, Says string }

func (s *Server) setup(c fiber.Ctx) error { return s.showSetup(c, "", c.Query("done")) }

func (s *Server) showSetup(c fiber.Ctx, problem, done string) error {
	r, err := s.parse(c)
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
	v := setupView{Page: r.bare("Setup", "Setup"), Admin: actor.MayWhole(access.ChangeSetup), Problem: problem}
	if done != "" {
		v.Done = "The settings are taken over."
	}
	v.Parts = []setupPart{
		{"Structure", "/edit/structure", "portfolios and programmes"}, {"Projects", "/edit/projects", "names, leads, dates, status"},
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
	Page    page
	S       *setting.Settings
	Version int64
	Admin   bool
	Problem string
	Done    string
	Inputs  []inputView
	Steps   []inputView
	Asked   []askedView
	Limits  limitTable
	Group   string
	Weights []limitCell
	Dates   picker
	Weekday picker
	Periods picker
	Year    picker
	Scopes  []string
}

type inputView struct {
	Kind, Name string
	Rhythm     picker
	Due        int
}

type askedView struct {
	Kind, Name string
	Asked      bool
}

func (s *Server) settings(c fiber.Ctx) error {
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

func (s *Server) showSettings(c fiber.Ctx, set *setting.Settings, version int64, problem string, saved bool) error {
	r, err := s.parse(c)
	if err != nil {
		return err
	}
	v := settingsView{Page: r.bare("Settings", "Setup"), S: set, Version: version, Problem: problem,
		Admin: access.ActorOf(c.Context()).MayWhole(access.ChangeSetup), Group: share(set.GroupShare)}
	if saved {
		v.Done = "Saved. Every figure follows."
	}
	for _, k := range record.MatrixKinds() {
		e := set.Expected(k)
		v.Inputs = append(v.Inputs, inputView{string(k), k.Title(), choose("Expected", "rhythm-"+string(k), string(e.Rhythm),
			"each period", "each period", "once", "once, then until it changes", "never", "never"), e.Due})
	}
	for _, step := range setting.Steps() {
		v.Steps = append(v.Steps, inputView{Kind: string(step), Name: capital(string(step)), Due: set.StepDue(step)})
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
	v.Limits = limitTableOf(append(slices.Clone(set.Tolerances), setting.Limits{}))
	for _, d := range health.Dimensions() {
		v.Weights = append(v.Weights, limitCell{"weight-" + d.String(), "Weight of " + d.String(),
			strconv.FormatFloat(set.Weights[d.String()], 'f', -1, 64)})
	}
	v.Dates = choose("Dates of files that leave it open", "dates", set.DateOrder, "", "ask each time", "ymd", "year first", "dmy",
		"day first", "mdy", "month first")
	v.Weekday = choose("The week begins on", "weekday", strconv.Itoa(set.FirstWeekday), "0", "Monday", "5", "Saturday", "6", "Sunday")
	v.Periods = choose("Periods are", "periods", cmp.Or(set.Periods, "month"), "month", "months of the calendar", "four weeks",
		"four weeks", "week", "weeks, Monday to Sunday")
	v.Year = picker{Label: "The budget year begins in", Name: "year"}
	for m := 1; m <= 12; m++ {
		v.Year.Options = append(v.Year.Options, option{strconv.Itoa(m), time.Month(m).String(), m == max(set.YearMonth, 1)})
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

// share writes a fraction as a percentage, without the noise of binary fractions.
func share(f float64) string { return strconv.FormatFloat(math.Round(f*1e8)/1e6, 'f', -1, 64) }

func (s *Server) saveSettings(c fiber.Ctx) error {
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
	var field *fault.FieldError
	var state *fault.StateError
	switch {
	case errors.As(err, &field), errors.As(err, &state):
		return s.showSettings(c, set, set.Version, sentence(err.Error()), false)
	case errors.Is(err, fault.ErrConflict):
		return s.showSettings(c, set, now, "Somebody else changed the settings meanwhile. Yours are still here: save again to put "+
			"them in their place, or reload to see theirs.", false)
	case err != nil:
		return err
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/setup/settings?saved=1")
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
	group, err := percent(q.Get("group"), "share that decides a group")
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
	if err := weightsFrom(q, set); err != nil {
		return err
	}
	set.Tolerances, err = limitsFrom(q)
	return err
}

// percent reads a percentage as a fraction.
func percent(text, field string) (float64, error) {
	f, err := strconv.ParseFloat(strings.TrimSpace(strings.TrimSuffix(strings.Replace(text, ",", ".", 1), "%")), 64)
	if err != nil || math.IsNaN(f) || math.IsInf(f, 0) {
		return 0, &fault.FieldError{Field: field, Value: text, Expected: "a number such as 7.5"}
	}
	return f / 100, nil
}

func (s *Server) exportSettings(c fiber.Ctx) error {
	b, err := s.Office.Setting.Export(c.Context())
	if err != nil {
		return err
	}
	return s.download(c, "turret-settings.json", "application/json", append(b, '\n'))
}

func (s *Server) importSettings(c fiber.Ctx) error {
	took := false
	err := s.oneFile(c, func(_ string, body io.Reader) error {
		b, err := io.ReadAll(io.LimitReader(body, 1<<20))
		if err != nil {
			return err
		}
		if took = len(b) > 0; !took {
			return nil
		}
		return s.Office.Setting.Import(c.Context(), b)
	})
	var field *fault.FieldError
	switch {
	case !took && err == nil:
		return s.showSetup(c, "Choose a settings file first.", "")
	case errors.As(err, &field):
		return s.showSetup(c, sentence(field.Error()), "")
	case err != nil:
		return err
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/setup?done=1")
}

type peopleView struct {
	Page page
	Rows []personRow
}

type personRow struct {
	Href, Name, Login, Email, Role, Scopes string
	Money, SignsIn, Active                 string
}

func (s *Server) people(c fiber.Ctx) error {
	list, err := s.Office.Account.People(c.Context())
	if err != nil {
		return err
	}
	r, err := s.parse(c)
	if err != nil {
		return err
	}
	v := peopleView{Page: r.bare("People", "Setup")}
	for i := range list {
		a := &list[i]
		x := personRow{Href: fmt.Sprintf("/setup/people/%d", a.ID), Name: a.Name, Login: a.Login, Email: a.Email, Role: string(a.Role),
			Scopes: orElse(strings.Join(a.Scopes, ", "), "everything"), Money: "shown", SignsIn: "with a password", Active: "active"}
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
	Page    page
	A       account.Account
	Scopes  string
	Role    picker
	Problem string
	Codes   []string
}

func (s *Server) person(c fiber.Ctx) error {
	a := account.Account{Active: true, Role: access.Lead}
	list, err := s.Office.Account.People(c.Context())
	if err != nil {
		return err
	}
	if c.Params("id") != "new" {
		id, err := number(c, "id")
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

func (s *Server) showPerson(c fiber.Ctx, a account.Account, problem string) error {
	r, err := s.parse(c)
	if err != nil {
		return err
	}
	v := personView{Page: r.bare("Person", "Setup"), A: a, Scopes: strings.Join(a.Scopes, ", "), Problem: problem}
	v.Role = picker{Label: "Role", Name: "role"}
	for _, role := range access.Roles() {
		v.Role.Options = append(v.Role.Options, option{string(role), string(role), role == a.Role})
	}
	if problem != "" {
		c.Status(fiber.StatusUnprocessableEntity)
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	return c.Render("person", v)
}

func (s *Server) savePerson(c fiber.Ctx) error {
	f := func(name string) string { return strings.Clone(c.FormValue(name)) }
	a := account.Account{Login: f("login"), Name: f("name"), Email: f("email"), Role: access.Role(f("role")), HideMoney: f("hide") != "",
		Active: f("active") != ""}
	if c.Params("id") != "new" {
		id, err := number(c, "id")
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
	var field *fault.FieldError
	switch {
	case errors.As(err, &field):
		return s.showPerson(c, a, sentence(field.Error()))
	case errors.Is(err, fault.ErrConflict):
		return s.showPerson(c, a, "Somebody else changed this person meanwhile. What you typed is still here; reload to see theirs.")
	case err != nil:
		return err
	}
	if f("password") != "" || !a.Active { // whoever is signed in with the old one is not any longer
		but := int64(0)
		if v := visitOf(c); v != nil && v.account.ID == saved.ID {
			but = v.session.ID
		}
		if err := errors.Join(s.Sessions.EndOthers(c.Context(), saved.ID, but), s.Sessions.Release(c.Context(), saved.Login)); err != nil {
			return err
		}
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/setup/people")
}

type auditView struct {
	Page    page
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

func (s *Server) audit(c fiber.Ctx) error {
	r, err := s.parse(c)
	if err != nil {
		return err
	}
	q := audit.Query{Text: r.query.Get("text"), Who: r.query.Get("who"), Act: r.query.Get("act"), Limit: 100}
	q.Before, _ = strconv.ParseInt(r.query.Get("before"), 10, 64)
	list, err := s.Office.Audit.List(c.Context(), q)
	if err != nil {
		return err
	}
	v := auditView{Page: r.bare("Audit trail", "Setup"), Q: q}
	for i := range list {
		e := &list[i]
		v.Rows = append(v.Rows, auditRow{e.ID, when(e.At), e.Who, e.Act, e.Subject, fault.Clip(readable(e.Before), 600),
			fault.Clip(readable(e.After), 600), e.Digest[:12]})
	}
	if len(list) == q.Limit {
		v.Older = r.here("before", fmt.Sprint(list[len(list)-1].ID))
	}
	if r.query.Get("verify") != "" {
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
