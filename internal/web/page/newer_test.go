package page

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// Pages may lag behind; files, data and the API may not.
func TestWhichAddressesArePages(t *testing.T) {
	for address, shown := range map[string]bool{"/": true, "/projects/LW-07/money": true, "/assess": true, "/lookout.csv": false,
		"/pack.pdf": false, "/timeline/data.json": false, "/api/v1/projects": false, "/timeline/download/timeline-a3.pdf": false} {
		assert.Equal(t, shown, isPage(address), address)
	}
}
