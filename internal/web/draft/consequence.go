package draft

import (
	"cmp"
	"fmt"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/draft"
	"turret/internal/app/fault"
	"turret/internal/core/measure"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

type consequenceView struct {
	Page     page.Page
	Href     string
	Troubles []troubleView
	Problems int
	Unknowns []unknownView
	Warnings []fault.Problem
	Notes    []string // of how the files were read
	Kinds    []changeView
	Heads    []string
	Totals   []totalRow
	Says     string      // what would move, all together
	Sheets   []page.Link // corrected files
	Ready    string      // what the button will do
	Nothing  bool

	Refusable bool // with errors, and not kept as refused yet
}

type totalRow struct {
	Code, Name string
	Cells      []totalCell
}

type totalCell struct{ Before, After, Delta string }

// totals arranges the figures that would move by project and measure, and says what moves all together.
func (v *consequenceView) totals(list []draft.TotalChange) {
	at, rows := map[measure.Key]int{}, map[string]int{}
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
	Sheet                        int
	Numbers                      string // of all rows concerned, in a field; empty where nothing can be done to them here
	Many                         int    // rows concerned
	At                           int    // the cell that can be corrected, -1 for none
	Label                        string
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
	Once      string // name of the field
	One       bool   // it is no rule unless somebody says so
}

type changeView struct {
	Kind, Project            string
	New, Changed, Gone, Same int
	Zero                     int
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
	v := &consequenceView{Href: "/gather/drafts/" + id, Problems: len(x.Problems), Warnings: x.Warnings, Notes: x.Notes}
	v.totals(x.Totals)
	s.Frame(&v.Page, c)
	v.Refusable = !d.Refused
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
	v.Ready = "Load " + write.Whole(n) + map[bool]string{true: " row", false: " rows"}[n == 1]
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
		x := troubleView{Where: t.File, Value: t.Value, Expected: t.Expected, Rows: rowWords(t.Rows), Sheet: t.Sheet, At: -1}
		x.mendable(d, &t)
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
		v.Unknowns = append(v.Unknowns, unknownViewOf(n, &u))
	}
	return err
}

func unknownViewOf(n int, u *draft.Unknown) unknownView {
	f := func(name string) string { return fmt.Sprintf("%s-%d-%d", name, u.Sheet, n) }
	var names, heads []string
	for _, c := range u.Columns {
		names, heads = append(names, c.Name), append(heads, strings.ToLower(c.Head()))
	}
	return unknownView{Name: f("means"), Was: f("was"), Key: strings.Join(names, ",") + "\x1f" + u.Value, Value: u.Value,
		Column: strings.Join(heads, ", "), Count: u.Count, Choices: u.Choices, Choose: len(u.Choices) > 0,
		Once: f("once"), One: u.Rare()}
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
	in := ch.Input
	v := changeView{Kind: in.Title, Project: ch.Project, New: ch.New, Changed: ch.Changed, Gone: ch.Gone, Same: ch.Same,
		Zero: ch.Zero, More: ch.More}
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
