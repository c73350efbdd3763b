// Package ingest reads input files into rows, each problem located by file, row, column and value.
//
// CSV follows RFC 4180 in UTF-8. Beyond it a byte-order mark, a semicolon or tab as separator, CRLF and decimal commas are
// recognised. Heads are case-insensitive and in any order; unknown ones are ignored and listed.
package ingest

import (
	"bufio"
	"bytes"
	"crypto/sha256"
	"encoding/csv"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"slices"
	"sort"
	"strings"
	"unicode/utf8"

	"turret/internal/app"
)

// Limits of one file.
const (
	MaxBytes    = 100 << 20
	MaxRows     = 2_000_000
	MaxProblems = 1000 // listed per file; reading goes on no further
)

// KindOf guesses the kind from a file's name: the kind itself, alone or followed by something that is not a letter.
func KindOf(name string) (app.Kind, bool) {
	base := strings.ToLower(filepath.Base(name))
	base = strings.TrimSuffix(base, filepath.Ext(base))
	for _, k := range app.Kinds() {
		rest, ok := strings.CutPrefix(base, string(k))
		if ok && (rest == "" || !isLetter(rest[0])) {
			return k, true
		}
	}
	return "", false
}

func isLetter(c byte) bool { return c >= 'a' && c <= 'z' || c == '_' }

