// Package draft holds the pages of files that are not loaded yet.
package draft

import (
	"bytes"
	"cmp"
	"embed"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"mime/multipart"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/draft"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/job"
	"turret/internal/app/kept"
	"turret/internal/app/load"
	"turret/internal/app/setting"
	"turret/internal/core/calendar"
	"turret/internal/record"
	"turret/internal/web/account"
	"turret/internal/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// pages are those of one server.
type pages struct{ *page.Server }

// Routes adds the addresses of files that are not loaded yet.
func Routes(base *page.Server) {
	s := &pages{base}
	s.Show(templates)
	s.App.Get("/gather/load", s.drop)
	s.App.Post("/gather/drafts", s.Limited(60), s.receive)
	s.App.Get("/gather/drafts/:id", s.draft)
	s.App.Post("/gather/drafts/:id", s.remap)
	s.App.Get("/gather/drafts/:id/consequences", s.consequences)
	s.App.Get("/gather/drafts/:id/problems.csv", s.problems)
	s.App.Get("/gather/drafts/:id/corrected/:sheet", s.corrected)
	s.App.Post("/gather/drafts/:id/load", s.loadDraft)
	s.App.Get("/gather/drafts/:id/progress", s.progress)
	s.App.Post("/gather/drafts/:id/stop", s.stopLoad)
	s.App.Post("/gather/drafts/:id/discard", s.discard)
}

type dropView struct {
	Page    page.Page
	Period  page.PeriodField
	Source  string
	Sources []string
	Kinds   []string
	Drafts  []draftRow
	Problem string
}

type draftRow struct {
	Href, Files, Source, Author, Made string
	Refused                           bool
}

func (s *pages) drop(c fiber.Ctx) error { return s.showDrop(c, "") }

func (s *pages) showDrop(c fiber.Ctx, problem string) error {
	r, err := s.Parse(c)
	if err != nil {
		return err
	}
	v := dropView{Page: r.Page("Load", "Gather"), Period: page.PeriodFieldOf(r.Period()), Problem: problem}
	v.Page.Tabs = page.GatherTabs(r, "Load files")
	v.Page.PackHref, v.Page.Track = "", nil
	if v.Sources, err = s.Office.Draft.Sources(c.Context()); err != nil {
		return err
	}
	settings, err := s.Office.Setting.Get(c.Context())
	if err != nil {
		return err
	}
	actor := access.ActorOf(c.Context())
	if actor.Role == access.Lead {
		v.Sources, v.Source = nil, actor.Name
	}
	for _, k := range actor.Asked(settings.AskedOfLeads) {
		v.Kinds = append(v.Kinds, k.Title())
	}
	list, err := s.Office.Draft.List(c.Context())
	if err != nil {
		return err
	}
	for _, d := range list {
		v.Drafts = append(v.Drafts, draftRow{"/gather/drafts/" + d.ID, fileNames(d), d.Source, d.Author, account.When(d.MadeAt), d.Refused})
	}
	if problem != "" {
		c.Status(fiber.StatusUnprocessableEntity)
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	return c.Render("drop", v)
}

func fileNames(d *draft.Draft) string {
	var names []string
	for _, f := range d.Files {
		names = append(names, f.Name)
	}
	return fault.Clip(strings.Join(names, ", "), 200)
}

// receive takes files while they are read: fields first (_csrf, source, period), then files, or pasted cells.
func (s *pages) receive(c fiber.Ctx) error {
	if page.VisitOf(c) == nil {
		return access.ErrSignedOut
	}
	form, err := page.MultipartOf(c)
	if err != nil {
		return err
	}
	up := &upload{s: s.Server, c: c, form: form, ok: s.TokenFits(c, "")}
	first, err := up.fields()
	if err != nil {
		return s.dropFailed(c, err)
	}
	if !up.ok {
		return page.Stale()
	}
	up.first = first
	d, err := s.Office.Draft.Receive(c.Context(), up.source, up.period, up.next)
	if err != nil {
		return s.dropFailed(c, err)
	}
	return s.goTo(c, "/gather/drafts/"+d.ID)
}

// goTo leads a page or a script on.
func (s *pages) goTo(c fiber.Ctx, to string) error {
	if c.Get("X-Requested-By") == "turret" {
		return c.JSON(fiber.Map{"to": page.PlaceOf(c).To(to)})
	}
	return page.Go(c, to)
}

func (s *pages) dropFailed(c fiber.Ctx, err error) error {
	var field *fault.FieldError
	if !errors.As(err, &field) && !errors.Is(err, fault.ErrTooLarge) {
		return err
	}
	c.Response().Header.SetConnectionClose() // what is left of the form is not read
	if c.Get("X-Requested-By") == "turret" {
		return c.Status(fiber.StatusUnprocessableEntity).JSON(fiber.Map{"error": page.Sentence(err.Error())})
	}
	return s.showDrop(c, page.Sentence(err.Error()))
}

// upload walks through the parts of a form as they come.
type upload struct {
	s      *page.Server
	c      fiber.Ctx
	form   *multipart.Reader
	first  *draft.Upload
	ok     bool // the token fits
	source string
	period calendar.Period
}

// fields reads the parts before the first file, which comes back; nil where there is none.
func (u *upload) fields() (*draft.Upload, error) {
	u.period = u.s.PeriodOf(u.c.Context(), u.s.AsOf())
	for {
		p, err := u.form.NextPart()
		if errors.Is(err, io.EOF) {
			return nil, nil
		}
		if err != nil {
			return nil, &fault.FieldError{Field: "files", Value: fault.Clip(err.Error(), 80), Expected: "a form that arrives whole"}
		}
		if p.FormName() == "files" && p.FileName() != "" {
			return &draft.Upload{Name: p.FileName(), Body: p}, nil
		}
		if p.FormName() == "pasted" {
			if up := pasted(p); up != nil {
				return up, nil
			}
			continue
		}
		b, err := io.ReadAll(io.LimitReader(p, 4096))
		if err != nil {
			return nil, err
		}
		switch value := string(b); p.FormName() {
		case "_csrf":
			u.ok = u.ok || u.s.TokenFits(u.c, value)
		case "source":
			u.source = value
		case "period":
			if u.period, err = calendar.ParsePeriod(value); err != nil {
				return nil, &fault.FieldError{Field: "period", Value: value, Expected: calendar.PeriodForm}
			}
		}
	}
}

// pasted are cells copied from a spreadsheet; nil where there are none.
func pasted(r io.Reader) *draft.Upload {
	head := make([]byte, 512)
	n, _ := io.ReadFull(r, head)
	if len(bytes.TrimSpace(head[:n])) == 0 && n < len(head) {
		return nil
	}
	return &draft.Upload{Name: "pasted.txt", Body: io.MultiReader(bytes.NewReader(head[:n]), r)}
}

func (u *upload) next() (*draft.Upload, error) {
	if up := u.first; up != nil {
		u.first = nil
		return up, nil
	}
	for {
		p, err := u.form.NextPart()
		if errors.Is(err, io.EOF) {
			return nil, io.EOF
		}
		if err != nil {
			return nil, &fault.FieldError{Field: "files", Value: fault.Clip(err.Error(), 80), Expected: "files that arrive whole"}
		}
		switch {
		case p.FormName() == "files" && p.FileName() != "":
			return &draft.Upload{Name: p.FileName(), Body: p}, nil
		case p.FormName() == "pasted":
			if up := pasted(p); up != nil {
				return up, nil
			}
		}
	}
}

type draftView struct {
	Page     page.Page
	ID       string
	Href     string
	Title    string
	Source   string
	Sources  []string
	Period   page.PeriodField
	Changed  []string // in what is remembered of the sender, since a file was last loaded by it
	Sheets   []sheetView
	Loaded   []int64
	Open     bool // something is in doubt, so that the mapping stands open
	Show     bool // the consequences are on the page already
	C        *consequenceView
	Starting string
}

type sheetView struct {
	N                            int
	Title, Recognised, Kind      string
	KindName                     string
	Remembered, Skip             bool
	Doubts                       []string
	Problem                      string
	Selects                      []page.Picker
	HeadRow                      int32
	Heads                        []headView
	Fixed                        []fixedView
	Amounts, Round, Lacks, Clear bool
	LeaveOut                     string
	Months                       string
	Unmapped                     []string
}

type headView struct {
	N      int
	Head   string
	Sample []string
	Select page.Picker
	Factor *page.Picker
}

type fixedView struct {
	Name, Value, Says string
	List              []string
}

func (s *pages) draft(c fiber.Ctx) error {
	d, err := s.Office.Draft.Get(c.Context(), strings.Clone(c.Params("id")))
	if err != nil {
		return err
	}
	return s.showDraft(c, d)
}

func (s *pages) showDraft(c fiber.Ctx, d *draft.Draft) error {
	r, err := s.Parse(c)
	if err != nil {
		return err
	}
	r.At(d.Period)
	v := draftView{Page: r.Page("Load "+fileNames(d), "Gather"), ID: d.ID, Href: "/gather/drafts/" + d.ID, Title: fileNames(d),
		Source: d.Source, Period: page.PeriodFieldOf(d.Period), Loaded: d.Loads}
	v.Page.Tabs = page.GatherTabs(r, "Load files")
	if v.Sources, err = s.Office.Draft.Sources(c.Context()); err != nil {
		return err
	}
	changed, err := s.Office.Draft.ChangedMeanings(c.Context(), d.Source)
	if err != nil {
		return err
	}
	for i := range changed {
		m := &changed[i]
		v.Changed = append(v.Changed, m.ChangedBy+", "+setting.DayOf(m.ChangedAt).Human()+": "+m.Change)
	}
	for i := range d.Sheets {
		x := sheetViewOf(i, &d.Sheets[i].Sheet)
		v.Open = v.Open || len(x.Doubts) > 0 || x.Kind == "" && !x.Skip || x.Problem != "" && !x.Skip
		v.Sheets = append(v.Sheets, x)
	}
	if r.Asked.Get("show") == "consequences" {
		v.Show = true
		if v.C, err = s.consequenceView(c, d.ID); err != nil {
			return err
		}
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	return c.Render("draft", v)
}

func sheetViewOf(n int, s *intake.Sheet) sheetView {
	m := &s.Mapping
	v := sheetView{N: n, Title: s.Title(), Recognised: s.Recognised, Kind: string(m.Kind), Skip: m.Skip, Remembered: s.Remembered,
		Doubts: s.Doubts, HeadRow: m.Dialect.HeadRow, LeaveOut: strings.Join(m.LeaveOut, ", "), Months: strings.Join(s.Months, ", ")}
	if s.Problem != nil {
		v.Problem = s.Problem.String()
		return v
	}
	kinds := []string{"", "choose…"}
	for _, k := range record.Kinds() {
		kinds = append(kinds, string(k), k.Title())
	}
	v.KindName = m.Kind.Title()
	f := func(name string) string { return fmt.Sprintf("%s-%d", name, n) }
	v.Selects = []page.Picker{page.Choose("Kind", f("kind"), v.Kind, kinds...),
		page.Choose("Decimals", f("dec"), m.Dialect.Decimal, "", "choose…", "point", "1,234.50", "comma", "1.234,50"),
		page.Choose("Dates", f("dates"), m.Dialect.Dates, "", "choose…", "ymd", "2026-12-31", "dmy", "31.12.2026", "mdy", "12/31/2026")}
	if m.Dialect.Separator != "" {
		v.Selects = append(v.Selects, page.Choose("Separated by", f("sep"), m.Dialect.Separator, "comma", "comma", "semicolon", "semicolon",
			"tab", "tab", "bar", "bar"),
			page.Choose("Encoding", f("enc"), m.Dialect.Encoding, "utf-8", "UTF-8", "windows-1252", "Windows-1252", "utf-16", "UTF-16"))
	}
	in := m.Kind.Input()
	if in == nil {
		return v
	}
	v.columns(s, in)
	return v
}

// columns lists the heads with the column chosen for each, and what the file lacks.
func (v *sheetView) columns(s *intake.Sheet, in *record.Input) {
	m := &s.Mapping
	if _, ok := in.Column("amount"); ok {
		v.Amounts, v.Round = true, m.Round
	}
	v.Lacks, v.Clear = m.Kind.IsRevision(), m.Clear
	if len(s.Months) > 0 {
		v.Selects = append(v.Selects, factor("Amounts of the months", v.N, "amount", m))
	}
	mapped := map[string]bool{}
	for j, h := range m.Heads {
		column := m.Columns[h]
		mapped[column] = true
		x := headView{N: j, Head: h}
		if j < len(s.Heads) && strings.TrimSpace(s.Heads[j]) != "" {
			x.Head = strings.TrimSpace(s.Heads[j])
		}
		for _, row := range s.Sample {
			if j < len(row) && strings.TrimSpace(row[j]) != "" && len(x.Sample) < 3 {
				x.Sample = append(x.Sample, fault.Clip(strings.TrimSpace(row[j]), 40))
			}
		}
		options := []string{"", "leave out"}
		if slices.Contains(s.Months, h) && column == "" {
			options = []string{"", "amounts of the month"}
		} else if column == "" {
			if len(x.Sample) > 0 {
				v.Unmapped = append(v.Unmapped, x.Head)
			}
		}
		for _, c := range in.Columns {
			name := c.Name
			if c.Required {
				name += " *"
			}
			options = append(options, c.Name, name)
		}
		x.Select = page.Choose("Column of "+x.Head, fmt.Sprintf("col-%d-%d", v.N, j), column, options...)
		if c, _ := in.Column(column); c.Cell == record.Units || c.Cell == record.Percent || c.Cell == record.Number {
			p := factor("Times", v.N, column, m)
			x.Factor = &p
		}
		v.Heads = append(v.Heads, x)
	}
	for _, c := range in.Columns {
		wanted := c.Required || c.Name == "month" || c.Name == "currency"
		if c.Name == "amount" && len(s.Months) > 0 || c.Name == "month" && len(s.Months) > 0 {
			wanted = false
		}
		if !mapped[c.Name] && wanted || m.Fixed[c.Name] != "" {
			v.Fixed = append(v.Fixed, fixedView{c.Name, m.Fixed[c.Name], c.Says, c.Choices})
		}
	}
}

// factor is the choice of what amounts are multiplied by.
func factor(label string, n int, column string, m *intake.Mapping) page.Picker {
	return page.Choose(label, fmt.Sprintf("factor-%d-%s", n, column), fmt.Sprint(max(1, m.Factors[column])), "1", "as written", "100",
		"times 100",
		"1000", "in thousands", "1000000", "in millions")
}

// remap takes the mapping form, or only some of its fields.
func (s *pages) remap(c fiber.Ctx) error {
	d, err := s.Office.Draft.Get(c.Context(), strings.Clone(c.Params("id")))
	if err != nil {
		return err
	}
	q, err := url.ParseQuery(string(c.Body()))
	if err != nil {
		return fiber.NewError(fiber.StatusBadRequest, "The form cannot be read.")
	}
	period, source := d.Period, d.Source
	if q.Has("period") {
		if period, err = calendar.ParsePeriod(q.Get("period")); err != nil {
			return &fault.FieldError{Field: "period", Value: q.Get("period"), Expected: calendar.PeriodForm}
		}
		source = q.Get("source")
	}
	var list []intake.Mapping
	for i := range d.Sheets {
		list = append(list, mappingFrom(q, i, d.Sheets[i].Sheet.Mapping))
	}
	if _, err = s.Office.Draft.Remap(c.Context(), d.ID, source, period, list); err != nil {
		return err
	}
	return page.Go(c, "/gather/drafts/"+d.ID)
}

// mappingFrom is the mapping of sheet i with the fields of a form put over it.
func mappingFrom(q url.Values, i int, m intake.Mapping) intake.Mapping {
	f := func(name string) string { return fmt.Sprintf("%s-%d", name, i) }
	set := func(name string, to *string) {
		if q.Has(f(name)) {
			*to = q.Get(f(name))
		}
	}
	if q.Has(f("whole")) { // the form of the whole sheet was sent
		m.Skip, m.Round = q.Get(f("skip")) != "", q.Get(f("round")) != ""
		m.Clear = q.Get(f("clear")) != ""
	}
	kind := string(m.Kind)
	set("kind", &kind)
	if record.Kind(kind).Input() != nil || kind == "" {
		m.Kind = record.Kind(kind)
	}
	set("dec", &m.Dialect.Decimal)
	set("dates", &m.Dialect.Dates)
	set("sep", &m.Dialect.Separator)
	set("enc", &m.Dialect.Encoding)
	if n, err := strconv.Atoi(q.Get(f("head"))); err == nil && n > 0 && n < 10_000 {
		m.Dialect.HeadRow = int32(n)
	}
	if q.Has(f("leave")) {
		m.LeaveOut = []string{}
		for _, w := range strings.Split(q.Get(f("leave")), ",") {
			if w = intake.Plain(w); w != "" {
				m.LeaveOut = append(m.LeaveOut, w)
			}
		}
	}
	m.Columns, m.Factors, m.Fixed = fresh(m.Columns), fresh(m.Factors), fresh(m.Fixed)
	mapFields(q, i, &m)
	valueFields(q, i, &m)
	return m
}

func fresh[V any](old map[string]V) map[string]V {
	m := make(map[string]V, len(old))
	for k, v := range old {
		m[k] = v
	}
	return m
}

func mapFields(q url.Values, i int, m *intake.Mapping) {
	in := m.Kind.Input()
	if in == nil {
		return
	}
	for j, h := range m.Heads {
		name := fmt.Sprintf("col-%d-%d", i, j)
		if _, ok := in.Column(q.Get(name)); q.Has(name) && (ok || q.Get(name) == "") {
			m.Columns[h] = q.Get(name)
		}
	}
	for _, c := range in.Columns {
		if n, err := strconv.ParseInt(q.Get(fmt.Sprintf("factor-%d-%s", i, c.Name)), 10, 64); err == nil &&
			(n == 1 || n == 100 || n == 1000 || n == 1_000_000) {
			m.Factors[c.Name] = n
		}
		name := fmt.Sprintf("fixed-%d-%s", i, c.Name)
		if v := strings.TrimSpace(q.Get(name)); q.Has(name) {
			if m.Fixed[c.Name] = v; v == "" {
				delete(m.Fixed, c.Name)
			}
		}
	}
}

// valueFields take what unknown values mean: was-I-N holds column and value, means-I-N the meaning.
func valueFields(q url.Values, i int, m *intake.Mapping) {
	values := map[string]map[string]string{}
	for column, means := range m.Values {
		values[column] = fresh(means)
	}
	for n := range 200 {
		column, was, ok := strings.Cut(q.Get(fmt.Sprintf("was-%d-%d", i, n)), "\x1f")
		means := strings.TrimSpace(q.Get(fmt.Sprintf("means-%d-%d", i, n)))
		if !ok || means == "" {
			continue
		}
		if values[column] == nil {
			values[column] = map[string]string{}
		}
		values[column][intake.Plain(was)] = means
	}
	m.Values = values
}

type consequenceView struct {
	Page     page.Page
	Href     string
	Troubles []troubleView
	Problems int
	Unknowns []unknownView
	Warnings []fault.Problem
	Kinds    []changeView
	Heads    []string
	Totals   []totalRow
	Says     string      // what would move, all together
	Sheets   []page.Link // corrected files
	Ready    string      // what the button will do
	Nothing  bool
}

type totalRow struct {
	Code, Name string
	Cells      []totalCell
}

type totalCell struct{ Before, After, Delta string }

// totals arranges the figures that would move by project and measure, and says what moves all together.
func (v *consequenceView) totals(list []draft.TotalChange) {
	at, rows := map[string]int{}, map[string]int{}
	for _, t := range list {
		if _, ok := at[t.Key]; !ok {
			at[t.Key] = len(v.Heads)
			v.Heads = append(v.Heads, t.Measure)
		}
	}
	var said []string
	for _, t := range list {
		i, ok := rows[t.Code]
		if !ok {
			i = len(v.Totals)
			rows[t.Code] = i
			v.Totals = append(v.Totals, totalRow{t.Code, cmp.Or(t.Name, "Together"), make([]totalCell, len(v.Heads))})
		}
		v.Totals[i].Cells[at[t.Key]] = totalCell{t.Before, t.After, t.Delta}
		if i == 0 && t.Delta != "" && len(said) < 4 {
			said = append(said, strings.ToLower(t.Measure[:1])+t.Measure[1:]+" "+t.Delta)
		}
	}
	v.Says = strings.Join(said, ", ")
}

type troubleView struct {
	Where, Value, Expected, Rows string
	Heads                        []string
	Cells                        []cellView
}

type cellView struct {
	Text string
	Bad  bool
}

type unknownView struct {
	Name, Was string // names of the fields
	Key       string
	Value     string
	Column    string
	Count     int
	Choices   []string
	Choose    bool
}

type changeView struct {
	Kind, Project            string
	New, Changed, Gone, Same int
	Heads                    []string
	Rows                     []changeRow
	More                     int
}

type changeRow struct {
	Row   int32
	Word  string
	Cells []changeCell
}

type changeCell struct{ Old, New string }

// consequences is the part of a draft's page that takes its time.
func (s *pages) consequences(c fiber.Ctx) error {
	id := strings.Clone(c.Params("id"))
	if c.Get("HX-Request") != "true" {
		return page.Go(c, "/gather/drafts/"+id+"?show=consequences")
	}
	v, err := s.consequenceView(c, id)
	if err != nil {
		return err
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	return c.Render("draft:consequences", v)
}

func (s *pages) consequenceView(c fiber.Ctx, id string) (*consequenceView, error) {
	d, err := s.Office.Draft.Get(c.Context(), id)
	if err != nil {
		return nil, err
	}
	d, x, err := s.Office.Draft.Preview(c.Context(), id, d.Period.Last())
	if err != nil {
		return nil, err
	}
	v := &consequenceView{Href: "/gather/drafts/" + id, Problems: len(x.Problems), Warnings: x.Warnings}
	v.totals(x.Totals)
	s.Frame(&v.Page, c)
	if len(x.Problems) > 0 {
		return v, s.troubles(c, v, d, x.Problems)
	}
	rows := 0
	for i := range x.Changes {
		ch := &x.Changes[i]
		rows += ch.New + ch.Changed + ch.Gone
		v.Kinds = append(v.Kinds, changeViewOf(ch))
	}
	n := 0
	for _, f := range x.Files {
		n += f.Rows
	}
	v.Nothing = rows == 0
	v.Ready = "Load " + page.Thousands(n) + " rows"
	return v, nil
}

func (s *pages) troubles(c fiber.Ctx, v *consequenceView, d *draft.Draft, problems []fault.Problem) error {
	list, err := s.Office.Draft.Troubles(c.Context(), d, problems)
	if err != nil {
		return err
	}
	with := map[int]bool{}
	for _, t := range list {
		if t.Sheet >= 0 && d.Sheets[t.Sheet].Sheet.Problem == nil {
			with[t.Sheet] = true
		}
		x := troubleView{Where: t.File, Value: t.Value, Expected: t.Expected, Rows: rowWords(t.Rows)}
		if t.Column != "" {
			x.Where += ", " + t.Column
		}
		if t.Row > 1 && t.Cells != nil {
			x.Heads = t.Heads
			for i, cell := range t.Cells {
				x.Cells = append(x.Cells, cellView{fault.Clip(cell, 40), i == t.At})
			}
			for len(x.Cells) < len(x.Heads) {
				x.Cells = append(x.Cells, cellView{"", len(x.Cells) == t.At})
			}
		}
		v.Troubles = append(v.Troubles, x)
	}
	for i := range d.Sheets {
		if with[i] {
			v.Sheets = append(v.Sheets, page.Link{Text: d.Sheets[i].Sheet.Title(), Href: fmt.Sprintf("/gather/drafts/%s/corrected/%d",
				d.ID, i)})
		}
	}
	unknown, err := s.Office.Draft.Unknowns(c.Context(), d, list)
	for n, u := range unknown {
		v.Unknowns = append(v.Unknowns, unknownView{fmt.Sprintf("means-%d-%d", u.Sheet, n), fmt.Sprintf("was-%d-%d", u.Sheet, n),
			u.Column.Name + "\x1f" + u.Value, u.Value, u.Column.Name, u.Count, u.Choices, len(u.Choices) > 0})
	}
	return err
}

func rowWords(rows []int32) string {
	if len(rows) == 0 || rows[0] == 0 {
		return ""
	}
	text := fmt.Sprintf("row %d", rows[0])
	for i, r := range rows[1:] {
		if i == 4 {
			return fmt.Sprintf("%s and %d more", text, len(rows)-5)
		}
		text += fmt.Sprintf(", %d", r)
	}
	return text
}

func changeViewOf(ch *draft.Change) changeView {
	in := ch.Kind.Input()
	v := changeView{Kind: in.Title, Project: ch.Project, New: ch.New, Changed: ch.Changed, Gone: ch.Gone, Same: ch.Same, More: ch.More}
	used := make([]bool, len(in.Columns))
	for _, r := range ch.Rows {
		for _, cells := range [][]string{r.Old, r.New} {
			for i, c := range cells {
				used[i] = used[i] || c != ""
			}
		}
	}
	for i, c := range in.Columns {
		if used[i] && c.Name != "project" {
			v.Heads = append(v.Heads, c.Name)
		}
	}
	for _, r := range ch.Rows {
		x := changeRow{Row: r.Row, Word: "changed"}
		if r.Old == nil {
			x.Word = "new"
		} else if r.New == nil {
			x.Word = "gone"
		}
		for i, c := range in.Columns {
			if !used[i] || c.Name == "project" {
				continue
			}
			var cell changeCell
			if r.New != nil {
				cell.New = r.New[i]
			}
			if r.Old != nil && (r.New == nil || r.Old[i] != r.New[i]) {
				cell.Old = r.Old[i]
				if cell.Old == "" && r.New != nil {
					cell.Old = "nothing"
				}
			}
			x.Cells = append(x.Cells, cell)
		}
		v.Rows = append(v.Rows, x)
	}
	return v
}

func (s *pages) problems(c fiber.Ctx) error {
	_, list, err := s.Office.Draft.ProblemsOf(c.Context(), strings.Clone(c.Params("id")))
	if err != nil {
		return err
	}
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	_ = w.Write([]string{"file", "row", "column", "value", "expected"})
	for _, p := range list {
		row := ""
		if p.Row > 0 {
			row = fmt.Sprint(p.Row)
		}
		_ = w.Write([]string{s.Reports.Safe(p.File), row, s.Reports.Safe(p.Column), s.Reports.Safe(p.Value), p.Expected})
	}
	w.Flush()
	return s.Deliver(c, "problems.csv", "text/csv; charset=utf-8", b.Bytes())
}

// XlsxType is the media type of a workbook.
const XlsxType = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"

func (s *pages) corrected(c fiber.Ctx) error {
	n, err := page.Number(c, "sheet")
	if err != nil {
		return err
	}
	name, b, err := s.Office.Draft.Corrected(c.Context(), strings.Clone(c.Params("id")), int(n))
	if err != nil {
		return err
	}
	return s.Deliver(c, "to fix "+strings.NewReplacer(" › ", " ", ".csv", "", ".xlsx", "", ".txt", "", ".zip", "", ".json",
		"").Replace(name)+".xlsx", XlsxType, b)
}

func (s *pages) loadDraft(c fiber.Ctx) error {
	id := strings.Clone(c.Params("id"))
	if _, err := s.Office.Load.Start(c.Context(), id); err != nil {
		return err
	}
	return page.Go(c, "/gather/drafts/"+id+"/progress")
}

type progressView struct {
	Page           page.Page
	Href           string
	Title          string
	Done, Total    int
	Share          int
	Ended, Refused bool
	Failed         string
	Loads          []kept.Load
	Warnings       []fault.Problem
	Gather         string
	Lookout, More  string
}

func (s *pages) progress(c fiber.Ctx) error {
	id := strings.Clone(c.Params("id"))
	d, err := s.Office.Draft.Get(c.Context(), id)
	if err != nil {
		return err
	}
	v := progressView{Href: "/gather/drafts/" + id, Title: fileNames(d), Gather: "/gather?asof=" + d.Period.Last().String()}
	j, err := s.Office.Load.Job(c.Context(), id)
	switch {
	case errors.Is(err, fault.ErrNotFound) && len(d.Loads) > 0: // loaded before Turret was started anew
		v.Ended = true
		for _, n := range d.Loads {
			l, err := s.Office.Load.Get(c.Context(), n)
			if err != nil {
				return err
			}
			v.Loads = append(v.Loads, *l)
		}
	case errors.Is(err, fault.ErrNotFound):
		return page.Go(c, "/gather/drafts/"+id)
	case err != nil:
		return err
	default:
		v.fill(j.Now())
	}
	r, err := s.Parse(c)
	if err != nil {
		return err
	}
	r.At(d.Period)
	v.Page, v.Lookout, v.More = r.Page("Loading", "Gather"), r.To("/"), r.To("/gather/load")
	v.Page.Tabs = page.GatherTabs(r, "Load files")
	c.Set(fiber.HeaderCacheControl, "no-store")
	if c.Get("HX-Request") == "true" {
		return c.Render("progress:state", v)
	}
	return c.Render("progress", v)
}

func (v *progressView) fill(now load.JobState) {
	v.Done, v.Total, v.Ended = now.Done, now.Total, now.Ended
	if now.Total > 0 {
		v.Share = 100 * now.Done / now.Total
	}
	if now.Result != nil {
		v.Loads, v.Warnings = now.Result.Loads, now.Result.Warnings
	}
	switch {
	case errors.Is(now.Err, fault.ErrRefused):
		v.Refused = true
	case errors.Is(now.Err, job.ErrStopped):
		v.Failed = "Loading was stopped; nothing was changed."
	case errors.Is(now.Err, access.ErrForbidden):
		v.Failed = page.Sentence(now.Err.Error())
	case now.Err != nil:
		v.Failed = "Something went wrong while loading; nothing was changed."
	}
}

func (s *pages) stopLoad(c fiber.Ctx) error {
	id := strings.Clone(c.Params("id"))
	if err := s.Office.Load.Stop(c.Context(), id); err != nil {
		return err
	}
	return page.Go(c, "/gather/drafts/"+id+"/progress")
}

func (s *pages) discard(c fiber.Ctx) error {
	if err := s.Office.Draft.Discard(c.Context(), strings.Clone(c.Params("id"))); err != nil {
		return err
	}
	page.Tell(c, "The draft is discarded; nothing was loaded.")
	return page.Go(c, "/gather/load")
}
