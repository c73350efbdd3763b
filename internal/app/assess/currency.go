package assess

import (
	"context"
	"fmt"

	"turret/internal/app/access"
	"turret/internal/core/money"
)

type currencyKey struct{}

// In returns a context in which amounts are assessed in a currency; empty is the reporting one.
func In(ctx context.Context, c money.Currency) context.Context {
	return context.WithValue(ctx, currencyKey{}, c)
}

func currencyIn(ctx context.Context) money.Currency {
	c, _ := ctx.Value(currencyKey{}).(money.Currency)
	return c
}

// PermitMoney refuses those from whom costs are kept.
func PermitMoney(ctx context.Context, act access.Act) (*access.Actor, error) {
	a, err := access.Permit(ctx, act)
	if err == nil && a.HideMoney {
		return nil, fmt.Errorf("costs: %w", access.ErrForbidden)
	}
	return a, err
}
