package ingest

import (
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"io"
	"os"
	"slices"

	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/app/setting"
	"turret/internal/record"
)

// Reader reads files that lie on disk. It implements intake.Reader. Own are the columns that the office made for projects.
type Reader struct{ Own []record.Column }

var _ intake.Reader = Reader{}

// With is a reader that knows the columns which the office made for projects.
func (Reader) With(own []record.Column) intake.Reader { return Reader{own} }

// Sheets lists the sheets of a file with what was recognised of each. What is wrong with a sheet stands in it.
func (rd Reader) Sheets(path, name string, remembered []intake.Mapping, settings *setting.Settings) ([]intake.Sheet, error) {
	list, err := open(path, name)
	if wrong, ok := asProblem(err); ok {
		return []intake.Sheet{{File: name, Problem: &wrong}}, nil
	}
	if err != nil {
		return nil, err
	}
	defer finish(list)
	var sheets []intake.Sheet
	told := slices.ContainsFunc(list, func(n named) bool { return exactly(n.name) })
	for _, n := range list {
		hint, ok := KindOf(n.name)
		if !ok && len(list) == 1 {
			hint, _ = KindOf(name)
		}
		s, err := rd.look(name, n, hint, intake.Mapping{}, remembered, true, settings.DateOrder)
		if wrong, ok := asProblem(err); ok {
			s, err = &intake.Sheet{File: name, Name: n.name, Problem: &wrong}, nil
			s.Mapping.Skip = len(list) > 1
		}
		if err != nil {
			return nil, err
		}
		if len(list) > 1 && !s.Remembered && (s.Mapping.Kind == "" || told && !ok) {
			s.Mapping.Skip = true // where sheets are named after kinds, the others explain something
		}
		rd.shown(s, n.part.traits())
		sheets = append(sheets, *s)
	}
	return sheets, nil
}

// exactly reports whether a sheet is named as a kind is.
func exactly(name string) bool { return record.Kind(name).Input() != nil }

func find(path, name, sheet string) (*named, func(), error) {
	list, err := open(path, name)
	if err != nil {
		return nil, nil, err
	}
	for i := range list {
		if list[i].name == sheet {
			return &list[i], func() { finish(list) }, nil
		}
	}
	finish(list)
	return nil, nil, fmt.Errorf("sheet %q of %s: %w", sheet, name, fault.ErrNotFound)
}

// Look recognises one sheet again, with a kind or dialect that was chosen.
func (rd Reader) Look(path, name, sheet string, chosen intake.Mapping, settings *setting.Settings) (*intake.Sheet, error) {
	n, done, err := find(path, name, sheet)
	if err != nil {
		return nil, err
	}
	defer done()
	s, err := rd.look(name, *n, "", intake.Mapping{Kind: chosen.Kind, Dialect: chosen.Dialect, Skip: chosen.Skip}, nil, true,
		settings.DateOrder)
	if wrong, ok := asProblem(err); ok {
		return &intake.Sheet{File: name, Name: sheet, Problem: &wrong}, nil
	}
	if err == nil {
		rd.shown(s, n.part.traits())
	}
	return s, err
}

// Read reads a sheet by a mapping.
func (rd Reader) Read(path, name, sheet string, m intake.Mapping) (*kept.File, []fault.Problem, error) {
	n, done, err := find(path, name, sheet)
	if wrong, ok := asProblem(err); ok {
		return &kept.File{Name: name, Kind: m.Kind}, []fault.Problem{wrong}, nil
	}
	if err != nil {
		return nil, nil, err
	}
	defer done()
	s := &intake.Sheet{File: name, Name: n.name}
	d := m.Dialect
	_, words, err := n.part.sample(&d)
	if wrong, ok := asProblem(err); ok {
		return &kept.File{Name: s.Title(), Kind: m.Kind}, []fault.Problem{wrong}, nil
	}
	if err != nil {
		return nil, nil, err
	}
	s.Recognised = inWords(words, m.Dialect)
	m.Dialect.Encoding, m.Dialect.Separator = d.Encoding, d.Separator
	f, problems, err := rd.rows(s, *n, m, false)
	if err == nil && f.Digest == "" {
		f.Digest, f.Size, err = digestOf(path, n.name)
	}
	return f, problems, err
}

// digestOf covers the file and, where it has several, the name of the sheet.
func digestOf(path, sheet string) (string, int64, error) {
	in, err := os.Open(path)
	if err != nil {
		return "", 0, err
	}
	defer in.Close()
	sum := sha256.New()
	n, err := io.Copy(sum, in)
	_, _ = io.WriteString(sum, "\x00"+sheet)
	return hex.EncodeToString(sum.Sum(nil)), n, err
}

// shown cuts the sample to what a screen shows and writes the days in it as days.
func (rd Reader) shown(s *intake.Sheet, tr traits) {
	s.Sample = s.Sample[:min(5, len(s.Sample))]
	in := s.Mapping.Kind.InputWith(rd.Own)
	if in == nil || !tr.workbook {
		return
	}
	for j, h := range s.Mapping.Heads {
		c, _ := in.Column(s.Mapping.Columns[h])
		for _, row := range s.Sample {
			if c.Cell != record.Day || j >= len(row) {
				continue
			}
			if d, ok := serialDay(row[j], tr.from1904); ok {
				row[j] = d.String()
			}
		}
	}
}
