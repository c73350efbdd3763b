package measure

import (
	"turret/internal/core/backlog"
	"turret/internal/core/money"
)

// BacklogOf is what a project works off, with how that is held against its baseline and its finish.
func BacklogOf(p *Project) *backlog.Backlog {
	b := &backlog.Backlog{Items: p.Items, Iterations: p.Iterations, Baseline: p.Outlook.BaselineStart, Deadline: p.RequiredFinish,
		Grace: p.env.Grace}
	if b.Deadline == 0 {
		b.Deadline = p.PlannedFinish
	}
	return b
}

// BacklogProgress is how far the backlog is at the end of the as-of date.
func (p *Project) BacklogProgress() *backlog.Progress {
	if p.backlog == nil { // it has no items
		return &backlog.Progress{}
	}
	return p.backlog
}

// of picks items of a backlog.
type of func(*Project, *backlog.Item) bool

// here picks items that count on the day.
func here(p *Project, x *backlog.Item) bool { return x.Here(p.env.AsOf) }

// accepted picks those of them that are accepted.
func accepted(p *Project, x *backlog.Item) bool { return here(p, x) && x.Done(p.env.AsOf) }

// remains picks those of them that are not.
func remains(p *Project, x *backlog.Item) bool { return here(p, x) && !x.Done(p.env.AsOf) }

// added picks those of them that came after the baseline's start.
func added(p *Project, x *backlog.Item) bool { return here(p, x) && x.Since(p.Outlook.BaselineStart) }

// gone picks items that were taken out by the day.
func gone(p *Project, x *backlog.Item) bool { return x.Gone(p.env.AsOf) && x.Added <= p.env.AsOf }

// unplanned picks items that came after their iteration had begun.
func unplanned(p *Project, x *backlog.Item) bool {
	return here(p, x) && BacklogOf(p).Unplanned(x)
}

// backlogDefinitions are the measures of what projects work off.
func backlogDefinitions() []Definition {
	type sum = func(*backlog.Progress) int64
	points := func(key Key, text, name string, better Direction, formula string, pick sum, which of) Definition {
		return Definition{Key: key, text: text, Name: name, Unit: Points, Better: better, Rollup: Sum, Formula: formula, Source: "backlog",
			base: ofProgress(func(s *backlog.Progress, _ *Project) Value { return known(pick(s)) }), explain: explainItems(which)}
	}
	velocity := func(key Key, text, name, formula string, pick func(backlog.Velocity) int64) Definition {
		return Definition{Key: key, text: text, Name: name, Unit: Points, Better: Higher, Rollup: Sum, Formula: formula +
			" accepted points of the last " +
			"six finished iterations, fewer where there are fewer.", Source: "backlog and iterations", explain: explainVelocity,
			base: ofProgress(func(s *backlog.Progress, _ *Project) Value {
				if !s.Velocity.Known() {
					return unknown("no iteration is finished")
				}
				return known(pick(s.Velocity))
			})}
	}
	finish := func(key Key, text, name, at string, pick func(*backlog.Progress) backlog.Finish) Definition {
		return Definition{Key: key, text: text, Name: name, Unit: Day, Better: Lower, Rollup: Latest, Source: "backlog and iterations",
			Formula: "The end of the current iteration, and as many of the usual length as what it leaves takes at the " + at +
				" velocity; where nothing remains, the last acceptance.", explain: explainFinish,
			base: ofProgress(func(s *backlog.Progress, _ *Project) Value {
				if f := pick(s); f.Reason != "" {
					return unknown(f.Reason)
				}
				return date(pick(s).Day)
			})}
	}
	late := func(key Key, text, name string, unit Unit, formula string, pick sum) Definition {
		return Definition{Key: key, text: text, Name: name, Unit: unit, Better: Lower, Rollup: Sum, Formula: formula,
			Source:  "backlog and iterations",
			explain: explainLate, base: ofProgress(func(s *backlog.Progress, _ *Project) Value {
				if !s.LateKnown {
					return unknown(s.LateReason)
				}
				return known(pick(s))
			})}
	}
	total := func(s *backlog.Progress) int64 { return s.Total }
	return []Definition{
		points(BacklogTotal, "backlog_total", "Backlog", Neutral,
			"Points of the items that had come in by the as-of date and were not taken out by it.",
			total,
			here),
		points(BacklogPoints, "backlog_points", "Backlog, as kept so far", Neutral,
			"The same as backlog_total: closed periods have kept it by this name.", total,
			here),
		points(BacklogAccepted, "backlog_accepted", "Backlog accepted", Higher,
			"Points of the items accepted by the as-of date: by their state and day.",
			func(s *backlog.Progress) int64 { return s.Accepted }, accepted),
		points(BacklogRemaining, "backlog_remaining", "Backlog remaining", Lower, "Points of the items that are not accepted.",
			func(s *backlog.Progress) int64 { return s.Remaining }, remains),
		points(BacklogAdded, "backlog_added", "Backlog added", Lower, "Points of the items added after the project's baseline start.",
			func(s *backlog.Progress) int64 { return s.Added }, added),
		points(BacklogRemoved, "backlog_removed", "Backlog removed", Neutral, "Points of the items taken out by the as-of date.",
			func(s *backlog.Progress) int64 { return s.Removed }, gone),
		points(BacklogUnplanned, "backlog_unplanned", "Backlog unplanned", Lower,
			"Points of the items added after their iteration had begun.",
			func(s *backlog.Progress) int64 { return s.Unplanned }, unplanned),
		{Key: BacklogShare, text: "backlog_share", Name: "Backlog accepted, share", Unit: Share, Better: Higher, Rollup: Derived,
			Formula: "Accepted points divided by all points.", Source: "measures", Inputs: []Key{BacklogAccepted, BacklogPoints},
			derive: ratio("the number of points")},
		velocity(VelocityLow, "velocity_low", "Velocity, low", "The lowest of the", func(v backlog.Velocity) int64 { return v.Low }),
		velocity(VelocityMean, "velocity_mean", "Velocity, mean", "The mean of the", backlog.Velocity.Mean),
		velocity(VelocityHigh, "velocity_high", "Velocity, high", "The highest of the", func(v backlog.Velocity) int64 { return v.High }),
		finish(BacklogFinishLow, "backlog_finish_low", "Backlog done at the low velocity", "low",
			func(s *backlog.Progress) backlog.Finish { return s.Low }),
		finish(BacklogFinishMean, "backlog_finish_mean", "Backlog done at the mean velocity", "mean",
			func(s *backlog.Progress) backlog.Finish { return s.Mean }),
		finish(BacklogFinishHigh, "backlog_finish_high", "Backlog done at the high velocity", "high",
			func(s *backlog.Progress) backlog.Finish { return s.High }),
		late(LateItems, "late_items", "Items not done in time", Count,
			"Items that are not done by the required, else the planned finish at the mean "+
				"velocity, in the order of their ranks.", func(s *backlog.Progress) int64 { return int64(len(s.Late)) }),
		late(LatePoints, "late_points", "Points not done in time", Points, "Points of the items that are not done in time.",
			func(s *backlog.Progress) int64 { return s.LatePoints }),
		{Key: LateShare, text: "late_share", Name: "Backlog not done in time, share", Unit: Share, Better: Lower, Rollup: Derived,
			Formula: "Points not done in time divided by those that remain; 0 where none remain.", Source: "measures",
			Inputs: []Key{LatePoints, BacklogRemaining}, derive: lateShare},
	}
}

