package plan

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"
	"unicode/utf8"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
	"turret/internal/record"
)

// Deal is a dependency between projects as the register lists it.
type Deal struct {
	assess.Tie
	Agreement *kept.Agreement // nil where nothing was settled
	Due       calendar.Date
	Slack     int // working days from the day promised to the day needed; negative is strain
}

// Strained says whether what is promised comes too late for the taker.
func (d *Deal) Strained() bool { return d.Known && !d.Settled && d.Slack < 0 }

// State is the deal in a word.
func (d *Deal) State() string {
	switch {
	case d.Settled:
		return "given"
	case !d.Known:
		return "without dates"
	case d.Strained():
		return "at risk"
	case d.Agreement != nil && d.Agreement.Agreed:
		return "agreed"
	}
	return "not agreed"
}

// DealStates are the values of State.
func DealStates() []string {
	return []string{"at risk", "not agreed", "agreed", "without dates", "given"}
}

// Dependencies lists the dependencies between projects that touch a scope, those under strain first, then by the day needed.
func (o *Office) Dependencies(ctx context.Context, a *assess.Assessment, s *assess.Scope) ([]Deal, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	settled, err := o.store.Agreements(ctx)
	if err != nil {
		return nil, err
	}
	by := map[[4]string]*kept.Agreement{}
	for i := range settled {
		x := &settled[i]
		by[[4]string{x.Giver, x.From, x.Taker, x.To}] = x
	}
	in := map[string]bool{}
	for _, p := range s.Projects {
		in[p.Code] = true
	}
	var list []Deal
	for _, t := range a.Ties(func(d *schedule.Dependency) bool { return d.Crosses() && (in[d.FromCode] || in[d.ToCode]) }) {
		d := Deal{Tie: t, Agreement: by[[4]string{t.FromCode, t.Dependency.From, t.ToCode, t.Dependency.To}], Due: t.Promised,
			Slack: t.Room}
		if x := d.Agreement; x != nil && x.Promised != 0 && t.Known && !t.Settled {
			c := a.Plan().Tasks[t.Link.To].Calendar
			d.Due, d.Slack = x.Promised, c.Between(x.Promised, t.NeedBy)
		}
		list = append(list, d)
	}
	slices.SortStableFunc(list, func(x, y Deal) int {
		if x.Settled != y.Settled {
			return map[bool]int{true: 1, false: -1}[x.Settled]
		}
		if x.Strained() != y.Strained() {
			return map[bool]int{true: -1, false: 1}[x.Strained()]
		}
		return cmp.Compare(x.NeedBy, y.NeedBy)
	})
	return list, nil
}

// DealOf finds a dependency between projects by the row that it was sent in; one of which the one who asks sees no end is an error
// wrapping ErrNotFound.
func DealOf(a *assess.Assessment, load int64, row int32) (kept.Agreement, error) {
	ref := fact.Ref{Load: load, Row: row}
	found := a.Ties(func(d *schedule.Dependency) bool { return d.Ref == ref && d.Crosses() })
	if len(found) == 0 {
		return kept.Agreement{}, fmt.Errorf("dependency of load %d, row %d: %w", ref.Load, ref.Row, fault.ErrNotFound)
	}
	d := &found[0].Dependency
	return kept.Agreement{Giver: d.FromCode, From: d.From, Taker: d.ToCode, To: d.To}, nil
}

// Agree keeps what was settled about a dependency. Only who may send for the giver or the taker may.
func (o *Office) Agree(ctx context.Context, a *assess.Assessment, x kept.Agreement) error {
	var err error
	for i, code := range []string{x.Giver, x.Taker} {
		if err = o.edit.MayEdit(ctx, record.Links, code); err == nil {
			break
		} else if i == 1 {
			return err
		}
	}
	found := a.Ties(func(d *schedule.Dependency) bool {
		return d.FromCode == x.Giver && d.From == x.From && d.ToCode == x.Taker && d.To == x.To && d.Crosses()
	})
	if len(found) == 0 {
		return fmt.Errorf("dependency of %s %s on %s %s: %w", fault.Clip(x.Taker, 40), fault.Clip(x.To, 40), fault.Clip(x.Giver, 40),
			fault.Clip(x.From, 40),
			fault.ErrNotFound)
	}
	if x.Note = strings.TrimSpace(x.Note); utf8.RuneCountInString(x.Note) > 1000 {
		return fault.Field("note", x.Note, "up to 1,000 characters")
	}
	x.Who, x.At = access.ActorOf(ctx).Name, o.now()
	after := fmt.Sprintf("promised %s, agreed: %s, %s", cmp.Or(kept.DayText(x.Promised), "as planned"), kept.Yes(x.Agreed), x.Note)
	return o.store.SaveAgreement(ctx, x, o.audit.Entry(ctx, "agree on a dependency", x.Giver+" "+x.From+" → "+x.Taker+" "+x.To, "", after))
}

// DealMatrix counts dependencies by who gives and who takes.
type DealMatrix struct {
	Names []string // of givers and takers alike
	Cells [][]DealCell
}

// DealCell is one giver with one taker.
type DealCell struct{ All, Open, Strained int }

// Parties and programmes are what a matrix can be by.
const (
	ByProgramme = "programme"
	ByParty     = "party"
)

func (c *DealCell) count(d *Deal) {
	c.All++
	if !d.Settled {
		c.Open++
	}
	if d.Strained() {
		c.Strained++
	}
}

// CountDeals counts all of a list.
func CountDeals(list []Deal) DealCell {
	var c DealCell
	for i := range list {
		c.count(&list[i])
	}
	return c
}

// GiverOf is who gives, by programme or by party.
func GiverOf(a *assess.Assessment, d *Deal, by string) string { return side(a, d.Giver, d.From, by) }

// TakerOf is who takes, by programme or by party.
func TakerOf(a *assess.Assessment, d *Deal, by string) string { return side(a, d.Taker, d.To, by) }

// side names one end of a dependency; a project that the one who asks does not see has no name.
func side(a *assess.Assessment, p *measure.Project, x *schedule.Activity, by string) string {
	switch n := a.Programme(p); {
	case a.ByCode[p.Code] == nil:
		return "another project"
	case by == ByParty:
		return cmp.Or(x.Party, p.Lead, "nobody named")
	case n != nil:
		return n.Name
	}
	return "no programme"
}

// DealsAcross sets givers against takers: by programme, or by the party that does the work, else the project's lead.
func DealsAcross(a *assess.Assessment, list []Deal, by string) *DealMatrix {
	at := map[string]int{}
	m := &DealMatrix{}
	for _, d := range list {
		for _, n := range []string{GiverOf(a, &d, by), TakerOf(a, &d, by)} {
			if _, ok := at[n]; !ok {
				at[n] = 0
				m.Names = append(m.Names, n)
			}
		}
	}
	slices.Sort(m.Names)
	for i, n := range m.Names {
		at[n] = i
		m.Cells = append(m.Cells, make([]DealCell, len(m.Names)))
	}
	for _, d := range list {
		m.Cells[at[GiverOf(a, &d, by)]][at[TakerOf(a, &d, by)]].count(&d)
	}
	return m
}
