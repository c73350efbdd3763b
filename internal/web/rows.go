package web

import (
	"html/template"
	"sync"

	"turret/internal/app/assess"
	"turret/internal/core/measure"
)

// rowKey is all that the look of a row of the attention table depends on, within one assessment.
type rowKey struct {
	part    string // the template of the row
	project *measure.Project
	marked  bool // its addresses name the day
	scales  scales
}

// rowCache keeps the rows of the newest assessments as rendered, since executing the template for each row is most of the
// time of a long page.
type rowCache struct {
	mu   sync.Mutex
	kept []*assessedRows
}

type assessedRows struct {
	of   *assess.Assessment
	rows map[rowKey]template.HTML
}

// of returns the row, made where it is not there yet.
func (c *rowCache) of(a *assess.Assessment, key rowKey, render func() (template.HTML, error)) (template.HTML, error) {
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

// rowsOf finds the rows of an assessment; only the three newest are kept.
func (c *rowCache) rowsOf(a *assess.Assessment) map[rowKey]template.HTML {
	for _, k := range c.kept {
		if k.of == a {
			return k.rows
		}
	}
	k := &assessedRows{a, map[rowKey]template.HTML{}}
	c.kept = append(c.kept, k)
	if len(c.kept) > 3 {
		c.kept = append([]*assessedRows(nil), c.kept[1:]...)
	}
	return k.rows
}
