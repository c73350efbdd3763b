package register

import (
	"context"
	"fmt"
	"net/url"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/register"
	"turret/internal/core/write"
	"turret/internal/record"
	"turret/internal/web/page"
)

// sent is what a form sends, which outlives the request: its fields, the cells of a record among them, and the place that it was sent
// from, as it is understood.
func sent(c fiber.Ctx, understand func(fiber.Ctx) (*page.Request, error)) (q url.Values, cells map[string]string, r *page.Request,
	err error) {
	if q, err = url.ParseQuery(string(c.Body())); err != nil {
		return nil, nil, nil, fiber.NewError(fiber.StatusBadRequest, "The form cannot be read.")
	}
	cells = map[string]string{}
	for name := range q {
		if column, ok := strings.CutPrefix(name, "c-"); ok {
			cells[column] = edit.Plain(q.Get(name))
		}
	}
	r, err = understand(c)
	return q, cells, r, err
}

// again shows the page of a kind once more, with what was wrong.
func (s *pages) again(c fiber.Ctx, kind record.Kind, typed map[string]string) func(error) error {
	return func(refused error) error {
		switch kind {
		case record.Risks:
			return s.showRisks(c, refused, typed)
		case record.Actions, record.Activities:
			return s.showActions(c, refused, typed)
		case record.Lessons:
			return s.showLessons(c, refused, typed)
		}
		return s.showList(c, kind, refused, typed)
	}
}

// answer tells what an act came to, with its undo, and leads back to where it was done.
func (s *pages) answer(c fiber.Ctx, r *intake.Receipt, err error, kind record.Kind, text, back string, typed map[string]string) error {
	if refused := page.Refused(err); refused != nil && back != "" && typed == nil {
		page.Tell(c, page.RefusedText(refused)) // done from a record or a card: there is nothing typed to keep
		return page.Go(c, back)
	}
	if err == nil {
		tell(c, r, text, back)
	}
	return page.Answered(c, err, back, s.again(c, kind, typed))
}

// tell says what was done, and offers to undo it to whoever may withdraw.
func tell(c fiber.Ctx, r *intake.Receipt, text, back string) {
	if r == nil || len(r.Loads) == 0 {
		page.Tell(c, "Nothing was changed, so nothing was saved.")
		return
	}
	if len(r.Loads) == 1 && access.ActorOf(c.Context()).MayWhole(access.Withdraw) {
		page.TellUndo(c, text, page.PlaceOf(c).To(fmt.Sprintf("/loads/%d/withdraw", r.Loads[0].ID)), "reason",
			"undone right after it was saved", "back", back)
		return
	}
	page.Tell(c, text)
}

