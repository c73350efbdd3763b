package edit

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"strings"

	"turret/internal/app/access"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/record"
)

// Confirm sends what stands of some kinds of a project again, unchanged, for the period: nothing moves, and the inputs have come. Kinds of
// which nothing stands are left out; the kinds that were sent are returned.
func (o *Office) Confirm(ctx context.Context, project string, kinds []record.Kind) ([]record.Kind, error) {
	period, err := o.intake.PeriodFor(ctx)
	if err != nil {
		return nil, err
	}
	var files []*kept.File
	var sent []record.Kind
	for _, k := range kinds {
		if !k.IsRevision() {
			continue
		}
		if err := o.MayEdit(ctx, k, project); err != nil {
			return nil, err
		}
		g, err := GridOf(ctx, o.store, k, project)
		if err != nil {
			return nil, err
		}
		if len(g.Rows) == 0 || k == record.Statuses && strings.Join(g.Rows[0][1:], "") == "" {
			continue
		}
		f, problems := o.reader.Typed(k, g.Rows)
		if len(problems) > 0 {
			return nil, &Error{Problems: problems}
		}
		f.Name, f.Recognised = fmt.Sprintf("confirmed: %s %s", k.Title(), project), "confirmed as it stood"
		sum := sha256.Sum256([]byte(fmt.Sprint(project, k, period, g.Rows)))
		f.Digest = hex.EncodeToString(sum[:])
		files, sent = append(files, f), append(sent, k)
	}
	if len(files) == 0 {
		return nil, nil
	}
	actor := access.ActorOf(ctx)
	_, err = o.intake.Import(ctx, files, intake.Origin{Source: intake.TypedBy(actor), Author: actor.Name, Period: period})
	return sent, err
}
