package chart

import (
	"turret/internal/core/money"
	"turret/internal/scene"
)

// BridgeStep is one step of the way from a total to another: a total where Whole, else what is added to it.
type BridgeStep struct {
	Name, Title string
	Amount      money.Amount
	Whole       bool
}

// Bridge draws the way from one total to another, step by step. The scale leaves out what all steps share.
func Bridge(steps []BridgeStep, currency money.Currency, w, h float64) *scene.Scene {
	s := scene.New(w, h, "From the one total to the other, by cause")
	if len(steps) == 0 {
		return s
	}
	low, high := span(steps)
	top, bottom := 30.0, h-40
	y := func(v float64) float64 { return bottom - (v-low)/max(high-low, 1)*(bottom-top) }
	width := (w - 20) / float64(len(steps))
	at := 0.0
	for i, st := range steps {
		x := 10 + float64(i)*width
		from, to := at, at+float64(st.Amount)
		class := "act"
		switch {
		case st.Whole:
			from, to, class = low, float64(st.Amount), "work-done"
		case st.Amount < 0:
			class = "on-track"
		case st.Amount == 0:
			class = "ghost"
		}
		s.Group("", st.Title, "", func() {
			a, b := y(max(from, to)), y(min(from, to))
			s.Rect(class, x+width*0.16, a, width*0.68, max(b-a, 1))
			text := st.Amount.Short(currency)
			if !st.Whole && st.Amount > 0 {
				text = "+" + text
			}
			s.Text("label-bold", x+width/2, a-7, scene.Middle, text)
			s.Text("label", x+width/2, bottom+17, scene.Middle, cut(st.Name, width-6, 12))
		})
		if i+1 < len(steps) {
			s.Line("zero", x+width*0.84, y(to), x+width*1.16, y(to))
		}
		at = to
	}
	s.Line("axis", 10, bottom, w-10, bottom)
	return s
}

// span is what the bars reach over, with a foot left for the totals.
func span(steps []BridgeStep) (low, high float64) {
	at := 0.0
	for i, st := range steps {
		if st.Whole {
			at = float64(st.Amount)
		} else {
			at += float64(st.Amount)
		}
		if i == 0 {
			low, high = at, at
		}
		low, high = min(low, at), max(high, at)
	}
	foot := max((high-low)*0.6, high*0.02, 1)
	return low - foot, high
}
