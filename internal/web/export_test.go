package web

// Slowest is how long an answer may take to be read, for tests to shorten.
var Slowest = &slowest
