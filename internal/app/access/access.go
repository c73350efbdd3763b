// Package access tells who asks, what they may do, and how much of it at a time.
package access

import (
	"context"
	"errors"
	"fmt"
	"slices"

	"turret/internal/record"
)

// Errors of who may do what.
var (
	ErrSignedOut = errors.New("nobody is signed in")
	ErrForbidden = errors.New("not allowed")
)

// Role says what a person comes for.
type Role string

// The roles.
const (
	Analyst       Role = "analyst"
	Lead          Role = "lead"
	Executive     Role = "executive"
	Member        Role = "team member"
	Administrator Role = "administrator"
)

// Roles lists the roles as the user screen offers them.
func Roles() []Role { return []Role{Analyst, Lead, Member, Executive, Administrator} }

// Act is a thing that a role may do.
type Act string

// The acts. Reading is bounded by scope, sending by scope and kind besides.
const (
	Read        Act = "read"
	Book        Act = "write hours"
	Send        Act = "send input"
	ReadLoads   Act = "read loads"
	Withdraw    Act = "withdraw loads"
	Remind      Act = "remind leads"
	RunFeeds    Act = "run feeds"
	ReadAudit   Act = "read the audit trail"
	ReadSetup   Act = "read the settings"
	ChangeSetup Act = "change the settings"
	ManageUsers Act = "manage people"
	Judge       Act = "judge what was computed"
	Publish     Act = "publish"
)

var allowed = map[Role][]Act{
	Analyst:   {Read, Book, Send, ReadLoads, Withdraw, Remind, RunFeeds, ReadAudit, ReadSetup, Judge, Publish},
	Lead:      {Read, Book, Send},
	Member:    {Read, Book},
	Executive: {Read, Book},
	Administrator: {Read, Book, Send, ReadLoads, Withdraw, Remind, RunFeeds, ReadAudit, ReadSetup, ChangeSetup, ManageUsers, Judge,
		Publish},
}

// wholeOnly are the acts that cannot be cut to a scope: they are for those from whom nothing is kept.
var wholeOnly = []Act{Withdraw, RunFeeds, ReadAudit, ChangeSetup, ManageUsers, Publish}

// Right is an act and who may do it.
type Right struct {
	Act   Act
	Roles []Role
	Whole bool // only by those from whom nothing is kept
}

// Rights lists what may be done, and by whom.
func Rights() []Right {
	var list []Right
	for _, act := range allowed[Administrator] {
		r := Right{Act: act, Whole: slices.Contains(wholeOnly, act)}
		for _, role := range Roles() {
			if slices.Contains(allowed[role], act) {
				r.Roles = append(r.Roles, role)
			}
		}
		list = append(list, r)
	}
	return list
}

// Actor is whoever asks. Its Scopes are codes of portfolios, programmes and projects; for an analyst, an administrator and
// an executive none means all of them, a lead has the projects led besides.
type Actor struct {
	Account   int64 // 0 for the command line
	Login     string
	Name      string
	Role      Role
	Scopes    []string
	HideMoney bool
}

// Operator is who works on the file itself, by the command line: nobody could keep anything from them.
func Operator(name string) *Actor { return &Actor{Login: name, Name: name, Role: Administrator} }

// May reports whether the actor's role allows an act at all.
func (a *Actor) May(act Act) bool { return a != nil && slices.Contains(allowed[a.Role], act) }

// Everything reports whether no scope bounds the actor.
func (a *Actor) Everything() bool { return a.Role != Lead && a.Role != Member && len(a.Scopes) == 0 }

// Asked lists the kinds that the actor may send; a lead's are those that are asked of leads.
func (a *Actor) Asked(ofLeads []record.Kind) []record.Kind {
	switch {
	case !a.May(Send):
		return nil
	case a.Role == Lead:
		return a.MayKnow(ofLeads)
	}
	return a.MayKnow(record.Kinds())
}

// MayKnow leaves out the kinds of costs where those are kept from the actor.
func (a *Actor) MayKnow(list []record.Kind) []record.Kind {
	if !a.HideMoney {
		return list
	}
	return slices.DeleteFunc(slices.Clone(list), record.Kind.IsCost)
}

// MayWhole reports whether the actor may do what cannot be cut to a scope: the role allows it and nothing is kept from them.
func (a *Actor) MayWhole(act Act) bool { return a.May(act) && a.Unbounded() }

// Unbounded reports whether nothing at all is kept from the actor.
func (a *Actor) Unbounded() bool { return a.Everything() && !a.HideMoney }

type actorKey struct{}

// As returns a context in which the actor asks.
func As(ctx context.Context, a *Actor) context.Context { return context.WithValue(ctx, actorKey{}, a) }

// ActorOf returns who asks, nil where nobody is signed in.
func ActorOf(ctx context.Context) *Actor {
	a, _ := ctx.Value(actorKey{}).(*Actor)
	return a
}

// Lend has the one who asks write what follows from an act that was permitted by rules of its own, such as hours that a lead approves: in
// their own name, and with every right.
func Lend(ctx context.Context) context.Context {
	a := ActorOf(ctx)
	return As(ctx, &Actor{Account: a.Account, Login: a.Login, Name: a.Name, Role: Administrator})
}

// PermitWhole is Permit for what cannot be cut to a scope: it is for those from whom nothing is kept.
func PermitWhole(ctx context.Context, act Act) (*Actor, error) {
	a, err := Permit(ctx, act)
	if err == nil && !a.MayWhole(act) {
		return nil, fmt.Errorf("%s within a scope: %w", act, ErrForbidden)
	}
	return a, err
}

// Permit returns the actor where the act is allowed, else an error wrapping ErrSignedOut or ErrForbidden.
func Permit(ctx context.Context, act Act) (*Actor, error) {
	a := ActorOf(ctx)
	switch {
	case a == nil:
		return nil, ErrSignedOut
	case !a.May(act):
		return nil, fmt.Errorf("%s as %s: %w", act, a.Role, ErrForbidden)
	case slices.Contains(wholeOnly, act) && !a.Unbounded():
		return nil, fmt.Errorf("%s within a scope: %w", act, ErrForbidden)
	}
	return a, nil
}
