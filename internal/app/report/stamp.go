package report

import (
	"context"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"net/url"
	"regexp"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/core/money"
)

// Stamp says of a document which closed period it shows, and how it was made, so that it can be made again: the report and its reader.
type Stamp struct {
	Digest   string         `json:"digest"`
	Period   string         `json:"period"`
	Issue    int            `json:"issue"`
	Name     string         `json:"name"`
	Report   string         `json:"report"` // as an address says it
	Currency money.Currency `json:"currency,omitempty"`
	Role     access.Role    `json:"role"`
	Scopes   []string       `json:"scopes,omitempty"`
	NoCosts  bool           `json:"no_costs,omitempty"`
}

// stampMark begins the text of a stamp in a document; the rest is base64, so that no form of document has to escape it.
const stampMark = "turret-stamp:"

var stampText = regexp.MustCompile(stampMark + `([A-Za-z0-9_-]+)`)

// Text is the stamp as documents hold it.
func (s *Stamp) Text() string {
	b, _ := json.Marshal(s) // texts and numbers alone
	return stampMark + base64.RawURLEncoding.EncodeToString(b)
}

// ReadStamp finds the stamp in a document's bytes. There being none is an error wrapping ErrNotFound.
func ReadStamp(document []byte) (*Stamp, error) {
	found := stampText.FindSubmatch(document)
	if found == nil {
		return nil, fmt.Errorf("a stamp of a published period: %w", fault.ErrNotFound)
	}
	var s Stamp
	b, err := base64.RawURLEncoding.DecodeString(string(found[1]))
	if err == nil {
		err = json.Unmarshal(b, &s)
	}
	if err != nil {
		return nil, fmt.Errorf("the stamp cannot be read: %w", err)
	}
	return &s, nil
}

// stamp is that of a report on a closed period as the actor sees it; nil where the period is not closed.
func stamp(a *assess.Assessment, actor *access.Actor, r *Report) *Stamp {
	p := a.Closed
	if p == nil {
		return nil
	}
	s := &Stamp{Digest: p.Digest, Period: p.Span.String(), Issue: p.Issue, Name: r.Name, Report: r.Query().Encode(), Role: actor.Role,
		Scopes: actor.Scopes, NoCosts: a.NoMoney}
	if a.Shown {
		s.Currency = a.Env.Currency
	}
	return s
}

// Stamped is the closed period that a stamp names, and the content of its report made again for the reader whom it was made for. A period
// that this file did not close so is an error wrapping ErrNotFound.
func (o *Office) Stamped(ctx context.Context, s *Stamp) (*kept.Period, *Content, error) {
	if _, err := access.PermitWhole(ctx, access.Read); err != nil {
		return nil, nil, err
	}
	issues, err := o.store.Closings(ctx)
	if err != nil {
		return nil, nil, err
	}
	for i := range issues {
		p := &issues[i]
		if p.Digest != s.Digest || p.Span.String() != s.Period || p.Issue != s.Issue {
			continue
		}
		c, err := o.again(ctx, p, s)
		return p, c, err
	}
	return nil, nil, fmt.Errorf("issue %d of %s with the digest %s: %w", s.Issue, s.Period, fault.Clip(s.Digest, 64), fault.ErrNotFound)
}

func (o *Office) again(ctx context.Context, p *kept.Period, s *Stamp) (*Content, error) {
	q, err := url.ParseQuery(s.Report)
	if err != nil {
		return nil, err
	}
	r, err := Parse(q)
	if err != nil {
		return nil, err
	}
	r.Name = s.Name
	reader := &access.Actor{Login: "verify", Name: "verify", Role: s.Role, Scopes: s.Scopes, HideMoney: s.NoCosts}
	ctx = assess.In(access.As(ctx, reader), s.Currency)
	a, err := o.assess.AssessClosed(ctx, o.store.At(p.Bound()), p)
	if err != nil {
		return nil, err
	}
	return o.content(ctx, assess.Narrowed(a, reader), r)
}
