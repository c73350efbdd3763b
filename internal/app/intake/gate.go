package intake

import (
	"context"
	"errors"
	"slices"

	"turret/internal/app/condition"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/record"
)

// gated reports what is wrong with needs and gates: stages that no model has, and conditions that cannot be computed.
func gated(ctx context.Context, view kept.Reading, g *gatherer, files []*kept.File) error {
	if !slices.ContainsFunc(files, func(f *kept.File) bool { return f.Kind == record.GateNeeds || f.Kind == record.Gates }) {
		return nil
	}
	stages, err := view.Rows(ctx, record.Stages, kept.Selection{})
	if err != nil {
		return err
	}
	known, within := map[string]bool{}, map[[2]string]bool{}
	for _, f := range append(slices.Clone(files), stages) {
		if f.Kind != record.Stages {
			continue
		}
		for i := range f.Len() {
			known[f.Cell(i, "code")], within[[2]string{f.Cell(i, "model"), f.Cell(i, "code")}] = true, true
		}
	}
	standing, err := view.Rows(ctx, record.Gates, kept.Selection{})
	if err != nil {
		return err
	}
	for i := range standing.Len() { // of a stage that a model has no more
		known[standing.Cell(i, "stage")] = true
	}
	for _, f := range files {
		if f.Kind != record.GateNeeds && f.Kind != record.Gates {
			continue
		}
		g.file = f
		for i := range f.Len() {
			row, stage := f.Records[i].Row, f.Cell(i, "stage")
			switch {
			case f.Kind == record.Gates && !known[stage]:
				g.fail(row, "stage", stage, "a code in stages or taken in before")
			case f.Kind == record.GateNeeds && !within[[2]string{f.Cell(i, "model"), stage}]:
				g.fail(row, "stage", stage, "a stage of "+f.Cell(i, "model"))
			}
			if f.Kind == record.GateNeeds && f.Cell(i, "need") == record.NeedCondition {
				compiles(g, row, f.Cell(i, "of"))
			}
		}
	}
	return nil
}

func compiles(g *gatherer, row int32, text string) {
	_, err := condition.Compile(text, "project")
	if f := (*fault.FieldError)(nil); errors.As(err, &f) {
		g.fail(row, "of", fault.Clip(text, 80), f.Expected)
	}
}
