package invoices

import (
	"testing"

	"lagoon/test/browser"
)

func TestMain(m *testing.M) { browser.Main(m) }
