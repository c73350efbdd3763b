package intake

import (
	"context"
	"maps"

	"turret/internal/record"
)

// Own are the columns that the office made for projects, without those that are closed.
func (o *Office) Own(ctx context.Context) ([]record.Column, error) {
	m, err := o.store.Masters(ctx)
	if err != nil {
		return nil, err
	}
	return m.Own, nil
}

// Input describes a kind with the columns that the office made; nil for what is no kind.
func (o *Office) Input(ctx context.Context, kind record.Kind) (*record.Input, error) {
	own, err := o.Own(ctx)
	return kind.InputWith(own), err
}

// keepOwn are the fields of the office's own that a project has once a row comes: those that the row lacks stay. Empty ones remain, so that
// a row held against what stands once more is the same.
func keepOwn(stand, row map[string]string) map[string]string {
	own := maps.Clone(stand)
	for key, s := range row {
		if own == nil {
			own = map[string]string{}
		}
		own[key] = s
	}
	return own
}
