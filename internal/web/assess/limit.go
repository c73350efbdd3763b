package assess

import (
	"fmt"
	"net/url"
	"strconv"
	"strings"

	"turret/internal/app/fault"
	"turret/internal/app/setting"
	"turret/internal/core/health"
	"turret/internal/web/page"
)

// LimitTable are tolerances as a form: a row for each trigger, two fields for each scope.
type LimitTable struct {
	Scopes []limitScope
	Rows   []limitRow
}

type limitScope struct {
	N     int
	Scope string
}

type limitRow struct {
	Dimension string // of the first of its triggers
	Name      string
	Sense     string
	Cells     []LimitCell
}

// LimitCell is a field for a limit.
type LimitCell struct{ Name, Label, Value string }

// LimitTableOf fills a form with the limits of each scope, the first those of all projects. What a narrower scope leaves open is empty.
func LimitTableOf(list []setting.Limits) LimitTable {
	var t LimitTable
	for n, l := range list {
		t.Scopes = append(t.Scopes, limitScope{n, l.Scope})
	}
	last := ""
	for _, rule := range health.Rules() {
		row := limitRow{Name: rule.Name, Sense: rule.Sense.String()}
		if d := rule.Dimension.String(); d != last {
			row.Dimension, last = d, d
		}
		if rule.Form == health.AsShare {
			row.Name += ", %"
		}
		for n, l := range list {
			pair, given := l.Of[rule.Key]
			for j, word := range []string{"watch", "act"} {
				c := LimitCell{Name: limitField(rule.Key, n, j), Label: rule.Name + ": " + word}
				if given {
					c.Value = writeLimit(rule, pair[j])
				}
				row.Cells = append(row.Cells, c)
			}
		}
		t.Rows = append(t.Rows, row)
	}
	row := limitRow{Dimension: "early stage", Name: "Share of the planned duration until which ratios are muted, %", Sense: "below"}
	for n, l := range list {
		c := LimitCell{Name: fmt.Sprintf("early-%d", n), Label: "Early stage"}
		if l.Early != nil {
			c.Value = page.Share(*l.Early)
		}
		row.Cells = append(row.Cells, c, LimitCell{})
	}
	t.Rows = append(t.Rows, row, backlogRow(list, "grace", "Days of an iteration after which what comes is unplanned",
		func(l *setting.Limits) string {
			if l.Grace == nil {
				return ""
			}
			return strconv.Itoa(*l.Grace)
		}), backlogRow(list, "burn", "Drawn by points or items", func(l *setting.Limits) string { return l.Burn }))
	return t
}

// backlogRow is what narrower scopes may set of their backlogs; that of all projects is set elsewhere, or as shipped.
func backlogRow(list []setting.Limits, field, name string, of func(*setting.Limits) string) limitRow {
	row := limitRow{Name: name, Sense: "is"}
	if field == "grace" {
		row.Dimension = "backlog"
	}
	for n := range list {
		c := LimitCell{}
		if n > 0 {
			c = LimitCell{Name: fmt.Sprintf("%s-%d", field, n), Label: name, Value: of(&list[n])}
		}
		row.Cells = append(row.Cells, c, LimitCell{})
	}
	return row
}

// backlogFrom reads what a scope sets of its backlogs.
func backlogFrom(q url.Values, n int, l *setting.Limits) error {
	l.Burn = strings.TrimSpace(q.Get(fmt.Sprintf("burn-%d", n)))
	text := strings.TrimSpace(q.Get(fmt.Sprintf("grace-%d", n)))
	if text == "" {
		return nil
	}
	days, err := strconv.Atoi(text)
	if err != nil {
		return fault.Field("unplanned after", fault.Clip(text, 20), "a number of days")
	}
	l.Grace = &days
	return nil
}

func limitField(key string, n, j int) string { return fmt.Sprintf("limit-%s-%d-%d", key, n, j) }

func writeLimit(rule health.Rule, v float64) string {
	if rule.Form == health.AsShare {
		return page.Share(v)
	}
	return strconv.FormatFloat(v, 'f', -1, 64)
}

func readLimit(rule health.Rule, text string) (float64, error) {
	f, err := page.Percent(text, rule.Name)
	if err == nil && rule.Form != health.AsShare {
		f *= 100
		if v, err := strconv.ParseFloat(strings.Replace(strings.TrimSpace(text), ",", ".", 1), 64); err == nil {
			f = v
		}
	}
	return f, err
}

// LimitsFrom reads the tolerances of a form. Those of all projects must be whole, those of a narrower scope may be left open in pairs.
func LimitsFrom(q url.Values) ([]setting.Limits, error) {
	var list []setting.Limits
	first := health.Rules()[0].Key
	for n := 0; n < 200 && q.Has(limitField(first, n, 0)); n++ {
		l := setting.Limits{Scope: strings.TrimSpace(q.Get(fmt.Sprintf("scope-%d", n))), Of: map[string][2]float64{}}
		if n > 0 && l.Scope == "" {
			continue
		}
		for _, rule := range health.Rules() {
			texts := [2]string{strings.TrimSpace(q.Get(limitField(rule.Key, n, 0))), strings.TrimSpace(q.Get(limitField(rule.Key, n, 1)))}
			if n > 0 && texts == [2]string{} {
				continue
			}
			var pair [2]float64
			for j, text := range texts {
				v, err := readLimit(rule, text)
				if err != nil {
					return nil, err
				}
				pair[j] = v
			}
			l.Of[rule.Key] = pair
		}
		if text := strings.TrimSpace(q.Get(fmt.Sprintf("early-%d", n))); text != "" || n == 0 {
			v, err := page.Percent(text, "early stage")
			if err != nil {
				return nil, err
			}
			l.Early = &v
		}
		if err := backlogFrom(q, n, &l); err != nil {
			return nil, err
		}
		list = append(list, l)
	}
	return list, nil
}

// WeightsFrom reads the weights of dimensions; none are kept where all are 0.
func WeightsFrom(q url.Values, set *setting.Settings) error {
	weights := map[string]float64{}
	for _, d := range health.Dimensions() {
		text := strings.TrimSpace(q.Get("weight-" + d.String()))
		if text == "" {
			continue
		}
		v, err := strconv.ParseFloat(strings.Replace(text, ",", ".", 1), 64)
		if err != nil {
			return &fault.FieldError{Field: "weight of " + d.String(), Value: text, Expected: "a number such as 2"}
		}
		if v != 0 {
			weights[d.String()] = v
		}
	}
	set.Weights = weights
	if len(weights) == 0 {
		set.Weights = nil
	}
	return nil
}