// Paths reads files, and of folders all files named after a kind, in an order that resolves. Skipped names what a folder
// held besides. Problems with what stands in the files come back as an *app.Refusal.
func Paths(paths []string, kind app.Kind) (files []*app.File, skipped []string, err error) {
	type input struct {
		path string
		kind app.Kind
	}
	var list []input
	for _, p := range paths {
		found, err := expand(p)
		if err != nil {
			return nil, nil, err
		}
		for _, f := range found {
			k, ok := kind, true
			if k == "" {
				k, ok = KindOf(f)
			}
			switch {
			case ok:
				list = append(list, input{f, k})
			case f == p:
				return nil, nil, fmt.Errorf("%s: the file is not named after a kind; say which with --kind", p)
			default:
				skipped = append(skipped, f)
			}
		}
	}
	order := app.Kinds()
	sort.SliceStable(list, func(i, j int) bool {
		return slices.Index(order, list[i].kind) < slices.Index(order, list[j].kind)
	})
	var problems []app.Problem
	for _, in := range list {
		f, wrong, err := path(in.path, in.kind)
		if err != nil {
			return nil, nil, err
		}
		problems = append(problems, wrong...)
		files = append(files, f)
	}
	if len(problems) > 0 {
		return nil, nil, &app.Refusal{Problems: problems}
	}
	return files, skipped, nil
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

func path(p string, kind app.Kind) (*app.File, []app.Problem, error) {
	f, err := os.Open(p)
	if err != nil {
		return nil, nil, err
	}
	defer f.Close()
	return CSV(filepath.Base(p), kind, f)
}

// CSV reads one file. Problems are what is wrong with its content, at most MaxProblems; the error is one of reading.
func CSV(name string, kind app.Kind, r io.Reader) (*app.File, []app.Problem, error) {
	def, ok := kinds[kind]
	if !ok {
		return nil, nil, fmt.Errorf("%q is not a kind of file", kind)
	}
	digest := sha256.New()
	counted := &limited{r: io.TeeReader(r, digest)}
	in := bufio.NewReaderSize(counted, 1<<16)
	file := &app.File{Name: name, Kind: kind}
	rd := &reader{file: file, def: def}
	if d, ok := rd.sniff(in); ok {
		if err := rd.rows(in, d); err != nil {
			return nil, nil, err
		}
	}
	if counted.over {
		rd.problems = append(rd.problems[:0], app.Problem{File: name, Expected: fmt.Sprintf("at most %d MB", MaxBytes>>20)})
	}
	file.Digest, file.Size = hex.EncodeToString(digest.Sum(nil)), counted.n
	return file, rd.problems, nil
}

// limited refuses to read beyond MaxBytes, while reading.
type limited struct {
	r    io.Reader
	n    int64
	over bool
}

func (l *limited) Read(p []byte) (int, error) {
	n, err := l.r.Read(p)
	if l.n += int64(n); l.n > MaxBytes {
		l.over = true
		return 0, io.EOF
	}
	return n, err
}

// dialect is what was recognised of a file.
type dialect struct {
	comma   rune
	decimal byte
}

func (r *reader) fail(row int32, column, value, expected string) {
	if len(r.problems) < MaxProblems {
		r.problems = append(r.problems, app.Problem{File: r.file.Name, Row: row, Column: column, Value: value, Expected: expected})
	}
}

// sniff recognises the dialect from the beginning of the file.
func (r *reader) sniff(in *bufio.Reader) (dialect, bool) {
	head, _ := in.Peek(1 << 16)
	words := []string{"UTF-8"}
	switch {
	case len(bytes.TrimSpace(head)) == 0:
		r.fail(0, "", "", "a head line with "+strings.Join(r.def.required(), ", ")+"; the file is empty")
		return dialect{}, false
	case bytes.HasPrefix(head, []byte{0xFF, 0xFE}), bytes.HasPrefix(head, []byte{0xFE, 0xFF}), bytes.IndexByte(head, 0) >= 0:
		r.fail(0, "", "", "text in UTF-8; this is UTF-16 or not text at all (save it as CSV UTF-8)")
		return dialect{}, false
	case bytes.HasPrefix(head, []byte{0xEF, 0xBB, 0xBF}):
		_, _ = in.Discard(3)
		head = head[3:]
		words[0] = "UTF-8 with byte-order mark"
	}
	line, _, _ := bytes.Cut(head, []byte("\n"))
	if bytes.HasSuffix(line, []byte("\r")) {
		words = append(words, "CRLF")
	}
	d := dialect{comma: ',', decimal: '.'}
	name := "comma"
	if n := bytes.Count(line, []byte(";")); n > bytes.Count(line, []byte(",")) {
		d.comma, name = ';', "semicolon"
	} else if bytes.Count(line, []byte("\t")) > max(n, bytes.Count(line, []byte(","))) {
		d.comma, name = '\t', "tab"
	}
	words = append(words, "separated by "+name)
	if r.decimalComma(head, d.comma) {
		d.decimal = ','
		words = append(words, "decimal comma")
	}
	r.file.Recognised = strings.Join(words, ", ")
	return d, true
}

// decimalComma says whether the numbers of the first rows use a comma and none of them a point.
func (r *reader) decimalComma(head []byte, comma rune) bool {
	c := csv.NewReader(bytes.NewReader(head))
	c.Comma, c.FieldsPerRecord, c.LazyQuotes = comma, -1, true
	names, err := c.Read()
	if err != nil {
		return false
	}
	commas := false
	for {
		cells, err := c.Read()
		if err != nil {
			return commas
		}
		for i, cell := range cells {
			if i >= len(names) || !r.def.numeric(strings.ToLower(strings.TrimSpace(names[i]))) {
				continue
			}
			if strings.Contains(cell, ".") {
				return false
			}
			commas = commas || strings.Contains(cell, ",")
		}
	}
}

// rows reads the head and every row. It returns an error only where reading itself fails.
func (r *reader) rows(in io.Reader, d dialect) error {
	c := csv.NewReader(in)
	c.Comma, c.FieldsPerRecord, c.ReuseRecord = d.comma, -1, true
	r.decimal = d.decimal
	inner := int32(0) // line breaks inside cells so far: the difference between lines and rows
	for {
		cells, err := c.Read()
		if errors.Is(err, io.EOF) {
			if r.heads == nil {
				r.fail(0, "", "", "a head line with "+strings.Join(r.def.required(), ", "))
			}
			return nil
		}
		var parse *csv.ParseError
		if errors.As(err, &parse) {
			r.fail(int32(parse.StartLine)-inner, "", "", "quotes around a whole cell, doubled inside and closed ("+parse.Err.Error()+")")
			return nil
		}
		if err != nil {
			return err
		}
		line, _ := c.FieldPos(0)
		row := int32(line) - inner
		for _, cell := range cells {
			inner += int32(strings.Count(cell, "\n"))
		}
		if r.heads == nil {
			if !r.head(row, cells) {
				return nil
			}
			continue
		}
		if blank(cells) {
			continue
		}
		if r.file.Rows++; r.file.Rows > MaxRows {
			r.fail(row, "", "", fmt.Sprintf("at most %d rows", MaxRows))
			return nil
		}
		if len(cells) > len(r.heads) {
			r.fail(row, "", strings.Join(cells[len(r.heads):], " "), fmt.Sprintf("%d cells as in the head, found %d", len(r.heads), len(cells)))
			continue
		}
		r.row, r.cells = row, cells
		r.def.read(r)
		if len(r.problems) >= MaxProblems {
			r.problems = append(r.problems, app.Problem{File: r.file.Name, Row: row,
				Expected: fmt.Sprintf("fewer than %d problems; the rest of the file was not read", MaxProblems)})
			return nil
		}
	}
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
func (r *reader) head(row int32, cells []string) bool {
	r.heads = make([]string, len(cells))
	r.at = map[string]int{}
	for i, cell := range cells {
		name := strings.ToLower(strings.TrimSpace(cell))
		r.heads[i] = name
		switch _, twice := r.at[name]; {
		case !utf8.ValidString(cell):
			r.fail(row, "", strings.ToValidUTF8(cell, "?"), "text in UTF-8")
			return false
		case twice:
			r.fail(row, name, cell, "each column once")
		case r.def.has(name):
			r.at[name] = i
		case name != "":
			r.file.Ignored = append(r.file.Ignored, strings.TrimSpace(cell))
		}
	}
	for _, name := range r.def.required() {
		if _, ok := r.at[name]; !ok {
			r.fail(row, name, "", "a column of this name")
		}
	}
	return len(r.problems) == 0
}
