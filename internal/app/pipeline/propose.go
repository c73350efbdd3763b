package pipeline

import (
	"context"
	"fmt"
	"slices"

	"turret/internal/app/access"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/app/setting"
	"turret/internal/core/calendar"
	"turret/internal/record"
)

// Propose takes in what somebody proposes: whoever is signed in may. It is a project with status proposed from then on, led by them, and
// has the code that is returned.
func (o *Office) Propose(ctx context.Context, x *Idea, on calendar.Date) (code string, r *intake.Receipt, err error) {
	actor, err := access.Permit(ctx, access.Book)
	if err != nil {
		return "", nil, err
	}
	parts, err := o.Form(ctx)
	if err != nil {
		return "", nil, err
	}
	if err := x.check(parts); err != nil {
		return "", nil, err
	}
	m, err := o.store.Masters(ctx)
	if err != nil {
		return "", nil, err
	}
	code = nextCode(m)
	rows := x.rows(code, actor.Name, on.String())
	files, err := o.files(m, code, rows)
	if err != nil {
		return "", nil, err
	}
	r, err = o.intake.Import(access.Lend(ctx), files, intake.Origin{Source: "proposal of " + actor.Name, Author: actor.Name})
	return code, r, err
}

// Form is what the form asks for of the one who asks: nothing of costs where those are kept from them.
func (o *Office) Form(ctx context.Context) ([]setting.FormPart, error) {
	s, err := setting.Of(ctx, o.store)
	if err != nil {
		return nil, err
	}
	parts := slices.Clone(s.ProposalParts())
	if access.ActorOf(ctx).HideMoney {
		parts = slices.DeleteFunc(parts, func(p setting.FormPart) bool {
			return p.Part == setting.PartCost || p.Part == setting.PartBenefits
		})
	}
	return parts, nil
}

// nextCode is the first code of proposals that nothing has.
func nextCode(m *kept.Masters) string {
	for n := 1; ; n++ {
		code := fmt.Sprintf("NEW-%02d", n)
		if m.Holder(code) == 0 {
			return code
		}
	}
}

// files are rows as files of their kinds, in an order that resolves.
func (o *Office) files(m *kept.Masters, name string, rows map[record.Kind][]map[string]string) ([]*kept.File, error) {
	var files []*kept.File
	for _, kind := range record.Kinds() {
		if len(rows[kind]) == 0 {
			continue
		}
		in := kind.InputWith(m.Own)
		var list [][]string
		for _, set := range rows[kind] {
			row := make([]string, len(in.Columns))
			for column, value := range set {
				row[in.At(column)] = value
			}
			list = append(list, row)
		}
		slices.SortFunc(list, func(x, y []string) int { return slices.Compare(x, y) })
		f, problems := o.reader.With(m.Own).Typed(kind, list)
		if len(problems) > 0 {
			return nil, fault.Field(problems[0].Column, problems[0].Value, problems[0].Expected)
		}
		f.Name, f.Recognised = kind.Title()+" "+name, "typed"
		f.Digest, f.Size = edit.DigestRows(list)
		files = append(files, f)
	}
	return files, nil
}
