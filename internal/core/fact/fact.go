// Package fact holds what every input row shares: where it came from, and numbers that may be missing.
package fact

// Ref points at the row an input came from. The zero value means computed or not known. It leads from any figure to the row that somebody
// sent, and from there to the file.
type Ref struct {
	Load int64 // number of the load
	Row  int32 // row of the file as a spreadsheet counts it, the head being 1
}

// Int is a whole number that may be missing; the zero value is missing.
type Int struct {
	N     int64
	Given bool
}

// Some is a number that is given.
func Some(n int64) Int { return Int{n, true} }
