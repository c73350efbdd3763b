package gate

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
	"turret/internal/core/write"
)

// Figures are what a project came to.
type Figures struct {
	Measures []Figure `json:"measures"` // in the order of the catalogue
	Dates    []Dated  `json:"dates"`    // milestones and deliverables
	Money    []Priced `json:"money"`    // by cost code
}

// Figure is what a measure came to.
type Figure struct {
	Key    string     `json:"key"`
	Known  bool       `json:"known,omitempty"`
	N      int64      `json:"n,omitempty"`
	Ratio  float64    `json:"ratio,omitempty"`
	Exact  fact.Ratio `json:"exact,omitzero"`
	Reason string     `json:"reason,omitempty"`
}

// Value is the figure as a value of its measure.
func (f *Figure) Value() measure.Value {
	return measure.Value{Known: f.Known, N: f.N, Ratio: f.Ratio, Exact: f.Exact, Reason: f.Reason}
}

// Dated is when something was due and expected, or came.
type Dated struct {
	Code     string        `json:"code"`
	Name     string        `json:"name"`
	Baseline calendar.Date `json:"baseline,omitempty"`
	Date     calendar.Date `json:"date,omitempty"`
	Done     bool          `json:"done,omitempty"`
}

// Priced are the amounts of a cost code, in the reporting currency.
type Priced struct {
	Code   string       `json:"code"` // and name
	Budget money.Amount `json:"budget"`
	Actual money.Amount `json:"actual"`
	ToGo   money.Amount `json:"to_go"`
}

// FiguresOf are what a project comes to.
func FiguresOf(a *assess.Assessment, p *measure.Project) *Figures {
	f := &Figures{}
	for i, d := range measure.All() {
		v := p.Values[i]
		f.Measures = append(f.Measures, Figure{d.Key.String(), v.Known, v.N, v.Ratio, v.Exact, v.Reason})
	}
	for i := range p.Activities {
		x := &p.Activities[i]
		if x.Kind != schedule.Milestone && x.Kind != schedule.Deliverable {
			continue
		}
		d := Dated{Code: x.Code, Name: x.Name, Baseline: x.BaselineFinish, Date: x.Finish}
		if x.ActualFinish != 0 {
			d.Date, d.Done = x.ActualFinish, x.ActualFinish <= a.Env.AsOf
		}
		f.Dates = append(f.Dates, d)
	}
	for i := range p.Account.ByCode {
		x := &p.Account.ByCode[i]
		f.Money = append(f.Money, Priced{a.CodeName(x.Code), x.Budget(), x.Actual, x.ForecastToGo})
	}
	return f
}

func digestOf(figures string) string {
	sum := sha256.Sum256([]byte(figures))
	return hex.EncodeToString(sum[:])
}

// compute fills in the figures of a snapshot from what it is bound to.
func (o *Office) compute(ctx context.Context, s *kept.Snapshot) error {
	a, err := o.assess.AssessPart(assess.In(access.Lend(ctx), ""), o.store.At(s.Bound), s.Closed(), []int64{s.ProjectID})
	if err != nil {
		return err
	}
	for _, p := range a.Projects {
		if p.ID == s.ProjectID {
			text, err := json.Marshal(FiguresOf(a, p))
			s.Figures, s.Digest = string(text), digestOf(string(text))
			return err
		}
	}
	return fmt.Errorf("the project is not there within load %d", s.Load)
}

// take makes a snapshot of what a project is now.
func (o *Office) take(ctx context.Context, a *assess.Assessment, p *measure.Project, stage, who string) (*kept.Snapshot, error) {
	s := &kept.Snapshot{ProjectID: p.ID, Stage: stage, AsOf: a.Env.AsOf, Rules: kept.PeriodRules, At: o.now(), Who: who}
	loads, err := o.store.Loads(ctx)
	if err != nil {
		return nil, err
	}
	closings, err := o.store.Closings(ctx)
	if err != nil {
		return nil, err
	}
	s.Period, s.Serial = a.Env.Period(), 1
	if len(loads) > 0 {
		s.Load = loads[0].ID
	}
	if n := len(closings); n > 0 {
		s.Serial = closings[n-1].Serial + 1
	}
	if s.Settings, _, err = o.store.Settings(ctx); err != nil {
		return nil, err
	}
	return s, o.compute(ctx, s)
}

