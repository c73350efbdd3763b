package web_test

import (
	"errors"
	"fmt"
	"net/url"
	"os"
	"strconv"
	"syscall"
	"testing"

	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/web/webtest"
)

// Tries in other spellings count for the same name; an administrator's new password lets the person in again.
func TestSpellingsOfANameAreOne(t *testing.T) {
	h := webtest.New(t)
	_, err := h.Office.Account.SaveAccount(webtest.Ctx(), webtest.AccountOf(t, h, "lea"), "the first password of Lea")
	require.NoError(t, err)
	try := func(login, password string) string {
		_, html, _ := h.Ask("", "POST", "/sign-in", url.Values{"login": {login}, "password": {password}})
		return html
	}
	for _, login := range []string{"lea", " lea", "LEA", "lea ", "Lea"} {
		assert.Contains(t, try(login, "wrong"), "is not right")
	}
	for _, login := range []string{"lea", "\tlea", "lEa"} {
		assert.Contains(t, try(login, "the first password of Lea"), "Too many tries", login)
	}
	a := webtest.AccountOf(t, h, "lea")
	id, version := strconv.FormatInt(a.ID, 10), strconv.FormatInt(a.Version, 10)
	h.Token["admin"] = webtest.TokenOf(h.Page("admin", "/setup/people"))
	status, _, _ := h.Ask("admin", "POST", "/setup/people/"+id, url.Values{"_csrf": {h.Token["admin"]}, "login": {"lea"}, "name": {"Lea"},
		"role": {"lead"}, "active": {"yes"},
		"version": {version}, "password": {"a password from the office"}})
	require.Equal(t, 303, status)
	assert.Empty(t, try("lea", "a password from the office"), "let in, and led on")
}

// A full disk is told as such, whoever found out.
func TestAFullDiskIsTold(t *testing.T) {
	h := webtest.New(t)
	for i, err := range []error{fmt.Errorf("keeping x: %w", &os.PathError{Op: "write", Path: "/secret/x", Err: syscall.ENOSPC}),
		errors.New("loading: database or disk is full (13)")} {
		path := fmt.Sprint("/full", i)
		h.Server.App.Get(path, func(fiber.Ctx) error { return err })
		status, html, _ := h.Ask("ana", "GET", path, nil)
		assert.Equal(t, 507, status)
		assert.Contains(t, html, "The disk that Turret writes to is full")
		assert.NotContains(t, html, "secret")
	}
}
