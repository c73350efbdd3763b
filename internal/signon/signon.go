// Package signon has people signed in by an identity provider, by OpenID Connect: the authorization code flow with PKCE.
package signon

import (
	"context"
	"errors"
	"fmt"
	"sync"
	"time"

	"github.com/coreos/go-oidc/v3/oidc"
	"golang.org/x/oauth2"

	"turret/internal/app/account"
)

// Provider is an identity provider that knows Turret as a client. It is asked how it works when somebody signs in for the first time, so
// that a server starts while it cannot be reached.
type Provider struct {
	Issuer       string // its address, as it stands in what it signs
	Client       string // by which it knows this office
	Secret       string
	Back         string // the address that it sends people back to
	Label        string // what people call it
	mu           sync.Mutex
	provider     *oidc.Provider
	verification *oidc.IDTokenVerifier
}

// patience is how long a provider is waited for.
const patience = 15 * time.Second

// ErrProvider is wrapped where the provider cannot be reached or answers with something else than was agreed.
var ErrProvider = errors.New("the identity provider")

// Name is what people call the provider.
func (p *Provider) Name() string { return p.Label }

func (p *Provider) known(ctx context.Context) (*oidc.Provider, *oidc.IDTokenVerifier, error) {
	p.mu.Lock()
	defer p.mu.Unlock()
	if p.provider == nil {
		found, err := oidc.NewProvider(context.WithoutCancel(ctx), p.Issuer) // its keys are fetched later by the same context
		if err != nil {
			return nil, nil, fmt.Errorf("%w cannot be asked: %w", ErrProvider, err)
		}
		p.provider, p.verification = found, found.Verifier(&oidc.Config{ClientID: p.Client})
	}
	return p.provider, p.verification, nil
}

func (p *Provider) client(found *oidc.Provider) *oauth2.Config {
	return &oauth2.Config{ClientID: p.Client, ClientSecret: p.Secret, Endpoint: found.Endpoint(), RedirectURL: p.Back,
		Scopes: []string{oidc.ScopeOpenID, "email", "profile"}}
}

// Ask is the address at which the provider asks somebody who they are. State comes back with them, nonce within what is signed.
func (p *Provider) Ask(ctx context.Context, state, nonce, verifier string) (string, error) {
	found, _, err := p.known(ctx)
	if err != nil {
		return "", err
	}
	return p.client(found).AuthCodeURL(state, oidc.Nonce(nonce), oauth2.S256ChallengeOption(verifier)), nil
}

// Answer is who somebody is that came back with a code. What is not signed by the provider for this office and this sign-in is an error
// that wraps ErrProvider.
func (p *Provider) Answer(ctx context.Context, code, nonce, verifier string) (*account.Identity, error) {
	ctx, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	found, verification, err := p.known(ctx)
	if err != nil {
		return nil, err
	}
	token, err := p.client(found).Exchange(ctx, code, oauth2.VerifierOption(verifier))
	if err != nil {
		return nil, fmt.Errorf("%w did not take the code: %w", ErrProvider, err)
	}
	raw, ok := token.Extra("id_token").(string)
	if !ok {
		return nil, fmt.Errorf("%w did not say who signed in", ErrProvider)
	}
	signed, err := verification.Verify(ctx, raw)
	if err != nil {
		return nil, fmt.Errorf("%w sent what cannot be trusted: %w", ErrProvider, err)
	}
	if signed.Nonce != nonce {
		return nil, fmt.Errorf("%w sent what was meant for another sign-in", ErrProvider)
	}
	var claims struct {
		Email    string `json:"email"`
		Verified bool   `json:"email_verified"`
	}
	if err := signed.Claims(&claims); err != nil {
		return nil, fmt.Errorf("%w: %w", ErrProvider, err)
	}
	return &account.Identity{Email: claims.Email, Verified: claims.Verified}, nil
}
