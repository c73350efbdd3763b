// Package pipeline is the door to what is proposed: what it is weighed by, how it ranks, which goals it serves, and what is best chosen.
package pipeline

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/priority"
	"turret/internal/record"
)

// Goal is what the organisation wants to reach.
type Goal struct {
	Code, Name, Owner string
	Weight            int64 // ten-thousandths
}

// Criterion is what a model weighs by.
type Criterion struct {
	priority.Criterion
	Measure measure.Key // that rates where nobody did; None for none
	Anchors string      // what ratings mean
	Ref     fact.Ref
}

// Model is a set of criteria.
type Model struct {
	Code     string
	Criteria []Criterion
}

// Proposal is what is asked for and what was decided.
type Proposal struct {
	AskedBy, Purpose, Template string
	AskedOn                    calendar.Date
	Decision                   string // empty while there is none
	DecidedOn, LookAgain       calendar.Date
	DecidedBy, Reason          string
	Ref                        fact.Ref
}

// Says tells what became of a proposal.
func (d *Proposal) Says() string {
	if d.Decision == "" {
		return "none yet"
	}
	text := d.Decision
	if d.DecidedOn != 0 {
		text += " on " + d.DecidedOn.Human()
	}
	if d.DecidedBy != "" {
		text += " by " + d.DecidedBy
	}
	if d.LookAgain != 0 {
		text += ", to look at again on " + d.LookAgain.Human()
	}
	return text
}

// Waits reports whether a decision is wanted as of a day: there is none, or it was put off until then.
func (d *Proposal) Waits(asOf calendar.Date) bool {
	return d.Decision == "" || d.Decision == record.PutOff && d.LookAgain != 0 && d.LookAgain <= asOf
}

// Contribution is what a project does for a goal.
type Contribution struct {
	Goal      string
	Rating    int64 // ten-thousandths
	Statement string
	Ref       fact.Ref
}

// Rating is how a project stands by a criterion, as somebody typed it.
type Rating struct {
	Value fact.Ratio
	Ref   fact.Ref
}

// Requirement is what a choice has to keep to.
type Requirement struct {
	Kind, Other string
	Ref         fact.Ref
}

// Pipeline is what stands of everything that is proposed.
type Pipeline struct {
	Goals         []Goal  // by code
	Models        []Model // by code, each with its criteria by code
	Proposals     map[string]*Proposal
	Contributions map[string][]Contribution
	Ratings       map[string]map[[2]string]Rating // of projects, by model and criterion
	Requirements  map[string][]Requirement
	Own           []Own // what the one who asks proposed and does not see otherwise
}

// Own is a proposal of the one who asks.
type Own struct {
	Name string
	Proposal
}

// Read reads what stands as of the day of the figures. What belongs to projects that are not seen is left out.
func Read(ctx context.Context, a *assess.Assessment) (*Pipeline, error) {
	p := &Pipeline{Proposals: map[string]*Proposal{}, Contributions: map[string][]Contribution{},
		Ratings: map[string]map[[2]string]Rating{}, Requirements: map[string][]Requirement{}}
	for _, x := range []struct {
		kind record.Kind
		take func(*kept.File, int)
	}{{record.Goals, p.goal}, {record.Criteria, p.criterion}, {record.Proposals, p.proposal}, {record.Contributions, p.contribution},
		{record.Ratings, p.rating}, {record.Requirements, p.requirement}} {
		f, err := a.Reading.Rows(ctx, x.kind, kept.Selection{})
		if err != nil {
			return nil, err
		}
		for i := range f.Len() {
			if !x.kind.OfProject() || a.ByCode[f.OwnerOf(i)] != nil {
				x.take(f, i)
			} else if x.kind == record.Proposals {
				p.own(access.ActorOf(ctx), a, f, i)
			}
		}
	}
	slices.SortFunc(p.Goals, func(x, y Goal) int { return strings.Compare(x.Code, y.Code) })
	slices.SortFunc(p.Models, func(x, y Model) int { return strings.Compare(x.Code, y.Code) })
	for i := range p.Models {
		slices.SortStableFunc(p.Models[i].Criteria, func(x, y Criterion) int { return strings.Compare(x.Code, y.Code) })
	}
	return p, nil
}

func ref(f *kept.File, i int) fact.Ref {
	return fact.Ref{Load: f.Records[i].Load, Row: f.Records[i].Row}
}

// number is a cell in ten-thousandths; 0 where it is empty.
func number(f *kept.File, i int, column string) int64 {
	n, err := money.ParseDecimal(f.Cell(i, column), record.Number.Places())
	if err != nil {
		return 0
	}
	return n
}

func day(f *kept.File, i int, column string) calendar.Date {
	d, err := calendar.ParseDate(f.Cell(i, column))
	if err != nil {
		return 0
	}
	return d
}

func (p *Pipeline) goal(f *kept.File, i int) {
	p.Goals = append(p.Goals, Goal{Code: f.Cell(i, "code"), Name: f.Cell(i, "name"), Owner: f.Cell(i, "owner"), Weight: number(f, i,
		"weight")})
}

