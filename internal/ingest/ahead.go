package ingest

// Rows that are read ahead: how many at once, and how often.
const (
	aheadRows  = 256
	aheadTimes = 4
)

// ahead reads the rows of a table in a goroutine of its own, ahead of whoever checks them.
type ahead struct {
	from  table
	full  chan *aheadBatch
	empty chan *aheadBatch
	now   *aheadBatch
	at    int // the row of it that comes next
}

// aheadBatch is some rows, their cells after one another; an error is met after them.
type aheadBatch struct {
	rows  []int32
	ends  []int
	cells []string
	err   error
}

func readAhead(from table) *ahead {
	a := &ahead{from: from, full: make(chan *aheadBatch, aheadTimes), empty: make(chan *aheadBatch, aheadTimes)}
	for range aheadTimes {
		a.empty <- &aheadBatch{}
	}
	go a.read()
	return a
}

// read fills what is empty until an error, or until nothing empty will come.
func (a *ahead) read() {
	defer close(a.full)
	for b := range a.empty {
		b.fill(a.from)
		a.full <- b
		if b.err != nil {
			return
		}
	}
}

func (b *aheadBatch) fill(from table) {
	b.rows, b.ends, b.cells, b.err = b.rows[:0], b.ends[:0], b.cells[:0], nil
	for len(b.rows) < aheadRows {
		row, cells, err := from.next()
		if err != nil {
			b.err = err
			return
		}
		b.cells = append(b.cells, cells...)
		b.rows, b.ends = append(b.rows, row), append(b.ends, len(b.cells))
	}
}

func (a *ahead) next() (int32, []string, error) {
	for a.now == nil || a.at == len(a.now.rows) {
		if a.now != nil && a.now.err != nil {
			return 0, nil, a.now.err
		}
		if a.now != nil {
			a.empty <- a.now
		}
		a.now, a.at = <-a.full, 0
	}
	b, from := a.now, 0
	if a.at > 0 {
		from = b.ends[a.at-1]
	}
	a.at++
	return b.rows[a.at-1], b.cells[from:b.ends[a.at-1]:b.ends[a.at-1]], nil
}

// close ends the reading, wherever it is, and waits until nothing reads any more.
func (a *ahead) close() error {
	close(a.empty)
	for range a.full {
	}
	return a.from.close()
}
