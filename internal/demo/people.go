package demo

import (
	"context"
	"strings"
	"time"
	"unicode"

	"golang.org/x/text/runes"
	"golang.org/x/text/transform"
	"golang.org/x/text/unicode/norm"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/account"
)

// Person is one of the made-up people as whom the demonstration may be entered.
type Person struct{ Login, Name, Says string }

// People are those as whom the demonstration is entered by one click.
func People() []Person {
	return []Person{
		{"osei", "R. Osei", "analyst of the portfolio office: collects, checks, explains, publishes"},
		{"okafor", "M. Okafor", "project lead: sends what the own projects are asked for"},
		{loginOf(staff()[member].name), staff()[member].name, "team member: writes hours, and does what is on the own desk"},
		{"almeida", "C. Almeida", "executive: reads what needs a decision; costs are not shown"},
		{"tanaka", "W. Tanaka", "administrator: people, structure, calendars, tolerances"},
	}
}

// people makes the accounts: four to enter as, and every lead, to whom reminders are written.
func people(ctx context.Context, store app.Store) error {
	office := app.NewOffice(store, func() time.Time { return time.Date(2026, 9, 1, 8, 0, 0, 0, time.UTC) }, app.Parts{})
	ctx = access.As(ctx, access.Operator("W. Tanaka"))
	list := []account.Account{
		{Login: "osei", Name: "R. Osei", Role: access.Analyst},
		{Login: "almeida", Name: "C. Almeida", Role: access.Executive, HideMoney: true},
		{Login: "tanaka", Name: "W. Tanaka", Role: access.Administrator},
		{Login: loginOf(staff()[member].name), Name: staff()[member].name, Role: access.Member, HideMoney: true, Scopes: worksOn(member)},
	}
	for _, name := range leads {
		list = append(list, account.Account{Login: loginOf(name), Name: name, Role: access.Lead})
	}
	for _, a := range list {
		a.Active, a.Email = true, a.Login+"@ostrel.example"
		if _, err := office.Account.SaveAccount(ctx, a, ""); err != nil {
			return err
		}
	}
	return nil
}

// loginOf is a family name in plain letters.
func loginOf(name string) string {
	plain, _, _ := transform.String(transform.Chain(norm.NFD, runes.Remove(runes.In(unicode.Mn)), norm.NFC), strings.ToLower(name))
	_, family, ok := strings.Cut(plain, " ")
	if !ok {
		family = plain
	}
	return strings.Map(func(r rune) rune {
		if r >= 'a' && r <= 'z' {
			return r
		}
		return -1
	}, strings.NewReplacer("ø", "o", "ı", "i").Replace(family))
}
