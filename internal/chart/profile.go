package chart

import (
	"math"

	"turret/internal/core/benefit"
	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/scene"
)

// ProfileOptions say how a profile of benefits is drawn.
type ProfileOptions struct {
	W, H     float64
	AsOf     calendar.Date
	Currency money.Currency
	Payback  calendar.Month // 0 where it is not known
}

// Profile draws what something brings against what it costs, both added up month by month: cost, benefit as planned, and benefit as
// achieved and expected.
func Profile(costs, planned, expected *benefit.Flow, opt ProfileOptions) *scene.Scene {
	s := scene.New(opt.W, opt.H, "Benefit against cost, added up month by month")
	first, last := calendar.Month(0), calendar.Month(0)
	for _, f := range []*benefit.Flow{costs, planned, expected} {
		if len(f.By) == 0 {
			continue
		}
		if first == 0 || f.First < first {
			first = f.First
		}
		last = max(last, f.First+calendar.Month(len(f.By))-1)
	}
	if first == 0 {
		return s
	}
	const left, right, top, low = 76.0, 150.0, 16.0, 28.0
	sums := func(f *benefit.Flow) (list []float64) {
		sum := money.Amount(0)
		for m := first; m <= last; m++ {
			sum += f.At(m)
			list = append(list, float64(sum))
		}
		return list
	}
	lines := []struct {
		class, name string
		values      []float64
	}{{"actual", "cost", sums(costs)}, {"budget", "benefit planned", sums(planned)}, {"forecast", "benefit expected", sums(expected)}}
	most, least := 1.0, 0.0
	for _, l := range lines {
		for _, v := range l.values {
			most, least = math.Max(most, v), math.Min(least, v)
		}
	}
	n := float64(last-first) + 1
	x := func(m calendar.Month) float64 { return left + (float64(m-first)+1)/n*(opt.W-left-right) }
	y := func(v float64) float64 { return opt.H - low - (v-least)/(most-least)*(opt.H-low-top) }
	step := nice((most - least) / 5)
	for v := math.Ceil(least/step) * step; v <= most; v += step {
		s.Line("grid", left, y(v), opt.W-right, y(v))
		s.Text("label-soft", left-8, y(v)+4, scene.End, money.Amount(v).Short(opt.Currency))
	}
	every := max(1, int(n)/10)
	for m := first; m <= last; m += calendar.Month(every) {
		s.Text("label-soft", x(m), opt.H-low+16, scene.Middle, m.Short()+" "+m.String()[2:4])
	}
	if now := opt.AsOf.Month(); now >= first && now <= last {
		s.Line("asof", x(now), top-8, x(now), opt.H-low)
	}
	labels := make([]float64, len(lines))
	for i, l := range lines {
		points := []float64{left, y(0)}
		for k, v := range l.values {
			points = append(points, x(first+calendar.Month(k)), y(v))
		}
		s.Polyline(l.class, points...)
		labels[i] = y(l.values[len(l.values)-1]) + 4
	}
	for i := range labels { // apart from each other
		for k := range i {
			if d := labels[i] - labels[k]; math.Abs(d) < 14 {
				labels[i] = labels[k] + math.Copysign(14, d)
			}
		}
		s.Text("label-soft", opt.W-right+6, labels[i], scene.Start, lines[i].name+" "+
			money.Amount(lines[i].values[len(lines[i].values)-1]).Short(opt.Currency))
	}
	if opt.Payback >= first && opt.Payback <= last && opt.Payback != 0 {
		v := lines[2].values[opt.Payback-first]
		s.Circle("now", x(opt.Payback), y(v), 4.5)
		s.Text("label-bold", x(opt.Payback)-8, y(v)-8, scene.End, "paid back "+opt.Payback.Short()+" "+opt.Payback.String()[2:4])
	}
	return s
}
