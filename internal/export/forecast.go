package export

import (
	"encoding/json"
	"fmt"
	"io"
	"math"

	"turret/internal/app/forecast"
	core "turret/internal/core/forecast"
	"turret/internal/core/health"
	"turret/internal/core/money"
)

// RangeHeads are the columns of ranges as a file.
var RangeHeads = []string{"project", "p10_finish", "p50_finish", "p80_finish", "p90_finish", "p10_cost", "p50_cost", "p80_cost",
	"p90_cost",
	"chance_baseline", "chance_required"}

// Ranges are what projects, groups and the whole of a scope may come to. Cells of what is not known are empty.
type Ranges struct {
	*forecast.Ranges
	Currency money.Currency
}

func (r *Ranges) cells(x *forecast.Row) []string {
	list := []string{x.Code}
	for _, p := range forecast.Percentiles {
		text := ""
		if d := x.Day(p); d != 0 {
			text = d.String()
		}
		list = append(list, text)
	}
	for _, p := range forecast.Percentiles {
		text := ""
		if a, ok := x.Sum(p); ok {
			text = a.Text(r.Currency)
		}
		list = append(list, text)
	}
	return append(list, sixths(x.Baseline), sixths(x.Required))
}

// CSV writes the rows under RangeHeads.
func (r *Ranges) CSV(w io.Writer) error {
	rows := make([][]string, 0, len(r.Rows))
	for i := range r.Rows {
		rows = append(rows, r.cells(&r.Rows[i]))
	}
	return under(w, RangeHeads, rows)
}

// JSON writes the rows as objects, null where something is not known.
func (r *Ranges) JSON(w io.Writer) error {
	list := []map[string]any{}
	for i := range r.Rows {
		cells := r.cells(&r.Rows[i])
		x := object(RangeHeads, cells, 1)
		for k := range forecast.Percentiles {
			if cells[k+1] != "" {
				x[RangeHeads[k+1]] = cells[k+1]
			}
		}
		list = append(list, x)
	}
	return indented(w, list)
}

// OutlookHeads are the columns of predictions as a file.
var OutlookHeads = []string{"project", "on_track", "watch", "act", "predicted", "declared", "computed"}

// Outlooks are what open projects are expected to come to. Cells of what is not predicted are empty.
type Outlooks struct{ *forecast.Outlooks }

func (o Outlooks) cells(x *forecast.Outlook) []string {
	list := []string{x.Project.Code, "", "", "", "", assessed(x.Declared), assessed(x.Computed)}
	if x.Prediction != nil {
		for k, c := range x.Prediction.Chances {
			list[k+1] = chance(c)
		}
		list[4] = x.Predicted().String()
	}
	return list
}

func chance(c float64) string { return fmt.Sprintf("%.6f", c) }

// assessed is a status in words, empty where there is none.
func assessed(s health.Status) string {
	if s == health.NotAssessed {
		return ""
	}
	return s.String()
}

// CSV writes the rows under OutlookHeads.
func (o Outlooks) CSV(w io.Writer) error {
	rows := make([][]string, 0, len(o.List))
	for i := range o.List {
		rows = append(rows, o.cells(&o.List[i]))
	}
	return under(w, OutlookHeads, rows)
}

// JSON writes the rows with what drives each, and how good what was learned is.
func (o Outlooks) JSON(w io.Writer) error {
	l := o.Learned
	out := map[string]any{"learned_from": l.Projects, "skill": nil, "reason": nil, "cross_validated": validated(l)}
	if l.Told && !math.IsNaN(l.Skill) && !math.IsInf(l.Skill, 0) {
		out["skill"] = json.Number(chance(l.Skill))
	}
	if l.Reason != "" {
		out["reason"] = l.Reason
	}
	rows := []map[string]any{}
	for i := range o.List {
		rows = append(rows, o.object(&o.List[i]))
	}
	out["rows"] = rows
	return indented(w, out)
}

func (o Outlooks) object(x *forecast.Outlook) map[string]any {
	row := map[string]any{}
	for k, cell := range o.cells(x) {
		switch {
		case cell == "":
			row[OutlookHeads[k]] = nil
		case k >= 1 && k <= core.Classes:
			row[OutlookHeads[k]] = json.Number(cell)
		default:
			row[OutlookHeads[k]] = cell
		}
	}
	drivers := []map[string]any{}
	row["confidence"], row["period"] = nil, nil
	if p := x.Prediction; p != nil {
		row["confidence"], row["period"] = p.Confidence, p.Period.String()
		for _, d := range p.Drivers {
			drivers = append(drivers, map[string]any{"feature": d.Feature, "direction": d.Direction, "size": json.Number(chance(d.Size)),
				"words": d.Words})
		}
	} else {
		row["reason"] = x.Reason
	}
	row["drivers"] = drivers
	return row
}

func validated(l *core.Learned) []map[string]any {
	list := []map[string]any{}
	for _, v := range l.Validated {
		x := map[string]any{"project": v.Project, "period": v.Period.String(), "outcome": forecast.Statuses[v.Outcome].String()}
		for k, c := range v.Chances {
			x[OutlookHeads[k+1]] = json.Number(chance(c))
		}
		list = append(list, x)
	}
	return list
}
