package setting

import (
	"context"
	"net/url"
	"regexp"
	"strings"

	"turret/internal/app/fault"
)

// keptApart stands in an address for what is kept apart from it.
const keptApart = "kept-apart"

// secretive are names of parameters whose values let somebody in.
var secretive = regexp.MustCompile(`(?i)key|token|secret|pass|pwd|auth|sig|credential`)

// masked is an address without its name and password, and without the values of parameters that let somebody in; secret says whether it had
// any. One that cannot be read is hidden whole.
func masked(address string) (plain string, secret bool) {
	u, err := url.Parse(address)
	if err != nil {
		return keptApart, true
	}
	if u.User != nil {
		secret = u.User.String() != keptApart
		u.User = url.User(keptApart)
	}
	q, err := url.ParseQuery(u.RawQuery)
	if err != nil {
		u.RawQuery = keptApart
		return u.String(), true
	}
	changed := false
	for name, values := range q {
		if !secretive.MatchString(name) {
			continue
		}
		for i, v := range values {
			secret, changed = secret || v != keptApart, true
			values[i] = keptApart
		}
	}
	if changed {
		u.RawQuery = q.Encode()
	}
	if u.User == nil && !changed {
		return address, false
	}
	return u.String(), secret
}

// Plain are settings whose addresses tell no secret.
func (s *Settings) Plain() *Settings {
	x := *s
	x.Feeds = make([]FeedSetting, len(s.Feeds))
	for i, f := range s.Feeds {
		f.Address, _ = masked(f.Address)
		x.Feeds[i] = f
	}
	return &x
}

// secrets are the addresses to keep apart, by feed: those that have a secret, and nothing for feeds that are gone or lead elsewhere by now.
func (s *Settings) secrets(old *Settings) map[string]string {
	list, plain := map[string]string{}, map[string]string{}
	for _, f := range s.Feeds {
		address, secret := masked(f.Address)
		if plain[f.Name] = address; secret {
			list[f.Name] = f.Address
		}
	}
	for _, f := range old.Feeds {
		if was, _ := masked(f.Address); list[f.Name] == "" && plain[f.Name] != was {
			list[f.Name] = ""
		}
	}
	return list
}

// Reached is a feed with the address that it is reached at, its secrets included. One whose secrets belong to another address has lost
// them.
func (o *Office) Reached(ctx context.Context, f FeedSetting) (FeedSetting, error) {
	if _, secret := masked(f.Address); secret { // as it stood before they were kept apart
		return f, nil
	}
	held, err := o.store.Secret(ctx, f.Name)
	if err != nil {
		return f, err
	}
	if plain, _ := masked(held); held != "" && plain == f.Address {
		f.Address = held
		return f, nil
	}
	if strings.Contains(f.Address, keptApart) {
		return f, fault.Field("address", f.Address, "an address with its secrets; type it again, this file does not have them")
	}
	return f, nil
}
