package forecast

import (
	"fmt"
	"strconv"
	"strings"

	"turret/internal/app/assess"
	"turret/internal/app/say"
	"turret/internal/core/fact"
	"turret/internal/core/figure"
	"turret/internal/core/forecast"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
	"turret/internal/core/write"
)

// Figures of a range that can be traced: percentiles as FinishOf and CostOf name them, and chances.
const (
	OfBaseline = "range.baseline"
	OfRequired = "range.required"
	OfBudget   = "range.budget"

	ofFinish = "range.finish."
	ofCost   = "range.cost."
)

// FinishOf and CostOf name a percentile.
func FinishOf(p int) string { return ofFinish + strconv.Itoa(p) }

// CostOf names a percentile of the cost.
func CostOf(p int) string { return ofCost + strconv.Itoa(p) }

// IsRange reports whether a name is one of a figure of a range.
func IsRange(name string) bool { return strings.HasPrefix(name, "range.") }

// Explain is where a figure of a row comes from, down to the rows that activities and risks were read from; false for what is none, is not
// known, or is kept from the reader. The row is one of a project, or of a milestone.
func (r *Ranges) Explain(a *assess.Assessment, row *Row, name string) (n measure.Node, known bool) {
	x := &explained{Ranges: r, a: a, row: row, of: int32(a.Index(row.Project.Code))}
	switch {
	case a.Shown && (name == OfBudget || strings.HasPrefix(name, ofCost)): // costs are drawn in the reporting currency
		return n, false
	case name == OfBaseline:
		return x.chance("Chance of the baseline", row.Baseline, "at or before the baseline finish. "+howDrawn, x.baseline(), x.finish()),
			row.Baseline.Given()
	case name == OfRequired:
		return x.chance("Chance of the day required", row.Required, "at or before the day required. "+howDrawn, x.required(), x.finish()),
			row.Required.Given()
	case name == OfBudget:
		return x.chance("Chance of the budget", row.Within(measure.BAC), "at or below the budget at completion.", x.figure(measure.BAC),
				x.cost()),
			row.Within(measure.BAC).Given()
	}
	if p, ok := percentile(name, ofFinish); ok && row.Day(p) != 0 {
		return measure.Node{Label: fmt.Sprintf("P%d of %s", p, x.subject()), Unit: figure.Day, Value: figure.Value{Known: true,
			N: int64(row.Day(p))},
			Rule: fmt.Sprintf("The first day by which at least %d %% of %s runs had ended. ", p, write.Whole(r.Asked.Runs)) +
				howDrawn,
			Children: x.finish()}, true
	}
	if p, ok := percentile(name, ofCost); ok && len(row.Cost) > 0 {
		sum, _ := row.Sum(p)
		return measure.Node{Label: fmt.Sprintf("P%d of the cost", p), Unit: figure.Money, Value: figure.Value{Known: true, N: int64(sum)},
			Rule: fmt.Sprintf("The amount that at least %d %% of %s runs cost no more than: what is spent, the cost to go as it is "+
				"drawn, and the risks that strike.", p, write.Whole(r.Asked.Runs)), Children: x.cost()}, true
	}
	return n, false
}

// subject is what a day is of.
func (x *explained) subject() string {
	if m := x.row.Milestone; m != nil {
		return say.Named(m.Code, m.Name)
	}
	return "the finish"
}

const howDrawn = "Each run draws the work left and the risks that strike, and dates the network."

// percentile reads one that is told of a name.
func percentile(name, of string) (int, bool) {
	rest, ok := strings.CutPrefix(name, of)
	for _, p := range Percentiles {
		if ok && rest == strconv.Itoa(p) {
			return p, true
		}
	}
	return 0, false
}

type explained struct {
	*Ranges
	a   *assess.Assessment
	row *Row
	of  int32 // of the project, in the plan
}

func (x *explained) venture() *forecast.Venture { return &x.sim.model.Ventures[x.of] }

// figure is a figure of the project itself, which has a trace of its own.
func (x *explained) figure(key measure.Key) measure.Node {
	d := measure.Of(key)
	return measure.Node{Label: d.Name, Key: key.String(), Project: x.row.Project.Code, Unit: d.Unit, Value: x.row.Project.Value(key)}
}

// chance is a share of the runs, with what they are held against and what they are drawn from.
func (x *explained) chance(label string, share fact.Ratio, by string, against measure.Node, from []measure.Node) measure.Node {
	return measure.Node{Label: label, Unit: figure.Share, Value: figure.Value{Known: share.Given(), Ratio: share.Float(), Exact: share},
		Rule:     fmt.Sprintf("The share of %s runs that came out %s", write.Whole(x.Asked.Runs), by),
		Children: append([]measure.Node{against}, from...)}
}

func (x *explained) baseline() measure.Node {
	if m := x.row.Milestone; m != nil {
		return measure.Node{Label: "Baseline", Unit: figure.Day, Ref: m.Ref, Value: figure.Value{Known: true, N: int64(x.row.BaselineDay)}}
	}
	return x.figure(measure.BaselineFinish)
}

