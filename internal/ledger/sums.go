package ledger

import (
	"encoding/binary"
	"errors"
	"fmt"

	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/money"
)

// layout is the first byte of kept sums.
const layout = 1

// ErrSums is wrapped where kept sums cannot be read.
var ErrSums = errors.New("sums of the ledger that cannot be read")

// Encode writes sums as they are kept: the layout, how many they are, and each field after the other as a varint, texts after their
// lengths, keys as eight bytes and rows as their distances.
func Encode(sums []cost.MonthSum) []byte {
	b := binary.AppendUvarint([]byte{layout}, uint64(len(sums)))
	for i := range sums {
		s := &sums[i]
		b = binary.AppendVarint(b, int64(s.Code))
		for _, text := range []string{s.Centre, string(s.Currency)} {
			b = append(binary.AppendUvarint(b, uint64(len(text))), text...)
		}
		for _, n := range []int64{int64(s.Month), int64(s.Amount), int64(s.Rows), int64(s.Last)} {
			b = binary.AppendVarint(b, n)
		}
		b = binary.AppendUvarint(b, uint64(len(s.Entries)))
		former := int32(0)
		for _, e := range s.Entries {
			b = binary.LittleEndian.AppendUint64(b, e.Key)
			b = binary.AppendVarint(b, int64(e.Row-former))
			former = e.Row
		}
	}
	return b
}

// decoder reads kept sums. The first error sticks.
type decoder struct {
	b   []byte
	bad bool
}

func (d *decoder) unsigned() uint64 {
	n, size := binary.Uvarint(d.b)
	d.skip(size)
	return n
}

func (d *decoder) signed() int64 {
	n, size := binary.Varint(d.b)
	d.skip(size)
	return n
}

// skip goes on by so many bytes; less than one is an error.
func (d *decoder) skip(size int) {
	if size <= 0 || size > len(d.b) {
		d.bad, d.b = true, nil
		return
	}
	d.b = d.b[size:]
}

func (d *decoder) text() string {
	n := d.unsigned()
	if n > uint64(len(d.b)) {
		d.bad = true
		return ""
	}
	text := string(d.b[:n])
	d.b = d.b[n:]
	return text
}

func (d *decoder) entries(into []cost.Entry) []cost.Entry {
	n := d.unsigned()
	if n > uint64(len(d.b)) { // each takes nine bytes at least
		d.bad = true
		return into
	}
	row := int32(0)
	for range n {
		if len(d.b) < 8 {
			d.bad = true
			return into
		}
		key := binary.LittleEndian.Uint64(d.b)
		d.b = d.b[8:]
		row += int32(d.signed())
		into = append(into, cost.Entry{Key: key, Row: row})
	}
	return into
}

// decode passes each kept sum; it is the same one each time, its entries too.
func decode(b []byte, each func(*cost.MonthSum)) error {
	if len(b) == 0 || b[0] != layout {
		return fmt.Errorf("%w: of another layout", ErrSums)
	}
	d := decoder{b: b[1:]}
	var s cost.MonthSum
	n := d.unsigned()
	if d.bad {
		return fmt.Errorf("%w: they break off", ErrSums)
	}
	for range n {
		s = cost.MonthSum{Code: int32(d.signed()), Centre: d.text(), Currency: money.Currency(d.text()), Month: calendar.Month(d.signed()),
			Amount: money.Amount(d.signed()), Rows: int(d.signed()), Last: calendar.Date(d.signed()), Entries: d.entries(s.Entries[:0])}
		if d.bad {
			return fmt.Errorf("%w: they break off", ErrSums)
		}
		each(&s)
	}
	if len(d.b) > 0 {
		return fmt.Errorf("%w: %d bytes too many", ErrSums, len(d.b))
	}
	return nil
}
