package act

// File is an e-invoice as it came.
type File struct {
	Name    string
	Content []byte
}
