package page

import (
	"encoding/base64"
	"encoding/json"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/fault"
)

// Told is what an act says on the page that it leads to: what was done, and the form that undoes it where there is one.
type Told struct {
	Text   string `json:"t"`
	Undo   string `json:"u,omitempty"` // address that the form is sent to
	Fields []Pair `json:"f,omitempty"`
}

// toldCookie carries what was told from the act to the next page, which takes it away.
const toldCookie = "turret-told"

// most letters that are told; browsers keep 4,096 in a cookie.
const mostTold = 600

// Tell has the next page say what was done.
func Tell(c fiber.Ctx, text string) { TellUndo(c, text, "") }

// TellUndo has the next page say what was done, with a button that undoes it by sending fields, as names and values in turn.
func TellUndo(c fiber.Ctx, text, undo string, fields ...string) {
	x := Told{Text: fault.Clip(text, mostTold), Undo: undo}
	for i := 0; i+1 < len(fields); i += 2 {
		x.Fields = append(x.Fields, Pair{fields[i], fields[i+1]})
	}
	b, err := json.Marshal(x)
	if err != nil {
		return
	}
	c.Cookie(&fiber.Cookie{Name: toldCookie, Value: base64.RawURLEncoding.EncodeToString(b), Path: "/", HTTPOnly: true,
		SameSite: fiber.CookieSameSiteLaxMode, MaxAge: 60})
}

// told takes what the act before has to say; nil where there is nothing, or nothing that can be read.
func told(c fiber.Ctx) *Told {
	value := c.Cookies(toldCookie)
	if value == "" {
		return nil
	}
	c.Cookie(&fiber.Cookie{Name: toldCookie, Path: "/", HTTPOnly: true, SameSite: fiber.CookieSameSiteLaxMode, MaxAge: -1})
	b, err := base64.RawURLEncoding.DecodeString(value)
	x := &Told{}
	if err != nil || json.Unmarshal(b, x) != nil || x.Text == "" {
		return nil
	}
	if !strings.HasPrefix(x.Undo, "/") || strings.HasPrefix(x.Undo, "//") || strings.Contains(x.Undo, `\`) {
		x.Undo = ""
	}
	return x
}

// Withdrawable says that a load can be taken back, to those who may do it.
func Withdrawable(c fiber.Ctx) string {
	if access.ActorOf(c.Context()).MayWhole(access.Withdraw) {
		return ", which can be withdrawn under Loads"
	}
	return ""
}

// InPeriod names the period that an act was for.
func (r *Request) InPeriod() string { return " for " + r.Period().Name() }

// AnsweredWith answers a form as Answered does, and tells what was done where it was taken.
func AnsweredWith(c fiber.Ctx, err error, text, to string, again func(refused error) error) error {
	if err == nil {
		Tell(c, text)
	}
	return Answered(c, err, to, again)
}
