package letter

import (
	"context"
	"fmt"
	"slices"
	"time"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/setting"
)

// Message is a letter in the outbox.
type Message struct {
	File    string
	To      string
	Subject string
	Text    string
	At      time.Time
	By      string // login of who had it written

	Sent     time.Time // zero where it was not, or nothing sends from here
	Failed   string    // why the last try to send it was in vain
	Attached []Attachment
}

// Attachment is a file that goes with a message.
type Attachment struct {
	Name, Media string
	Bytes       []byte
}

// Outbox keeps messages as files for a mail system to fetch.
type Outbox interface {
	Put(m Message) (file string, err error)
	List() ([]Message, error)
	Open(file string) ([]byte, error)
	// Keep keeps a file that messages link to, by its content, and returns its name; Kept reads it.
	Keep(ending string, b []byte) (name string, err error)
	Kept(name string) ([]byte, error)
}

// Reminded says what came of reminders: the messages written, and the projects whose lead has no address.
type Reminded struct {
	Sent      []Message
	Unwritten []string
}

// Round is what is told to leads, a letter each: of their projects, in the order in which the leads come.
type Round[T any] struct {
	to        map[string]string
	leads     []string
	of        map[string][]T
	unwritten []string
}

// NewRound begins a round to those who have an address.
func NewRound[T any](addresses map[string]string) *Round[T] {
	return &Round[T]{to: addresses, of: map[string][]T{}}
}

// Tell puts something of a project into the letter of its lead; one without an address is named by the project.
func (r *Round[T]) Tell(lead, project string, x T) {
	if r.to[lead] == "" {
		r.unwritten = append(r.unwritten, fmt.Sprintf("%s (%s)", project, OrNobody(lead)))
		return
	}
	if r.of[lead] == nil {
		r.leads = append(r.leads, lead)
	}
	r.of[lead] = append(r.of[lead], x)
}

// Send has each letter written. Where one fails, those before it are told with the error.
func (r *Round[T]) Send(write func(lead, to string, list []T) (Message, error)) (*Reminded, error) {
	done := &Reminded{Unwritten: r.unwritten}
	for _, lead := range r.leads {
		m, err := write(lead, r.to[lead], r.of[lead])
		if m.File != "" {
			done.Sent = append(done.Sent, m)
		}
		if err != nil {
			return done, err
		}
	}
	return done, nil
}

// Addresses are where the people who may sign in can be written to, by their names.
func (o *Office) Addresses(ctx context.Context) (map[string]string, error) {
	accounts, err := o.store.Accounts(ctx)
	by := map[string]string{}
	for _, a := range accounts {
		if a.Email != "" && a.Active {
			by[a.Name] = a.Email
		}
	}
	return by, err
}

// Blind are the names of people from whom costs are kept.
func (o *Office) Blind(ctx context.Context) (map[string]bool, error) {
	accounts, err := o.store.Accounts(ctx)
	list := map[string]bool{}
	for i := range accounts {
		if accounts[i].HideMoney {
			list[accounts[i].Name] = true
		}
	}
	return list, err
}

// Reached are where people can be written to, and from which of them costs are kept, by their names.
func (o *Office) Reached(ctx context.Context) (addresses map[string]string, blind map[string]bool, err error) {
	if addresses, err = o.Addresses(ctx); err == nil {
		blind, err = o.Blind(ctx)
	}
	return addresses, blind, err
}

// Signature is who writes, with the organisation where the settings name it.
func Signature(a *access.Actor, s *setting.Settings) string {
	if s.Organisation == "" {
		return a.Name
	}
	return a.Name + "\n" + s.Organisation
}

// OrNobody is the name of a lead, or that there is none.
func OrNobody(s string) string {
	if s == "" {
		return "no lead"
	}
	return s
}

// Put writes a message in the name of who asks.
func (o *Office) Put(ctx context.Context, m Message) (string, error) {
	if actor := access.ActorOf(ctx); actor != nil {
		m.By = actor.Login
	}
	return o.mail.Put(m)
}

// Outbox lists the messages written, newest first: all of them to those from whom nothing is kept, to others their own.
func (o *Office) Outbox(ctx context.Context) ([]Message, error) {
	actor, err := access.Permit(ctx, access.Remind)
	if err != nil {
		return nil, err
	}
	list, err := o.mail.List()
	return slices.DeleteFunc(list, func(m Message) bool { return !actor.Unbounded() && m.By != actor.Login }), err
}

// OpenMessage reads a message of the outbox as it was written.
func (o *Office) OpenMessage(ctx context.Context, file string) ([]byte, error) {
	actor, err := access.Permit(ctx, access.Remind)
	if err != nil {
		return nil, err
	}
	if actor.Unbounded() {
		return o.mail.Open(file)
	}
	list, err := o.Outbox(ctx)
	if err != nil {
		return nil, err
	}
	if !slices.ContainsFunc(list, func(m Message) bool { return m.File == file }) {
		return nil, fmt.Errorf("message: %w", fault.ErrNotFound)
	}
	return o.mail.Open(file)
}

// Home is where links lead when nobody said at which address people reach Turret.
const Home = "http://127.0.0.1:8080"
