package simulate

import (
	"crypto/rand"
	"crypto/rsa"
	"crypto/sha256"
	"crypto/subtle"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"html/template"
	"net/http"
	"net/url"
	"sync"
	"time"

	"github.com/go-jose/go-jose/v4"
	"github.com/go-jose/go-jose/v4/jwt"
)

// SignOn stands in for an identity provider that speaks OpenID Connect. It asks nobody for a password: whoever comes chooses who they are.
type SignOn struct {
	Issuer, Client, Secret string
	Now                    func() time.Time // that tokens are stamped with
	People                 []string         // addresses that one may choose from; any other may be asked for as well
	Unverified             bool             // it does not vouch for addresses
	Nonce                  string           // said in the place of what it was asked with, where not empty

	once sync.Once
	key  *rsa.PrivateKey
	mu   sync.Mutex
	sent map[string]asked // by code
}

// asked is a sign-in that waits for its code to be taken.
type asked struct{ email, nonce, challenge, back string }

// Handler answers below the path of the issuer.
func (s *SignOn) Handler() http.Handler {
	s.once.Do(func() {
		s.key, _ = rsa.GenerateKey(rand.Reader, 2048) // fails of no randomness alone
		s.sent = map[string]asked{}
	})
	m := http.NewServeMux()
	m.HandleFunc("GET /.well-known/openid-configuration", s.describe)
	m.HandleFunc("GET /keys", s.keys)
	m.HandleFunc("GET /authorize", s.authorize)
	m.HandleFunc("POST /token", s.token)
	return m
}

func answerJSON(w http.ResponseWriter, v any) {
	w.Header().Set("Content-Type", "application/json")
	_ = json.NewEncoder(w).Encode(v)
}

func (s *SignOn) describe(w http.ResponseWriter, _ *http.Request) {
	answerJSON(w, map[string]any{"issuer": s.Issuer, "authorization_endpoint": s.Issuer + "/authorize", "token_endpoint": s.Issuer +
		"/token",
		"jwks_uri": s.Issuer + "/keys", "response_types_supported": []string{"code"}, "subject_types_supported": []string{"public"},
		"id_token_signing_alg_values_supported": []string{"RS256"}, "code_challenge_methods_supported": []string{"S256"}})
}

func (s *SignOn) keys(w http.ResponseWriter, _ *http.Request) {
	answerJSON(w, jose.JSONWebKeySet{Keys: []jose.JSONWebKey{{Key: s.key.Public(), KeyID: "1", Algorithm: "RS256", Use: "sig"}}})
}

var who = template.Must(template.New("").Parse(`<!doctype html><html lang="en"><title>Who are you?</title><h1>Who are you?</h1>
<p>This stands in for an identity provider. It asks for no password.</p>
<ul>{{range .}}<li><a href="{{.Href}}">{{.Email}}</a></li>{{end}}</ul></html>`))

// authorize has somebody choose who they are, and sends them back with a code.
func (s *SignOn) authorize(w http.ResponseWriter, r *http.Request) {
	q := r.URL.Query()
	back, err := url.Parse(q.Get("redirect_uri"))
	if err != nil || q.Get("client_id") != s.Client || q.Get("code_challenge_method") != "S256" {
		http.Error(w, "not a client of this provider", http.StatusBadRequest)
		return
	}
	email := q.Get("as")
	if email == "" {
		type choice struct{ Email, Href string }
		var list []choice
		for _, p := range s.People {
			q.Set("as", p)
			list = append(list, choice{p, "?" + q.Encode()})
		}
		_ = who.Execute(w, list)
		return
	}
	code := rand.Text()
	s.mu.Lock()
	s.sent[code] = asked{email, q.Get("nonce"), q.Get("code_challenge"), q.Get("redirect_uri")}
	s.mu.Unlock()
	back.RawQuery = url.Values{"code": {code}, "state": {q.Get("state")}}.Encode()
	http.Redirect(w, r, back.String(), http.StatusFound)
}

// token takes a code once, from the client that has the secret of the sign-in, and says who signed in.
func (s *SignOn) token(w http.ResponseWriter, r *http.Request) {
	client, secret, _ := r.BasicAuth()
	if client == "" {
		client, secret = r.FormValue("client_id"), r.FormValue("client_secret")
	}
	s.mu.Lock()
	a, known := s.sent[r.FormValue("code")]
	delete(s.sent, r.FormValue("code"))
	s.mu.Unlock()
	sum := sha256.Sum256([]byte(r.FormValue("code_verifier")))
	if !known || client != s.Client || subtle.ConstantTimeCompare([]byte(secret), []byte(s.Secret)) != 1 ||
		a.back != r.FormValue("redirect_uri") ||
		base64.RawURLEncoding.EncodeToString(sum[:]) != a.challenge {
		w.WriteHeader(http.StatusBadRequest)
		answerJSON(w, map[string]string{"error": "invalid_grant"})
		return
	}
	signed, err := s.signed(&a)
	if err != nil {
		http.Error(w, err.Error(), http.StatusInternalServerError)
		return
	}
	answerJSON(w, map[string]any{"access_token": rand.Text(), "token_type": "Bearer", "expires_in": 300, "id_token": signed})
}

func (s *SignOn) signed(a *asked) (string, error) {
	signer, err := jose.NewSigner(jose.SigningKey{Algorithm: jose.RS256, Key: jose.JSONWebKey{Key: s.key, KeyID: "1"}}, nil)
	if err != nil {
		return "", fmt.Errorf("signing: %w", err)
	}
	nonce := a.nonce
	if s.Nonce != "" {
		nonce = s.Nonce
	}
	now := s.Now()
	return jwt.Signed(signer).Claims(jwt.Claims{Issuer: s.Issuer, Subject: a.email, Audience: jwt.Audience{s.Client},
		IssuedAt: jwt.NewNumericDate(now), Expiry: jwt.NewNumericDate(now.Add(5 * time.Minute))}).
		Claims(map[string]any{"nonce": nonce, "email": a.email, "email_verified": !s.Unverified}).Serialize()
}
