package trade

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// A tax number decides where both sides have one, else the name; what comes after a name is the form of a business.
func TestToWhomAnInvoiceIsAddressed(t *testing.T) {
	for _, c := range []struct {
		name, tax string
		ours      bool
	}{
		{"", "", true},
		{"Skerry Point Aquarium", "", true},
		{"SKERRY-POINT Aquarium, Ltd.", "", true},
		{"Skerry Point Sailing Club", "", false},
		{"Skerry Point", "", false},
		{"Skerry Point Aquarium GmbH & Co. KG", "", true},
		{"Skerry Point Aquarium Friends Society", "", false},
		{"Skerry", "IE 970.0001 A", true},
		{"Skerry Point Aquarium", "IE9700002B", false},
		{"Somebody", "", false},
		{"Skerry Pointed Things", "", false},
	} {
		inv := Invoice{AddressedTo: c.name, AddresseeTaxID: c.tax}
		require.Equal(t, c.ours, inv.IsTo("Skerry Point Aquarium", "IE9700001A"), "%v", c)
	}
	require.True(t, Invoice{AddressedTo: "Skerry Point Aquarium", AddresseeTaxID: "X1"}.IsTo("Skerry Point Aquarium", ""), "ours is not known")
}
