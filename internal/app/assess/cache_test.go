package assess

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/access"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
)

// sized is an assessment of a day with a number of activities.
func sized(day calendar.Date, activities int) *Assessment {
	p := &measure.Project{Activities: make([]schedule.Activity, activities), Values: make([]measure.Value, len(measure.All()))}
	return &Assessment{Env: measure.Env{AsOf: day, Currency: "EUR"}, Masters: &kept.Masters{}, Projects: []*measure.Project{p}}
}

func (c *cache) days() (list []calendar.Date) {
	for _, k := range c.list {
		list = append(list, k.a.Env.AsOf)
	}
	return list
}

func TestKeptWithinBytes(t *testing.T) {
	one := bytesOf(sized(1, 1000))
	c := newCache(3 * one)
	for day := range calendar.Date(3) {
		c.put(sized(day+1, 1000), nil)
	}
	assert.Equal(t, []calendar.Date{1, 2, 3}, c.days(), "exactly as much as may be kept")
	assert.NotNil(t, c.find(1, "EUR"))
	c.put(sized(4, 1000), nil)
	assert.Equal(t, []calendar.Date{3, 1, 4}, c.days(), "what was used longest ago went")
	c.put(sized(5, 1001), nil)
	assert.Equal(t, []calendar.Date{4, 5}, c.days(), "a little more than fits takes two away")
	c.put(sized(6, 100_000), nil)
	assert.Equal(t, []calendar.Date{6}, c.days(), "the newest stays, however large")
	former := c.find(6, "EUR")
	c.put(sized(6, 10), former)
	assert.Equal(t, []calendar.Date{6}, c.days(), "in the place of the former")
}

func TestViewsAreMadeOnceAndCounted(t *testing.T) {
	c := newCache(1 << 40)
	k := c.put(sized(1, 10), nil)
	before := k.bytes
	whole := &access.Actor{Role: access.Analyst}
	assert.Same(t, k.a, c.seen(k, whole))
	poor := &access.Actor{Role: access.Analyst, HideMoney: true}
	v := c.seen(k, poor)
	assert.NotSame(t, k.a, v)
	assert.True(t, v.NoMoney)
	assert.Same(t, v, c.seen(k, &access.Actor{Role: access.Analyst, Name: "Other", HideMoney: true}), "of all who see the same")
	assert.NotSame(t, v, c.seen(k, &access.Actor{Role: access.Lead, Name: "Ann", HideMoney: true}))
	assert.Greater(t, k.bytes, before)
}

// What is made of an assessment may be held on to while it is kept, in whatever view; once a newer one has taken its place it is not kept.
func TestOnlyTheNewestOfADayIsKept(t *testing.T) {
	c := newCache(1 << 40)
	made := func() *Assessment {
		a := sized(1, 10)
		a.net = &net{}
		return a
	}
	first, stranger := c.put(made(), nil), made()
	poor := &access.Actor{Role: access.Analyst, HideMoney: true}
	view := c.seen(first, poor)
	assert.True(t, c.keeps(first.a))
	assert.True(t, c.keeps(view))
	assert.False(t, c.keeps(stranger))
	c.put(made(), first)
	assert.False(t, c.keeps(first.a))
	assert.False(t, c.keeps(view))
}

// While newer figures are computed everybody who sees the same is shown the same older ones, marked as such; the others are not.
func TestOlderFiguresAreTheSameForAll(t *testing.T) {
	c := newCache(1 << 40)
	k := c.put(sized(1, 10), nil)
	whole, poor := &access.Actor{Role: access.Analyst}, &access.Actor{Role: access.Analyst, HideMoney: true}
	older := c.older(k, whole)
	assert.True(t, older.Older)
	assert.Same(t, older, c.older(k, whole))
	assert.False(t, c.seen(k, whole).Older)
	assert.NotSame(t, older, c.older(k, poor))
	assert.True(t, c.older(k, poor).NoMoney)
	assert.False(t, c.seen(k, poor).Older)
}
