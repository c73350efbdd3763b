package hours

import (
	"turret/internal/app/access"
	"turret/internal/web/page"
)

// planner refuses those who plan with nobody.
func planner(r *page.Request) error {
	_, err := access.Permit(r.Context(), access.Send)
	return err
}

func mayRemind(r *page.Request) bool { return access.ActorOf(r.Context()).May(access.Remind) }
