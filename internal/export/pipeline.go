package export

import (
	"encoding/csv"
	"encoding/json"
	"io"
	"strconv"

	"turret/internal/app/pipeline"
	"turret/internal/core/fact"
	"turret/internal/core/money"
	"turret/internal/core/priority"
)

// The columns of a ranking and of a choice as files.
var (
	RankHeads   = []string{"project", "score", "rank", "rank_low", "rank_high"}
	ChoiceHeads = []string{"project", "value", "chosen", "price"}
)

// Rank is a ranking, one row for each project. Cells of what has no score are empty.
type Rank struct{ *pipeline.Ranking }

func (r Rank) cells(x *pipeline.Ranked) []string {
	if !x.Scored {
		return []string{x.Code, "", "", "", ""}
	}
	return []string{x.Code, money.Decimal(x.Score, decimals(priority.Micro)), strconv.Itoa(x.Rank), strconv.Itoa(x.Low),
		strconv.Itoa(x.High)}
}

// decimals is how many a unit has.
func decimals(unit int) (n int) {
	for ; unit > 1; unit /= 10 {
		n++
	}
	return n
}

// CSV writes the rows under RankHeads.
func (r Rank) CSV(w io.Writer) error {
	rows := make([][]string, 0, len(r.Rows))
	for i := range r.Rows {
		rows = append(rows, r.cells(&r.Rows[i]))
	}
	return under(w, RankHeads, rows)
}

// JSON writes the rows as objects, null where there is no score.
func (r Rank) JSON(w io.Writer) error {
	list := []map[string]any{}
	for i := range r.Rows {
		list = append(list, object(RankHeads, r.cells(&r.Rows[i]), 1))
	}
	return indented(w, list)
}

// Choice is what is best chosen, one row for each candidate and one of the chosen together.
type Choice struct{ *pipeline.Choice }

func (c Choice) cells(x *pipeline.Chosen) []string {
	return []string{x.Project.Code, c.Text(x.Value), yesNo(x.In), c.Text(x.Price)}
}

func yesNo(yes bool) string {
	if yes {
		return "yes"
	}
	return "no"
}

// CSV writes the rows under ChoiceHeads.
func (c Choice) CSV(w io.Writer) error {
	var rows [][]string
	for i := range c.Rows {
		rows = append(rows, c.cells(&c.Rows[i]))
	}
	return under(w, ChoiceHeads, append(rows, []string{"*", c.Text(fact.Some(c.Result.Value)), "", ""}))
}

// JSON writes the rows with the value, its bound, whether it is proved, and the limits.
func (c Choice) JSON(w io.Writer) error {
	rows, limits := []map[string]any{}, []map[string]any{}
	for i := range c.Rows {
		cells := c.cells(&c.Rows[i])
		x := object([]string{"project", "value", "price"}, []string{cells[0], cells[1], cells[3]}, 1)
		x["chosen"] = cells[2]
		rows = append(rows, x)
	}
	for k := range c.Limits {
		x := object([]string{"limit", "allowed", "used", "gives_up"},
			[]string{c.Limits[k].Name, c.Allowed(k), c.Used(k), c.Text(c.Result.GivesUp[k])}, 1)
		limits = append(limits, x)
	}
	out := map[string]any{"rows": rows, "proven": c.Result.Proven, "limits": limits}
	out["value"] = json.Number(c.Text(fact.Some(c.Result.Value)))
	out["bound"] = json.Number(c.Text(fact.Some(c.Result.Bound)))
	return indented(w, out)
}

// object is a row as an object: texts in the first columns, then numbers, null where a cell is empty.
func object(heads, cells []string, texts int) map[string]any {
	row := map[string]any{}
	for k, cell := range cells {
		switch {
		case k < texts:
			row[heads[k]] = cell
		case cell == "":
			row[heads[k]] = nil
		default:
			row[heads[k]] = json.Number(cell)
		}
	}
	return row
}

func indented(w io.Writer, v any) error {
	e := json.NewEncoder(w)
	e.SetIndent("", "  ")
	return e.Encode(v)
}

// under writes rows under heads; their first cell is a text from outside.
func under(w io.Writer, heads []string, rows [][]string) error {
	out := csv.NewWriter(w)
	if err := out.Write(heads); err != nil {
		return err
	}
	for _, cells := range rows {
		cells[0] = Safe(cells[0])
		if err := out.Write(cells); err != nil {
			return err
		}
	}
	out.Flush()
	return out.Error()
}