// lateShare is exactly 0 where nothing remains.
func lateShare(_ Env, in []Value) Value {
	if in[1].N == 0 {
		return quotient(0, 1)
	}
	return quotient(in[0].N, in[1].N)
}

// ofProgress reads a figure off the backlog, undefined where a project has no items.
func ofProgress(f func(*backlog.Progress, *Project) Value) func(*Project) Value {
	return func(p *Project) Value {
		if len(p.Items) == 0 {
			return unknown("no backlog")
		}
		return f(p.BacklogProgress(), p)
	}
}

// itemNode is the row of an item with its points, in ten-thousandths.
func itemNode(x *backlog.Item) Node {
	return Node{Label: x.Code + " " + x.Title, Unit: Points, Value: known(x.Points.N), Ref: x.Ref, Detail: x.Says()}
}

// explainItems traces the items that are picked, in the order of the file.
func explainItems(which of) func(*Project, *Evidence) []Node {
	return func(p *Project, _ *Evidence) (list []Node) {
		for i := range p.Items {
			if x := &p.Items[i]; which(p, x) {
				list = append(list, itemNode(x))
			}
		}
		return list
	}
}

// explainVelocity traces the finished iterations that count, and what they accepted.
func explainVelocity(p *Project, _ *Evidence) (list []Node) {
	for _, x := range p.BacklogProgress().Measured {
		n := Node{Label: x.Iteration.Code, Detail: x.Iteration.From.Human() + " to " + x.Iteration.To.Human(), Unit: Points,
			Value: known(x.Points), Ref: x.Iteration.Ref}
		n.Children = explainItems(func(p *Project, y *backlog.Item) bool { return accepted(p, y) && y.Iteration == x.Iteration.Code })(p,
			nil)
		list = append(list, n)
	}
	return list
}

// explainFinish traces what a forecast of the finish is made of: what remains, what the current iteration accepted, the three velocities
// and the usual length.
func explainFinish(p *Project, ev *Evidence) []Node {
	s := p.BacklogProgress()
	list := []Node{{Label: "Remaining", Unit: Points, Value: known(s.Remaining), Children: explainItems(remains)(p, ev)}}
	if s.Current != nil {
		list = append(list, Node{Label: "Accepted in " + s.Current.Code, Detail: "which ends on " + s.Current.To.Human(), Unit: Points,
			Value: known(s.InWork), Ref: s.Current.Ref})
	}
	return append(list, Node{Label: "Velocity, low", Unit: Points, Value: known(s.Velocity.Low), Children: explainVelocity(p, ev)},
		Node{Label: "Velocity, mean", Detail: money.Plain(s.Velocity.Sum, 4) + " in " + money.Plain(s.Velocity.Count, 0) + " iterations",
			Unit: Points, Value: known(s.Velocity.Mean())},
		Node{Label: "Velocity, high", Unit: Points, Value: known(s.Velocity.High)},
		Node{Label: "Usual length of an iteration in calendar days", Unit: Count, Value: known(int64(s.Length))})
}

// explainLate traces the items not done in time by rank, and what that is computed from.
func explainLate(p *Project, ev *Evidence) []Node {
	late := Node{Label: "Not done by " + BacklogOf(p).Deadline.Human(), Unit: Points, Value: known(p.BacklogProgress().LatePoints)}
	for _, i := range p.BacklogProgress().Late {
		late.Children = append(late.Children, itemNode(&p.Items[i]))
	}
	return append([]Node{late}, explainFinish(p, ev)...)
}
