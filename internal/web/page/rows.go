package page

import (
	"html/template"
	"slices"
	"strings"
	"sync"

	"turret/internal/app/assess"
	"turret/internal/core/measure"
)

// RowKey is all that the look of a row of the attention table depends on, within one assessment.
type RowKey struct {
	part    string // the template of the row
	project *measure.Project
	marked  bool // its addresses name the day
	learned bool // what is predicted was there
	scales  Scales
}

// rowCache keeps the rows of the newest assessments as rendered, since executing the template for each row is most of the
// time of a long page.
type rowCache struct {
	keeps func(*assess.Assessment) bool // whether it is still shown to anybody

	mu   sync.Mutex
	kept []*assessedRows
}

type assessedRows struct {
	of   *assess.Assessment
	rows map[RowKey]template.HTML
}

// Of returns the row, made where it is not there yet.
func (c *rowCache) Of(a *assess.Assessment, key RowKey, render func() (template.HTML, error)) (template.HTML, error) {
	c.mu.Lock()
	rows := c.rowsOf(a)
	html, ok := rows[key]
	c.mu.Unlock()
	if ok {
		return html, nil
	}
	html, err := render()
	if err != nil {
		return "", err
	}
	c.mu.Lock()
	c.rowsOf(a)[key] = html
	c.mu.Unlock()
	return html, nil
}

// mostAssessed is of how many assessments rows are kept.
const mostAssessed = 6

// rowsOf finds the rows of an assessment; only those of the newest are kept, and of them those that are shown.
func (c *rowCache) rowsOf(a *assess.Assessment) map[RowKey]template.HTML {
	for _, k := range c.kept {
		if k.of == a {
			return k.rows
		}
	}
	k := &assessedRows{a, map[RowKey]template.HTML{}}
	c.kept = append(slices.DeleteFunc(c.kept, func(k *assessedRows) bool { return !c.keeps(k.of) }), k)
	if len(c.kept) > mostAssessed {
		c.kept = slices.Delete(c.kept, 0, 1)
	}
	return k.rows
}

// Kept is a part of the page about one project, rendered once as long as the assessment lasts.
func (r *Request) Kept(part string, p *measure.Project, sc Scales, view func() any) (template.HTML, error) {
	return r.Server.rows.Of(r.Figures, RowKey{part, p, r.Marked, ForesightOf(r).Outlooks != nil, sc}, func() (template.HTML, error) {
		var b strings.Builder
		err := r.Server.views.Render(&b, part, view())
		return template.HTML(b.String()), err // the template escaped it
	})
}
