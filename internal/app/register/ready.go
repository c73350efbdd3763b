package register

import (
	"context"
	"fmt"
	"maps"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/record"
)

// ReadyRisk is a risk that turns up again and again.
type ReadyRisk struct{ Code, Title, Description, Category, ResponseKind, Response string }

// Ready are the risks that may be taken into a register.
func (o *Office) Ready(ctx context.Context) ([]ReadyRisk, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	f, err := o.store.Rows(ctx, record.ReadyRisks, kept.Selection{})
	if err != nil {
		return nil, err
	}
	list := make([]ReadyRisk, f.Len())
	for i := range list {
		list[i] = ReadyRisk{f.Cell(i, "code"), f.Cell(i, "title"), f.Cell(i, "description"), f.Cell(i, "category"), f.Cell(i,
			"response_kind"),
			f.Cell(i, "response")}
	}
	return list, nil
}

// FromReady fills the cells of a new risk that are empty from the ready one of a code.
func (o *Office) FromReady(ctx context.Context, code string, cells map[string]string) (map[string]string, error) {
	list, err := o.Ready(ctx)
	if err != nil {
		return nil, err
	}
	for _, x := range list {
		if x.Code != code {
			continue
		}
		set := maps.Clone(cells)
		for name, value := range map[string]string{"title": x.Title, "description": x.Description, "category": x.Category,
			"response_kind": x.ResponseKind, "response": x.Response} {
			if set[name] == "" {
				set[name] = value
			}
		}
		return set, nil
	}
	return nil, fmt.Errorf("ready risk %q: %w", fault.Clip(code, 40), fault.ErrNotFound)
}
