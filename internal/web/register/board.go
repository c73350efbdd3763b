package register

import (
	"fmt"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/register"
	"turret/internal/app/say"
	"turret/internal/record"
	"turret/internal/web/page"
)

// boardView is the board of actions: a column for each state.
type boardView struct {
	*view
	Views   []page.Tab
	Board   bool
	Columns []column
	Back    string // the page that a move leads back to
	Move    string // where a card that was moved is sent; empty where none may be
}

// column is a state with its cards.
type column struct {
	State, Title, Count, Late string
	Cards                     []card
	Folded                    bool
	Cut                       string
}

// card is an action as a slip of paper.
type card struct {
	row
	Holder, Key, Initials string
	Done, Steps           int
	Back, On              string // the states beside
}

func (s *pages) actions(c fiber.Ctx) error { return s.showActions(c, nil, nil) }

func (s *pages) showActions(c fiber.Ctx, refused error, typed map[string]string) error {
	r, scope, base, err := s.frame(c, record.Actions)
	if err != nil {
		return err
	}
	v := boardView{view: base, Board: r.Asked.Get("view") != "list"}
	f := filterOf(r)
	all := register.Lines(r.Figures, scope, record.Actions)
	v.narrowed(r, all)
	if v.Board {
		f.Closed = true
		if r.Figures.Closed == nil && access.ActorOf(r.Context()).May(access.Send) {
			v.Move, v.Back = r.To("/registers/actions/move"), r.Here("record", "", "edit", "")
		}
	}
	list := register.Pick(all, f)
	register.ByUrgency(list)
	if v.Board {
		v.columns(r, list)
	} else {
		v.fill(r, list)
	}
	v.Views = []page.Tab{{Link: page.Link{Text: "Board", Href: r.Here("view", "", "record", "")}, Current: v.Board},
		{Link: page.Link{Text: "List", Href: r.Here("view", "list", "record", "")}, Current: !v.Board}}
	v.Headline = listHeadline(r, scope, record.Actions, all)
	v.Empty = emptyOf(record.Actions, len(all))
	if err := v.finish(s, r, scope, refused, typed); err != nil {
		return err
	}
	return r.Answer("register-actions", &v.Page, &v)
}

// mostCards is how many cards a column shows.
const mostCards = 60

// overStates are the columns of what asks for nothing more, folded at first.
var overStates = []string{"done", "dropped"}

func (v *boardView) columns(r *page.Request, list []register.Line) {
	states := register.States(record.Actions)
	for at, state := range states {
		col := column{State: state, Title: page.Capital(state), Folded: slices.Contains(overStates, state)}
		late, n := 0, 0
		for i := range list {
			l := &list[i]
			if l.StateOf() != state {
				continue
			}
			if n++; n > mostCards {
				continue
			}
			x := cardOf(r, l)
			if at > 0 {
				x.Back = states[at-1]
			}
			if at+1 < len(states) {
				x.On = states[at+1]
			}
			if l.Late {
				late++
			}
			col.Cards = append(col.Cards, x)
		}
		col.Count = say.Thousands(n)
		if late > 0 {
			col.Late = fmt.Sprintf("%d late", late)
		}
		if n > mostCards {
			col.Cut = fmt.Sprintf("%s more; the list shows them", say.Thousands(n-mostCards))
		}
		v.Columns = append(v.Columns, col)
	}
}

func cardOf(r *page.Request, l *register.Line) card {
	x := card{row: rowOf(r, l), Holder: l.Holder.Code, Key: l.Key(), Initials: initials(l.Owner), Steps: len(l.Steps)}
	for _, s := range l.Steps {
		if s.Done {
			x.Done++
		}
	}
	return x
}

// initials are the first letters of a name.
func initials(name string) string {
	var b strings.Builder
	for i, w := range strings.Fields(name) {
		if i == 3 {
			break
		}
		for _, c := range w {
			b.WriteRune(c)
			break
		}
	}
	return b.String()
}

// move puts an action into another state, as it was seen on the board.
func (s *pages) move(c fiber.Ctx) error {
	q, _, err := formOf(c)
	if err != nil {
		return err
	}
	day, err := s.Parse(c)
	if err != nil {
		return err
	}
	holder, code, state := strings.Clone(q.Get("holder")), strings.Clone(q.Get("code")), strings.Clone(q.Get("state"))
	x := register.Act{Kind: record.Actions, Holder: holder, Code: code, Seen: strings.Clone(q.Get("was")),
		Set: s.Office.Register.Finish(record.Actions, state, day.AsOf)}
	r, err := s.Office.Register.Set(c.Context(), x)
	return s.answer(c, r, err, record.Actions, "Action "+code+" of "+holder+" is "+state+day.InPeriod()+".", backOf(q, record.Actions),
		nil)
}