// backOf is where a form leads back to: a page of registers, its kind's where it names none.
func backOf(q url.Values, kind record.Kind) string {
	back := q.Get("back")
	if !strings.HasPrefix(back, "/") || strings.HasPrefix(back, "//") || strings.Contains(back, `\`) {
		if kind == record.Activities { // their list is that of work
			return "/registers/actions?work=activities"
		}
		return kindPath(kind)
	}
	return back
}

// set changes cells of a record.
func (s *pages) set(c fiber.Ctx) error {
	kind, err := kindOf(c)
	if err != nil {
		return err
	}
	q, cells, day, err := sent(c, s.Parse)
	if err != nil {
		return err
	}
	holder, code := q.Get("holder"), q.Get("code")
	state := q.Get("state")
	was, err := page.WasOf(q)
	if err != nil {
		return err
	}
	r, err := s.Office.Register.Set(c.Context(), register.Act{Kind: kind, Holder: holder, Code: code, Set: cells, Was: was,
		Seen: q.Get("seen"), State: state, AsOf: day.AsOf, Reason: q.Get("reason")})
	if refused := page.Refused(err); refused != nil && state == "" && q.Get("seen") == "" {
		c.Locals(typedKey, &typedRecord{kind, holder, code, page.RefusedText(labelled(kind, refused)), backOf(q, kind), was.Typed(cells),
			refused})
		c.Status(fiber.StatusUnprocessableEntity)
		return s.again(c, kind, nil)(nil)
	}
	now := "changed"
	switch {
	case state != "" && len(cells) == 0:
		now = state
	case state == "" && cells["state"] != "" && q.Get("seen") != "": // an undo
		now = cells["state"] + " again"
	case state == "" && q.Get("seen") != "":
		now = "as it was"
	}
	return s.answer(c, r, err, kind, write.Capital(kind.Noun(1))+" "+code+" of "+holder+" is "+now+day.InPeriod()+".", backOf(q, kind), nil)
}

// add makes a new record.
func (s *pages) add(c fiber.Ctx) error {
	kind, err := kindOf(c)
	if err != nil {
		return err
	}
	if kind == record.Activities { // those come with their plan
		return fiber.ErrNotFound
	}
	q, cells, day, err := sent(c, s.Parse)
	if err != nil {
		return err
	}
	holder := q.Get("holder")
	typed := map[string]string{"holder": holder}
	for name, value := range cells {
		typed[name] = value
	}
	if ready := q.Get("ready"); ready != "" && kind == record.Risks {
		if cells, err = s.Office.Register.FromReady(c.Context(), strings.Clone(ready), cells); err != nil {
			return err
		}
	}
	if holder == "" {
		return s.again(c, kind, typed)(fault.Field("holder", "", "a project, programme or portfolio that it belongs to"))
	}
	code, r, err := s.Office.Register.Add(c.Context(), kind, holder, s.Office.Register.Begun(kind, cells, day.AsOf))
	to := page.PlaceOf(c).To(kindPath(kind), "record", holder+":"+code)
	return s.answer(c, r, err, kind, write.Capital(kind.Noun(1))+" "+code+" of "+holder+" is added"+day.InPeriod()+".", to, typed)
}

// occur makes an issue of a risk.
func (s *pages) occur(c fiber.Ctx) error {
	q, _, day, err := sent(c, s.Parse)
	if err != nil {
		return err
	}
	holder, code := q.Get("holder"), q.Get("code")
	issue, r, err := s.Office.Register.Occur(c.Context(), holder, code, day.AsOf, q.Get("reason"))
	if err != nil {
		return s.answer(c, r, err, record.Risks, "", backOf(q, record.Risks), nil)
	}
	page.Tell(c, "Risk "+code+" of "+holder+" has occurred, and issue "+issue+" came of it"+day.InPeriod()+". Its history stays with it.")
	return page.Go(c, page.PlaceOf(c).To("/registers/issues", "record", holder+":"+issue))
}

// escalate asks a node above to deal with a record, or takes that back.
func (s *pages) escalate(c fiber.Ctx) error {
	kind, err := kindOf(c)
	if err != nil {
		return err
	}
	q, _, day, err := sent(c, s.Parse)
	if err != nil {
		return err
	}
	holder, code, node := q.Get("holder"), q.Get("code"), q.Get("node")
	r, err := s.Office.Register.Escalate(c.Context(), kind, holder, code, node, q.Get("reason"))
	text := write.Capital(kind.Noun(1)) + " " + code + " of " + holder + " is escalated to " + node + day.InPeriod() + "."
	if node == "" {
		text = write.Capital(kind.Noun(1)) + " " + code + " of " + holder + " is for " + holder + " to deal with again" + day.InPeriod() +
			"."
	}
	return s.answer(c, r, err, kind, text, backOf(q, kind), nil)
}

// step ticks a step of an action, takes the tick back, or adds one.
func (s *pages) step(c fiber.Ctx) error {
	q, _, day, err := sent(c, s.Parse)
	if err != nil {
		return err
	}
	holder, code, text := q.Get("holder"), q.Get("code"), q.Get("text")
	act, said := s.Office.Register.Steps.Add, "is added to action "+code
	if done := q.Get("done"); done != "new" {
		act = func(ctx context.Context, holder, action, text string) (*intake.Receipt, error) {
			return s.Office.Register.Steps.Tick(ctx, holder, action, text, done == "yes")
		}
		if said = "is ticked"; done != "yes" {
			said = "is to be done again"
		}
	}
	r, err := act(c.Context(), holder, code, text)
	return s.answer(c, r, err, record.Actions, "Step “"+fault.Clip(text, 60)+"” "+said+day.InPeriod()+".", backOf(q, record.Actions), nil)
}
