package act

import "lagoon/internal/core/trade"

// File is a file as it came.
type File struct {
	Name    string
	Content []byte
}

// Arrived is a file with the invoice that it says, or why it says none.
type Arrived struct {
	File
	Invoice trade.Invoice
	Err     error
}
