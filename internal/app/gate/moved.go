package gate

import (
	"cmp"

	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/money"
)

// Move is a figure that is another than it was.
type Move struct {
	Measure *measure.Definition // nil for a date or an amount
	Dated   *Dated              // as it is now, or as it was where it is gone
	Priced  string              // code and name
	Column  string              // budget, actual or forecast to go
	Was, Is measure.Value
	Unit    measure.Unit
}

// Moved lists what is otherwise than it was: measures, dates, amounts by cost code. Measures that have come into the catalogue since are
// left out, and with noCosts those of costs.
func Moved(was, is *Figures, noCosts bool) (list []Move) {
	then := map[string]*Figure{}
	for i := range was.Measures {
		then[was.Measures[i].Key] = &was.Measures[i]
	}
	for i := range is.Measures {
		now := &is.Measures[i]
		d, known := measure.Lookup(now.Key)
		old := then[now.Key]
		if !known || old == nil || noCosts && d.IsCost() || *old == *now {
			continue
		}
		list = append(list, Move{Measure: d, Was: old.Value(), Is: now.Value(), Unit: d.Unit})
	}
	list = append(list, movedDates(was.Dates, is.Dates)...)
	if noCosts {
		return list
	}
	return append(list, movedMoney(was.Money, is.Money)...)
}

func movedDates(was, is []Dated) (list []Move) {
	then := map[string]*Dated{}
	for i := range was {
		then[was[i].Code] = &was[i]
	}
	day := func(d calendar.Date) measure.Value { return measure.Value{Known: d != 0, N: int64(d)} }
	for i := range is {
		now := &is[i]
		old := then[now.Code]
		delete(then, now.Code)
		if old == nil {
			old = &Dated{}
		}
		if old.Date != now.Date {
			list = append(list, Move{Dated: now, Was: day(old.Date), Is: day(now.Date), Unit: measure.Day})
		}
	}
	for i := range was {
		if then[was[i].Code] != nil {
			list = append(list, Move{Dated: &was[i], Was: day(was[i].Date), Unit: measure.Day})
		}
	}
	return list
}

func movedMoney(was, is []Priced) (list []Move) {
	then := map[string]Priced{}
	for _, x := range was {
		then[x.Code] = x
	}
	both := func(old, now Priced) {
		name := cmp.Or(now.Code, old.Code)
		for _, x := range []struct {
			column  string
			was, is money.Amount
		}{{"budget", old.Budget, now.Budget}, {"actual", old.Actual, now.Actual}, {"forecast to go", old.ToGo, now.ToGo}} {
			if x.was != x.is {
				list = append(list, Move{Priced: name, Column: x.column, Unit: measure.Money,
					Was: measure.Value{Known: true, N: int64(x.was)}, Is: measure.Value{Known: true, N: int64(x.is)}})
			}
		}
	}
	for _, x := range is {
		both(then[x.Code], x)
		delete(then, x.Code)
	}
	for _, x := range was {
		if old, ok := then[x.Code]; ok {
			both(old, Priced{})
		}
	}
	return list
}
