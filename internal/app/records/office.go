// Package records reads the records of a project as they stood in a period, and what became of each from load to load.
package records

import (
	"turret/internal/app/assess"
	"turret/internal/app/kept"
)

// Store keeps what records needs.
type Store interface{ kept.Reading }

// Office is the door to records to be read. It is safe for concurrent use.
type Office struct {
	store  Store
	assess *assess.Office
}

// NewOffice makes the door to records to be read.
func NewOffice(store Store, assess *assess.Office) *Office {
	return &Office{store: store, assess: assess}
}
