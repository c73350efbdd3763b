package intake

import (
	"context"
	"slices"

	"turret/internal/app/kept"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/record"
)

// scaleOf is the scale of a criterion, in ten-thousandths.
type scaleOf struct{ low, high int64 }

func (s scaleOf) holds(n int64) bool { return s.low <= n && n <= s.high }

// weighing holds contributions, criteria and ratings against each other and against what is there.
type weighing struct {
	*gatherer
	goals  map[string]bool
	scales map[[2]string]scaleOf // by model and criterion
	models map[string]bool
}

// weigh reports what is wrong with files that weigh proposals.
func weigh(ctx context.Context, view kept.Reading, g *gatherer, files []*kept.File) error {
	of := func(f *kept.File) bool {
		return slices.Contains([]record.Kind{record.Criteria, record.Contributions, record.Ratings}, f.Kind)
	}
	if !slices.ContainsFunc(files, of) {
		return nil
	}
	w := &weighing{gatherer: g, goals: map[string]bool{}, scales: map[[2]string]scaleOf{}, models: map[string]bool{}}
	standing := map[record.Kind]*kept.File{}
	for _, kind := range []record.Kind{record.Goals, record.Criteria, record.Ratings} {
		f, err := view.Rows(ctx, kind, kept.Selection{})
		if err != nil {
			return err
		}
		standing[kind] = f
		w.learn(f)
	}
	for _, f := range files {
		w.learn(f)
	}
	for _, f := range files {
		g.file = f
		switch f.Kind {
		case record.Contributions:
			w.contributions()
		case record.Criteria:
			w.criteria(files, standing[record.Ratings])
		case record.Ratings:
			w.ratings()
		}
	}
	return nil
}

// learn takes what goals and criteria a file has; a later one takes the place of an earlier one.
func (w *weighing) learn(f *kept.File) {
	for i := range f.Len() {
		switch f.Kind {
		case record.Goals:
			w.goals[f.Cell(i, "code")] = true
		case record.Criteria:
			var s scaleOf
			s.low, s.high = record.Scale(f.Cell(i, "lowest"), f.Cell(i, "highest"))
			w.scales[[2]string{f.Cell(i, "model"), f.Cell(i, "code")}] = s
			w.models[f.Cell(i, "model")] = true
		}
	}
}

func (w *weighing) contributions() {
	for i := range w.file.Len() {
		if goal := w.file.Cell(i, "goal"); !w.goals[goal] {
			w.fail(w.file.Records[i].Row, "goal", goal, "a code in goals or taken in before")
		}
	}
}

func (w *weighing) ratings() {
	for i := range w.file.Len() {
		row, model, criterion := w.file.Records[i].Row, w.file.Cell(i, "model"), w.file.Cell(i, "criterion")
		if !w.models[model] {
			w.fail(row, "model", model, "a model in criteria or taken in before")
			continue
		}
		s, ok := w.scales[[2]string{model, criterion}]
		if !ok {
			w.fail(row, "criterion", criterion, "a criterion of "+model)
			continue
		}
		text := w.file.Cell(i, "rating")
		if n, err := money.ParseDecimal(text, 4); err == nil && !s.holds(n) {
			w.fail(row, "rating", text, money.Plain(s.low, 4)+" to "+money.Plain(s.high, 4)+", the scale of "+criterion)
		}
	}
}

// criteria refuses measures that rate nothing, and scales that would leave ratings outside which stand.
func (w *weighing) criteria(files []*kept.File, ratings *kept.File) {
	anew := map[string]bool{} // projects whose ratings come with it
	for _, f := range files {
		if f.Kind == record.Ratings {
			for _, p := range f.OwnersOf() {
				anew[p] = true
			}
		}
	}
	for i := range w.file.Len() {
		row := w.file.Records[i].Row
		if key := w.file.Cell(i, "measure"); key != "" {
			w.measure(row, key)
		}
		name := [2]string{w.file.Cell(i, "model"), w.file.Cell(i, "code")}
		for k := range ratings.Len() {
			if name != [2]string{ratings.Cell(k, "model"), ratings.Cell(k, "criterion")} || anew[ratings.OwnerOf(k)] {
				continue
			}
			text := ratings.Cell(k, "rating")
			n, err := money.ParseDecimal(text, 4)
			if err != nil || w.scales[name].holds(n) {
				continue
			}
			column := "lowest"
			if n > w.scales[name].high {
				column = "highest"
			}
			w.fail(row, column, w.file.Cell(i, column), "a scale that holds the rating "+text+" of "+ratings.OwnerOf(k)+", which stands")
			break
		}
	}
}

func (w *weighing) measure(row int32, key string) {
	d, ok := measure.Lookup(key)
	if !ok {
		w.fail(row, "measure", key, "the key of a measure")
		return
	}
	if d.Unit.Worded() {
		w.fail(row, "measure", key, "a measure that is a number")
	}
}
