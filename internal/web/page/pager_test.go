package page

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// Two hundred rows stand on one page, one more makes three; what is asked beyond the ends is the nearest.
func TestPagesOfALongList(t *testing.T) {
	for _, x := range []struct {
		asked string
		rows  int
		want  [4]int // page, pages, first row and the one after the last
	}{
		{"", 0, [4]int{1, 1, 0, 0}}, {"2", 200, [4]int{1, 1, 0, 200}}, {"", 201, [4]int{1, 3, 0, 100}}, {"2", 201, [4]int{2, 3, 100, 200}},
		{"3", 201, [4]int{3, 3, 200, 201}}, {"4", 201, [4]int{3, 3, 200, 201}}, {"3", 300, [4]int{3, 3, 200, 300}},
		{"0", 300, [4]int{1, 3, 0, 100}}, {"-2", 300, [4]int{1, 3, 0, 100}}, {"two", 300, [4]int{1, 3, 0, 100}},
		{"99999999999999999999", 300, [4]int{1, 3, 0, 100}},
	} {
		n, last, from, to := pageOf(x.asked, x.rows, mostRows)
		assert.Equal(t, x.want, [4]int{n, last, from, to}, "%q of %d", x.asked, x.rows)
	}
	for rows, pages := range map[int]int{120: 1, 121: 2, 200: 2} {
		_, last, _, _ := pageOf("", rows, mostTall)
		assert.Equal(t, pages, last, "of %d tall rows", rows)
	}
}
