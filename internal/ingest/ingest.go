// Package ingest reads input files into rows, each problem located by file, row, column and value.
//
// CSV follows RFC 4180. Beyond it other separators and encodings, decimal commas, separated thousands and other orders of
// dates are recognised where they are not open to doubt. Workbooks are XLSX per ISO/IEC 29500, JSON is RFC 8259, and a ZIP may
// hold any of them. Heads are case-insensitive and in any order; unknown ones are ignored and listed, or mapped.
package ingest

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"slices"
	"sort"
	"strings"
	"time"
	"unicode/utf8"

	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/record"
)

// Limits of one file.
const (
	MaxBytes    = 100 << 20
	MaxRows     = 2_000_000
	MaxProblems = 1000 // listed per file; reading goes on no further
	MaxColumns  = 1000
	MaxSheets   = 100
	MaxTime     = 5 * time.Minute // of reading one sheet
)

// KindOf guesses the kind from a file's name: the kind itself, alone or followed by something that is not a letter.
func KindOf(name string) (record.Kind, bool) {
	base := strings.ToLower(filepath.Base(name))
	base = strings.TrimSuffix(base, filepath.Ext(base))
	for _, k := range record.Kinds() {
		rest, ok := strings.CutPrefix(base, string(k))
		if ok && (rest == "" || !isLetter(rest[0])) {
			return k, true
		}
	}
	return "", false
}

func isLetter(c byte) bool { return c >= 'a' && c <= 'z' || c == '_' }

// Paths reads files by the columns that everybody has, as the method does.
func Paths(paths []string, kind record.Kind) (files []*kept.File, skipped []string, err error) {
	return Reader{}.Paths(paths, kind)
}

// Paths reads files, and of folders all files named after a kind, in an order that resolves. Skipped names what a folder
// held besides. Problems with what stands in the files come back as a *fault.Refusal.
//
// Fields of the office's own that a file brings are columns of projects for the files after it; rd.Own are those that it has already.
func (rd Reader) Paths(paths []string, kind record.Kind) (files []*kept.File, skipped []string, err error) {
	var problems []fault.Problem
	var found []string
	for _, p := range paths {
		list, err := expand(p)
		if err != nil {
			return nil, nil, err
		}
		for _, f := range list {
			if _, ok := KindOf(f); !ok && f != p && !container(f) {
				skipped = append(skipped, f)
				continue
			}
			found = append(found, f)
		}
	}
	for _, f := range fieldsFirst(found, func(f string) string { return f }) {
		list, wrong, err := rd.takeIn(f, kind)
		if err != nil {
			return nil, nil, err
		}
		problems = append(problems, wrong...)
		files = append(files, list...)
	}
	order := record.Kinds()
	sort.SliceStable(files, func(i, j int) bool {
		return slices.Index(order, files[i].Kind) < slices.Index(order, files[j].Kind)
	})
	if len(problems) > 0 {
		return files, skipped, &fault.Refusal{Problems: problems}
	}
	return files, skipped, nil
}

// container tells files whose sheets or members may tell their kind.
func container(name string) bool {
	return slices.Contains([]string{".xlsx", ".zip", ".json"}, strings.ToLower(filepath.Ext(name)))
}

// Files lists files, and of folders all the files that they hold.
func Files(paths []string) ([]string, error) {
	var list []string
	for _, p := range paths {
		found, err := expand(p)
		if err != nil {
			return nil, err
		}
		list = append(list, found...)
	}
	return list, nil
}

func expand(p string) ([]string, error) {
	info, err := os.Stat(p)
	if err != nil {
		return nil, err
	}
	if !info.IsDir() {
		return []string{p}, nil
	}
	entries, err := os.ReadDir(p)
	if err != nil {
		return nil, err
	}
	var list []string
	for _, e := range entries {
		if e.Type().IsRegular() {
			list = append(list, filepath.Join(p, e.Name()))
		}
	}
	return list, nil
}

// fieldsFirst puts what is named after the fields of the office's own before the rest.
func fieldsFirst[T any](list []T, name func(T) string) []T {
	list = slices.Clone(list)
	slices.SortStableFunc(list, func(x, y T) int {
		rank := func(t T) int {
			if k, _ := KindOf(name(t)); k == record.OwnFields {
				return 0
			}
			return 1
		}
		return rank(x) - rank(y)
	})
	return list
}

// learn takes the fields that a file brings for columns of projects, in the place of those of the same code.
func (rd *Reader) learn(f *kept.File) {
	for i := range f.Records {
		if f.Kind != record.OwnFields {
			return
		}
		c, open := record.OwnColumn(f.Records[i].Cells)
		rd.Own = slices.DeleteFunc(slices.Clone(rd.Own), func(x record.Column) bool { return x.Name == c.Name })
		if open {
			rd.Own = append(rd.Own, c)
		}
	}
}

