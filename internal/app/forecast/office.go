// Package forecast looks ahead: ranges of finish and cost by simulation, what projects like one came to, and the status predicted.
package forecast

import (
	"context"
	"slices"
	"sync"

	"turret/internal/app/assess"
	"turret/internal/app/kept"
	"turret/internal/app/setting"
	"turret/internal/core/calendar"
	"turret/internal/core/forecast"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
)

// Office is the door to forecasts. What was computed last is kept. It is safe for concurrent use.
type Office struct {
	assess  *assess.Office
	setting *setting.Office

	mu      sync.Mutex
	runs    []*simulation // the last asked for first
	learned []*lesson
	before  []*forecast.Learned // last, of whatever assessments
	formers []former            // last answers, the latest first
}

// NewOffice makes the door to forecasts.
func NewOffice(assess *assess.Office, setting *setting.Office) *Office {
	return &Office{assess: assess, setting: setting}
}

// lesson is what was learned for an assessment, known by its plan, or is being learned: done is closed when it is there.
type lesson struct {
	a       *assess.Assessment
	of      *schedule.Plan
	done    chan struct{}
	stories []forecast.Story
	learned *forecast.Learned
	ahead   map[string]*forecast.Prediction // of open projects, by code; nil where no period tells of one
	err     error

	models [2]func() *forecast.Model // made once each: with risks before their response, and after it
}

// mostKept is how many simulations and lessons are kept, mostAlone how many simulations of single projects.
const (
	mostKept  = 4
	mostAlone = 30
)

// reporting is the assessment in the reporting currency, in which closed periods are kept.
func (o *Office) reporting(ctx context.Context, a *assess.Assessment) (*assess.Assessment, error) {
	if !a.Shown {
		return a, nil
	}
	return o.assess.Day(assess.In(ctx, ""), a.Env.AsOf)
}

// Stories are all projects with how they stood at the periods closed by the day assessed, whoever asks.
func (o *Office) Stories(ctx context.Context, a *assess.Assessment) ([]forecast.Story, error) {
	l, err := o.lesson(ctx, a)
	if err != nil {
		return nil, err
	}
	return l.stories, nil
}

// Learned is what finished projects teach, as known on the day assessed: the same for whoever asks.
func (o *Office) Learned(ctx context.Context, a *assess.Assessment) (*forecast.Learned, error) {
	l, err := o.lesson(ctx, a)
	if err != nil {
		return nil, err
	}
	return l.learned, nil
}

// lesson is what was learned for an assessment. It is learned once, whoever asks, and goes on where the context ends before.
func (o *Office) lesson(ctx context.Context, a *assess.Assessment) (*lesson, error) {
	a, err := o.reporting(ctx, a)
	if err != nil {
		return nil, err
	}
	l := o.begin(context.WithoutCancel(ctx), a)
	select {
	case <-l.done:
		return l, l.err
	case <-ctx.Done():
		return nil, ctx.Err()
	}
}

// begin finds the lesson of an assessment, or has it learned.
func (o *Office) begin(ctx context.Context, a *assess.Assessment) *lesson {
	plan := a.Plan()
	o.mu.Lock()
	defer o.mu.Unlock()
	if i := slices.IndexFunc(o.learned, func(l *lesson) bool { return l.of == plan }); i >= 0 {
		return o.learned[i]
	}
	l := &lesson{a: a, of: plan, done: make(chan struct{})}
	for i := range l.models {
		l.models[i] = sync.OnceValue(func() *forecast.Model { return forecast.NewModel(l.sources(i == 1)) })
	}
	o.drop(plan)
	o.learned = append([]*lesson{l}, o.learned[:min(len(o.learned), mostKept-1)]...)
	go func() {
		defer close(l.done)
		if l.stories, l.err = read(ctx, a); l.err != nil {
			o.forget(l)
			return
		}
		o.learn(l, FilterOf(a))
		l.ahead = make(map[string]*forecast.Prediction, len(l.stories))
		for i := range l.stories {
			x := &l.stories[i]
			if d, ok := l.learned.Predict(x); ok && x.Project.Status == measure.Open {
				l.ahead[x.Project.Code] = d
			}
		}
	}()
	return l
}

