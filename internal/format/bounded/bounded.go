// Package bounded keeps what a file from outside can make of the memory within bounds: a
// reader's structures are many times as large as a file that was made to be large.
package bounded

import (
	"bytes"
	"runtime/debug"
	"sync"

	"lagoon/internal/core/fault"
)

// Most of what an XML file may be. An invoice of 5,000 lines has some 250,000 tags; what it
// carries beside them, pictures and papers, is text of one element and costs little.
const (
	MostXML   = 24 << 20 // bytes
	MostTags  = 400_000
	MostLines = 10_000 // of an invoice
)

// large is a file that is read alone.
const large = 1 << 20

var one sync.Mutex

// Alone reads a file. A large one is read while no other large one is, and what reading it
// took is given back to the machine.
func Alone(size int, read func() error) error {
	if size < large {
		return read()
	}
	one.Lock()
	defer one.Unlock()
	defer debug.FreeOSMemory()
	return read()
}

// XML refuses content that would become more in memory than any invoice or message of a
// bank, and reads it otherwise.
func XML(content []byte, read func() error) error {
	if len(content) > MostXML {
		return fault.New(
			fault.Invalid,
			"file",
			"The file is larger than %d MB, more than any XML that is read here.",
			MostXML>>20,
		)
	}
	if bytes.Count(content, []byte("<")) > MostTags {
		return fault.New(
			fault.Invalid,
			"file",
			"The file has more than %d tags, more than any XML that is read here.",
			MostTags,
		)
	}
	lines := 0
	for _, name := range []string{"InvoiceLine", "CreditNoteLine", "IncludedSupplyChainTradeLineItem"} {
		lines += bytes.Count(content, []byte(name))
	}
	if lines > 2*MostLines { // each begins and ends
		return fault.New(
			fault.Invalid,
			"file",
			"The file has more than %d lines. Ask for it in several invoices.",
			MostLines,
		)
	}
	return Alone(len(content), read)
}