func (rd *Reader) takeIn(p string, kind record.Kind) ([]*kept.File, []fault.Problem, error) {
	name := filepath.Base(p)
	list, err := open(p, name)
	if wrong, ok := asProblem(err); ok {
		return nil, []fault.Problem{wrong}, nil
	}
	if err != nil {
		return nil, nil, err
	}
	defer finish(list)
	var files []*kept.File
	var problems []fault.Problem
	told := slices.ContainsFunc(list, func(n named) bool { return exactly(n.name) })
	for _, n := range fieldsFirst(list, func(n named) string { return n.name }) {
		if told && !exactly(n.name) {
			continue // where sheets are named after kinds, the others explain something
		}
		hint := kind
		if k, ok := KindOf(n.name); ok && kind == "" {
			hint = k
		}
		if k, ok := KindOf(name); ok && hint == "" && len(list) == 1 {
			hint = k
		}
		if hint == "" {
			problems = append(problems, nameless(name, n.name))
			continue
		}
		f, wrong, err := rd.one(name, n, hint)
		if err != nil {
			return nil, nil, err
		}
		problems = append(problems, wrong...)
		if f != nil {
			rd.learn(f)
			files = append(files, f)
		}
	}
	return files, problems, nil
}

func finish(list []named) {
	for _, n := range list {
		if n.done != nil {
			n.done()
		}
	}
}

func asProblem(err error) (fault.Problem, bool) {
	var p *problemError
	if errors.As(err, &p) {
		return p.Problem, true
	}
	return fault.Problem{}, false
}

// CSV reads one file by the columns that everybody has, as the method does.
func CSV(name string, kind record.Kind, r io.Reader) (*kept.File, []fault.Problem, error) {
	return Reader{}.CSV(name, kind, r)
}

// CSV reads one file. Problems are what is wrong with its content, at most MaxProblems; the error is one of reading.
func (rd Reader) CSV(name string, kind record.Kind, r io.Reader) (*kept.File, []fault.Problem, error) {
	if kind.Input() == nil {
		return nil, nil, fmt.Errorf("%q is not a kind of file", kind)
	}
	return rd.one(name, named{part: newCSV(name, r)}, kind)
}

// nameless is said of a sheet whose name is no kind: heads alone are not taken for one, since kinds to come may have the same.
func nameless(file, sheet string) fault.Problem {
	s := intake.Sheet{File: file, Name: sheet}
	return fault.Problem{File: s.Title(), Expected: fmt.Sprintf("a name that tells the kind, one of %v; or --kind, or a sender whose "+
		"files were mapped before", record.Kinds())}
}

// one reads a sheet by the names of the columns.
func (rd Reader) one(name string, n named, kind record.Kind) (*kept.File, []fault.Problem, error) {
	s, err := rd.look(name, n, kind, intake.Mapping{}, nil, false, "")
	if wrong, ok := asProblem(err); ok {
		return &kept.File{Name: name, Kind: kind}, []fault.Problem{wrong}, nil
	}
	if err != nil {
		return nil, nil, err
	}
	if s.Mapping.Kind == "" {
		return nil, []fault.Problem{nameless(name, n.name)}, nil
	}
	return rd.rows(s, n, s.Mapping, true)
}

// rows reads a sheet by a mapping. Strict leaves nothing to the mapping: a head met twice is a problem.
func (rd Reader) rows(s *intake.Sheet, n named, m intake.Mapping, strict bool) (*kept.File, []fault.Problem, error) {
	file := &kept.File{Name: s.Title(), Kind: m.Kind, Recognised: s.Recognised, Round: m.Round}
	file.Own = rd.ownOf(m.Kind)
	if m.Round {
		file.Recognised += ", amounts rounded"
	}
	r := &reader{file: file, input: file.Input(), mapping: m, traits: n.part.traits()}
	if p, ok := n.part.(*sheetPart); ok {
		r.numeric = p.number
	}
	r.decimal = map[string]byte{"point": '.', "comma": ','}[m.Dialect.Decimal]
	t, err := n.part.rows(m.Dialect)
	if err == nil {
		err = r.all(t, strict)
		if c := t.close(); err == nil {
			err = c
		}
	}
	if wrong, ok := asProblem(err); ok {
		r.problems = append(r.problems, wrong)
		err = nil
	}
	if p, ok := n.part.(*csvPart); ok {
		if p.raw.over {
			r.problems = append(r.problems[:0], fault.Problem{File: file.Name, Expected: tooLarge()})
		}
		file.Digest, file.Size = p.raw.digest(), p.raw.n
	}
	tell(r)
	return file, r.problems, err
}

// ownOf are the columns that the office made for a kind.
func (rd Reader) ownOf(k record.Kind) []record.Column {
	if k == record.Projects {
		return rd.Own
	}
	return nil
}

func (r *reader) fail(row int32, column, value, expected string) {
	if len(r.problems) < MaxProblems {
		r.problems = append(r.problems, fault.Problem{File: r.file.Name, Row: row, Column: column, Value: value, Expected: expected})
	}
}

