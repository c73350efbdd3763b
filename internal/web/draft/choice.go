package draft

import (
	"fmt"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/draft"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

// choiceView is one thing that was chosen for a sheet. Key is the value of the buttons that change it.
type choiceView struct {
	Key, Says               string
	Once, Fixed, Remembered bool
}

func choicesOf(n int, s *intake.Sheet) []choiceView {
	var list []choiceView
	for _, x := range s.Choices() {
		list = append(list, choiceView{fmt.Sprintf("%d\x1f%s", n, x.ID), x.Says, x.Once, x.Fixed, x.Remembered})
	}
	return list
}

// rechoose does what a button beside a choice asks for: undo it, keep it for this file alone, or remember it.
func (s *pages) rechoose(c fiber.Ctx, id string, q url.Values) error {
	for _, do := range []string{"undo", "once", "remember"} {
		number, choice, ok := strings.Cut(q.Get(do), "\x1f")
		if !ok {
			continue
		}
		sheet, err := strconv.Atoi(number)
		if err != nil {
			return fault.Field(do, number, "the number of a sheet")
		}
		if _, err = s.Office.Draft.Change(c.Context(), id, sheet, func(x *intake.Sheet) (intake.Mapping, error) {
			if do == "undo" {
				return x.Undo(choice)
			}
			return x.Mapping.Only(choice, do == "once"), nil
		}); err != nil {
			return err
		}
	}
	return nil
}

// maxListed is how many rows one form corrects or leaves out together.
const maxListed = 400

// mendable says what can be done to the rows of a trouble on the page.
func (x *troubleView) mendable(d *draft.Draft, t *draft.Trouble) {
	if t.Sheet < 0 || len(t.Rows) == 0 || t.Rows[0] == 0 || len(t.Rows) > maxListed || t.Cells == nil {
		return
	}
	if t.Row <= d.Sheets[t.Sheet].Sheet.Mapping.Dialect.HeadRow {
		return
	}
	rows := slices.Clone(t.Rows)
	slices.Sort(rows)
	rows = slices.Compact(rows)
	words := make([]string, len(rows))
	for i, r := range rows {
		words[i] = fmt.Sprint(r)
	}
	x.Numbers, x.Many = strings.Join(words, ","), len(rows)
	if t.At >= 0 && t.At < len(d.Sheets[t.Sheet].Sheet.Mapping.Heads) {
		x.At, x.Label = t.At, strings.TrimSpace(t.Heads[t.At])
	}
}

// rows corrects a cell of rows, or has them left out, as the form says.
func (s *pages) rows(c fiber.Ctx) error {
	d, err := s.Office.Draft.Get(c.Context(), strings.Clone(c.Params("id")))
	if err != nil {
		return err
	}
	sheet, err := strconv.Atoi(c.FormValue("sheet"))
	if err != nil || sheet < 0 || sheet >= len(d.Sheets) {
		return fault.Field("sheet", c.FormValue("sheet"), "the number of a sheet")
	}
	rows, err := rowsFrom(c.FormValue("rows"))
	if err != nil {
		return err
	}
	what := write.Count(len(rows), "row", "rows")
	to := "/gather/drafts/" + d.ID + "#consequences"
	if c.FormValue("do") == "leave" {
		reason := strings.Clone(c.FormValue("reason"))
		if _, err := s.Office.Draft.Change(c.Context(), d.ID, sheet, func(x *intake.Sheet) (intake.Mapping, error) {
			return x.Mapping.LeaveRows(rows, reason)
		}); err != nil {
			return err
		}
		page.Tell(c, what+" left out; the reason stays with the load. Undo it under the name of the file.")
		return page.Go(c, to)
	}
	heads := d.Sheets[sheet].Sheet.Mapping.Heads
	at, err := strconv.Atoi(c.FormValue("at"))
	if err != nil || at < 0 || at >= len(heads) {
		return fault.Field("at", c.FormValue("at"), "the number of a column")
	}
	cells := map[string]string{heads[at]: fault.Clip(strings.TrimSpace(strings.Clone(c.FormValue("says"))), 20_000)}
	if _, err := s.Office.Draft.Change(c.Context(), d.ID, sheet, func(x *intake.Sheet) (intake.Mapping, error) {
		return x.Mapping.Correct(rows, cells)
	}); err != nil {
		return err
	}
	page.Tell(c, what+" corrected here; the file stays as it came. Undo it under the name of the file.")
	return page.Go(c, to)
}

func rowsFrom(text string) ([]int32, error) {
	words := strings.Split(text, ",")
	if len(words) > maxListed {
		return nil, fault.Field("rows", fault.Clip(text, 60), fmt.Sprintf("at most %d rows", maxListed))
	}
	rows := make([]int32, len(words))
	for i, w := range words {
		n, err := strconv.ParseInt(w, 10, 32)
		if err != nil || n < 1 {
			return nil, fault.Field("rows", fault.Clip(w, 60), "the number of a row")
		}
		rows[i] = int32(n)
	}
	return rows, nil
}

// refuse keeps files with errors as refused, so that the matrix tells that they came.
func (s *pages) refuse(c fiber.Ctx) error {
	id := strings.Clone(c.Params("id"))
	n, err := s.Office.Draft.Refuse(c.Context(), id)
	if err != nil {
		return err
	}
	page.Tell(c, fmt.Sprintf("Kept as refused, for %s. The files stay here until they are loaded or discarded.",
		write.Count(n, "problem", "problems")))
	return page.Go(c, "/gather")
}
