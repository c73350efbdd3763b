// Package draft holds the pages of files that are not loaded yet.
package draft

import (
	"embed"
	"fmt"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/draft"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/setting"
	"turret/internal/record"
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
	s.App.Post("/gather/drafts", s.Limited(300), s.receive)
	s.App.Get("/gather/drafts/:id", s.draft)
	s.App.Post("/gather/drafts/:id", s.remap)
	s.App.Post("/gather/drafts/:id/rows", s.rows)
	s.App.Post("/gather/drafts/:id/refuse", s.refuse)
	s.App.Get("/gather/drafts/:id/consequences", s.consequences)
	s.App.Get("/gather/drafts/:id/problems.csv", s.problems)
	s.App.Get("/gather/drafts/:id/corrected/:sheet", s.corrected)
	s.App.Post("/gather/drafts/:id/load", s.loadDraft)
	s.App.Get("/gather/drafts/:id/progress", s.progress)
	s.App.Post("/gather/drafts/:id/stop", s.stopLoad)
	s.App.Post("/gather/drafts/:id/discard", s.discard)
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
	Refused  bool
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
	Choices                      []choiceView
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
		Source: d.Source, Period: page.PeriodFieldOf(d.Period), Loaded: d.Loads, Refused: d.Refused}
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
	v.Choices = choicesOf(n, s)
	f := func(name string) string { return fmt.Sprintf("%s-%d", name, n) }
	v.Selects = []page.Picker{page.Choose("Kind", f("kind"), v.Kind, kinds...),
		page.Choose("Decimals", f("dec"), m.Dialect.Decimal, "", "choose…", "point", "1,234.50", "comma", "1.234,50"),
		page.Choose("Dates", f("dates"), m.Dialect.Dates, "", "choose…", "ymd", "2026-12-31", "dmy", "31.12.2026", "mdy", "12/31/2026")}
	if m.Dialect.Separator != "" {
		v.Selects = append(v.Selects, page.Choose("Separated by", f("sep"), m.Dialect.Separator, "comma", "comma", "semicolon",
			"semicolon",
			"tab", "tab", "bar", "bar"),
			page.Choose("Encoding", f("enc"), m.Dialect.Encoding, "utf-8", "UTF-8", "windows-1252", "Windows-1252", "utf-16", "UTF-16"))
	}
	in := s.Input()
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
	v.Lacks, v.Clear = !m.Kind.Adds(), m.Clear
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
		if c, _ := in.Column(column); c.Cell == record.Units || c.Cell == record.Percent || c.Cell == record.Portion ||
			c.Cell == record.Number {
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
