package say

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestFieldsAreToldInWords(t *testing.T) {
	for name, words := range map[string]string{
		"NetDays": "net days", "IBAN": "IBAN", "TaxID": "tax number", "requestedBy": "requested by", "quantity": "quantity", "OrderID": "", "Version": "",
	} {
		assert.Equal(t, words, Field(name), name)
	}
	for many, one := range map[string]string{"Lines": "line", "Addresses": "address", "Taxes": "tax", "Photos": "photo"} {
		assert.Equal(t, one, OneOf(many), many)
	}
	for _, held := range [][3]string{
		{"Unit", "KGM", Unit("KGM")}, {"State", "in_payment", "in payment"}, {"Level", "three_way", "three way"}, {"Status", "ACSC", "ACSC"},
		{"Name", "Brackwater Feeds", "Brackwater Feeds"}, {"SupplierNumber", "A_1", "A_1"},
	} {
		assert.Equal(t, held[2], Held(held[0], held[1]), held[0])
	}
}
