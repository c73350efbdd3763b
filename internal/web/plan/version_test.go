package plan_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/apptest"
	"turret/internal/record"
	"turret/internal/web/webtest"
)

// By hand: Dig begins two working days later and ends five later, so that ten days became thirteen; Fence went, Plant came.
func TestTwoVersionsOfAPlan(t *testing.T) {
	h := webtest.New(t)
	const heads = "project,code,name,start,finish\n"
	for _, text := range []string{heads + "A1,D,Dig,2026-11-02,2026-11-13\nA1,F,Fence,2026-11-02,2026-11-06\n",
		heads + "A1,D,Dig,2026-11-04,2026-11-20\nA1,P,Plant <b>,2026-11-23,2026-11-27\n"} {
		apptest.Send(t, h.Office, apptest.Sent{Kind: record.Activities, Period: apptest.October, Text: text})
	}
	page := h.Page("ana", "/projects/A1/versions")
	assert.Contains(t, page, "1 activity moved, 1 stretched, 1 added, 1 removed, 0 linked otherwise.")
	dig := webtest.RowOf(t, page, "Dig")
	for _, want := range []string{"moved, stretched", ">+2<", ">+5<", ">+3<", "tone-watch"} {
		assert.Contains(t, dig, want)
	}
	assert.Contains(t, webtest.RowOf(t, page, "Fence"), "removed")
	assert.Contains(t, webtest.RowOf(t, page, "Plant"), "added")
	assert.NotContains(t, page, "Plant <b>")
	h.Shut("ana", "/projects/A1/versions?was=nonsense", 404)
	h.Shut("nar", "/projects/A1/versions", 404)
	assert.Contains(t, h.Page("ana", "/projects/A2/versions"), "No schedule of this project has been loaded yet")
}

// A baseline is set with a name and a reason by whoever may; it is listed among the versions.
func TestSettingABaseline(t *testing.T) {
	h := webtest.New(t)
	const heads = "project,code,name,start,finish\n"
	apptest.Send(t, h.Office, apptest.Sent{Kind: record.Activities, Period: apptest.October,
		Text: heads + "A1,D,Dig,2026-11-02,2026-11-13\n"})
	const at = "/projects/A1/baseline"
	assert.Equal(t, 422, h.Post("ana", at, "name", "", "reason", "agreed"))
	assert.Equal(t, 422, h.Post("ana", at, "name", "Contract", "reason", ""))
	assert.Equal(t, 403, h.Post("exe", at, "name", "Mine", "reason", "x"))
	h.Do("ana", at, 303, "name", "Contract <1>", "reason", "agreed")
	row := webtest.RowOf(t, h.Page("ana", "/projects/A1/versions"), "Contract <1>")
	assert.Contains(t, row, "agreed")
}