func (p *Pipeline) criterion(f *kept.File, i int) {
	c := Criterion{Measure: measure.KeyOf(f.Cell(i, "measure")), Anchors: f.Cell(i, "anchors"), Ref: ref(f, i)}
	c.Code, c.Name, c.Weight, c.Effort = f.Cell(i, "code"), f.Cell(i, "name"), number(f, i, "weight"), f.Cell(i, "direction") == "effort"
	c.Low, c.High = record.Scale(f.Cell(i, "lowest"), f.Cell(i, "highest"))
	model := f.Cell(i, "model")
	at := slices.IndexFunc(p.Models, func(m Model) bool { return m.Code == model })
	if at < 0 {
		at = len(p.Models)
		p.Models = append(p.Models, Model{Code: model})
	}
	p.Models[at].Criteria = append(p.Models[at].Criteria, c)
}

// own tells people what became of what they proposed.
func (p *Pipeline) own(actor *access.Actor, a *assess.Assessment, f *kept.File, i int) {
	if at := a.Index(f.OwnerOf(i)); actor != nil && actor.Name != "" && f.Cell(i, "asked_by") == actor.Name && at >= 0 {
		p.Own = append(p.Own, Own{a.All[at].Name, *proposalOf(f, i)})
	}
}

func (p *Pipeline) proposal(f *kept.File, i int) { p.Proposals[f.OwnerOf(i)] = proposalOf(f, i) }

func proposalOf(f *kept.File, i int) *Proposal {
	return &Proposal{AskedBy: f.Cell(i, "asked_by"), AskedOn: day(f, i, "asked_on"), Purpose: f.Cell(i, "purpose"),
		Template: f.Cell(i, "template"), Decision: f.Cell(i, "decision"), DecidedOn: day(f, i, "decided_on"),
		DecidedBy: f.Cell(i, "decided_by"), Reason: f.Cell(i, "reason"), LookAgain: day(f, i, "look_again"), Ref: ref(f, i)}
}

func (p *Pipeline) contribution(f *kept.File, i int) {
	code := f.OwnerOf(i)
	p.Contributions[code] = append(p.Contributions[code], Contribution{Goal: f.Cell(i, "goal"), Rating: number(f, i, "rating"),
		Statement: f.Cell(i, "statement"), Ref: ref(f, i)})
}

func (p *Pipeline) rating(f *kept.File, i int) {
	n, err := money.ParseDecimal(f.Cell(i, "rating"), record.Number.Places())
	if err != nil {
		return
	}
	code := f.OwnerOf(i)
	if p.Ratings[code] == nil {
		p.Ratings[code] = map[[2]string]Rating{}
	}
	p.Ratings[code][[2]string{f.Cell(i, "model"), f.Cell(i, "criterion")}] = Rating{fact.Ratio{Num: n, Den: 10_000}, ref(f, i)}
}

func (p *Pipeline) requirement(f *kept.File, i int) {
	code := f.OwnerOf(i)
	p.Requirements[code] = append(p.Requirements[code], Requirement{f.Cell(i, "kind"), f.Cell(i, "other"), ref(f, i)})
}

// Model finds a model; an unknown one is an error wrapping fault.ErrNotFound.
func (p *Pipeline) Model(code string) (*Model, error) {
	for i := range p.Models {
		if p.Models[i].Code == code {
			return &p.Models[i], nil
		}
	}
	var known []string
	for i := range p.Models {
		known = append(known, p.Models[i].Code)
	}
	if len(known) == 0 {
		return nil, fmt.Errorf("model %q: %w; no criteria are known, they come with the file criteria", fault.Clip(code, 40),
			fault.ErrNotFound)
	}
	return nil, fmt.Errorf("model %q: %w; known: %s", fault.Clip(code, 40), fault.ErrNotFound, strings.Join(known, ", "))
}

// Declined reports whether a proposal was turned down.
func (p *Pipeline) Declined(code string) bool {
	x := p.Proposals[code]
	return x != nil && x.Decision == record.Declined
}

// typed reports whether somebody rated a project in a model.
func (p *Pipeline) typed(code string, m *Model) bool {
	for i := range m.Criteria {
		if _, ok := p.Ratings[code][[2]string{m.Code, m.Criteria[i].Code}]; ok {
			return true
		}
	}
	return false
}

// RatingOf is how a project stands by a criterion: as typed, else as the criterion's measure has it, within the scale; none where there is
// neither. Typed tells which.
func (p *Pipeline) RatingOf(x *measure.Project, m *Model, c *Criterion, currency money.Currency) (value fact.Ratio, typed bool) {
	if r, ok := p.Ratings[x.Code][[2]string{m.Code, c.Code}]; ok {
		return r.Value, true
	}
	if c.Measure == measure.None {
		return fact.Ratio{}, false
	}
	n, ok := Amount(x.Value(c.Measure), measure.Of(c.Measure).Unit, currency)
	if !ok {
		return fact.Ratio{}, false
	}
	return c.Clamp(n), false
}
