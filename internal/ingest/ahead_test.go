package ingest

import (
	"errors"
	"fmt"
	"io"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// counting passes rows of its own cells, which it overwrites each time, and then an error.
type counting struct {
	rows, at, closed int
	end              error
	cells            [3]string
}

func (c *counting) next() (int32, []string, error) {
	if c.at == c.rows {
		return 0, nil, c.end
	}
	c.at++
	for i := range c.cells {
		c.cells[i] = fmt.Sprint(c.at, ".", i)
	}
	return int32(c.at), c.cells[:c.at%4], nil
}

func (c *counting) close() error {
	c.closed++
	return nil
}

func TestRowsReadAheadAreThoseOfTheTable(t *testing.T) {
	broken := errors.New("broken")
	for _, rows := range []int{0, 1, 255, 256, 257, 5000} {
		from := &counting{rows: rows, end: broken}
		plain := &counting{rows: rows}
		a := readAhead(from)
		for range rows {
			row, cells, err := a.next()
			require.NoError(t, err)
			wantRow, want, _ := plain.next()
			require.Equal(t, wantRow, row)
			require.Equal(t, want, append([]string{}, cells...))
		}
		for range 3 { // as often as it is asked
			_, _, err := a.next()
			assert.Same(t, broken, err, "of %d rows", rows)
		}
		require.NoError(t, a.close())
		assert.Equal(t, 1, from.closed)
	}
}

// Whoever stops reading in the middle waits for what reads ahead, so that the file can be closed.
func TestAReadingThatIsLeftEnds(t *testing.T) {
	for _, read := range []int{0, 1, 300, 2000} {
		from := &counting{rows: 1 << 40, end: io.EOF}
		a := readAhead(from)
		for range read {
			_, _, err := a.next()
			require.NoError(t, err)
		}
		require.NoError(t, a.close())
		at := from.at
		assert.LessOrEqual(t, at, read+(aheadTimes+1)*aheadRows)
		assert.Equal(t, at, from.at, "nothing reads any more")
	}
}