// all reads the head and every row. It returns an error only where reading itself fails.
func (r *reader) all(t table, strict bool) error {
	read := readerOf(r.file.Kind)
	limit, stop := context.WithTimeout(context.Background(), MaxTime)
	defer stop()
	for n := 1; ; n++ {
		row, cells, err := t.next()
		if n%4096 == 0 && limit.Err() != nil {
			return unreadable(r.file.Name, fmt.Sprintf("a sheet that can be read within %v; split it", MaxTime))
		}
		if errors.Is(err, io.EOF) {
			if r.heads == nil {
				r.fail(0, "", "", "a head line with "+strings.Join(r.input.Required(), ", "))
			}
			return nil
		}
		if err != nil {
			return err
		}
		switch {
		case row < r.mapping.Dialect.HeadRow:
		case r.heads == nil:
			if !r.head(row, cells, strict) {
				return nil
			}
		case blank(cells):
		default:
			r.row, r.cells = row, cells
			if !r.line(read) {
				return nil
			}
		}
	}
}

// line reads one row, or one for each month with an amount; false ends the reading.
func (r *reader) line(read func(*reader)) bool {
	if _, without := r.mapping.Without[r.row]; without {
		return true
	}
	correct(r)
	if r.leftOut() {
		state(r)
		return true
	}
	if extra := r.beyond(); extra != "" {
		r.fail(r.row, "", extra, fmt.Sprintf("%d cells as in the head, found %d", len(r.heads), len(r.cells)))
		return true
	}
	if r.months == nil {
		r.file.Rows++
		read(r)
		r.stated.add(r.at["amount"], r.file)
	}
	for i := range r.months {
		r.inMonth = &r.months[i]
		if at := r.inMonth.index; at < len(r.cells) && strings.TrimSpace(r.cells[at]) != "" {
			r.file.Rows++
			read(r)
			r.stated.add(at, r.file)
		}
		r.inMonth = nil
	}
	if r.file.Rows > MaxRows {
		r.fail(r.row, "", "", fmt.Sprintf("at most %d rows", MaxRows))
		return false
	}
	if len(r.problems) >= MaxProblems {
		r.problems = append(r.problems, fault.Problem{File: r.file.Name, Row: r.row,
			Expected: fmt.Sprintf("fewer than %d problems; the rest of the file was not read", MaxProblems)})
		return false
	}
	return true
}

// beyond is what stands in cells that have no head.
func (r *reader) beyond() string {
	if len(r.cells) <= len(r.heads) {
		return ""
	}
	extra := strings.TrimSpace(strings.Join(r.cells[len(r.heads):], " "))
	if extra == "" && r.traits.workbook {
		return ""
	}
	return max(extra, " ")
}

// leftOut tells rows of totals by how they begin.
func (r *reader) leftOut() bool {
	if len(r.mapping.LeaveOut) == 0 {
		return false
	}
	for _, c := range r.cells {
		if c = intake.Plain(c); c != "" {
			return slices.Contains(r.mapping.LeaveOut, strings.TrimRight(c, ":"))
		}
	}
	return false
}

func blank(cells []string) bool {
	for _, c := range cells {
		if strings.TrimSpace(c) != "" {
			return false
		}
	}
	return true
}

// head places the columns; it returns false where the file cannot be read without a missing one.
func (r *reader) head(row int32, cells []string, strict bool) bool {
	r.heads = make([]string, len(cells))
	r.at = map[string]int{}
	names := headNames(cells)
	for i, cell := range cells {
		r.heads[i] = strings.Clone(strings.TrimSpace(cell))
		column, mapped := r.mapping.Columns[names[i]]
		if again := r.mapping.Columns[intake.Plain(cell)]; !mapped && strict && again != "" {
			column = again // the same head once more
		}
		_, twice := r.at[column]
		switch month, isMonth := monthOf(cell); {
		case !utf8.ValidString(cell):
			r.fail(row, "", strings.ToValidUTF8(cell, "?"), "text in UTF-8")
			return false
		case column != "" && twice:
			r.fail(row, column, r.heads[i], "each column once")
		case column != "":
			r.at[column] = i
		case isMonth && (r.file.Kind == record.Budget || r.file.Kind == record.Forecast):
			r.months = append(r.months, monthColumn{i, month})
		case r.heads[i] != "":
			r.file.Ignored = append(r.file.Ignored, r.heads[i])
		}
	}
	if _, ok := r.at["amount"]; ok || len(r.months) < 2 {
		r.months = nil
	}
	for _, name := range r.input.Required() {
		_, ok := r.at[name]
		if !ok && r.mapping.Fixed[name] == "" && !(name == "amount" && r.months != nil) {
			r.fail(row, name, "", "a column of this name")
		}
	}
	return len(r.problems) == 0
}
