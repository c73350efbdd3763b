package check

import (
	"fmt"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/condition"
	"turret/internal/app/edit"
	"turret/internal/app/judge"
	"turret/internal/app/setting"
	"turret/internal/core/check"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

type rulesView struct {
	page.SectionFrame
	Rows    []ruleRow
	Own     []ownRow
	May     bool
	Problem string
	Typed   condition.OwnCheck
	On      page.Picker
	Grade   page.Picker
	Names   []condition.Name
	Trial   *trialView
	Open    bool
}

type ruleRow struct {
	ID, Name, Says, Severity, Records, Mend string
	Tested, Failed                          string
	Href                                    string
	On                                      bool
	Limit, LimitName, Default               string
	HasLimit                                bool
	Was                                     page.Was
}

type ownRow struct {
	condition.OwnCheck
	On     bool
	Failed string
	Href   string
	Broken string
}

// trialView is what an own check would find.
type trialView struct {
	Text string
	Rows []findingRow
	More string
}

func (s *pages) checkRules(c fiber.Ctx) error {
	r, scope, err := s.ReadOpen(c)
	if err != nil {
		return err
	}
	typed := condition.OwnCheck{ID: r.Asked.Get("id"), Name: r.Asked.Get("name"), Severity: r.Asked.Get("grade"), On: r.Asked.Get("on"),
		Expression: r.Asked.Get("expression"), Mend: r.Asked.Get("mend")}
	var trial *judge.Trial
	var refused error
	if r.Asked.Get("try") != "" {
		trial, err = s.Office.Judge.Try(c.Context(), r.Figures, scope, typed)
		if refused = page.Refused(err); err != nil && refused == nil {
			return err
		}
	} else if typed.ID != "" {
		for _, x := range r.Figures.Settings.OwnChecks {
			if x.ID == typed.ID {
				typed = x
			}
		}
	}
	return s.showRules(c, r, scope, typed, trial, refused)
}

func (s *pages) showRules(c fiber.Ctx, r *page.Request, scope *assess.Scope, typed condition.OwnCheck, trial *judge.Trial,
	refused error) error {
	actor := access.ActorOf(c.Context())
	if !actor.May(access.ReadSetup) {
		return fmt.Errorf("checks: %w", access.ErrForbidden)
	}
	found, err := s.Office.Judge.CheckAhead(c.Context(), r.Figures, scope, page.MostSimulating)
	if err != nil {
		return err
	}
	v := rulesView{SectionFrame: checkFrame(r, "Checks", "Checks"), May: actor.MayWhole(access.Judge), Typed: typed,
		Open: typed.Expression != "" || typed.ID != "" || refused != nil || r.Asked.Get("try") != ""}
	v.Carry(r)
	v.rows(r, found)
	on := typed.On
	if on == "" {
		on = "project"
	}
	v.Names = page.ConditionNames(r.Figures, "")
	for _, x := range condition.Records() {
		for _, n := range condition.Names(x) {
			if strings.HasPrefix(n.Name, x+".") {
				v.Names = append(v.Names, n)
			}
		}
	}
	pairs := []string{}
	for _, x := range condition.Records() {
		pairs = append(pairs, x, x)
	}
	v.On = page.Choose("Looks at each", "on", on, pairs...)
	v.Grade = page.Choose("Severity", "grade", typed.Severity, "error", "error", "warning", "warning", "information", "information")
	if refused != nil {
		v.Problem = page.Sentence(refused.Error())
		c.Status(fiber.StatusUnprocessableEntity)
	}
	if trial != nil {
		v.Trial = &trialView{Text: "It would fail " + strconv.Itoa(len(trial.Found)) + " of " + strconv.Itoa(trial.Tested) +
			" records tested."}
		files, err := s.Office.Judge.LoadFiles(c.Context())
		if err != nil {
			return err
		}
		for i := range trial.Found {
			if i == fewFindings {
				v.Trial.More = write.Count(len(trial.Found)-i, "more record", "more records")
				break
			}
			v.Trial.Rows = append(v.Trial.Rows, findingRowOf(r, &trial.Found[i], files))
		}
	}
	off := 0
	for _, x := range v.Rows {
		if !x.On {
			off++
		}
	}
	v.Headline = []page.Spoken{{Text: write.Count(len(v.Rows), "check comes", "checks come") + " with Turret, " + strconv.Itoa(off) +
		" switched off; " +
		write.Count(len(v.Own), "own check", "own checks") + " beside them."}}
	c.Set(fiber.HeaderCacheControl, "no-store")
	return r.Answer("check-rules", &v.Page, &v)
}

func (v *rulesView) rows(r *page.Request, found *judge.Checked) {
	counts := map[string]check.Count{}
	for _, c := range found.Rules {
		counts[c.Rule.ID] = c
	}
	off := map[string]bool{}
	for _, id := range r.Figures.Settings.ChecksOff {
		off[id] = true
	}
	for _, rule := range check.Rules() {
		n := counts[rule.ID]
		x := ruleRow{ID: rule.ID, Name: rule.Name, Says: rule.Says, Severity: rule.Severity.String(), Records: rule.Records,
			Mend: rule.Mend, Tested: strconv.Itoa(n.Tested), Failed: strconv.Itoa(n.Failed),
			Href: r.To("/check", "check", rule.ID), On: !off[rule.ID]}
		if l := rule.Limit; l != nil {
			x.HasLimit, x.LimitName, x.Default = true, l.Name, l.LimitSays(l.Default)
			if l.Share {
				x.LimitName = l.Name + ", %"
			}
		}
		x.Was = ruleShown(r.Figures.Settings, rule.ID)
		x.Limit = x.Was["limit"]
		v.Rows = append(v.Rows, x)
	}
	for _, own := range r.Figures.Settings.OwnChecks {
		x := ownRow{OwnCheck: own, On: !off[own.ID], Failed: strconv.Itoa(counts[own.ID].Failed), Href: r.To("/check", "check", own.ID)}
		if _, err := condition.Compile(own.Expression, own.On); err != nil {
			x.Broken = err.Error()
		}
		v.Own = append(v.Own, x)
	}
}

// setCheck switches a check on or off, or sets its limit.
func (s *pages) setCheck(c fiber.Ctx) error {
	id := strings.Clone(c.FormValue("id"))
	set, err := s.ruleTyped(c, id)
	if refused := page.Refused(err); refused != nil {
		page.Tell(c, page.RefusedText(refused)+" Set it again to put yours in its place.")
		return page.Go(c, "/check/rules")
	}
	if err != nil {
		return err
	}
	on := set["on"] != ""
	var limit *float64
	if text := set["limit"]; text != "" {
		f, err := page.Percent(text, "limit")
		if err != nil {
			return err
		}
		if rule := check.Lookup(id); rule == nil || rule.Limit == nil || !rule.Limit.Share {
			f *= 100
		}
		limit = &f
	}
	if err := s.Office.Judge.SetCheck(c.Context(), id, on, limit); err != nil {
		return err
	}
	page.Tell(c, "The check “"+id+"” is "+map[bool]string{true: "on", false: "off"}[on]+".")
	return page.Go(c, "/check/rules")
}

// ruleShown is what the form of a check shows of it.
func ruleShown(set *setting.Settings, id string) page.Was {
	shown := page.Was{"on": "1"}
	if slices.Contains(set.ChecksOff, id) {
		shown["on"] = ""
	}
	rule := check.Lookup(id)
	if rule == nil || rule.Limit == nil {
		return shown
	}
	limit, ok := set.CheckLimits[id]
	if !ok {
		limit = rule.Limit.Default
	}
	shown["limit"] = strconv.FormatFloat(limit, 'f', -1, 64)
	if rule.Limit.Share {
		shown["limit"] = page.Share(limit)
	}
	return shown
}

// ruleTyped is what is to be of a check: what the form sends where somebody changed it, and what stands otherwise. What two changed is an
// *edit.Error.
func (s *pages) ruleTyped(c fiber.Ctx, id string) (map[string]string, error) {
	q, err := url.ParseQuery(string(c.Body()))
	if err != nil {
		return nil, fiber.NewError(fiber.StatusBadRequest, "The form cannot be read.")
	}
	was, err := page.WasOf(q)
	if err != nil {
		return nil, err
	}
	settings, err := s.Office.Setting.Get(c.Context())
	if err != nil {
		return nil, err
	}
	now := ruleShown(settings, id)
	typed := map[string]string{"on": ""}
	if q.Get("on") != "" {
		typed["on"] = "1"
	}
	if q.Has("limit") {
		typed["limit"] = strings.TrimSpace(q.Get("limit"))
	}
	set, err := edit.Meanwhile(was, now, typed)
	if err != nil {
		return nil, err
	}
	if _, changed := set["on"]; !changed {
		set["on"] = now["on"]
	}
	return set, nil
}

// ownCheck keeps an own check, or takes one away.
func (s *pages) ownCheck(c fiber.Ctx) error {
	x := condition.OwnCheck{ID: strings.TrimSpace(strings.Clone(c.FormValue("id"))),
		Name: strings.TrimSpace(strings.Clone(c.FormValue("name"))), Severity: strings.Clone(c.FormValue("grade")),
		On: strings.Clone(c.FormValue("on")), Expression: strings.TrimSpace(strings.Clone(c.FormValue("expression"))),
		Mend: strings.TrimSpace(strings.Clone(c.FormValue("mend")))}
	if c.FormValue("away") != "" {
		x = condition.OwnCheck{ID: x.ID}
	} else if x.Expression == "" {
		x.Expression = " " // an empty condition is refused, where none takes the check away
	}
	err := s.Office.Judge.SaveCheck(c.Context(), x)
	return page.AnsweredWith(c, err, "The check “"+x.ID+"” is "+map[bool]string{true: "saved", false: "taken away"}[x.Expression != ""]+".",
		"/check/rules", func(refused error) error {
			r, scope, err := s.ReadOpen(c)
			if err != nil {
				return err
			}
			return s.showRules(c, r, scope, x, nil, refused)
		})
}
