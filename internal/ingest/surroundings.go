package ingest

import (
	"errors"
	"io"

	"turret/internal/app/intake"
)

// Surroundings reads some rows of a sheet as they came, by their numbers, and its heads under 0.
func (Reader) Surroundings(path, name, sheet string, m intake.Mapping, wanted map[int32]bool) (map[int32][]string, error) {
	found := map[int32][]string{}
	n, done, err := find(path, name, sheet)
	if _, ok := asProblem(err); ok {
		return found, nil
	}
	if err != nil {
		return nil, err
	}
	defer done()
	d := m.Dialect
	if _, _, err := n.part.sample(&d); err != nil {
		return found, nil // what is wrong with the sheet is said elsewhere
	}
	t, err := n.part.rows(d)
	if err != nil {
		return found, nil // as above
	}
	defer func() { _ = t.close() }()
	for len(found) <= len(wanted) {
		row, cells, err := t.next()
		if errors.Is(err, io.EOF) {
			break
		}
		if _, ok := asProblem(err); ok {
			break
		}
		if err != nil {
			return nil, err
		}
		if found[0] == nil && row >= m.Dialect.HeadRow {
			found[0] = append([]string{}, cells...)
		}
		if wanted[row] {
			found[row] = append([]string{}, cells...)
		}
	}
	return found, nil
}
