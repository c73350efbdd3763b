package publish

import (
	"cmp"
	"context"
	"fmt"
	"strings"
	"time"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/explain"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/app/plan"
	"turret/internal/app/register"
	"turret/internal/core/calendar"
	"turret/internal/core/check"
	"turret/internal/core/measure"
	"turret/internal/core/write"
	"turret/internal/record"
)

// Waiver lets something pass that stands in the way of closing a period.
type Waiver struct {
	ID     int64
	Period calendar.Period
	What   string // key of the obstacle
	Reason string
	Who    string
	At     time.Time
}

// Obstacle is something that stands in the way of closing a period: an input that has not come, an error of the data, or a request that
// waits for its answer.
type Obstacle struct {
	Key     string // within the period
	What    ObstacleKind
	Project *measure.Info   // nil for the period as a whole
	Kind    record.Kind     // of the input
	Finding *check.Finding  // the error
	Deal    *plan.Deal      // the request
	Remark  *explain.Remark // the question
	Says    string
	Waiver  *Waiver // nil where it stands in the way
}

// ObstacleKind says what kind of thing an obstacle is.
type ObstacleKind string

// Kinds of obstacle.
const (
	MissingInput ObstacleKind = "input"
	OpenError    ObstacleKind = "error"
	Unanswered   ObstacleKind = "request"
	Unwritten    ObstacleKind = "explanation" // of a project that wants one
	NotEnded     ObstacleKind = "day"         // the period has not ended yet
	Undecided    ObstacleKind = "decision"    // asked for in a meeting that was held
)

// Readiness is what stands in the way of closing a period.
type Readiness struct {
	Period    calendar.Period
	Obstacles []Obstacle
	Open      int // that are not waived
	Grave     int // of those, what cannot be overlooked: anything but unwritten explanations, decisions and a period that has not ended
}

// Ready lists what stands in the way of closing a period. today decides what is overdue. One that cannot be closed at all is an error
// wrapping ErrConflict.
func (o *Office) Ready(ctx context.Context, period calendar.Period, today calendar.Date) (*Readiness, error) {
	if _, err := access.PermitWhole(ctx, access.Publish); err != nil {
		return nil, err
	}
	if err := o.closable(ctx, period); err != nil {
		return nil, err
	}
	a, err := o.assess.Day(assess.In(ctx, ""), period.Last())
	if err != nil {
		return nil, err
	}
	r := &Readiness{Period: period}
	if err := o.wanting(ctx, r, a, today); err != nil {
		return nil, err
	}
	r.errors(a)
	undecided(r, a)
	if err := o.unanswered(ctx, r, a); err != nil {
		return nil, err
	}
	asked, projects, err := o.explain.Asked(ctx, a)
	if err != nil {
		return nil, err
	}
	for i := range asked {
		x := &asked[i]
		r.Obstacles = append(r.Obstacles, Obstacle{Key: fmt.Sprintf("%s %s remark %d", Unanswered, projects[x.Project].Code, x.ID),
			What: Unanswered, Project: &projects[x.Project].Info, Remark: x,
			Says: fmt.Sprintf("%s asked about %s: %s", x.Who, x.Part, fault.Clip(x.Text, 160))})
	}
	r.unready(a, today)
	waivers, err := o.store.Waivers(ctx, period)
	if err != nil {
		return nil, err
	}
	by := map[string]*Waiver{}
	for i := range waivers {
		by[waivers[i].What] = &waivers[i]
	}
	for i := range r.Obstacles {
		x := &r.Obstacles[i]
		if x.Waiver = by[x.Key]; x.Waiver == nil {
			r.Open++
			if x.What != Unwritten && x.What != NotEnded && x.What != Undecided {
				r.Grave++
			}
		}
	}
	return r, nil
}

func (o *Office) wanting(ctx context.Context, r *Readiness, a *assess.Assessment, today calendar.Date) error {
	m, err := o.gather.Matrix(ctx, r.Period, today)
	if err != nil {
		return err
	}
	for i := range m.Rows {
		row := &m.Rows[i]
		for k := range row.Slots {
			s := &row.Slots[k]
			if !s.Wanting() || s.Exempt {
				continue
			}
			says := s.Kind.Title() + ": nothing has come"
			if s.Load != nil {
				says += ", the last for " + s.Load.Period.Name()
			}
			if s.Refusal != nil {
				says = s.Kind.Title() + ": " + s.Refusal.File + " was refused"
			}
			r.Obstacles = append(r.Obstacles, Obstacle{Key: strings.Join([]string{string(MissingInput), row.Project.Code, string(s.Kind)},
				" "), What: MissingInput,
				Project: row.Project, Kind: s.Kind, Says: says})
		}
	}
	return nil
}

// unready lists projects that want an explanation and have none, and the period itself where it has not ended.
func (r *Readiness) unready(a *assess.Assessment, today calendar.Date) {
	if last := r.Period.Last(); today <= last {
		r.Obstacles = append(r.Obstacles, Obstacle{Key: string(NotEnded), What: NotEnded,
			Says: fmt.Sprintf("%s ends on %s; what comes until then would be of the next period", r.Period.Name(), last.Human())})
	}
	for _, p := range a.Projects {
		if explain.Owed(p) {
			r.Obstacles = append(r.Obstacles, Obstacle{Key: string(Unwritten) + " " + p.Code, What: Unwritten, Project: &p.Info,
				Says: "nothing is written: " + cmp.Or(p.Health.Reason(), "declared better than computed")})
		}
	}
}

