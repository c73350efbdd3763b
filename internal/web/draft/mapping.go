package draft

import (
	"fmt"
	"net/url"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/core/calendar"
	"turret/internal/record"
	"turret/internal/web/page"
)

// remap takes the mapping form, or only some of its fields.
func (s *pages) remap(c fiber.Ctx) error {
	d, err := s.Office.Draft.Get(c.Context(), strings.Clone(c.Params("id")))
	if err != nil {
		return err
	}
	q, err := url.ParseQuery(string(c.Body()))
	if err != nil {
		return fiber.NewError(fiber.StatusBadRequest, "The form cannot be read.")
	}
	period, source := d.Period, d.Source
	if q.Has("period") {
		if period, err = calendar.ParsePeriod(q.Get("period")); err != nil {
			return &fault.FieldError{Field: "period", Value: q.Get("period"), Expected: calendar.PeriodForm}
		}
		source = q.Get("source")
	}
	var list []intake.Mapping
	for i := range d.Sheets {
		list = append(list, mappingFrom(q, i, &d.Sheets[i].Sheet))
	}
	if _, err = s.Office.Draft.Remap(c.Context(), d.ID, source, period, list); err != nil {
		return err
	}
	if err := s.rechoose(c, d.ID, q); err != nil {
		return err
	}
	return page.Go(c, "/gather/drafts/"+d.ID)
}

// mappingFrom is the mapping of sheet i with the fields of a form put over it.
func mappingFrom(q url.Values, i int, sheet *intake.Sheet) intake.Mapping {
	m := sheet.Mapping
	f := func(name string) string { return fmt.Sprintf("%s-%d", name, i) }
	set := func(name string, to *string) {
		if q.Has(f(name)) {
			*to = q.Get(f(name))
		}
	}
	if q.Has(f("whole")) { // the form of the whole sheet was sent
		m.Skip, m.Round = q.Get(f("skip")) != "", q.Get(f("round")) != ""
		m.Clear = q.Get(f("clear")) != ""
	}
	kind := string(m.Kind)
	set("kind", &kind)
	if record.Kind(kind).Input() != nil || kind == "" {
		m.Kind = record.Kind(kind)
	}
	set("dec", &m.Dialect.Decimal)
	set("dates", &m.Dialect.Dates)
	set("sep", &m.Dialect.Separator)
	set("enc", &m.Dialect.Encoding)
	if n, err := strconv.Atoi(q.Get(f("head"))); err == nil && n > 0 && n < 10_000 {
		m.Dialect.HeadRow = int32(n)
	}
	if q.Has(f("leave")) {
		m.LeaveOut = []string{}
		for _, w := range strings.Split(q.Get(f("leave")), ",") {
			if w = intake.Plain(w); w != "" {
				m.LeaveOut = append(m.LeaveOut, w)
			}
		}
	}
	m.Columns, m.Factors, m.Fixed = fresh(m.Columns), fresh(m.Factors), fresh(m.Fixed)
	mapFields(q, i, &m, sheet.Own)
	valueFields(q, i, &m)
	return m
}

func fresh[V any](old map[string]V) map[string]V {
	m := make(map[string]V, len(old))
	for k, v := range old {
		m[k] = v
	}
	return m
}

func mapFields(q url.Values, i int, m *intake.Mapping, own []record.Column) {
	in := m.Kind.InputWith(own)
	if in == nil {
		return
	}
	for j, h := range m.Heads {
		name := fmt.Sprintf("col-%d-%d", i, j)
		if _, ok := in.Column(q.Get(name)); q.Has(name) && (ok || q.Get(name) == "") {
			m.Columns[h] = q.Get(name)
		}
	}
	for _, c := range in.Columns {
		if n, err := strconv.ParseInt(q.Get(fmt.Sprintf("factor-%d-%s", i, c.Name)), 10, 64); err == nil &&
			(n == 1 || n == 100 || n == 1000 || n == 1_000_000) {
			m.Factors[c.Name] = n
		}
		name := fmt.Sprintf("fixed-%d-%s", i, c.Name)
		if v := strings.TrimSpace(q.Get(name)); q.Has(name) {
			if m.Fixed[c.Name] = v; v == "" {
				delete(m.Fixed, c.Name)
			}
		}
	}
}

// valueFields take what unknown values mean: was-I-N holds the columns and the value, means-I-N the meaning; once-I-N says that it
// holds for this file alone.
func valueFields(q url.Values, i int, m *intake.Mapping) {
	values := map[string]map[string]string{}
	for column, means := range m.Values {
		values[column] = fresh(means)
	}
	for n := range 200 {
		columns, was, ok := strings.Cut(q.Get(fmt.Sprintf("was-%d-%d", i, n)), "\x1f")
		means := strings.TrimSpace(q.Get(fmt.Sprintf("means-%d-%d", i, n)))
		if !ok || means == "" {
			continue
		}
		was = intake.Plain(was)
		for _, column := range strings.Split(columns, ",") {
			if values[column] == nil {
				values[column] = map[string]string{}
			}
			values[column][was] = means
			*m = m.Only(intake.ValueChoice(column, was), q.Get(fmt.Sprintf("once-%d-%d", i, n)) != "")
		}
	}
	m.Values = values
}
