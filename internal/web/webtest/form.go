package webtest

import (
	"encoding/base64"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// Hidden stands in pages for the token of their forms, and in forms for that of whoever sends them.
const Hidden = "token"

// Fields reads the values of a page's form as a browser would send them.
func Fields(t *testing.T, html, action string) url.Values {
	t.Helper()
	at := regexp.MustCompile(`<form[^>]*method="post"[^>]*action="` + regexp.QuoteMeta(action) + `"`).FindStringIndex(html)
	require.NotNil(t, at, "a form to %s among %v", action, regexp.MustCompile(`<form[^>]*>`).FindAllString(html, -1))
	form := html[at[1]:]
	form, _, _ = strings.Cut(form, "</form>")
	q := url.Values{}
	un := strings.NewReplacer("&amp;", "&", "&#43;", "+", "&#34;", `"`, "&lt;", "<", "&gt;", ">", "&#39;", "'")
	for _, m := range regexp.MustCompile(`<input([^>]*)>`).FindAllStringSubmatch(form, -1) {
		name, value := Attribute(m[1], "name"), un.Replace(Attribute(m[1], "value"))
		if name == "" || strings.Contains(m[1], `type="checkbox"`) && !strings.Contains(m[1], " checked") {
			continue
		}
		q.Add(name, value)
	}
	for _, m := range regexp.MustCompile(`(?s)<select([^>]*)>(.*?)</select>`).FindAllStringSubmatch(form, -1) {
		chosen := regexp.MustCompile(`<option([^>]*) selected>([^<]*)`).FindStringSubmatch(m[2])
		if name := Attribute(m[1], "name"); name != "" {
			value := ""
			if chosen != nil {
				value = chosen[2]
				if strings.Contains(chosen[1], "value=") {
					value = Attribute(chosen[1], "value")
				}
			}
			q.Add(name, un.Replace(value))
		}
	}
	for _, m := range regexp.MustCompile(`(?s)<textarea([^>]*)>(.*?)</textarea>`).FindAllStringSubmatch(form, -1) {
		q.Add(Attribute(m[1], "name"), un.Replace(m[2]))
	}
	return q
}

// Attribute is the value of an attribute of a tag; empty where it has none.
func Attribute(tag, name string) string {
	m := regexp.MustCompile(` ` + name + `="([^"]*)"`).FindStringSubmatch(tag)
	if m == nil {
		return ""
	}
	return m[1]
}

// ToldBy is what an answer has the next page say.
func ToldBy(t *testing.T, head http.Header) string {
	t.Helper()
	for _, c := range (&http.Response{Header: head}).Cookies() {
		if c.Name == "turret-told" {
			b, err := base64.RawURLEncoding.DecodeString(c.Value)
			require.NoError(t, err)
			return string(b)
		}
	}
	return ""
}

// TokenOf is the token that the forms of a page carry.
func TokenOf(html string) string {
	_, rest, _ := strings.Cut(html, `name="_csrf" value="`)
	token, _, _ := strings.Cut(rest, `"`)
	return token
}