// undecided lists decisions that are asked for still.
func undecided(r *Readiness, a *assess.Assessment) {
	for _, l := range register.Lines(a, &assess.Scope{Projects: a.Projects, Nodes: a.Holders}, record.Decisions) {
		if l.Open && (l.Holder.Node || l.Holder.Status == measure.Open) {
			r.Obstacles = append(r.Obstacles, Obstacle{Key: strings.Join([]string{string(Undecided), l.Holder.Code, l.Code}, " "),
				What: Undecided, Project: &l.Holder.Info, Says: l.Code + " " + l.Title + " is " + l.StateOf()})
		}
	}
}

func (r *Readiness) errors(a *assess.Assessment) {
	for _, p := range a.Projects {
		for i := range p.Checks.Findings {
			f := &p.Checks.Findings[i]
			if f.Rule.Severity == check.Error && f.Accepted == nil {
				r.Obstacles = append(r.Obstacles, Obstacle{Key: strings.Join([]string{string(OpenError), p.Code, f.Rule.ID, f.Record},
					" "), What: OpenError,
					Project: &p.Info, Finding: f, Says: f.Says})
			}
		}
	}
}

func (o *Office) unanswered(ctx context.Context, r *Readiness, a *assess.Assessment) error {
	s, err := a.Scope("", measure.Open)
	if err != nil {
		return err
	}
	deals, err := o.plan.Dependencies(ctx, a, s)
	if err != nil {
		return err
	}
	for i := range deals {
		d := &deals[i]
		if d.Agreement == nil || d.Agreement.Agreed || d.Settled || d.Taker == nil || d.Giver == nil {
			continue
		}
		r.Obstacles = append(r.Obstacles,
			Obstacle{Key: strings.Join([]string{string(Unanswered), d.FromCode, d.Dependency.From, d.ToCode, d.Dependency.To}, " "),
				What:    Unanswered,
				Project: &d.Taker.Info, Deal: d, Says: fmt.Sprintf("%s %s waits for %s %s, which is offered and not agreed", d.ToCode,
					d.Dependency.To, d.FromCode, d.Dependency.From)})
	}
	return nil
}

// Waive lets something pass in the closing of a period, for a reason; with an empty key all that stands in the way, with a sort alone all
// of that sort. An obstacle that is not there is an error wrapping ErrNotFound.
func (o *Office) Waive(ctx context.Context, period calendar.Period, today calendar.Date, key, reason string) error {
	actor, err := access.PermitWhole(ctx, access.Publish)
	if err != nil {
		return err
	}
	if reason, err = fault.ReasonOf(reason, fault.MaxReason); err != nil {
		return err
	}
	r, err := o.Ready(ctx, period, today)
	if err != nil {
		return err
	}
	var list []Waiver
	for i := range r.Obstacles {
		x := &r.Obstacles[i]
		several := key == "" || key == string(x.What)
		switch {
		case !several && x.Key != key, several && x.Waiver != nil:
		case x.Waiver != nil:
			return fault.Conflict("%s is waived already, by %s", x.Says, x.Waiver.Who)
		default:
			list = append(list, Waiver{Period: period, What: x.Key, Reason: reason, Who: actor.Name, At: o.now()})
		}
	}
	if list == nil {
		if key == "" {
			return nil
		}
		return fmt.Errorf("%s does not stand in the way of %s: %w", key, period.Name(), fault.ErrNotFound)
	}
	return o.store.SaveWaivers(ctx, list, o.audit.Entry(ctx, "waive", period.String()+" "+
		cmp.Or(key, write.Count(len(list), "obstacle", "obstacles")), "", reason))
}

// Unwaive takes a waiver back.
func (o *Office) Unwaive(ctx context.Context, period calendar.Period, id int64) error {
	actor, err := access.PermitWhole(ctx, access.Publish)
	if err != nil {
		return err
	}
	return o.store.EndWaiver(ctx, id, actor.Name, o.now(), o.audit.Entry(ctx, "waive no more", fmt.Sprintf("%s number %d", period, id),
		"", ""))
}

// ObstacleError lists what stands in the way of closing a period.
type ObstacleError struct{ *Readiness }

// Error implements error.
func (e *ObstacleError) Error() string {
	return fmt.Sprintf("%s stand in the way of closing %s", write.Count(e.Open, "thing", "things"), e.Period.Name())
}

// Is makes it an ErrConflict.
func (e *ObstacleError) Is(target error) bool { return target == fault.ErrConflict }

// Publish closes a period that nothing stands in the way of; otherwise the error is an ObstacleError. With careless only what is grave
// does.
func (o *Office) Publish(ctx context.Context, period calendar.Period, today calendar.Date, careless bool) (*kept.Period, error) {
	if _, err := access.PermitWhole(ctx, access.Publish); err != nil {
		return nil, err
	}
	r, err := o.Ready(ctx, period, today)
	if err != nil {
		return nil, err
	}
	if r.Open > 0 && !careless || r.Grave > 0 {
		return nil, &ObstacleError{r}
	}
	return o.Close(ctx, period)
}

// Closings lists every closing of a period in its order, also of periods reopened since.
func (o *Office) Closings(ctx context.Context) ([]kept.Period, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	return o.store.Closings(ctx)
}
