package page

import (
	"fmt"
	"strconv"

	"turret/internal/core/write"
)

// Bounds of long lists: one of more rows than most is shown in pages; of rows that each say much, fewer.
const (
	mostRows = 200
	mostTall = 120
	pageRows = 100
)

// Pager tells which rows of a long list are shown, and leads to the others. It is empty where all are.
type Pager struct {
	Says string
	Links
}

// Links are the pages of a list.
type Links struct {
	Before, After string
	Pages         []Tab
}

// Cut is the part of a list that the address asks for by its page, and where the rest is. A page that is not there is the nearest.
func Cut[T any](r *Request, rows []T) ([]T, Pager) { return cut(r, rows, mostRows) }

// CutTall is Cut for rows that each say much, so that a page of 200 projects stays within its bound.
func CutTall[T any](r *Request, rows []T) ([]T, Pager) { return cut(r, rows, mostTall) }

func cut[T any](r *Request, rows []T, most int) ([]T, Pager) {
	n, last, from, to := pageOf(r.Asked.Get("page"), len(rows), most)
	if last == 1 {
		return rows, Pager{}
	}
	at := func(k int) string { return r.Here("page", strconv.Itoa(k), "trace", "", "at", "", "of", "") }
	p := Pager{Says: fmt.Sprintf("Rows %s to %s of %s; the fields under the heads filter these, those above the table all of them.",
		write.Whole(from+1), write.Whole(to), write.Whole(len(rows)))}
	if n > 1 {
		p.Before = at(n - 1)
	}
	if n < last {
		p.After = at(n + 1)
	}
	for k := 1; k <= last; k++ {
		p.Pages = append(p.Pages, Tab{Link: Link{Text: strconv.Itoa(k), Href: at(k)}, Current: k == n})
	}
	return rows[from:to], p
}

// pageOf is the page n of last that is asked for, of so many rows, and where it begins and ends; there is one where all fit.
func pageOf(asked string, rows, most int) (n, last, from, to int) {
	if rows <= most {
		return 1, 1, 0, rows
	}
	last = (rows + pageRows - 1) / pageRows
	n, err := strconv.Atoi(asked)
	if err != nil || n < 1 {
		n = 1
	}
	n = min(n, last)
	return n, last, (n - 1) * pageRows, min(n*pageRows, rows)
}
