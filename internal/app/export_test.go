package app

// Bytes is what an assessment is taken to need.
func Bytes(a *Assessment) int64 { return a.bytes() }
