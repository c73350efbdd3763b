package cost

import (
	"turret/internal/core/calendar"
	"turret/internal/core/money"
)

// Stand is one of two moments that a bridge leads between: a forecast with the ledger as of a day.
type Stand struct {
	Forecast []Line        // as it was sent then
	Postings []Posting     // of the ledger then
	AsOf     calendar.Date // up to which postings count, and after which the forecast does
}

// Bridge leads from the total of one moment to that of another by cause. The causes add up to the difference exactly. All are minor units
// of the reporting currency; positive means that more is expected to be spent.
type Bridge struct {
	From, To money.Amount // actual cost plus forecast to go
	// Actuals is by how much the months that have passed since came dearer than they were forecast, at plan rates.
	Actuals money.Amount
	Added   money.Amount // lines of the forecast that were not there
	Taken   money.Amount // lines that are there no longer
	Amounts money.Amount // lines of which more or less is expected
	Rate    money.Amount // exchange rates of the postings against the plan rates
	Moved   money.Amount // moved from months that have passed into later ones, which changes nothing in all; negative is brought forward
}

// bridgeKey is the line that a posting and a forecast have in common.
type bridgeKey struct {
	code     int32
	centre   string
	currency money.Currency
}

// bridgePart is the money of a line: forecast of the months between, what was posted in them, forecast after them before and now.
type bridgePart struct {
	planned, posted, before, now money.Amount // at plan rates
	old, fresh                   bool         // the line was in the forecast then, is in that of now
}

// NewBridge explains the way from one moment to a later one. A missing rate is an error.
func NewBridge(was, now Stand, rates *Rates, days *calendar.Calendar) (*Bridge, error) {
	b := &Bridge{}
	parts := map[bridgeKey]*bridgePart{}
	at := func(code int32, centre string, c money.Currency) *bridgePart {
		k := bridgeKey{code, centre, c}
		p := parts[k]
		if p == nil {
			p = &bridgePart{}
			parts[k] = p
		}
		return p
	}
	cutWas, cutNow := NewCut(was.AsOf, days), NewCut(now.AsOf, days)
	for _, l := range was.Forecast {
		list, err := Portions(l, rates, days, cutWas)
		if err != nil {
			return nil, err
		}
		p := at(l.Code, l.Centre, l.Currency)
		for _, x := range list {
			late := x.Amount - cutNow.Before(&l, x.Month, x.Amount)
			if x.After() != 0 {
				p.old = true
			}
			b.From += x.After()
			p.before += late
			p.planned += x.After() - late
		}
	}
	for _, l := range now.Forecast {
		list, err := Portions(l, rates, days, cutNow)
		if err != nil {
			return nil, err
		}
		p := at(l.Code, l.Centre, l.Currency)
		for _, x := range list {
			if x.After() != 0 {
				p.fresh = true
			}
			b.To += x.After()
			p.now += x.After()
		}
	}
	actualWas, plannedWas, err := spent(was, rates)
	if err != nil {
		return nil, err
	}
	actualNow, plannedNow, err := spent(now, rates)
	if err != nil {
		return nil, err
	}
	b.From += actualWas
	b.To += actualNow
	b.Rate = actualNow - actualWas
	for k, a := range plannedNow {
		at(k.code, k.centre, k.currency).posted += a
		b.Rate -= a
	}
	for k, a := range plannedWas {
		at(k.code, k.centre, k.currency).posted -= a
		b.Rate += a
	}
	b.causes(parts)
	return b, nil
}

// spent is the ledger as of the day of a moment, and by line at plan rates.
func spent(s Stand, rates *Rates) (money.Amount, map[bridgeKey]money.Amount, error) {
	planned := map[bridgeKey]money.Amount{}
	var sum money.Amount
	for _, x := range s.Postings {
		if x.Date > s.AsOf {
			continue
		}
		if x.Work != nil && x.Work.Err != nil {
			return 0, nil, x.Work.Err
		}
		a, _, err := rates.Actual(x.Amount, x.Currency, x.Date.Month())
		if err != nil {
			return 0, nil, err
		}
		sum += a
		if a, _, err = rates.Planned(x.Amount, x.Currency, x.Date.Month()); err != nil {
			return 0, nil, err
		}
		planned[bridgeKey{x.Code, x.Centre, x.Currency}] += a
	}
	return sum, planned, nil
}

// causes parts what changed by cause, line by line. Each line's parts add up to its change.
func (b *Bridge) causes(parts map[bridgeKey]*bridgePart) {
	for _, p := range parts { // sums of whole numbers: the order does not matter
		b.Actuals += p.posted - p.planned
		switch {
		case !p.old && p.fresh:
			b.Added += p.now
		case p.old && !p.fresh:
			b.Taken -= p.before
		default:
			b.Amounts += p.now - p.before
		}
		if !p.old || !p.fresh {
			continue
		}
		// What was not spent in time and is expected later has moved; so has what was spent early and is expected no more.
		under, more := p.planned-p.posted, p.now-p.before
		moved := money.Amount(0)
		if under > 0 && more > 0 {
			moved = min(under, more)
		} else if under < 0 && more < 0 {
			moved = max(under, more)
		}
		b.Actuals += moved
		b.Amounts -= moved
		b.Moved += moved
	}
}
