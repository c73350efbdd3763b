package assess_test

import (
	"runtime"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/demo"
	"turret/internal/demotest"
)

// What an assessment is taken to need is about what the memory grows by, held against the allocator's own count.
func TestEstimatesOfMemory(t *testing.T) {
	s := demotest.Store(t)
	heap := func() int64 {
		runtime.GC()
		runtime.GC()
		var m runtime.MemStats
		runtime.ReadMemStats(&m)
		return int64(m.HeapAlloc)
	}
	var list []*assess.Assessment
	before := heap()
	var said int64
	for i := range 3 {
		o := app.NewOffice(s, demotest.Now, app.Parts{})
		a, err := o.Assess.Day(apptest.Ctx, demo.AsOf)
		require.NoError(t, err, i)
		a.Network()
		list = append(list, a)
		said += assess.Bytes(a)
	}
	grown := heap() - before
	t.Logf("grown by %d, estimated %d", grown, said)
	assert.Greater(t, said, grown/2)
	assert.Less(t, said, grown*2)
	runtime.KeepAlive(list)
}
