package lookout

import (
	"net/url"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/condition"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/lookout"
	"turret/internal/core/calendar"
	"turret/internal/web/page"
)

type arrangeView struct {
	Page     page.Page
	Headline []page.Spoken
	Rows     []arrangeRow
	Names    []condition.Name
	Own      bool
	MayRole  bool
	Roles    []page.Option
	Problem  string
	Saved    string
	Notice   string
	Until    string
	Was      page.Was // the notice that stands
	Asked    string
}

type arrangeRow struct {
	Key, Name      string
	On             bool
	Widths         []page.Option
	Measures, Text bool
	Say, Usual     string
}

func (s *pages) arrange(c fiber.Ctx) error { return s.showArrange(c, nil, "") }

func (s *pages) showArrange(c fiber.Ctx, typed []lookout.Panel, problem string) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	list, own, err := s.Office.Lookout.Panels(c.Context())
	if err != nil {
		return err
	}
	if typed != nil {
		list = typed
	}
	v := arrangeView{Page: r.Page("Arrange Lookout", "Lookout"), Own: own, Problem: problem, Names: page.MeasureNames(r.Figures),
		Asked:    r.AskedFor(),
		Headline: []page.Spoken{{Text: "Lookout as you want it: choose its parts, their order and their width."}}}
	if problem != "" {
		c.Status(fiber.StatusUnprocessableEntity)
	}
	v.Saved = map[string]string{"own": "Saved.", "back": "Lookout is as usual for your role again.",
		"role": "Saved for everybody of the role who has not chosen otherwise.", "notice": "The notice is saved."}[r.Asked.Get("saved")]
	actor := access.ActorOf(c.Context())
	if v.MayRole = actor.MayWhole(access.Judge); v.MayRole {
		for _, role := range access.Roles() {
			v.Roles = append(v.Roles, page.Option{Value: string(role), Text: "every " + string(role), Selected: false})
		}
		n, err := s.Office.Setting.Notice(c.Context(), s.Today())
		if err != nil {
			return err
		}
		v.Until = (s.Today() + 14).String()
		v.Was = noticeShown("", "")
		if n != nil {
			v.Notice, v.Until = n.Text, n.Until.String()
			v.Was = noticeShown(v.Notice, v.Until)
		}
		if problem != "" && strings.HasSuffix(c.Path(), "/notice") {
			v.Notice, v.Until = strings.Clone(c.FormValue("text")), strings.Clone(c.FormValue("until"))
		}
	}
	if err := v.rows(r, list); err != nil {
		return err
	}
	return r.Answer("arrange", &v.Page, &v)
}

func (v *arrangeView) rows(r *page.Request, list []lookout.Panel) error {
	views, err := r.Server.Office.Saved.Views(r.Context())
	if err != nil {
		return err
	}
	names := map[string]string{}
	for _, x := range views {
		names[strconv.FormatInt(x.ID, 10)] = x.Name
	}
	seen := map[string]bool{}
	add := func(p lookout.Panel, on bool) {
		key := p.Key()
		if seen[key] {
			return
		}
		seen[key] = true
		row := arrangeRow{Key: key, On: on, Say: p.Say}
		sort := lookout.PanelKindOf(p.Kind)
		if sort == nil {
			if row.Name = "Table: " + names[p.Of]; names[p.Of] == "" {
				return
			}
		} else {
			row.Name, row.Measures, row.Text, row.Usual = sort.Name, sort.Measures > 0, sort.Text, sort.Usual
			if sort.Several > 0 {
				row.Name += " " + p.Of
			}
		}
		for _, w := range lookout.PanelWidths() {
			row.Widths = append(row.Widths, page.Option{Value: w, Text: w, Selected: w == p.Wide})
		}
		v.Rows = append(v.Rows, row)
	}
	for _, p := range list {
		add(p, true)
	}
	for _, sort := range lookout.PanelKinds() {
		add(lookout.Panel{Kind: sort.Kind, Of: map[bool]string{true: "1"}[sort.Several > 0], Wide: sort.Wide}, false)
		for n := 2; n <= sort.Several; n++ {
			add(lookout.Panel{Kind: sort.Kind, Of: strconv.Itoa(n), Wide: sort.Wide}, false)
		}
	}
	for _, x := range views {
		add(lookout.Panel{Kind: lookout.TablePanel, Of: strconv.FormatInt(x.ID, 10), Wide: "whole"}, false)
	}
	return nil
}

func (s *pages) saveArranged(c fiber.Ctx) error {
	r, err := s.Parse(c)
	if err != nil {
		return err
	}
	q, err := url.ParseQuery(string(c.Body()))
	if err != nil {
		return fiber.NewError(fiber.StatusBadRequest, "The form cannot be read.")
	}
	saved := "own"
	list, err := lookout.ParsePanels(q)
	switch do := q.Get("do"); {
	case do == "back":
		saved, err = "back", s.Office.Lookout.EndPanels(c.Context())
	case err != nil:
	case do == "role":
		saved, err = "role", s.Office.Lookout.SaveRolePanels(c.Context(), access.Role(q.Get("role")), list)
	default:
		err = s.Office.Lookout.SavePanels(c.Context(), list)
	}
	if refused := page.Refused(err); refused != nil {
		return s.showArrange(c, typedPanels(q), page.Sentence(refused.Error()))
	}
	if err != nil {
		return err
	}
	if saved == "own" {
		return page.Go(c, r.To("/"))
	}
	return page.Go(c, r.To("/lookout/arrange", "saved", saved))
}

func typedPanels(q url.Values) []lookout.Panel {
	list := []lookout.Panel{}
	for _, key := range q["panel"] {
		kind, of, _ := strings.Cut(key, ".")
		list = append(list, lookout.Panel{Kind: kind, Of: of, Wide: q.Get("wide." + key), Say: q.Get("say." + key)})
	}
	return list
}

func (s *pages) saveNotice(c fiber.Ctx) error {
	r, err := s.Parse(c)
	if err != nil {
		return err
	}
	err = s.noticed(c)
	return page.Answered(c, err, r.To("/lookout/arrange", "saved", "notice"),
		func(refused error) error { return s.showArrange(c, nil, page.RefusedText(refused)) })
}

// noticeShown is the notice that stands, as one thing with its day.
func noticeShown(text, until string) page.Was {
	if text = edit.Plain(text); text != "" {
		text += ", until " + until
	}
	return page.Was{"notice": text}
}

// noticed saves the notice that a form sends, unless somebody else wrote another one meanwhile.
func (s *pages) noticed(c fiber.Ctx) error {
	q, err := url.ParseQuery(string(c.Body()))
	if err != nil {
		return fiber.NewError(fiber.StatusBadRequest, "The form cannot be read.")
	}
	was, err := page.WasOf(q)
	if err != nil {
		return err
	}
	n, err := s.Office.Setting.Notice(c.Context(), s.Today())
	if err != nil {
		return err
	}
	now := noticeShown("", "")
	if n != nil {
		now = noticeShown(n.Text, n.Until.String())
	}
	set, err := edit.Meanwhile(was, now, noticeShown(q.Get("text"), q.Get("until")))
	if err != nil || len(set) == 0 {
		return err
	}
	until, err := calendar.ParseDate(q.Get("until"))
	if err != nil && q.Get("text") != "" {
		return &fault.FieldError{Field: "until", Value: fault.Clip(q.Get("until"), 40), Expected: "a day as YYYY-MM-DD"}
	}
	return s.Office.Setting.SaveNotice(c.Context(), q.Get("text"), until, s.Today())
}
