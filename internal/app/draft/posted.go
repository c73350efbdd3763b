package draft

import (
	"context"
	"slices"

	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/record"
)

// posted reads as if postings had been taken in that stand in files only: for those nothing needs to be written, not even into a copy.
type posted struct {
	kept.Reading
	load   int64 // that they are given, of no load
	period calendar.Period
	source string
	by     map[int64][]cost.Posting
}

// onlyPostings reports whether files bring postings and nothing else.
func onlyPostings(files []*kept.File) bool {
	return !slices.ContainsFunc(files, func(f *kept.File) bool { return f.Kind != record.Actuals })
}

// withPostings is a reading with the postings of a draft, whose projects and cost codes are all there.
func withPostings(view kept.Reading, m *kept.Masters, c *Consequences, d *Draft) *posted {
	projects, codes := map[string]int64{}, map[string]int32{}
	for _, p := range m.Projects {
		projects[p.Code] = p.ID
	}
	for _, k := range m.CostCodes {
		codes[k.Code] = int32(k.ID)
	}
	p := &posted{Reading: view, load: 1 << 60, period: d.Period, source: d.Source, by: map[int64][]cost.Posting{}}
	row := int32(0) // of all files together
	for _, f := range c.Files {
		for i := range f.Postings {
			x := &f.Postings[i]
			row++
			id := projects[x.Project]
			p.by[id] = append(p.by[id], cost.Posting{Code: codes[x.CostCode], Date: x.Date, Amount: x.Amount, Currency: x.Currency,
				Centre: x.Centre, Document: x.Document, Ref: fact.Ref{Load: p.load, Row: row}})
		}
	}
	return p
}

// Ledger passes what stands, then the postings of the files.
func (p *posted) Ledger(ctx context.Context, projects []int64, take func(project, load int64, s *cost.MonthSum) bool,
	row func(project int64, x *cost.Posting)) error {
	if err := p.Reading.Ledger(ctx, projects, take, row); err != nil {
		return err
	}
	var sums cost.MonthSums
	for project, list := range p.by {
		if projects != nil && !slices.Contains(projects, project) {
			continue
		}
		for i := range list {
			sums.Add(&list[i])
		}
		for _, s := range sums.Take() {
			if take(project, p.load, &s) {
				continue
			}
			for i := range list {
				if s.Holds(&list[i]) {
					row(project, &list[i])
				}
			}
		}
	}
	return nil
}

// hand reports whether a source is the office itself, whose deliveries are told apart.
func hand(source string) bool { return source == kept.ByHand }

// LastDelivered passes the deliveries that stand, and that of the files in the place of an earlier one.
func (p *posted) LastDelivered(ctx context.Context, projects []int64, each func(kept.Delivery)) error {
	came := map[int64]bool{}
	var list []kept.Delivery
	err := p.Reading.LastDelivered(ctx, projects, func(d kept.Delivery) {
		if d.Kind == record.Actuals && len(p.by[d.Project]) > 0 && hand(d.Source) == hand(p.source) {
			came[d.Project] = true
			if p.period > d.Period {
				d.Period, d.Source = p.period, p.source
				d.Periods++
			}
		}
		list = append(list, d)
	})
	if err != nil {
		return err
	}
	for project := range p.by {
		if !came[project] && (projects == nil || slices.Contains(projects, project)) {
			list = append(list, kept.Delivery{Project: project, Kind: record.Actuals, Period: p.period, Source: p.source, Periods: 1})
		}
	}
	slices.SortStableFunc(list, func(x, y kept.Delivery) int { // those by hand first, as they are read
		switch {
		case hand(x.Source) == hand(y.Source):
			return 0
		case hand(x.Source):
			return -1
		}
		return 1
	})
	for _, d := range list {
		each(d)
	}
	return nil
}

// Begun reports as if the files had come.
func (p *posted) Begun(ctx context.Context, period calendar.Period) (begun bool, ledgers []string, err error) {
	begun, ledgers, err = p.Reading.Begun(ctx, period)
	if p.period == period && !slices.Contains(ledgers, p.source) {
		ledgers = append(ledgers, p.source)
		slices.Sort(ledgers)
	}
	return begun || p.period >= period, ledgers, err
}

// late reports whether a later delivery stands: then it is not known whether one for this period stands as well, which counts.
func (p *posted) late(ctx context.Context) (late bool, err error) {
	var ids []int64
	for project := range p.by {
		ids = append(ids, project)
	}
	return late, p.Reading.LastDelivered(ctx, ids, func(d kept.Delivery) {
		late = late || d.Kind == record.Actuals && hand(d.Source) == hand(p.source) && d.Period > p.period
	})
}

// Documents are those of postings that stand, and of the files.
func (p *posted) Documents(ctx context.Context, list []kept.PostingAt) (map[kept.PostingAt]string, error) {
	own := map[kept.PostingAt]string{}
	var others []kept.PostingAt
	for _, at := range list {
		if at.Ref.Load != p.load {
			others = append(others, at)
			continue
		}
		of := p.by[at.Project]
		if i := slices.IndexFunc(of, func(x cost.Posting) bool { return x.Ref == at.Ref }); i >= 0 {
			own[at] = of[i].Document
		}
	}
	documents, err := p.Reading.Documents(ctx, others)
	if err != nil {
		return nil, err
	}
	for at, document := range own {
		documents[at] = document
	}
	return documents, nil
}

// suspects are the projects in which a posting of the files may stand already, by its key.
func (p *posted) suspects(ctx context.Context) ([]int64, error) {
	keys := map[int64]map[uint64]bool{}
	var ids []int64
	for project, list := range p.by {
		ids = append(ids, project)
		keys[project] = make(map[uint64]bool, len(list))
		for i := range list {
			if list[i].Document != "" {
				keys[project][list[i].Key()] = true
			}
		}
	}
	found := map[int64]bool{}
	err := p.Reading.Ledger(ctx, ids, func(project, _ int64, s *cost.MonthSum) bool {
		found[project] = found[project] || slices.ContainsFunc(s.Entries, func(e cost.Entry) bool { return keys[project][e.Key] })
		return true
	}, nil)
	return slices.DeleteFunc(ids, func(id int64) bool { return !found[id] }), err
}
