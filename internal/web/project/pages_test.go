package project_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/record"
	"turret/internal/web/webtest"
)

// Every cell of the cost table and every milestone has a trace of its own, and no other code's rows are in it.
func TestCellsAndMilestonesAreTraced(t *testing.T) {
	files := map[record.Kind]string{}
	for k, v := range webtest.Hostile {
		files[k] = v
	}
	files[record.CostCodes] = "code,name\nC,Cost\nD,Other\n"
	files[record.Budget] = "project,cost_code,amount,month\nP,C,1000,2026-09\nP,D,70,2026-09\n"
	a := webtest.Server(t, files)
	for path, want := range map[string][]string{
		"trace=bac&code=D":            {"Budget at completion, D Other", "€70.00", "budget.csv, row 3"},
		"trace=vac&code=D":            {"€70.00", "Forecast to go", "Actual cost"},
		"trace=eac&code=C":            {"€1,300.00", "forecast.csv, row 2"},
		"trace=milestone&milestone=2": {"&#43;123", "30 Jun 2026", "activities.csv, row 3"},
	} {
		code, body, _ := webtest.Get(t, a, "/projects/P?"+path, "HX-Request", "true", "HX-Target", "margin")
		assert.Equal(t, 200, code, path)
		for _, w := range want {
			assert.Contains(t, body, w, path)
		}
	}
	_, body, _ := webtest.Get(t, a, "/projects/P?trace=bac&code=D", "HX-Request", "true", "HX-Target", "margin")
	assert.NotContains(t, body, "budget.csv, row 2")
	for _, path := range []string{"trace=bac&code=NONE", "trace=milestone&milestone=NONE"} {
		code, _, _ := webtest.Get(t, a, "/projects/P?"+path)
		assert.Equal(t, 404, code, path)
	}
	_, body, _ = webtest.Get(t, a, "/?status=act&trace=vac_share&of=shown", "HX-Request", "true", "HX-Target", "margin")
	assert.Contains(t, body, "Over 1 of 1 projects")
}

// Without a forecast there is no estimate, in the cost table as little as at the head of the page.
func TestPartsOfAnUndefinedFigureAreNoFigures(t *testing.T) {
	files := map[record.Kind]string{}
	for k, v := range webtest.Hostile {
		files[k] = v
	}
	delete(files, record.Forecast)
	files[record.Budget] = "project,cost_code,amount,month\nP,C,1000,2026-09\n"
	_, body, _ := webtest.Get(t, webtest.Server(t, files), "/projects/P")
	table := body[strings.Index(body, "Cost by cost code"):]
	assert.Contains(t, table, ">1,000.00</a>")
	assert.Contains(t, table, ">900.00</a>")
	assert.NotContains(t, table, ">0.00</a>", "nothing to go was never said")
	assert.NotContains(t, table, ">100.00</a>", "there is no variance")
	assert.Contains(t, table, "Estimate at completion: no forecast")
}
