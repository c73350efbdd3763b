package access_test

import (
	"context"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/access"
	"turret/internal/record"
)

// Who may do what, written by hand: analyst, lead, team member, executive, administrator; w where only those may from whom nothing is
// kept.
var rights = map[access.Act]string{
	access.Read: "a l m e d", access.Book: "a l m e d", access.Send: "a l d", access.ReadLoads: "a d", access.Withdraw: "a d w",
	access.Remind:   "a d",
	access.RunFeeds: "a d w", access.ReadAudit: "a d w", access.ReadSetup: "a d", access.ChangeSetup: "d w",
	access.ManageUsers: "d w", access.Judge: "a d", access.Publish: "a d w",
}

var letters = map[access.Role]string{access.Analyst: "a", access.Lead: "l", access.Member: "m", access.Executive: "e",
	access.Administrator: "d"}

func has(list, letter string) bool { return slices.Contains(strings.Fields(list), letter) }

func TestWhoMayDoWhat(t *testing.T) {
	for act, list := range rights {
		for role, letter := range letters {
			for _, bound := range []string{"", "scope", "money"} {
				a := &access.Actor{Role: role, HideMoney: bound == "money"}
				if bound == "scope" {
					a.Scopes = []string{"N"}
				}
				held := bound != "" || role == access.Lead || role == access.Member
				may := has(list, letter)
				said := string(act) + " as " + string(role) + " " + bound
				assert.Equal(t, may, a.May(act), said)
				_, err := access.Permit(access.As(context.Background(), a), act)
				if may && !(has(list, "w") && held) {
					assert.NoError(t, err, said)
				} else {
					assert.ErrorIs(t, err, access.ErrForbidden, said)
				}
				_, err = access.PermitWhole(access.As(context.Background(), a), act)
				assert.Equal(t, may && !held, err == nil, said)
				assert.Equal(t, may && !held, a.MayWhole(act), said)
			}
		}
	}
	assert.Len(t, access.Rights(), len(rights), "an act is missing in the table of this test")
	for _, r := range access.Rights() {
		assert.Equal(t, has(rights[r.Act], "w"), r.Whole, r.Act)
		for _, role := range access.Roles() {
			assert.Equal(t, has(rights[r.Act], letters[role]), slices.Contains(r.Roles, role), r.Act)
		}
	}
}

func TestNobodyMayAnything(t *testing.T) {
	_, err := access.Permit(context.Background(), access.Read)
	assert.ErrorIs(t, err, access.ErrSignedOut)
	_, err = access.PermitWhole(access.As(context.Background(), nil), access.Read)
	assert.ErrorIs(t, err, access.ErrSignedOut)
	var nobody *access.Actor
	assert.False(t, nobody.May(access.Read))
	_, err = access.Permit(access.As(context.Background(), &access.Actor{Role: "king"}), access.Read)
	assert.ErrorIs(t, err, access.ErrForbidden, "a role that is none")
	_, err = access.PermitWhole(access.As(context.Background(), access.Operator("x")), access.ManageUsers)
	assert.NoError(t, err, "who works on the file itself")
}

func TestWhatIsAsked(t *testing.T) {
	ofLeads := []record.Kind{record.Activities, record.Forecast}
	assert.Empty(t, (&access.Actor{Role: access.Executive}).Asked(ofLeads))
	assert.Equal(t, ofLeads, (&access.Actor{Role: access.Lead}).Asked(ofLeads))
	assert.Equal(t, []record.Kind{record.Activities}, (&access.Actor{Role: access.Lead, HideMoney: true}).Asked(ofLeads),
		"costs are kept from this one")
	assert.Equal(t, ofLeads, []record.Kind{record.Activities, record.Forecast}, "and the settings stay as they are")
	assert.Equal(t, record.Kinds(), (&access.Actor{Role: access.Analyst}).Asked(nil))
	for _, k := range (&access.Actor{Role: access.Analyst, HideMoney: true}).Asked(nil) {
		assert.False(t, k.IsCost(), k)
	}
}
