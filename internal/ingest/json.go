package ingest

import (
	"bufio"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"slices"

	"turret/internal/app/fault"
	"turret/internal/app/intake"
)

// jsonPart is an array of flat objects, by itself or under a name.
type jsonPart struct {
	name, key string
	heads     []string
	at        int64 // where the array begins, in bytes, after its name
	open      func() (io.ReadCloser, error)
}

// jsonSheets finds the arrays of a JSON file and the names of their members.
func jsonSheets(name string, open func() (io.ReadCloser, error)) ([]*jsonPart, error) {
	in, err := open()
	if err != nil {
		return nil, err
	}
	defer in.Close()
	d := json.NewDecoder(newCounted(in))
	d.UseNumber()
	first, err := d.Token()
	if err != nil {
		return nil, wrongJSON(name, err)
	}
	if first == json.Delim('[') {
		p := &jsonPart{name: name, open: open}
		if err := p.collect(d); err != nil {
			return nil, err
		}
		return []*jsonPart{p}, nil
	}
	if first != json.Delim('{') {
		return nil, unreadable(name, "an array of objects, or an object of such arrays")
	}
	var list []*jsonPart
	for d.More() {
		if len(list) == MaxSheets {
			return nil, unreadable(name, fmt.Sprintf("at most %d arrays in a file", MaxSheets))
		}
		key, err := d.Token()
		if err != nil {
			return nil, wrongJSON(name, err)
		}
		p := &jsonPart{name: name, key: fmt.Sprint(key), open: open, at: d.InputOffset()}
		if t, err := d.Token(); err != nil || t != json.Delim('[') {
			return nil, unreadable(name, fmt.Sprintf("an array of objects under %q", fault.Clip(p.key, 40)))
		}
		if err := p.collect(d); err != nil {
			return nil, err
		}
		list = append(list, p)
	}
	return list, nil
}

func wrongJSON(name string, err error) error {
	return unreadable(name, "JSON per RFC 8259 ("+fault.Clip(err.Error(), 120)+")")
}

// collect reads an array to its end and keeps the names of members in the order in which they first come.
func (p *jsonPart) collect(d *json.Decoder) error {
	for n := 1; d.More(); n++ {
		if t, err := d.Token(); err != nil || t != json.Delim('{') {
			return unreadable(p.name, fmt.Sprintf("an object as element %d", n))
		}
		for d.More() {
			key, err := d.Token()
			if err != nil {
				return wrongJSON(p.name, err)
			}
			if k := fmt.Sprint(key); !slices.Contains(p.heads, k) {
				if len(p.heads) == MaxColumns {
					return unreadable(p.name, fmt.Sprintf("at most %d names of members in an array", MaxColumns))
				}
				p.heads = append(p.heads, k)
			}
			var skip json.RawMessage
			if err := d.Decode(&skip); err != nil {
				return wrongJSON(p.name, err)
			}
		}
		if _, err := d.Token(); err != nil {
			return wrongJSON(p.name, err)
		}
	}
	_, err := d.Token()
	if err != nil {
		return wrongJSON(p.name, err)
	}
	return nil
}

func (p *jsonPart) traits() traits { return traits{workbook: true} }

func (p *jsonPart) sample(d *intake.Dialect) ([]sampleRow, []string, error) {
	t, err := p.rows(*d)
	if err != nil {
		return nil, nil, err
	}
	defer func() { _ = t.close() }()
	var rows []sampleRow
	for len(rows) < 200 {
		row, cells, err := t.next()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return nil, nil, err
		}
		rows = append(rows, sampleRow{row, append([]string(nil), cells...)})
	}
	return rows, []string{"JSON"}, nil
}

func (p *jsonPart) rows(intake.Dialect) (table, error) {
	in, err := p.open()
	if err != nil {
		return nil, err
	}
	if f, ok := in.(io.Seeker); ok {
		_, err = f.Seek(p.at, io.SeekStart)
	} else {
		_, err = io.CopyN(io.Discard, in, p.at)
	}
	if err != nil {
		return nil, errors.Join(err, in.Close())
	}
	rest := io.Reader(in)
	if p.at > 0 { // a colon stands between the name and the array
		b := bufio.NewReader(in)
		if _, err := b.ReadString(':'); err != nil {
			return nil, errors.Join(err, in.Close())
		}
		rest = b
	}
	t := &jsonTable{p: p, in: in, d: json.NewDecoder(rest)}
	t.d.UseNumber()
	if _, err := t.d.Token(); err != nil {
		return nil, errors.Join(wrongJSON(p.name, err), in.Close())
	}
	return t, nil
}

type jsonTable struct {
	p     *jsonPart
	in    io.Closer
	d     *json.Decoder
	row   int32
	cells []string
}

func (t *jsonTable) close() error { return t.in.Close() }

// next passes the names of the members as the first row; element 1 is then row 2, as with other files.
func (t *jsonTable) next() (int32, []string, error) {
	t.row++
	if t.row == 1 {
		return 1, t.p.heads, nil
	}
	if !t.d.More() {
		return 0, nil, io.EOF
	}
	var object map[string]any
	if err := t.d.Decode(&object); err != nil {
		return 0, nil, wrongJSON(t.p.name, err)
	}
	t.cells = t.cells[:0]
	for _, h := range t.p.heads {
		t.cells = append(t.cells, jsonCell(object[h]))
	}
	return t.row, t.cells, nil
}

func jsonCell(v any) string {
	switch v := v.(type) {
	case nil:
		return ""
	case string:
		return v
	case json.Number:
		return plainNumber(v.String())
	case bool:
		if v {
			return "yes"
		}
		return "no"
	}
	b, _ := json.Marshal(v)
	return string(b)
}
