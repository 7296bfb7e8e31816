package tables

// AtOnce is how many rows are read at once, for the tests to change.
var AtOnce = &atOnce
