package page

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"turret/internal/app/assess"
	"turret/internal/app/condition"
	"turret/internal/app/fault"
	"turret/internal/core/health"
	"turret/internal/core/measure"
)

// Head is the head of a column that sorts.
type Head struct {
	Text, Href, Title, Class, Order string
	Words                           []string // of several narrow columns, in place of a text
}

// Scales fit the deviation bars of a table: to the largest but for a few outliers, at least twice the tolerance.
type Scales struct{ Cost, Finish float64 }

// NewScales fits scales to the projects of a table.
func NewScales(list []*measure.Project) Scales {
	s := Scales{0.12, 30}
	for _, p := range list {
		if v := p.Value(measure.VACShare); v.Known {
			s.Cost = max(s.Cost, min(0.4, math.Abs(v.Ratio)))
		}
		if v := p.Value(measure.FinishDeviation); v.Known {
			s.Finish = max(s.Finish, min(120, math.Abs(float64(v.N))))
		}
	}
	return s
}

// OverallWords says what stands overall: as computed, or as a person set it.
func OverallWords(h *health.Result) string {
	if o := h.Set(health.Overall); o != nil {
		return "set to " + h.Overall.String() + " by " + o.Who + " until " + o.Until.Human() + ", computed " +
			h.Computed[health.Overall].String()
	}
	return "computed " + h.Overall.String()
}

// Because is a reason as it follows what it is for; nothing for none.
func Because(why string) string {
	if why == "" {
		return ""
	}
	return ": " + why
}

// MeasureNames are the measures that the one who asks may see.
func MeasureNames(a *assess.Assessment) []condition.Name {
	var list []condition.Name
	for _, d := range measure.All() {
		if !a.NoMoney || !d.IsCost() {
			list = append(list, condition.Name{Name: d.Key.String(), Says: d.Name})
		}
	}
	return list
}

// ConditionNames are the names that conditions about a kind of record may use, fields of the office's own among them.
func ConditionNames(a *assess.Assessment, on string) []condition.Name {
	list := condition.Names(on)
	for _, c := range a.Masters.Own {
		list = append(list, condition.Name{Name: c.Name, Says: c.Head()})
	}
	return list
}

// Share writes a fraction as a percentage, without the noise of binary fractions.
func Share(f float64) string { return strconv.FormatFloat(math.Round(f*1e8)/1e6, 'f', -1, 64) }

// Percent reads a percentage as a fraction.
func Percent(text, field string) (float64, error) {
	f, err := strconv.ParseFloat(strings.TrimSpace(strings.TrimSuffix(strings.Replace(text, ",", ".", 1), "%")), 64)
	if err != nil || math.IsNaN(f) || math.IsInf(f, 0) {
		return 0, &fault.FieldError{Field: field, Value: text, Expected: "a number such as 7.5"}
	}
	return f / 100, nil
}

// FTE writes people at work, given in hundredths.
func FTE(hundredths int64) string {
	sign := ""
	if hundredths < 0 {
		sign, hundredths = "−", -hundredths
	}
	return fmt.Sprintf("%s%d.%02d", sign, hundredths/100, hundredths%100)
}