func (x *explained) required() measure.Node {
	n := measure.Node{Label: "Required finish", Unit: figure.Day, Ref: x.row.Project.Ref, Value: figure.Value{Known: true,
		N: int64(x.row.RequiredDay)}}
	if m := x.row.Milestone; m != nil {
		n.Label, n.Ref = "Not after", m.Ref
	}
	return n
}

// finish is what moves the finish: the work left, the risks, and what the project waits for.
func (x *explained) finish() []measure.Node {
	v := x.venture()
	net := schedule.NewRerun(x.sim.model.Plan, x.sim.opt.Only)
	work := measure.Node{Label: "Work left", Unit: figure.Count, Rule: "Working days as planned, and what they are drawn from."}
	for i := range v.Tasks {
		t := &v.Tasks[i]
		if a := x.sim.of.Activity(t.Task); a.Kind != schedule.Milestone {
			work.Children = append(work.Children, measure.Node{Label: say.Named(a.Code, a.Name), Unit: figure.Count,
				Value: figure.Value{Known: true, N: int64(net.Left(t.Task))}, Detail: drawnFrom(t), Ref: a.Ref})
		}
	}
	list := []measure.Node{counted(work)}
	if risks := x.risks(func(h *forecast.Hazard) (string, bool) {
		if h.Task < 0 {
			return fmt.Sprintf("%s on the finish", workingDays(h.Days)), h.Days != 0
		}
		return fmt.Sprintf("%s on %s", workingDays(h.Days), x.sim.of.Activity(h.Task).Code), h.Days != 0
	}); len(risks.Children) > 0 {
		list = append(list, risks)
	}
	return append(list, x.waits()...)
}

func drawnFrom(t *forecast.Task) string {
	switch {
	case t.Range != nil:
		return fmt.Sprintf("drawn from %d, %d and %d working days", t.Range.Low, t.Range.Likely, t.Range.High)
	case len(t.Pool) > 0:
		return fmt.Sprintf("times how one of %s finished activities turned out", write.Whole(len(t.Pool)))
	}
	return "as planned in every run"
}

func workingDays(n int32) string { return write.Count(int(n), "working day", "working days") }

// counted is a node whose value is how many children it has.
func counted(n measure.Node) measure.Node {
	n.Value = figure.Value{Known: true, N: int64(len(n.Children))}
	return n
}

// risks are those that do something, with their probability.
func (x *explained) risks(does func(*forecast.Hazard) (string, bool)) measure.Node {
	n := measure.Node{Label: "Risks", Unit: figure.Count, Rule: "The probability with which each strikes in a run, and what it does then."}
	if x.Asked.NoRisks {
		return n
	}
	for i := range x.venture().Hazards {
		h := &x.venture().Hazards[i]
		detail, any := does(h)
		if !any || h.Code == x.Asked.Without {
			continue
		}
		child := measure.Node{Label: h.Code, Unit: figure.Share, Detail: detail, Value: figure.Value{Known: true,
			Ratio: float64(h.Probability) / 10_000,
			Exact: fact.Of(h.Probability, 10_000)}}
		for k := range x.row.Project.Risks {
			if r := &x.row.Project.Risks[k]; r.Code == h.Code {
				child.Label, child.Ref = say.Named(r.Code, r.Title), r.Ref
			}
		}
		n.Children = append(n.Children, child)
	}
	return counted(n)
}

// waits are the other projects that this one waits for; of those that the reader does not see their number is told.
func (x *explained) waits() []measure.Node {
	n := measure.Node{Label: "Projects it waits for", Unit: figure.Count, Rule: "They are drawn in the same runs."}
	hidden := 0
	for i, waited := range forecast.Waited(x.sim.of, len(x.a.All), x.of) {
		switch p := x.a.All[i]; {
		case !waited || int32(i) == x.of:
		case x.a.ByCode[p.Code] == nil:
			hidden++
		default:
			n.Children = append(n.Children, measure.Node{Label: p.Code + " " + p.Name, Key: measure.ComputedFinish.String(),
				Project: p.Code,
				Unit:    figure.Day,
				Value:   p.Value(measure.ComputedFinish)})
		}
	}
	if hidden > 0 {
		n.Children = append(n.Children, measure.Node{Label: "in other scopes", Unit: figure.Count, Value: figure.Value{Known: true,
			N: int64(hidden)}})
	}
	if len(n.Children) == 0 {
		return nil
	}
	return []measure.Node{counted(n)}
}

// cost is what is spent, what is to come, and the risks that cost something.
func (x *explained) cost() []measure.Node {
	v := x.venture()
	toGo := measure.Node{Label: "Cost to go", Unit: figure.Money, Value: figure.Value{Known: true, N: int64(v.ToGo)},
		Detail: "as forecast in every run"}
	if len(v.Pool) > 0 {
		toGo.Detail = fmt.Sprintf("times how one of %s finished projects turned out from where this one stands", write.Whole(len(v.Pool)))
	}
	toGo.Children = []measure.Node{x.figure(measure.ForecastToGo)}
	list := []measure.Node{x.figure(measure.AC), toGo}
	if risks := x.risks(func(h *forecast.Hazard) (string, bool) {
		return h.Cost.Human(x.a.Masters.Reporting), h.Cost != 0
	}); len(risks.Children) > 0 {
		list = append(list, risks)
	}
	return list
}
