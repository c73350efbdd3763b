// Package trace tells where a figure comes from, down to the rows of files.
package trace

import (
	"turret/internal/app/kept"
)

// Store keeps what trace needs.
type Store interface{ kept.Reading }

// Office is the door to where figures come from. It is safe for concurrent use.
type Office struct{ store Store }

// NewOffice makes the door to where figures come from.
func NewOffice(store Store) *Office { return &Office{store: store} }