// drop lets go of what was made of assessments that nobody is shown any more, but for those of one plan: each holds on to all its rows. It
// is called under the lock.
func (o *Office) drop(but *schedule.Plan) {
	gone := func(a *assess.Assessment, of *schedule.Plan) bool { return of != but && !o.assess.Keeps(a) }
	o.learned = slices.DeleteFunc(o.learned, func(l *lesson) bool { return gone(l.a, l.of) })
	o.runs = slices.DeleteFunc(o.runs, func(x *simulation) bool {
		if !gone(x.a, x.of) {
			return false
		}
		x.unkept.Store(true)
		return true
	})
}

// sources are what a model of an assessment is made from.
func (l *lesson) sources(after bool) *forecast.Sources {
	a := l.a
	return &forecast.Sources{Projects: a.All, Plan: l.of, Nodes: assess.EveryHolder(a), Stories: l.stories, Rates: a.Rates, Env: a.Env,
		After: after, Triangular: a.Settings.Triangular}
}

// learn takes what was learned before, where the finished projects are as they were, else learns anew.
func (o *Office) learn(l *lesson, f forecast.Filter) {
	o.mu.Lock()
	before := slices.Clone(o.before)
	o.mu.Unlock()
	i := slices.IndexFunc(before, func(x *forecast.Learned) bool { return x.Holds(l.stories, f) })
	if i >= 0 {
		l.learned = before[i]
		return
	}
	l.learned = forecast.Learn(l.stories, f)
	o.mu.Lock()
	defer o.mu.Unlock()
	o.before = append([]*forecast.Learned{l.learned}, o.before[:min(len(o.before), mostKept-1)]...)
}

// forget has what could not be learned be tried again.
func (o *Office) forget(l *lesson) {
	o.mu.Lock()
	defer o.mu.Unlock()
	o.learned = slices.DeleteFunc(o.learned, func(x *lesson) bool { return x == l })
}

// FilterOf is what history is learned from, by the settings.
func FilterOf(a *assess.Assessment) forecast.Filter {
	return forecast.Filter{Score: float64(a.Settings.LearnScore), Baseline: !a.Settings.LearnAny}
}

// read gathers what is kept of all projects at the periods closed by the day assessed.
func read(ctx context.Context, a *assess.Assessment) ([]forecast.Story, error) {
	stories := make([]forecast.Story, len(a.All))
	for i, p := range a.All {
		stories[i].Project = p
	}
	keys := forecast.StoryKeys
	err := a.Reading.PeriodValues(ctx, keys, nil, 0, a.Env.Period()+1, func(v kept.PeriodValue) {
		i, ok := a.Slots.Of(v.Scope)
		if !ok || v.Period.Last() > a.Env.AsOf {
			return
		}
		place(&stories[i], v, slices.Index(keys, v.Measure), v.Period.Last())
	})
	if err == nil && a.Closed != nil {
		own(stories, a)
	}
	return stories, err
}

// own adds the period that is assessed where it is closed itself: what was frozen then is what is computed from the same loads.
func own(stories []forecast.Story, a *assess.Assessment) {
	for i := range stories {
		p := stories[i].Project
		for k, key := range forecast.StoryKeys {
			v := p.Value(key)
			place(&stories[i], kept.PeriodValue{Period: a.Env.Period(), Value: measure.Value{Known: v.Known, N: v.N, Ratio: v.Ratio,
				Reason: v.Reason}}, k, a.Env.AsOf)
		}
	}
}

// place puts a figure of a closed period into a story, whose moments ascend.
func place(s *forecast.Story, v kept.PeriodValue, key int, asOf calendar.Date) {
	at, found := slices.BinarySearchFunc(s.Moments, v.Period, func(m forecast.Moment, p calendar.Period) int { return int(m.Period - p) })
	if !found {
		m := forecast.Moment{Period: v.Period, AsOf: asOf, Values: make([]measure.Value, len(forecast.StoryKeys))}
		s.Moments = slices.Insert(s.Moments, at, m)
	}
	s.Moments[at].Values[key] = v.Value
}