// Kept is a snapshot with its figures read.
type Kept struct {
	kept.Snapshot
	Was Figures
}

// Snapshots are what a project was at its gates, as far as the one who asks may see costs.
func (o *Office) Snapshots(ctx context.Context, a *assess.Assessment, p *measure.Project) ([]Kept, error) {
	list, err := o.store.Snapshots(ctx, p.ID)
	if err != nil {
		return nil, err
	}
	out := make([]Kept, len(list))
	for i := range list {
		out[i].Snapshot = list[i]
		if err := json.Unmarshal([]byte(list[i].Figures), &out[i].Was); err != nil {
			return nil, fmt.Errorf("snapshot %d: %w", list[i].ID, err)
		}
		if a.NoMoney {
			out[i].Was.Money = nil
		}
	}
	return out, nil
}

// Checked is a snapshot computed again from what it is bound to.
type Checked struct {
	kept.Snapshot
	Changed bool // what is kept was changed by hand
	Differs int  // figures that come out otherwise now
	Since   int  // loads withdrawn and periods reopened since, which that may come from
	Earlier bool // it was computed by earlier rules, and is not computed again
}

// Says tells what came out.
func (c *Checked) Says() string {
	switch {
	case c.Changed:
		return "what is kept of it was changed"
	case c.Earlier:
		return "it was computed by earlier rules and stands as it was kept"
	case c.Differs == 0:
		return "it computes to the same figures, digest " + c.Digest[:16]
	case c.Since > 0:
		return "it stands as it was kept; " + write.Count(c.Differs, "figure comes", "figures come") + " out otherwise since " +
			write.Count(c.Since, "load was withdrawn or a period reopened", "loads were withdrawn or periods reopened")
	}
	return write.Count(c.Differs, "figure does", "figures do") + " not come out as kept"
}

// Wrong reports whether something was changed that nobody may change.
func (c *Checked) Wrong() bool { return c.Changed || c.Differs > 0 && c.Since == 0 }

// Verify computes the snapshots of every project again, and compares them bit for bit.
func (o *Office) Verify(ctx context.Context, each func(Checked)) error {
	list, err := o.store.Snapshots(ctx, 0)
	if err != nil {
		return err
	}
	return o.Check(ctx, list, each)
}

// Check computes snapshots again, and compares them bit for bit.
func (o *Office) Check(ctx context.Context, list []kept.Snapshot, each func(Checked)) error {
	if _, err := access.Permit(ctx, access.Read); err != nil || len(list) == 0 {
		return err
	}
	loads, err := o.store.Loads(ctx)
	if err != nil {
		return err
	}
	closings, err := o.store.Closings(ctx)
	if err != nil {
		return err
	}
	for i := range list {
		c := Checked{Snapshot: list[i], Changed: digestOf(list[i].Figures) != list[i].Digest, Earlier: list[i].Rules != kept.PeriodRules}
		for k := range loads {
			if l := &loads[k]; l.ID <= c.Load && l.Withdrawn() && !l.WithdrawnAt.Before(c.At) {
				c.Since++
			}
		}
		for k := range closings {
			if x := &closings[k]; x.Serial < c.Serial && x.Reopened() && !x.ReopenedAt.Before(c.At) {
				c.Since++
			}
		}
		if !c.Changed && !c.Earlier {
			if err := o.differs(ctx, &c); err != nil {
				return err
			}
		}
		each(c)
	}
	return nil
}

func (o *Office) differs(ctx context.Context, c *Checked) error {
	now := c.Snapshot
	if err := o.compute(ctx, &now); err != nil {
		return err
	}
	if now.Figures == c.Figures {
		return nil
	}
	var was, is Figures
	if err := json.Unmarshal([]byte(c.Figures), &was); err != nil {
		return err
	}
	if err := json.Unmarshal([]byte(now.Figures), &is); err != nil {
		return err
	}
	c.Differs = len(Moved(&was, &is, false))
	return nil
}
