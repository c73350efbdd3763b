package ingest

import (
	"bufio"
	"bytes"
	"encoding/csv"
	"errors"
	"io"
	"strings"
	"unicode/utf8"

	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"
	"golang.org/x/text/transform"

	"turret/internal/app/fault"
	"turret/internal/app/intake"
)

// csvPart is a text file with separated cells.
type csvPart struct {
	name string
	raw  *counted
	in   *bufio.Reader // decoded
}

// peeked is how much of a file is looked at to recognise it.
const peeked = 1 << 16

func newCSV(name string, r io.Reader) *csvPart { return &csvPart{name: name, raw: newCounted(r)} }

func (p *csvPart) traits() traits { return traits{} }

var separators = []struct {
	word string
	r    rune
}{{"comma", ','}, {"semicolon", ';'}, {"tab", '\t'}, {"bar", '|'}}

func (p *csvPart) sample(d *intake.Dialect) ([]sampleRow, []string, error) {
	words, err := p.decode(d)
	if err != nil {
		return nil, nil, err
	}
	head, _ := p.in.Peek(peeked)
	line, _, _ := bytes.Cut(head, []byte("\n"))
	if bytes.HasSuffix(line, []byte("\r")) {
		words = append(words, "CRLF")
	}
	if d.Separator == "" {
		d.Separator = separatorOf(head)
	}
	words = append(words, "separated by "+d.Separator)
	c := p.reader(bytes.NewReader(head), *d)
	c.LazyQuotes = true
	t := &csvTable{c: c}
	var rows []sampleRow
	for len(rows) < 200 {
		row, cells, err := t.next()
		if err != nil {
			break // the whole is read properly later
		}
		rows = append(rows, sampleRow{row, append([]string(nil), cells...)})
	}
	return rows, words, nil
}

// decode finds the encoding and makes the reader of decoded text.
func (p *csvPart) decode(d *intake.Dialect) ([]string, error) {
	raw := bufio.NewReaderSize(p.raw, peeked)
	head, _ := raw.Peek(peeked)
	if len(bytes.TrimSpace(head)) == 0 {
		return nil, unreadable(p.name, "a head line; the file is empty")
	}
	utf16 := bytes.HasPrefix(head, []byte{0xFF, 0xFE}) || bytes.HasPrefix(head, []byte{0xFE, 0xFF})
	word := ""
	switch {
	case d.Encoding != "":
	case utf16:
		d.Encoding = "utf-16"
	case bytes.IndexByte(head, 0) >= 0:
		return nil, unreadable(p.name, "CSV, XLSX, JSON or a ZIP of them; this is not text")
	case !valid(head):
		d.Encoding = "windows-1252"
	default:
		d.Encoding = "utf-8"
	}
	var in io.Reader = raw
	switch d.Encoding {
	case "utf-16":
		in, word = transform.NewReader(raw, unicode.UTF16(unicode.LittleEndian, unicode.UseBOM).NewDecoder()), "UTF-16"
	case "windows-1252":
		in, word = transform.NewReader(raw, charmap.Windows1252.NewDecoder()), "Windows-1252"
	default:
		word = "UTF-8"
		if bytes.HasPrefix(head, []byte{0xEF, 0xBB, 0xBF}) {
			_, _ = raw.Discard(3)
			word = "UTF-8 with byte-order mark"
		}
	}
	p.in = bufio.NewReaderSize(in, peeked)
	return []string{word}, nil
}

// valid reports whether a beginning of a text is UTF-8; the last letter may be cut.
func valid(head []byte) bool {
	for len(head) > 0 {
		r, n := utf8.DecodeRune(head)
		if r == utf8.RuneError && n == 1 {
			return len(head) < utf8.UTFMax && !utf8.FullRune(head)
		}
		head = head[n:]
	}
	return true
}

// separatorOf is the one that stands most often, outside quotes, in the line that has most of one.
func separatorOf(head []byte) string {
	best, most := "comma", 0
	lines := bytes.Split(head, []byte("\n"))
	for i, line := range lines {
		if i > 20 {
			break
		}
		quoted := false
		counts := [4]int{}
		for _, c := range string(line) {
			if c == '"' {
				quoted = !quoted
			}
			for j, s := range separators {
				if c == s.r && !quoted {
					counts[j]++
				}
			}
		}
		for j, n := range counts {
			if n > most {
				best, most = separators[j].word, n
			}
		}
		if most > 0 && i == 0 {
			break // the head decides where it has any
		}
	}
	return best
}

func (p *csvPart) reader(r io.Reader, d intake.Dialect) *csv.Reader {
	c := csv.NewReader(r)
	c.FieldsPerRecord, c.ReuseRecord = -1, true
	for _, s := range separators {
		if s.word == d.Separator {
			c.Comma = s.r
		}
	}
	return c
}

func (p *csvPart) rows(d intake.Dialect) (table, error) {
	return readAhead(&csvTable{name: p.name, c: p.reader(p.in, d), raw: p.raw}), nil
}

type csvTable struct {
	name  string
	c     *csv.Reader
	raw   *counted
	inner int32 // line breaks inside cells so far: the difference between lines and rows
}

func (t *csvTable) close() error { return nil }

func (t *csvTable) next() (int32, []string, error) {
	cells, err := t.c.Read()
	if t.raw != nil && t.raw.over {
		return 0, nil, tooLong(t.name)
	}
	var parse *csv.ParseError
	if errors.As(err, &parse) {
		return 0, nil, &problemError{fault.Problem{File: t.name, Row: int32(parse.StartLine) - t.inner,
			Expected: "quotes around a whole cell, doubled inside and closed (" + parse.Err.Error() + ")"}}
	}
	if err != nil {
		return 0, nil, err
	}
	line, _ := t.c.FieldPos(0)
	row := int32(line) - t.inner
	if cells, err = narrow(t.name, row, cells); err != nil {
		return 0, nil, err
	}
	for i, cell := range cells {
		if strings.IndexByte(cell, '\n') >= 0 {
			t.inner += int32(strings.Count(cell, "\n"))
		}
		cells[i] = unguarded(cell)
	}
	return row, cells, nil
}

// unguarded takes off the apostrophe that guards a text which a spreadsheet would run as a formula, one for each time it was written.
func unguarded(cell string) string {
	if cell == "" || cell[0] != '\'' {
		return cell
	}
	if bare := strings.TrimLeft(cell, "'"); bare != "" && strings.ContainsRune("=+-@\t\r", rune(bare[0])) {
		return cell[1:]
	}
	return cell
}
