package register

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/register"
	"turret/internal/core/risk"
	"turret/internal/core/write"
	"turret/internal/record"
	"turret/internal/web/page"
)

// boardView is the board of actions and activities: a column for each state.
type boardView struct {
	*view
	Views   []page.Tab
	Board   bool
	Columns []column
	Owners  []ownerCount
	Back    string // the page that a move leads back to
	Move    string // where a card that was moved is sent; empty where none may be
}

// ownerCount is how much open work somebody has.
type ownerCount struct{ Name, Href, Says, Late string }

// works are what a board may show: actions, activities of plans, or both, with what its columns are called then.
var works = map[string]struct {
	kinds  []record.Kind
	titles []string
}{
	"":           {[]record.Kind{record.Actions}, register.States(record.Actions)},
	"activities": {[]record.Kind{record.Activities}, register.States(record.Activities)},
	"both":       {[]record.Kind{record.Actions, record.Activities}, []string{"to do", "in work", "waiting", "done", "dropped"}},
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
	Kind                  record.Kind
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
	asked := r.Asked.Get("work")
	if typed := typedIn(r); typed != nil && typed.kind == record.Activities {
		asked = string(record.Activities) // what was refused is of them, and its form knows nothing of the list
	}
	work, ok := works[asked]
	if !ok {
		work = works[""]
	}
	if v.Board {
		f.Closed = true
	}
	var all, list []register.Line
	for _, kind := range work.kinds {
		lines, of := register.Lines(r.Figures, scope, kind), f
		of.State = register.Likened(kind, f.State)
		all, list = append(all, lines...), append(list, register.Pick(lines, of)...)
	}
	v.narrowed(r, all, register.States(work.kinds[0]))
	v.Filters = append([]page.Picker{page.Choose("Work", "work", asked, "", "actions", "activities", "activities of plans",
		"both", "both")}, v.Filters...)
	v.owners(r, all)
	if v.Board {
		if r.Figures.Closed == nil && access.ActorOf(r.Context()).May(access.Send) {
			v.Move, v.Back = r.To("/registers/actions/move"), r.Here("record", "", "kind", "", "edit", "")
		}
	}
	register.ByUrgency(list)
	if v.Board {
		v.columns(r, list, work.titles)
	} else {
		v.fill(r, list)
	}
	v.Views = []page.Tab{{Link: page.Link{Text: "Board", Href: r.Here("view", "", "record", "", "kind", "")}, Current: v.Board},
		{Link: page.Link{Text: "List", Href: r.Here("view", "list", "record", "", "kind", "")}, Current: !v.Board}}
	v.Headline = workHeadline(r, scope, work.kinds, all)
	v.Empty = emptyOf(record.Actions, len(all))
	if err := v.finish(s, r, scope, refused, typed); err != nil {
		return err
	}
	return r.Answer("register-actions", &v.Page, &v)
}

// mostCards is how many cards a column shows.
const mostCards = 60

func (v *boardView) columns(r *page.Request, list []register.Line, titles []string) {
	states := register.States(record.Actions)
	place := map[record.Kind]map[string]int{record.Actions: {}, record.Activities: {}}
	for at, state := range states {
		v.Columns = append(v.Columns, column{State: state, Title: write.Capital(titles[at]), Folded: risk.State(state).Over()})
		place[record.Actions][state], place[record.Activities][register.Likened(record.Activities, state)] = at, at
	}
	count, late := make([]int, len(states)), make([]int, len(states))
	for i := range list {
		l := &list[i]
		at := place[l.Kind][l.StateOf()]
		if l.Late {
			late[at]++
		}
		if count[at]++; count[at] > mostCards {
			continue
		}
		x := cardOf(r, l)
		if at > 0 {
			x.Back = states[at-1]
		}
		if at+1 < len(states) {
			x.On = states[at+1]
		}
		v.Columns[at].Cards = append(v.Columns[at].Cards, x)
	}
	for at := range v.Columns {
		col := &v.Columns[at]
		if col.Count = write.Whole(count[at]); late[at] > 0 {
			col.Late = fmt.Sprintf("%d late", late[at])
		}
		if n := count[at]; n > mostCards {
			col.Cut = fmt.Sprintf("%s more; the list shows them", write.Whole(n-mostCards))
		}
	}
}

func cardOf(r *page.Request, l *register.Line) card {
	x := card{row: rowOf(r, l), Kind: l.Kind, Holder: l.Holder.Code, Key: l.Key(), Initials: initials(l.Owner), Steps: len(l.Steps)}
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
	q, _, day, err := sent(c, s.Parse)
	if err != nil {
		return err
	}
	kind := record.Actions
	if record.Kind(q.Get("kind")) == record.Activities {
		kind = record.Activities
	}
	holder, code := q.Get("holder"), q.Get("code")
	state := register.Likened(kind, q.Get("state"))
	r, err := s.Office.Register.Set(c.Context(), register.Act{Kind: kind, Holder: holder, Code: code, State: state, AsOf: day.AsOf,
		Seen: register.Likened(kind, q.Get("was"))})
	return s.answer(c, r, err, kind, write.Capital(kind.Noun(1))+" "+code+" of "+holder+" is "+state+day.InPeriod()+".",
		backOf(q, record.Actions), nil)
}

// owners counts the open work of each, most first.
func (v *boardView) owners(r *page.Request, all []register.Line) {
	owned := register.ByOwner(all)
	for i := range owned[:min(len(owned), mostOwners)] {
		o := &owned[i]
		x := ownerCount{Name: cmp.Or(o.Name, "nobody"), Says: write.Whole(o.Open)}
		if o.Name != "" {
			x.Href = r.Here("owner", o.Name, "record", "", "kind", "", "edit", "")
		}
		if o.Late > 0 {
			x.Late = write.Whole(o.Late) + " late"
		}
		v.Owners = append(v.Owners, x)
	}
}

// mostOwners is of how many the open work is told.
const mostOwners = 12

// workHeadline says what the work shown comes to. Activities are counted as they stand, for what is late of them is no measure.
func workHeadline(r *page.Request, scope *assess.Scope, kinds []record.Kind, all []register.Line) (said []page.Spoken) {
	for _, kind := range kinds {
		if kind == record.Actions {
			said = append(said, listHeadline(r, scope, kind, all)...)
			continue
		}
		w := register.WorkOf(slices.DeleteFunc(slices.Clone(all), func(l register.Line) bool { return l.Kind != kind }))
		text := write.Count(w.Open, "activity is", "activities are") + " not done, " + write.Whole(w.Late) + " of them past due"
		if w.Next != 0 {
			text += "; the next is due on " + w.Next.Human()
		}
		if len(said) > 0 {
			text = " " + text
		}
		said = append(said, page.Spoken{Text: text + "."})
	}
	return said
}
