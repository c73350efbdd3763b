package draft

import (
	"context"
	"slices"

	"turret/internal/app/kept"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/record"
)

// posted reads as if postings had been taken in that stand in files only: for those nothing needs to be written, not even into a copy.
type posted struct {
	kept.Reading
	load int64 // that they are given, of no load
	by   map[int64][]cost.Posting
}

// onlyPostings reports whether files bring postings and nothing else.
func onlyPostings(files []*kept.File) bool {
	return !slices.ContainsFunc(files, func(f *kept.File) bool { return f.Kind != record.Actuals })
}

// withPostings is a reading with the postings of files, whose projects and cost codes are all there.
func withPostings(view kept.Reading, m *kept.Masters, files []*kept.File) *posted {
	projects, codes := map[string]int64{}, map[string]int32{}
	for _, p := range m.Projects {
		projects[p.Code] = p.ID
	}
	for _, k := range m.CostCodes {
		codes[k.Code] = int32(k.ID)
	}
	p := &posted{Reading: view, load: 1 << 60, by: map[int64][]cost.Posting{}}
	row := int32(0) // of all files together
	for _, f := range files {
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
