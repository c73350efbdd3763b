package closing

import (
	"context"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// Office is the door to closing projects. It is safe for concurrent use.
type Office struct {
	store kept.Reading
	edit  *edit.Office
}

// NewOffice makes the door to closing projects.
func NewOffice(store kept.Reading, edit *edit.Office) *Office {
	return &Office{store: store, edit: edit}
}

// MayClose reports whether the one who asks may close a project: whoever may change its row.
func (o *Office) MayClose(ctx context.Context, project string) bool {
	return o.edit.MayEdit(ctx, record.Projects, project) == nil
}

// Close gives an open project the status closed, for a reason that says why also where something is left to be done. Nothing that was sent
// for it goes. A project that is not open is an error wrapping ErrConflict.
func (o *Office) Close(ctx context.Context, a *assess.Assessment, project, reason string) (*intake.Receipt, error) {
	if _, err := access.Permit(ctx, access.Send); err != nil {
		return nil, err
	}
	p, err := a.Project(project)
	if err != nil {
		return nil, err
	}
	if p.Status != measure.Open {
		return nil, fault.Conflict("%s is %s, and only an open project can be closed", p.Code, p.Status)
	}
	if reason, err = fault.ReasonOf(reason, fault.MaxPlanReason); err != nil {
		return nil, err
	}
	closed := map[string]string{"status": "closed"}
	edits, err := edit.RowChange(ctx, o.store, record.Projects, project, closed)
	if err != nil {
		return nil, err
	}
	return o.edit.SaveTables(ctx, project, []edit.TableEdit{{Kind: record.Projects, Edits: edits}}, edit.SaveAs{Reason: reason})
}
