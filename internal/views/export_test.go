package views

// What the tests see of the inside.
var (
	Few       = few
	Ungrouped = ungrouped
)

const MostFound = mostFound
