package chart

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
	"turret/internal/scene"
)

// A milestone of which half of the runs end by 10 January and four in five by 20 March has a band from the end of the one to the end of the
// other, also where the project ends before; one of which nothing is known has none.
func TestTheStripShowsBetweenWhichDaysMilestonesMayBeDone(t *testing.T) {
	p := &measure.Project{Info: measure.Info{Code: "P", Name: "P"}, Activities: []schedule.Activity{
		{Code: "M1", Name: "Opened", Kind: schedule.Milestone, BaselineFinish: calendar.On(2027, 1, 5), Finish: calendar.On(2027, 1, 5)},
		{Code: "M2", Name: "Closed", Kind: schedule.Milestone, BaselineFinish: calendar.On(2027, 1, 8), Finish: calendar.On(2027, 1, 8)}}}
	measure.Assess(p, env)
	middle, late := calendar.On(2027, 1, 10), calendar.On(2027, 3, 20)
	bands := func(ahead map[string]Ahead) (list []scene.Item) {
		for _, i := range Strip(p, env, 1200, ahead).Items {
			if i.Kind == scene.Rect && i.Class == "odds" {
				list = append(list, i)
			}
		}
		return list
	}
	assert.Empty(t, bands(nil))
	ahead := map[string]Ahead{"M1": {middle, late}, "M2": {middle, 0}}
	list := bands(ahead)
	assert.Len(t, list, 1)
	st := &strip{p: p, env: env, w: 1200, ahead: ahead}
	st.span()
	assert.GreaterOrEqual(t, st.last, late.Month(), "the axis reaches as far")
	assert.InDelta(t, st.after(middle), list[0].Points[0], 1e-9)
	assert.InDelta(t, st.after(late)-st.after(middle), list[0].Points[2], 1e-9)
	assert.Contains(t, Strip(p, env, 1200, ahead).SVG(), "even odds by 10 Jan 2027, four in five by 20 Mar 2027")
	assert.Equal(t, "; even odds by 10 Jan 2027, four in five by 10 Jan 2027", Ahead{middle, middle}.Says())
	assert.Len(t, bands(map[string]Ahead{"M1": {middle, middle}}), 1, "a band of one day can be seen")
}
