package money

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/core/cost"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/record"
)

// ChangeLine is an entry of the register of changes of a scope.
type ChangeLine struct {
	Project *measure.Project
	cost.Change
	Worth   money.Amount // in the shown currency
	Problem error
}

// Changes lists the changes of a scope: those to be decided first, then the newest.
func Changes(a *assess.Assessment, s *assess.Scope) []ChangeLine {
	var list []ChangeLine
	for _, p := range s.Projects {
		for _, c := range p.Changes {
			l := ChangeLine{Project: p, Change: c}
			l.Worth, _, l.Problem = a.Rates.Planned(c.Amount, c.Currency, c.Month(a.Env.AsOf))
			list = append(list, l)
		}
	}
	slices.SortStableFunc(list, func(x, y ChangeLine) int {
		return cmp.Or(cmp.Compare(x.State, y.State), cmp.Compare(max(y.Closed, y.RequestedOn), max(x.Closed, x.RequestedOn)),
			cmp.Compare(x.Project.Code, y.Project.Code))
	})
	return list
}

// AskedChange is what somebody types to ask for a change. Texts are as typed.
type AskedChange struct {
	Code, Title, Amount, Currency, Days, CostCode, From, To, Profile, Reason string
}

func (c *AskedChange) row(project, state, by, on string) []string {
	return []string{project, c.Code, c.Title, state, c.Amount, c.Currency, c.Days, c.CostCode, c.From, c.To, c.Profile, c.Reason, by, on,
		"", "", ""}
}

// RequestChange enters a change into a project's register.
func (o *Office) RequestChange(ctx context.Context, project string, c AskedChange) error {
	actor, err := assess.PermitMoney(ctx, access.Send)
	if err != nil {
		return err
	}
	if c.Code = strings.TrimSpace(c.Code); c.Code == "" || len(c.Code) > 64 {
		return fault.Field("reference", c.Code, "a reference of up to 64 characters")
	}
	if c.Title = strings.TrimSpace(c.Title); c.Title == "" {
		return fault.Field("title", c.Title, "what is asked for")
	}
	if c.Reason, err = fault.ReasonOf(c.Reason, fault.MaxPlanReason); err != nil {
		return err
	}
	if strings.TrimSpace(c.Amount) == "" && strings.TrimSpace(c.Days) == "" {
		return fault.Field("amount", c.Amount, "an effect on the budget or on the finish")
	}
	y, m, d := o.now().Date()
	_, err = o.edit.SaveTables(ctx, project,
		[]edit.TableEdit{{Kind: record.Changes, Edits: []intake.Edited{{Old: nil, New: c.row(project, cost.Requested.String(), actor.Name,
			fmt.Sprintf("%04d-%02d-%02d", y, m, d))}}}}, edit.SaveAs{Reason: "asked for change " + c.Code})
	return err
}

// DecideChange approves or refuses a requested change. Where one with an amount is approved and no budget line names it yet, a line of
// that amount is added to the budget in the same step, over the days and on the cost code that the request names.
func (o *Office) DecideChange(ctx context.Context, a *assess.Assessment, project, code string, state cost.ChangeState,
	answer string) error {
	actor, err := access.PermitWhole(ctx, access.Send)
	if err != nil {
		return err
	}
	if answer, err = fault.ReasonOf(answer, fault.MaxPlanReason); err != nil {
		return err
	}
	p, err := a.Project(project)
	if err != nil {
		return err
	}
	g, err := edit.GridOf(ctx, o.store, record.Changes, project)
	if err != nil {
		return err
	}
	at := slices.IndexFunc(g.Rows, func(r []string) bool { return r[1] == code })
	if at < 0 {
		return fmt.Errorf("change %q of %s: %w", fault.Clip(code, 64), project, fault.ErrNotFound)
	}
	old := g.Rows[at]
	if old[3] != cost.Requested.String() {
		return fmt.Errorf("change %s is %s already: %w", code, old[3], fault.ErrConflict)
	}
	y, m, d := o.now().Date()
	row := slices.Clone(old)
	row[3], row[14], row[15], row[16] = state.String(), actor.Name, fmt.Sprintf("%04d-%02d-%02d", y, m, d), answer
	tables := []edit.TableEdit{{Kind: record.Changes, Edits: []intake.Edited{{Old: old, New: row}}}}
	if state == cost.Approved {
		budget, err := o.budgetOf(ctx, a, p, row)
		if err != nil {
			return err
		}
		if budget != nil {
			tables = append(tables, edit.TableEdit{Kind: record.Budget, Edits: []intake.Edited{{Old: nil, New: budget}}})
		}
	}
	_, err = o.edit.SaveTables(ctx, project, tables, edit.SaveAs{Reason: fmt.Sprintf("change %s %s: %s", code, state, answer)})
	return err
}

// budgetOf is the budget line that an approved change brings; nil where it has no amount, or lines of the budget name it already.
func (o *Office) budgetOf(ctx context.Context, a *assess.Assessment, p *measure.Project, row []string) ([]string, error) {
	named := false
	err := o.store.Lines(ctx, record.Budget, []int64{p.ID}, func(_ int64, l cost.Line) { named = named || l.Change == row[1] })
	amount, bad := money.Parse(row[4], money.Currency(row[5]))
	if err != nil || named || bad != nil || amount == 0 {
		return nil, err
	}
	if row[7] == "" {
		return nil, fault.Field("cost code", "", "the cost code that the money of "+row[1]+" is meant for; the change has none")
	}
	month, from, to := a.Env.AsOf.Month().String(), row[8], row[9]
	if from != "" {
		month = ""
	}
	return []string{p.Code, row[7], row[4], month, from, to, row[10], row[5], "", row[1], row[2]}, nil
}
