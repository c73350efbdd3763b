package report_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/money"
	"turret/internal/app/report"
	"turret/internal/record"
)

// Tables of projects have fields of the office's own as columns, and go by them.
func TestTablesGoByOwnFields(t *testing.T) {
	o := apptest.House(t, apptest.Sent{Kind: record.OwnFields, Period: apptest.October,
		Text: "code,name,type,choices\nside,Side,choice,\"left,middle,right\"\ncrew,Crew,number,\nuntil,Until,day,\nnote,Note,text,\n"},
		apptest.Sent{Kind: record.Projects, Period: apptest.October, Text: "code,name,own.side,own.crew,own.until,own.note\n" +
			"A,First,right,9,2027-02-01,=1\nB,Second,left,10,,\nD,Third,middle,,2026-12-01,b\nE,Fourth,,-1234.5,,a\n"})
	a := apptest.Assessed(t, o, apptest.October.Last())
	codes := func(q report.TableQuery) string {
		s, _, err := report.Table(a, "", q)
		require.NoError(t, err)
		return strings.Join(apptest.Codes(s.Projects), " ")
	}
	for name, want := range map[string][2]string{"own.side": {"B D A E", "A D B E"}, "own.crew": {"E A B D", "B A E D"},
		"own.until": {"D A B E", "A D B E"}, "own.note": {"A E D B", "D E A B"}} {
		assert.Equal(t, want[0], codes(report.TableQuery{Sort: name}), name)
		assert.Equal(t, want[1], codes(report.TableQuery{Sort: name, Reverse: true}), name+", what is not there last all the same")
	}
	assert.Equal(t, "B", codes(report.TableQuery{Own: map[string]string{"own.side": "left"}}))
	assert.Empty(t, codes(report.TableQuery{Own: map[string]string{"own.side": "left", "own.crew": "9"}}))
	assert.Equal(t, "A B", codes(report.TableQuery{Where: "own.crew >= 9"}))
	_, _, err := report.Table(a, "", report.TableQuery{Columns: []string{"own.other"}})
	require.ErrorIs(t, err, fault.ErrNotFound)
	var field *fault.FieldError
	_, _, err = report.Table(a, "", report.TableQuery{Where: "own.other == 1"})
	require.ErrorAs(t, err, &field)

	p, err := a.Project("E")
	require.NoError(t, err)
	for name, want := range map[string]string{"own.side": "", "own.crew": "−1,234.5", "own.until": "", "own.note": "a"} {
		c, ok := a.OwnField(name)
		require.True(t, ok)
		assert.Equal(t, want, assess.OwnText(p, c), name)
	}
	p, err = a.Project("A")
	require.NoError(t, err)
	until, _ := a.OwnField("own.until")
	assert.Equal(t, "1 Feb 2027", assess.OwnText(p, until))

	groups, _, err := money.Groups(a, apptest.Open(t, a), "own.side")
	require.NoError(t, err)
	var names []string
	for _, g := range groups {
		names = append(names, g.Name)
	}
	assert.Equal(t, []string{"Side not given", "left", "middle", "right"}, names)
	assert.NotContains(t, money.Groupings(a), "own.crew", "a number makes no groups")
	_, _, err = money.Groups(a, apptest.Open(t, a), "own.other")
	require.ErrorIs(t, err, fault.ErrNotFound)
}
