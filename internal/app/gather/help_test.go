package gather_test

import (
	"context"

	"turret/internal/app/access"
)

var ctx = access.As(context.Background(), access.Operator("a test"))
