package judge

import (
	"context"
	"slices"
	"sync"

	"turret/internal/app/assess"
	"turret/internal/app/kept"
)

// pinned are the findings that a closing kept, by project.
type pinned struct {
	serial int64 // of the closing
	by     map[int64]map[kept.PeriodFinding]bool
}

// formers are the findings of the closings looked at last, which never change. They are safe for concurrent use.
type formers struct {
	mu   sync.Mutex
	list []pinned // the last looked at first
}

const mostFormers = 4

func (f *formers) find(serial int64) map[int64]map[kept.PeriodFinding]bool {
	f.mu.Lock()
	defer f.mu.Unlock()
	for _, x := range f.list {
		if x.serial == serial {
			return x.by
		}
	}
	return nil
}

func (f *formers) put(x pinned) {
	f.mu.Lock()
	defer f.mu.Unlock()
	f.list = slices.Insert(f.list, 0, x)
	f.list = f.list[:min(len(f.list), mostFormers)]
}

// formerFindings are those of the last period closed before the one assessed, by project.
func (o *Office) formerFindings(ctx context.Context, a *assess.Assessment, x *Checked) (map[int64]map[kept.PeriodFinding]bool, error) {
	periods, err := o.store.Periods(ctx)
	if err != nil {
		return nil, err
	}
	var last *kept.Period
	for i := range periods {
		if periods[i].AsOf < a.Env.AsOf {
			last = &periods[i]
		}
	}
	if last == nil {
		return nil, nil
	}
	x.Since = last.Span
	if by := o.formers.find(last.Serial); by != nil {
		return by, nil
	}
	list, err := o.store.PeriodFindings(ctx, last.Span)
	if err != nil {
		return nil, err
	}
	by := map[int64]map[kept.PeriodFinding]bool{}
	for _, f := range list {
		of := by[f.Project]
		if of == nil {
			of = map[kept.PeriodFinding]bool{}
			by[f.Project] = of
		}
		of[f] = true
	}
	o.formers.put(pinned{last.Serial, by})
	return by, nil
}
