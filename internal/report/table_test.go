package report

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"turret/internal/core/calendar"
	"turret/internal/core/measure"
)

func emptyLayout(t require.TestingT, portrait bool) *layout {
	l, err := lay(&document{Title: "T", Name: "N", AsOf: calendar.On(2026, 10, 31), Portrait: portrait})
	require.NoError(t, err)
	return l
}

func textsOn(l *layout, n int) []string {
	var list []string
	for _, p := range l.pages[n].parts {
		if p.text != "" {
			list = append(list, p.text)
		}
	}
	return list
}

// Whatever the columns of a table, each is set once, the first with every part, none narrower than its words, and none beyond the paper.
func TestEveryColumnIsSetWithinThePaper(t *testing.T) {
	wide, tall := emptyLayout(t, false), emptyLayout(t, true)
	rapid.Check(t, func(t *rapid.T) {
		l := wide
		if rapid.Bool().Draw(t, "portrait") {
			l = tall
		}
		tab := &table{}
		for i := range rapid.IntRange(1, 30).Draw(t, "columns") {
			tab.Columns = append(tab.Columns, column{Head: rapid.StringMatching(`[a-z]{1,14}( [a-z]{1,9})?`).Draw(t, "head"),
				Width: float64(rapid.IntRange(20, 400).Draw(t, "weight")),
				Right: rapid.Bool().Draw(t, "right") && i > 0})
		}
		tab.Rows = []row{{Cells: make([]cell, len(tab.Columns))}}
		seen := map[int]int{}
		for _, part := range l.split(tab) {
			require.Equal(t, 0, part[0])
			sum := 0.0
			for k, w := range l.widths(tab, part) {
				require.GreaterOrEqual(t, w, l.least(tab, part[k])-0.01)
				sum += w
				seen[part[k]]++
			}
			require.LessOrEqual(t, sum, l.inner()+0.01)
		}
		for i := 1; i < len(tab.Columns); i++ {
			require.Equal(t, 1, seen[i], "column %d", i)
		}
	})
}

// A table of many pages has its heads on each and loses no row; a group stays with its first row, and what goes on says so.
func TestALongTableGoesOn(t *testing.T) {
	tab := &table{Columns: []column{{Head: "Name", Width: 100}, {Head: "Number", Width: 60, Right: true, Unit: measure.Count, Value: true}}}
	for i := range 400 {
		if i%37 == 0 {
			tab.Rows = append(tab.Rows, row{Group: true, Cells: []cell{{Text: fmt.Sprintf("Group %d", i/37)}}})
		}
		tab.Rows = append(tab.Rows, row{Cells: []cell{{Text: fmt.Sprintf("Row %d", i)}, counted(i)}})
	}
	l, err := lay(&document{Title: "T", Name: "N", AsOf: calendar.On(2026, 10, 31),
		Sections: []section{{Title: "Long", Blocks: []block{tab}}}})
	require.NoError(t, err)
	rows := 0
	for n := range l.pages {
		list := textsOn(l, n)
		assert.Contains(t, list, "Name", "page %d", n+1)
		assert.Equal(t, n > 0, slices.Contains(list, "Long, continued"), "page %d", n+1)
		last := ""
		for _, s := range list {
			if strings.HasPrefix(s, "Row ") {
				rows++
			}
			if strings.HasPrefix(s, "Row ") || strings.HasPrefix(s, "Group ") {
				last = s
			}
		}
		assert.False(t, strings.HasPrefix(last, "Group "), "page %d ends with %s", n+1, last)
	}
	assert.Equal(t, 400, rows)
	assert.Greater(t, len(l.pages), 5)
}

// Letters that print lacks are squares, one for each; those it has stay, and the remark stands where it is needed alone.
func TestLettersThatPrintLacks(t *testing.T) {
	assert.Equal(t, "Łódź, Zürich, Привет, ½ ≥ → ✓ €", clean("Łódź, Zürich, Привет, ½ ≥ → ✓ €"))
	assert.Equal(t, "□□□□ and □", clean("שלום and 🚧"))
	assert.Equal(t, "a b □", clean("a\nb \xff"))
	assert.Equal(t, "serif", family("condensed", "Привет"), "it alone has them")
	assert.Equal(t, "condensed", family("condensed", "Łódź"))
	for text, wanted := range map[string]bool{"plain": false, "مرحبا": true} {
		l, err := lay(&document{Title: "T", Name: "N", AsOf: calendar.On(2026, 10, 31),
			Sections: []section{{Title: "Words", Blocks: []block{words{Head: "X", Text: text}}}}})
		require.NoError(t, err)
		found := slices.ContainsFunc(textsOn(l, 0), func(s string) bool {
			return strings.Contains(s, "stands for a letter that print "+
				"does not have")
		})
		assert.Equal(t, wanted, found, text)
	}
}

// A text of any length goes on from page to page, all of it.
func TestALongTextIsAllThere(t *testing.T) {
	var source strings.Builder
	for i := range 1200 {
		fmt.Fprintf(&source, "word%d ", i)
		if i%90 == 89 {
			source.WriteString("\n\n")
		}
	}
	l, err := lay(&document{Title: "T", Name: "N", AsOf: calendar.On(2026, 10, 31), Portrait: true,
		Sections: []section{{Title: "Words", Blocks: []block{words{Head: "X", Text: source.String()},
			words{Head: "Y", Text: source.String()}}}}})
	require.NoError(t, err)
	all := ""
	for n := range l.pages {
		all += " " + strings.Join(textsOn(l, n), " ")
	}
	for i := range 1200 {
		require.Equal(t, 2, strings.Count(all+" ", fmt.Sprintf(" word%d ", i)), "word%d", i)
	}
}
